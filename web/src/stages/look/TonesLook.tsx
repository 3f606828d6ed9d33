import { useState, type ReactNode } from "react";
import type { Lab, RoleOut } from "../../api/client";
import { placeMark, type RailMark } from "../../parts/marks";
import { newId } from "../../parts/newId";
import { ToneField } from "../../parts/ToneField";
import { Loading } from "../../parts/Says";
import { useKeys } from "../../parts/useKeys";
import { ValueRail } from "../../parts/ValueRail";
import { useRoles, useUsual } from "../../study/queries";
import { Stage } from "../../study/StudyFrame";
import { ToneTile } from "../../parts/ToneTile";
import { useStudy } from "../../study/useStudy";
import { nextRole } from "./nextRole";
import { PlaceMargin } from "./PlaceMargin";
import { PlannedLight } from "./PlannedLight";

/** Look without a picture: tones of a light one plans, or chosen by number, side by side. */
export function TonesLook() {
  const { study, change } = useStudy();
  const roles = useRoles().data ?? [];
  const usual = useUsual().data;
  const [selected, setSelected] = useState<string | null>(null);
  const [planning, setPlanning] = useState<boolean | null>(null);
  const place = study.places.find((p) => p.id === selected) ?? null;
  const plans = planning ?? study.places.length === 0;
  const remove = () => place && change({ do: "remove_place", id: place.id });
  const { range } = study;
  useKeys({
    Escape: () => setSelected(null),
    Delete: remove,
    r: () => change({ do: "set_range", on: !range.on, hold: range.hold, middle: study.state.range_middle }),
  });
  const add = (tone: Lab, role: string) => {
    const id = newId();
    change({ do: "add_place", id, role, name: "", tone });
    setSelected(id);
  };
  const stage = (board: ReactNode, marks: RailMark[]) => (
    <Stage
      name="look"
      margin={<PlaceMargin place={place} roles={roles} onSelect={setSelected} onRemove={remove} />}
      rail={
        <ValueRail
          marks={marks}
          selected={selected}
          onSelect={setSelected}
          range={range.on ? { from: range.picture_values, to: range.shown_values } : null}
        />
      }
    >
      <div className="tones">
        <div className="segments tones-ways" role="group" aria-label="Where the tones come from">
          <button type="button" aria-pressed={plans} onClick={() => setPlanning(true)}>
            A light I plan
          </button>
          <button type="button" aria-pressed={!plans} onClick={() => setPlanning(false)}>
            Tones I know
          </button>
        </div>
        {board}
      </div>
    </Stage>
  );
  const marks = study.places.map(placeMark);
  if (!plans)
    return stage(<KnownTones roles={roles} selected={selected} onSelect={setSelected} onAdd={add} />, marks);
  if (!usual || roles.length === 0) return stage(<Loading what="Fetching the lights" />, marks);
  return <PlannedLight usual={usual} roles={roles} onTaken={() => setPlanning(false)} stage={stage} />;
}

/** The tones of the study, and one more by number. */
function KnownTones(props: {
  roles: RoleOut[];
  selected: string | null;
  onSelect: (id: string) => void;
  onAdd: (tone: Lab, role: string) => void;
}) {
  const { roles, selected, onSelect, onAdd } = props;
  const { study } = useStudy();
  const [role, setRole] = useState("");
  const [tone, setTone] = useState<Lab | null>(null);
  const wanted = role || nextRole(study.places);
  return (
    <>
      <div className="panel tones-row">
        {study.places.map((p) => (
          <button
            key={p.id}
            type="button"
            className="tones-one"
            aria-pressed={p.id === selected}
            onClick={() => onSelect(p.id)}
          >
            <ToneTile place={p} tone={p.tone} />
          </button>
        ))}
        {study.places.length === 0 && <p>No tones yet. Add the base of the skin first.</p>}
      </div>
      <form
        className="tones-add"
        onSubmit={(event) => {
          event.preventDefault();
          if (tone) onAdd(tone, wanted);
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
    </>
  );
}
