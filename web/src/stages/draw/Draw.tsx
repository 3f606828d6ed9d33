import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import type { StepOut } from "../../api/client";
import { Empty, Fault, Loading } from "../../parts/Says";
import { useKeys } from "../../parts/useKeys";
import { ValueRail } from "../../parts/ValueRail";
import { Strip } from "../../parts/Strip";
import { useMatches, usePlan } from "../../study/queries";
import { Stage } from "../../study/StudyFrame";
import { useStudy } from "../../study/useStudy";
import { CurePanel } from "./CurePanel";
import { marked, useLog } from "./useLog";

/** Draw: one step at a time, legible from two metres. */
export function Draw() {
  const { study } = useStudy();
  const go = useNavigate();
  const found = usePlan(study.id).data;
  const matches = useMatches(study.id).data;
  const { waiting, problem, add } = useLog(study.id);
  const [curing, setCuring] = useState(false);
  const plan = found && marked(found, waiting);
  const steps = plan?.steps ?? [];
  const done = steps.filter((s) => s.done).length;
  const now = steps.find((s) => !s.done) ?? null;
  const last = [...steps].reverse().find((s) => s.done) ?? null;
  const next = now ? steps.find((s) => !s.done && s !== now) : null;
  const mark = (kind: "done" | "back", step: StepOut) =>
    add({ kind, colour: step.colour, words: `${step.name}, ${step.words}`, tokens: step.tokens });
  const forward = () => now && mark("done", now);
  const back = () => last && mark("back", last);
  useKeys({ " ": forward, Backspace: back, w: () => setCuring(!curing) });
  useEffect(() => {
    document.title = `${study.state.title} · Draw · Caltin`;
  }, [study.state.title]);
  useEffect(() => {
    const awake = navigator.wakeLock?.request("screen").catch(() => null);
    return () => void awake?.then((lock) => lock?.release());
  }, []);

  if (!plan)
    return (
      <Stage name="draw" rail={null} margin={null}>
        <Loading what="Opening the plan" />
      </Stage>
    );
  if (steps.length === 0)
    return (
      <Stage name="draw" rail={null} margin={null}>
        <Empty
          action={
            <button type="button" className="act" onClick={() => void go(`/studies/${study.id}/match`)}>
              Go to Match
            </button>
          }
        >
          There is nothing to draw before a place has its recipe.
        </Empty>
      </Stage>
    );
  const first = now?.served[0];
  const recipe = first && matches?.matches.find((m) => m.place === first.place)?.chosen;
  const names = new Map(study.kit.colours.map((c) => [c.id, c.name]));
  const marks = now
    ? now.served.flatMap((p) => [
        {
          id: `${p.place}-now`,
          value: p.before.tone.value,
          hex: p.before.tone.hex,
          label: `${p.called} now`,
        },
        {
          id: `${p.place}-end`,
          value: p.target.value,
          hex: p.target.hex,
          label: `${p.called} must end here`,
        },
      ])
    : [];
  // Once a sitting, where its first step is due.
  const opening = now !== null && now.sitting !== last?.sitting;
  const lit = new Set(now?.served.map((p) => p.place));
  return (
    <Stage
      name="draw"
      rail={<ValueRail marks={marks} />}
      margin={
        curing ? (
          <CurePanel steps={steps} onClose={() => setCuring(false)} />
        ) : (
          <section aria-label="Where on the face">
            {study.picture && (
              <div className="lit">
                <img
                  src={`/api/pictures/${study.picture.id}/view.jpg`}
                  alt="The reference with the places of this step"
                />
                {study.places.map(
                  (p) =>
                    p.x !== null && (
                      <span
                        key={p.id}
                        className={lit.has(p.id) ? "lit-mark is-lit" : "lit-mark"}
                        style={{
                          left: `${(100 * p.x) / study.picture!.width}%`,
                          top: `${(100 * p.y!) / study.picture!.height}%`,
                        }}
                      >
                        {p.number}
                      </span>
                    ),
                )}
              </div>
            )}
            {now && (now.why || now.edges.length > 0) && (
              <details className="draw-why">
                <summary>Why, and over which edges</summary>
                {now.why && <p>{now.why}</p>}
                {now.edges.map((line) => (
                  <p key={line}>{line}</p>
                ))}
              </details>
            )}
            {opening && plan.cautions.length > 0 && (
              <p className="caution" role="note">
                {plan.cautions.join(" ")}
              </p>
            )}
            {next && (
              <p className="then">
                Then <b>{next.name}</b>, {next.words}
              </p>
            )}
            <div className="tools">
              <button type="button" className="tool" onClick={back} disabled={!last}>
                Take the last mark back <kbd>Backspace</kbd>
              </button>
              <button type="button" className="tool" onClick={() => setCuring(true)}>
                Something is wrong <kbd>W</kbd>
              </button>
            </div>
          </section>
        )
      }
    >
      <div className="draw">
        <p className="draw-count" role="status">
          {now ? `Step ${now.number} of ${steps.length}` : `All ${steps.length} steps are drawn`}
          <progress max={steps.length} value={done} aria-label="Steps drawn" />
          {waiting.length > 0 && <span>{waiting.length} not sent yet</span>}
        </p>
        {problem && (
          <Fault>
            {problem.message} {waiting.length} {waiting.length === 1 ? "mark is" : "marks are"} kept here
            until it answers.
          </Fault>
        )}
        {now ? (
          <>
            <div className="draw-now">
              <span className="draw-colour" style={{ background: now.solid.hex }} aria-hidden="true" />
              <div>
                <h2 className="draw-name">{now.name}</h2>
                <p className="draw-words">{now.words}</p>
                <p className="draw-places">
                  {now.served.map((p) => (
                    <span key={p.place}>
                      <b>{p.number}</b> {p.called}
                    </span>
                  ))}
                </p>
              </div>
            </div>
            {now.first.map((line) => (
              <p key={line} className="draw-first" role="note">
                {line}
              </p>
            ))}
            {now.stop_when && (
              <p className="draw-stop">{now.stop_when[0]!.toUpperCase() + now.stop_when.slice(1)}.</p>
            )}
            {recipe && first && (
              <div className="panel strip-panel">
                <Strip
                  grain={recipe.grain}
                  target={first.target}
                  paper={study.paper.tone.hex}
                  labels={recipe.strokes}
                  names={recipe.layers.map((l) => names.get(l.colour) ?? l.colour)}
                  height={92}
                  upTo={first.layer + 1}
                />
              </div>
            )}
            <button type="button" className="draw-done" onClick={forward}>
              Done <kbd>Space</kbd>
            </button>
          </>
        ) : (
          <div className="draw-end">
            <h2 className="draw-name">Step back and look.</h2>
            <p className="draw-words">
              Are the darks dark enough beside everything that now stands around them?
            </p>
            <button type="button" className="act" onClick={() => void go(`/studies/${study.id}/keep`)}>
              Go to Keep
            </button>
          </div>
        )}
      </div>
    </Stage>
  );
}
