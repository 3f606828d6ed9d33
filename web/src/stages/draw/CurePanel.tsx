import { useRef, useState } from "react";
import { client, got, Problem, type Act, type Lab, type Schemas, type StepOut } from "../../api/client";
import { allDye, same } from "../../parts/acts";
import { PlaceOptions } from "../../parts/PlaceOptions";
import { Fault } from "../../parts/Says";
import { ToneField } from "../../parts/ToneField";
import { TonePhoto } from "../../study/TonePhoto";
import { useMatches, useUsual } from "../../study/queries";
import { useEntries } from "../../study/useEntries";
import { useStudy } from "../../study/useStudy";

type Cures = Schemas["CuresOut"];
type Complaint = NonNullable<Schemas["CureAsked"]["complaint"]>;
const WRONG_ONE: Complaint = "laid the wrong one";

interface Props {
  steps: StepOut[];
  onWrongOne: () => void;
  onClose: () => void;
}

/** Something has gone wrong: where, and what; the smallest cures from what lies there now. */
export function CurePanel({ steps, onWrongOne, onClose }: Props) {
  const { study, change } = useStudy();
  const { keep } = useEntries(study.id);
  const entry = useRef(crypto.randomUUID());
  const matches = useMatches(study.id).data?.matches ?? [];
  const complaints = (useUsual().data?.complaints ?? []) as Complaint[];
  const laid = new Map<string, number>();
  for (const step of steps)
    if (step.done)
      for (const p of step.served) laid.set(p.place, Math.max(laid.get(p.place) ?? 0, p.layer + 1));
  const drawn = study.places.filter((p) => laid.has(p.id));
  const latest = steps
    .filter((s) => s.done)
    .at(-1)
    ?.served.at(-1)?.place;
  const [chosen, setChosen] = useState<string | null>(null);
  const [complaint, setComplaint] = useState<Complaint | "">("");
  const [looks, setLooks] = useState<Lab | null>(null);
  const [found, setFound] = useState<Cures | null>(null);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<Problem | null>(null);
  const place = drawn.find((p) => p.id === (chosen ?? latest)) ?? drawn.at(-1) ?? null;
  const recipe = matches.find((m) => m.place === place?.id)?.chosen;
  const done: Act[] = place && recipe ? recipe.layers.slice(0, laid.get(place.id)) : [];
  const planned: Act[] = recipe?.layers.slice(done.length) ?? [];
  const ask = async () => {
    if (!place) return;
    setBusy(true);
    try {
      // What was measured is kept in the journal, and what comes next is predicted from there.
      if (looks)
        await keep({ client_id: entry.current, text: "", picture: null, place: place.id, tone: looks });
      const cures = await got(
        client.POST("/api/studies/{id}/cure", {
          params: { path: { id: study.id } },
          body: {
            place: place.id,
            done,
            planned,
            complaint: complaint || null,
            looks,
            beside: drawn.filter((p) => p !== place).map((p) => p.id),
          },
        }),
      );
      setFound(cures);
      setProblem(null);
    } catch (fault) {
      setProblem(fault as Problem);
    }
    setBusy(false);
  };
  const again = () => setFound(null);
  const measured = (tone: Lab | null) => {
    setLooks(tone);
    entry.current = crypto.randomUUID();
    again();
  };
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
                measured(null);
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
          <details className="swatch-photo" key={place.id}>
            <summary>Measure what it looks like</summary>
            <ToneField onTone={measured} label="Its tone" />
            <TonePhoto what="place" paper={study.paper.id} onTone={measured} onFault={setProblem} />
          </details>
          {complaint === WRONG_ONE ? (
            <>
              <p>Say which one it was: all that is still to come is solved again from it.</p>
              <button type="button" className="act" onClick={onWrongOne}>
                Say which one
              </button>
            </>
          ) : (
            <>
              {recipe && planned.length > 0 && (
                <p className="measure">
                  {done.length} of its {recipe.layers.length} layers lie there; those still to come may be all
                  it needs.
                </p>
              )}
              <button type="button" className="act" disabled={busy} onClick={() => void ask()}>
                Find the smallest cure
              </button>
            </>
          )}
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
              {found.astray >= 0.1 && (
                <p className="measure">
                  {looks
                    ? `Measured, it is ΔE00 ${found.astray.toFixed(1)} from what its layers should show. That is kept in the journal; what comes next is predicted from it.`
                    : `Its layers should not look so; taken as you say, ΔE00 ${found.astray.toFixed(1)} away. Measure it to be sure.`}
                </p>
              )}
              <ol className="cures">
                {found.cures.map((c) => (
                  <li key={c.sentence}>
                    {c.layers.length === 0 ? (
                      <p>{c.sentence}</p>
                    ) : (
                      <>
                        <span className="panel cure-tones" aria-hidden="true">
                          <span style={{ background: found.now.hex }} />
                          <span style={{ background: c.tone.hex }} />
                          <span style={{ background: place.target.hex }} />
                        </span>
                        <small>now · after it · meant</small>
                        <p>{c.sentence}</p>
                        <p className="measure">
                          ΔE00 {c.de00.toFixed(1)} ·{" "}
                          {allDye([...done, ...c.layers]) ? "paper full to" : "tooth"}{" "}
                          {Math.round(100 * c.tooth_used)} %{c.last_resort && " · last resort"}
                        </p>
                        {!same(c.layers, planned) && (
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
                      </>
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
