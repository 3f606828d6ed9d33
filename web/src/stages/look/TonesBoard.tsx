import { useState } from "react";
import type { Lab, RoleOut } from "../../api/client";
import { ToneField } from "../../parts/ToneField";
import { Loading } from "../../parts/Says";
import { useUsual } from "../../study/queries";
import { useStudy } from "../../study/useStudy";
import { PlannedLight } from "./PlannedLight";

interface Props {
  roles: RoleOut[];
  selected: string | null;
  onSelect: (id: string) => void;
  onAdd: (tone: Lab, role: string, name: string) => void;
  nextRole: string;
}

/** A study without a picture: tones of a light one plans, or chosen by number, side by side. */
export function TonesBoard({ roles, selected, onSelect, onAdd, nextRole }: Props) {
  const { study } = useStudy();
  const usual = useUsual().data;
  const [role, setRole] = useState("");
  const [tone, setTone] = useState<Lab | null>(null);
  const [planning, setPlanning] = useState<boolean | null>(null);
  const wanted = role || nextRole;
  const plans = planning ?? study.places.length === 0;
  const ways = (
    <div className="segments tones-ways" role="group" aria-label="Where the tones come from">
      {(
        [
          ["A light I plan", true],
          ["Tones I know", false],
        ] as const
      ).map(([name, on]) => (
        <button key={name} type="button" aria-pressed={plans === on} onClick={() => setPlanning(on)}>
          {name}
        </button>
      ))}
    </div>
  );
  if (plans)
    return (
      <div className="tones">
        {ways}
        {usual && roles.length > 0 ? (
          <PlannedLight usual={usual} roles={roles} onTaken={() => setPlanning(false)} />
        ) : (
          <Loading what="Fetching the lights" />
        )}
      </div>
    );
  return (
    <div className="tones">
      {ways}
      <div className="panel tones-row">
        {study.places.map((p) => (
          <button
            key={p.id}
            type="button"
            className="tones-one"
            aria-pressed={p.id === selected}
            onClick={() => onSelect(p.id)}
          >
            <span style={{ background: p.tone.hex }} />
            <b>
              {p.number} {p.called}
            </b>
            <small>value {p.tone.value.toFixed(1)}</small>
          </button>
        ))}
        {study.places.length === 0 && <p>No tones yet. Add the base of the skin first.</p>}
      </div>
      <form
        className="tones-add"
        onSubmit={(event) => {
          event.preventDefault();
          if (tone) onAdd(tone, wanted, "");
          setRole("");
        }}
      >
        <label className="field">
          Role
          <select value={wanted} onChange={(event) => setRole(event.target.value)}>
            {roles.map((r) => (
              <option key={r.slug} value={r.slug}>
                {r.name}
              </option>
            ))}
          </select>
        </label>
        <ToneField key={study.places.length} onTone={setTone} />
        <button type="submit" className="act" disabled={!tone}>
          Add this tone
        </button>
      </form>
    </div>
  );
}
