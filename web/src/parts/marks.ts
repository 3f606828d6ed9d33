import type { PlaceOut } from "../api/client";

/** What stands on the value rail at its value. */
export interface RailMark {
  id: string;
  value: number;
  hex: string;
  label: string;
}

/** A place of the study, at the value it has in the picture. */
export const placeMark = (place: PlaceOut): RailMark => ({
  id: place.id,
  value: place.tone.value,
  hex: place.tone.hex,
  label: `${place.called}, value ${place.tone.value.toFixed(1)}`,
});
