import { useState } from "react";
import { client, got, Problem, type Act, type Schemas, type StepOut } from "../../api/client";
import { PlaceOptions } from "../../parts/PlaceOptions";
import { Fault } from "../../parts/Says";
import { useMatches, useUsual } from "../../study/queries";
import { useStudy } from "../../study/useStudy";

type Cures = Schemas["CuresOut"];
type Complaint = NonNullable<Schemas["CureAsked"]["complaint"]>;

/** Something has gone wrong: where, and what; the smallest cures from what lies there now. */
export function CurePanel({ steps, onClose }: { steps: StepOut[]; onClose: () => void }) {
  const { study, change } = useStudy();
  const matches = useMatches(study.id).data?.matches ?? [];
  const complaints = (useUsual().data?.complaints ?? []) as Complaint[];
  const laid = new Map<string, number>();
  for (const step of steps)
    if (step.done)
      for (const p of step.served) laid.set(p.place, Math.max(laid.get(p.place) ?? 0, p.layer + 1));
  const drawn = study.places.filter((p) => laid.has(p.id));
  const [chosen, setChosen] = useState<string | null>(null);
  const [complaint, setComplaint] = useState<Complaint | "">("");
  const [found, setFound] = useState<Cures | null>(null);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<Problem | null>(null);
  const place = drawn.find((p) => p.id === chosen) ?? drawn.at(-1) ?? null;
  const recipe = matches.find((m) => m.place === place?.id)?.chosen;
  const done: Act[] = place && recipe ? recipe.layers.slice(0, laid.get(place.id)) : [];
  const ask = () => {
    if (!place) return;
    setBusy(true);
    got(
      client.POST("/api/studies/{id}/cure", {
        params: { path: { id: study.id } },
        body: {
          place: place.id,
          done,
          complaint: complaint || null,
          beside: drawn.filter((p) => p !== place).map((p) => p.id),
        },
      }),
    )
      .then((cures) => {
        setFound(cures);
        setProblem(null);
      })
      .catch(setProblem)
      .finally(() => setBusy(false));
  };
  const again = () => setFound(null);
  return (
    <section aria-label="Something is wrong">
      <h2>Something is wrong</h2>
      {place === null ? (
        <p>Nothing is marked as drawn yet; mark what lies on the paper first.</p>
      ) : (
        <>
          <label className="field">
            Where?
            <select
              value={place.id}
              onChange={(event) => {
                setChosen(event.target.value);
                again();
              }}
            >
              <PlaceOptions places={drawn} />
            </select>
          </label>
          <label className="field">
            What?
            <select
              value={complaint}
              onChange={(event) => {
                setComplaint(event.target.value as Complaint | "");
                again();
              }}
            >
              <option value="">it does not look right</option>
              {complaints.map((c) => (
                <option key={c} value={c}>
                  {c}
                </option>
              ))}
            </select>
          </label>
          {recipe && done.length < recipe.layers.length && (
            <p className="measure">
              {done.length} of its {recipe.layers.length} layers lie there; those still to come may be all it
              needs.
            </p>
          )}
          <button type="button" className="act" disabled={busy} onClick={ask}>
            Find the smallest cure
          </button>
          <p role="status" className="measure">
            {busy && "Looking at what lies there…"}
          </p>
          <Fault problem={problem} />
          {found && (
            <>
              {found.incurable && (
                <div className="reach" role="note">
                  <p>
                    <b>! Beyond cure:</b> {found.incurable}.
                  </p>
                </div>
              )}
              <ol className="cures">
                {found.cures.map((c) => (
                  <li key={c.sentence}>
                    <span className="panel cure-tones" aria-hidden="true">
                      <span style={{ background: found.now.hex }} />
                      <span style={{ background: c.tone.hex }} />
                      <span style={{ background: place.target.hex }} />
                    </span>
                    <small>now · after it · meant</small>
                    <p>{c.sentence}</p>
                    <p className="measure">
                      ΔE00 {c.de00.toFixed(1)} · tooth {Math.round(100 * c.tooth_used)} %
                      {c.last_resort && " · last resort"}
                    </p>
                    {c.layers.length > 0 && (
                      <button
                        type="button"
                        className="tool"
                        onClick={() => {
                          const layers = [...done, ...c.layers];
                          change({ do: "set_recipe", place: place.id, layers, kind: "own" });
                          onClose();
                        }}
                      >
                        Put it next in the plan
                      </button>
                    )}
                  </li>
                ))}
              </ol>
            </>
          )}
        </>
      )}
      <div className="actions">
        <button type="button" className="tool" onClick={onClose}>
          Back to drawing
        </button>
      </div>
    </section>
  );
}
