import type { ReactNode } from "react";
import type { PlaceOut } from "../../api/client";

interface Props {
  place: PlaceOut;
  busy?: boolean;
  children?: ReactNode;
}

/** A place's tone beside its target, with its words and its measure; `children` is what more is measured there. */
export function PlaceTone({ place, busy = false, children }: Props) {
  const moved = Math.abs(place.target.value - place.tone.value) > 0.05;
  return (
    <>
      <div className="tone">
        <div className="panel">
          <span className="tone-swatch" style={{ background: place.tone.hex }} />
          {moved && <span className="tone-swatch" style={{ background: place.target.hex }} />}
        </div>
        <div>
          <p className="tone-words">{place.words}</p>
          <p className="measure" aria-busy={busy}>
            value {place.tone.value.toFixed(1)} · {place.undertone} · {place.evenness}
            {children}
          </p>
        </div>
      </div>
      {place.against_base && (
        <p>
          Than the base: <b>{place.against_base}</b>.
        </p>
      )}
      {moved && (
        <p className="measure">
          Right half: the target, as this kit and paper can show it, value {place.target.value.toFixed(1)}.
        </p>
      )}
    </>
  );
}
