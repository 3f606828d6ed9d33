import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { client, got, Problem } from "../../api/client";
import { Fault } from "../../parts/Says";
import { useSchools, type School, type SchoolState } from "./useSchools";

type Stage = SchoolState["stages"][number];

interface Props {
  school: School | null;
  medium: string;
  onSaved: (school: School) => void;
  onDeleted: () => void;
}

/** A school of one's own: its stages in order, each with the families that may come, how hard, how often, and where. */
export function SchoolForm({ school, medium, onSaved, onDeleted }: Props) {
  const cache = useQueryClient();
  const known = useSchools().data;
  const [draft, setDraft] = useState<SchoolState>(() =>
    school
      ? { ...school.school, name: school.id ? school.name : `${school.name}, my way` }
      : { name: "", medium: medium as SchoolState["medium"], good_for: "", danger: "", stages: [] },
  );
  const [problem, setProblem] = useState<Problem | null>(null);
  if (!known) return null;
  const blank: Stage = { families: [], pressures: known.pressures, most: 6, zones: known.zones, wanted: [] };
  const stages = draft.stages;
  const setStage = (index: number, some: Partial<Stage>) =>
    setDraft({ ...draft, stages: stages.map((s, i) => (i === index ? { ...s, ...some } : s)) });
  const move = (index: number, by: number) => {
    const next = [...stages];
    const [taken] = next.splice(index, 1);
    next.splice(index + by, 0, taken!);
    setDraft({ ...draft, stages: next });
  };
  const save = () => {
    const asked = school?.id
      ? client.PUT("/api/schools/{id}", { params: { path: { id: school.id } }, body: draft })
      : client.POST("/api/schools", { body: draft });
    got(asked)
      .then((saved) => {
        void cache.invalidateQueries({ queryKey: ["schools"] }).then(() => onSaved(saved));
      })
      .catch(setProblem);
  };
  const remove = () =>
    got(client.DELETE("/api/schools/{id}", { params: { path: { id: school!.id! } } }))
      .then(() => {
        void cache.invalidateQueries({ queryKey: ["schools"] });
        onDeleted();
      })
      .catch(setProblem);
  return (
    <section className="school-form" aria-label="A school of your own">
      <label className="field">
        Its name
        <input
          value={draft.name}
          maxLength={60}
          onChange={(e) => setDraft({ ...draft, name: e.target.value })}
        />
      </label>
      <label className="field">
        Good for
        <input
          value={draft.good_for ?? ""}
          maxLength={160}
          onChange={(e) => setDraft({ ...draft, good_for: e.target.value })}
        />
      </label>
      <label className="field">
        Danger
        <input
          value={draft.danger ?? ""}
          maxLength={160}
          onChange={(e) => setDraft({ ...draft, danger: e.target.value })}
        />
      </label>
      <ol className="stages">
        {stages.map((stage, index) => (
          <li key={index}>
            <fieldset>
              <legend>Stage {index + 1}</legend>
              <Some
                label="Families"
                all={known.families}
                chosen={stage.families}
                onSet={(families) => setStage(index, { families })}
              />
              <Some
                label="Pressure"
                all={known.pressures}
                chosen={stage.pressures ?? known.pressures}
                onSet={(pressures) => setStage(index, { pressures })}
              />
              <Some
                label="Where"
                all={known.zones}
                chosen={stage.zones ?? known.zones}
                onSet={(zones) =>
                  setStage(index, { zones, wanted: stage.wanted?.filter((z) => zones.includes(z)) })
                }
              />
              <Some
                label="As a rule in"
                all={stage.zones ?? known.zones}
                chosen={stage.wanted ?? []}
                onSet={(wanted) => setStage(index, { wanted })}
              />
              <label className="field">
                Passes at most
                <select
                  value={stage.most}
                  onChange={(event) => setStage(index, { most: Number(event.target.value) })}
                >
                  {[1, 2, 3, 4, 5, 6].map((n) => (
                    <option key={n}>{n}</option>
                  ))}
                </select>
              </label>
              <div className="tools">
                <button type="button" className="tool" disabled={index === 0} onClick={() => move(index, -1)}>
                  Earlier
                </button>
                <button
                  type="button"
                  className="tool"
                  disabled={index === stages.length - 1}
                  onClick={() => move(index, 1)}
                >
                  Later
                </button>
                <button
                  type="button"
                  className="tool"
                  onClick={() => setDraft({ ...draft, stages: stages.filter((_, i) => i !== index) })}
                >
                  Take out
                </button>
              </div>
            </fieldset>
          </li>
        ))}
      </ol>
      <Fault problem={problem} />
      <div className="tools">
        <button
          type="button"
          className="tool"
          disabled={stages.length >= 12}
          onClick={() => setDraft({ ...draft, stages: [...stages, blank] })}
        >
          Add a stage
        </button>
        <button type="button" className="tool" onClick={save} disabled={!draft.name.trim()}>
          Save as mine
        </button>
        {school?.id && (
          <button type="button" className="tool" onClick={() => void remove()}>
            Delete it
          </button>
        )}
      </div>
    </section>
  );
}

/** Some of a few words, each on or off. */
function Some({
  label,
  all,
  chosen,
  onSet,
}: {
  label: string;
  all: string[];
  chosen: string[];
  onSet: (chosen: string[]) => void;
}) {
  return (
    <div className="some" role="group" aria-label={label}>
      <span>{label}</span>
      {all.map((word) => (
        <button
          key={word}
          type="button"
          aria-pressed={chosen.includes(word)}
          onClick={() => onSet(all.filter((w) => (w === word ? !chosen.includes(w) : chosen.includes(w))))}
        >
          {word}
        </button>
      ))}
    </div>
  );
}
