import { useState } from "react";
import { Link } from "react-router";
import type { PlaceOut, RoleOut } from "../../api/client";
import { useStudy } from "../../study/useStudy";
import { NameField } from "./NameField";
import { PlaceList, wanting } from "./PlaceList";
import { PlaceTone } from "./PlaceTone";
import { RolePicker } from "./RolePicker";

interface Props {
  place: PlaceOut | null;
  roles: RoleOut[];
  onSelect: (id: string) => void;
  onRemove: () => void;
  /** Without a picture there is no disc to resize. */
  onResize?: (by: number) => void;
  /** Where a picture can be parted into zones at one touch. */
  onPropose?: () => void;
}

/** The selected place in words and numbers; without one, the list of all places. */
export function PlaceMargin({ place, roles, onSelect, onRemove, onResize, onPropose }: Props) {
  const { study } = useStudy();
  const unsure = wanting(study.places);
  if (!place)
    return (
      <section>
        <h2>{study.places.length ? "Places" : study.picture ? "Touch the face" : "Plan the light"}</h2>
        {unsure && <p>{unsure}</p>}
        {study.places.length === 0 && (
          <p>
            {study.picture
              ? "Begin with the colour that covers most of the skin, in the light. Then its shadow, the lightest light, the darkest dark."
              : "Choose the complexion, drag the light over the ball, and take the tones. Or add tones you know: first the one that covers most of the skin."}
          </p>
        )}
        <PlaceList places={study.places} onSelect={onSelect} />
        {study.places.length === 0 && onPropose && (
          <>
            <p>Or let the light, the shadow and all between be found over the whole face.</p>
            <div className="actions">
              <button type="button" className="act" onClick={onPropose}>
                Propose zones
              </button>
            </div>
          </>
        )}
        {study.places.length > 0 && (
          <div className="actions">
            <Link className="act" to={`/studies/${study.id}/match`}>
              Find the recipes <kbd>2</kbd>
            </Link>
          </div>
        )}
      </section>
    );
  return <OnePlace key={place.id} place={place} roles={roles} onRemove={onRemove} onResize={onResize} />;
}

function OnePlace({
  place,
  roles,
  onRemove,
  onResize,
}: Omit<Props, "onSelect" | "place" | "onPropose"> & { place: PlaceOut }) {
  const { change } = useStudy();
  const [more, setMore] = useState(false);
  return (
    <section aria-label={`Place ${place.number}`}>
      <h2>
        {place.number} · {place.called}
      </h2>
      <PlaceTone place={place} />
      <NameField place={place} />
      <div className="tools">
        {place.radius !== null && onResize && (
          <>
            <button type="button" className="tool" onClick={() => onResize(1 / 1.15)}>
              Smaller disc
            </button>
            <button type="button" className="tool" onClick={() => onResize(1.15)}>
              Larger disc
            </button>
          </>
        )}
        <button type="button" className="tool" onClick={onRemove}>
          Remove
        </button>
        <button type="button" className="tool" aria-expanded={more} onClick={() => setMore(!more)}>
          Numbers
        </button>
      </div>
      {more && (
        <p className="measure">
          L* {place.tone.lab.l.toFixed(1)} · a* {place.tone.lab.a.toFixed(1)} · b*{" "}
          {place.tone.lab.b.toFixed(1)} · spread ΔE00 {place.spread.toFixed(1)}
          {place.radius !== null && ` · disc of ${place.radius.toFixed(0)} pixels`}
        </p>
      )}
      <RolePicker
        roles={roles}
        role={place.role}
        label="Its role"
        onRole={(role) => change({ do: "edit_place", id: place.id, role })}
      />
    </section>
  );
}
