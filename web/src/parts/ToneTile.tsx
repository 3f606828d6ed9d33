import type { PlaceOut, Tone } from "../api/client";

/** What stands in a tile of class `tones-one`: a tone of a place, its number and name, and the value. */
export function ToneTile({ place, tone }: { place: PlaceOut; tone: Tone }) {
  return (
    <>
      <span style={{ background: tone.hex }} />
      <b>
        {place.number} {place.called}
      </b>
      <small>value {tone.value.toFixed(1)}</small>
    </>
  );
}
