import { useState } from "react";
import type { RulesState } from "../../api/client";
import { useMatches } from "../../study/queries";
import { useStudy } from "../../study/useStudy";
import { SchoolForm } from "./SchoolForm";
import { taught, under, useSchools, type School } from "./useSchools";

interface Props {
  rules: RulesState;
  onSet: (some: Partial<RulesState>) => void;
  onBeside: () => void;
}

/** The school of the study: chosen, explained in a sentence, changed and kept as one's own, or seen beside another. */
export function SchoolField({ rules, onSet, onBeside }: Props) {
  const { study } = useStudy();
  const all = useSchools().data?.schools ?? [];
  const proposed = useMatches(study.id).data?.proposed;
  const [editing, setEditing] = useState(false);
  const school = taught(all, rules);
  const groups: [string, School[]][] = ["pencil", "marker", "pastel"]
    .sort((a, b) => Number(b === proposed?.medium) - Number(a === proposed?.medium))
    .map((medium) => [medium, all.filter((s) => s.medium === medium && !s.id)]);
  groups.push(["your own", all.filter((s) => s.id)]);
  return (
    <>
      <label className="field">
        School
        <select
          value={school?.slug ?? ""}
          onChange={(event) => onSet(under(all.find((s) => s.slug === event.target.value)))}
        >
          <option value="">none: any order that comes near</option>
          {school?.slug === "kept" && <option value="kept">{school.name}, as this study keeps it</option>}
          {groups.map(
            ([name, schools]) =>
              schools.length > 0 && (
                <optgroup key={name} label={name}>
                  {schools.map((s) => (
                    <option key={s.slug} value={s.slug}>
                      {s.name}
                      {s.slug === proposed?.slug ? " (proposed)" : ""}
                    </option>
                  ))}
                </optgroup>
              ),
          )}
        </select>
      </label>
      {school ? (
        <div className="measure">
          <p>
            {school.good_for && `Good for ${school.good_for}. `}
            {school.danger && `Danger: ${school.danger}.`}
          </p>
          <p>It is for skin: eyes, teeth, nails and hair come in any order.</p>
          {school.order.length > 0 && (
            <ol className="order" aria-label="Its order">
              {school.order.map((stage, index) => (
                <li key={index}>{stage}</li>
              ))}
            </ol>
          )}
        </div>
      ) : (
        proposed && (
          <p className="measure">
            Proposed: {proposed.name.toLowerCase()}, since {proposed.why}.
          </p>
        )
      )}
      <div className="tools">
        <button type="button" className="tool" aria-expanded={editing} onClick={() => setEditing(!editing)}>
          {school?.id ? "Change your school" : school ? "Make it your own" : "A school of your own"}
        </button>
        <button type="button" className="tool" onClick={onBeside}>
          Beside another school
        </button>
      </div>
      {editing && (
        <SchoolForm
          key={school?.slug ?? "new"}
          school={school}
          medium={proposed?.medium ?? "pencil"}
          onSaved={(saved) => {
            onSet(under(saved));
            setEditing(false);
          }}
          onDeleted={() => setEditing(false)}
        />
      )}
    </>
  );
}
