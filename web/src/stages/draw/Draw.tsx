import { sentence } from "../../parts/words";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { client, got, type PlanOut, type StepOut } from "../../api/client";
import { namesOf } from "../../parts/acts";
import { Empty, Fault, Loading } from "../../parts/Says";
import { useKeys } from "../../parts/useKeys";
import { ValueRail } from "../../parts/ValueRail";
import { Strip } from "../../parts/Strip";
import { useMatches, usePlan } from "../../study/queries";
import { Stage } from "../../study/StudyFrame";
import { useStudy } from "../../study/useStudy";
import { CurePanel } from "./CurePanel";
import { DryTimer } from "./DryTimer";
import { Ended } from "./Ended";
import { Face } from "./Face";
import { LiftedOff, RanDry, WrongOne } from "./Odd";
import { UpTo } from "./UpTo";
import { useAwake } from "./useAwake";
import { doneMark, marked, useLog } from "./useLog";
import { useVoice } from "./useVoice";
import { WholePlan } from "./WholePlan";

type Panel = "wrong" | "dry" | "lifted" | "cure" | "plan";

/** What a step says aloud. */
const spoken = (step: StepOut | null) =>
  step
    ? [
        step.name,
        step.words,
        step.served.map((p) => p.called).join(", "),
        ...step.first,
        step.stop_when,
      ].join(". ")
    : "";

/** The last thing marked, with the step it was, if it was one. */
function lastMarked(plan: PlanOut | undefined) {
  const mark = plan?.recent.at(-1);
  if (!plan || !mark) return null;
  const key = (x: { place: string; number: number }) => `${x.place}:${x.number}`;
  const laid = new Set(mark.laid.map(key));
  const step = plan.steps.find((s) => s.done && s.laid.some((x) => laid.has(key(x)))) ?? null;
  return { id: mark.client_id, words: mark.words, step };
}

/** Draw: one step at a time, legible from two metres. */
export function Draw() {
  const { study } = useStudy();
  const go = useNavigate();
  const cache = useQueryClient();
  const found = usePlan(study.id).data;
  const matches = useMatches(study.id).data;
  const { waiting, problem, said, setSaid, add } = useLog(study.id);
  const [panel, setPanel] = useState<Panel | null>(null);
  const [touched, setTouched] = useState<string | null>(null);
  const plan = found && marked(found, waiting);
  const steps = plan?.steps ?? [];
  const done = steps.filter((s) => s.done).length;
  const now = steps.find((s) => !s.done) ?? null;
  const last = lastMarked(plan);
  const next = now ? steps.find((s) => !s.done && s !== now) : null;
  const forward = () => now && add(doneMark([now], `${now.name}, ${now.words}`));
  const back = () =>
    last && add({ kind: "back", words: `taken back: ${last.words}`.slice(0, 200), undoes: last.id });
  const upTo = (some: StepOut[], end: StepOut) => {
    add(doneMark(some, some.length === 1 ? `${end.name}, ${end.words}` : `up to ${end.name}, ${end.words}`));
    setPanel(null);
    setTouched(null);
  };
  const open = (wanted: Panel) => {
    setTouched(null);
    setPanel(panel === wanted ? null : wanted);
  };
  const close = () => setPanel(null);
  const goOn = () =>
    void got(client.POST("/api/studies/{id}/go-on", { params: { path: { id: study.id } } })).then((taken) => {
      setSaid(taken.said);
      for (const key of ["study", "matches", "plan"])
        void cache.invalidateQueries({ queryKey: [key, study.id] });
    });
  useVoice(spoken(now));
  useAwake();
  useKeys({
    " ": forward,
    Backspace: back,
    w: () => open("cure"),
    l: () => open("wrong"),
    d: () => now?.colour && open("dry"),
    k: () => open("lifted"),
    p: () => open("plan"),
    Escape: () => {
      setPanel(null);
      setTouched(null);
    },
  });
  useEffect(() => {
    document.title = `${study.state.title} · Draw · Caltin`;
  }, [study.state.title]);

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
  const opening = now !== null && now.sitting !== last?.step?.sitting;
  const lit = new Set(now?.served.map((p) => p.place));
  const place = study.places.find((p) => p.id === touched);
  const wrongLast = last?.step?.does === "lay" ? { id: last.id, step: last.step } : null;
  return (
    <Stage
      name="draw"
      rail={<ValueRail marks={marks} />}
      margin={
        place ? (
          <UpTo
            called={place.called}
            place={place.id}
            steps={steps}
            onUpTo={upTo}
            onClose={() => setTouched(null)}
          />
        ) : panel === "cure" ? (
          <CurePanel steps={steps} onWrongOne={() => setPanel("wrong")} onClose={close} />
        ) : panel === "wrong" ? (
          <WrongOne steps={steps} now={now} last={wrongLast} add={add} onClose={close} />
        ) : panel === "dry" && now?.colour ? (
          <RanDry now={now} add={add} onClose={close} />
        ) : panel === "lifted" ? (
          <LiftedOff steps={steps} add={add} onClose={close} />
        ) : panel === "plan" ? (
          <WholePlan steps={steps} now={now} onUpTo={upTo} onClose={close} />
        ) : (
          <section aria-label="Where on the face">
            <Face lit={lit} steps={steps} onTouch={setTouched} />
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
            {now?.untested && (
              <p className="measure">
                Never tried on this paper: {now.untested}.{" "}
                <button
                  type="button"
                  className="tool"
                  onClick={() =>
                    void go(`/studies/${study.id}/match`, {
                      state: { place: now.served[0]!.place, strip: true },
                    })
                  }
                >
                  Try it on a scrap strip first
                </button>
              </p>
            )}
            {next && (
              <p className="then">
                Then <b>{next.name}</b>, {next.words}
              </p>
            )}
            <div className="tools draw-tools">
              <button type="button" className="tool" onClick={back} disabled={!last}>
                Take the last mark back <kbd>Backspace</kbd>
              </button>
              <button type="button" className="tool" onClick={() => open("wrong")}>
                Laid the wrong one <kbd>L</kbd>
              </button>
              <button type="button" className="tool" disabled={!now?.colour} onClick={() => open("dry")}>
                It has run dry <kbd>D</kbd>
              </button>
              <button type="button" className="tool" onClick={() => open("lifted")}>
                Lifted off <kbd>K</kbd>
              </button>
              <button type="button" className="tool" onClick={() => open("cure")}>
                Something is wrong <kbd>W</kbd>
              </button>
              <button type="button" className="tool" onClick={() => open("plan")}>
                The whole plan <kbd>P</kbd>
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
        {plan.astray.length > 0 && (
          <p className="draw-first" role="note">
            Something else lies on {plan.astray.join(", ")} than the recipe begins with.{" "}
            <button type="button" className="tool" onClick={goOn}>
              Solve again from what lies there
            </button>
          </p>
        )}
        {plan.wanting.length > 0 && (
          <p className="draw-first" role="note">
            {plan.wanting.join(", ")}: a colour still to come is not at hand.{" "}
            <button type="button" className="tool" onClick={goOn}>
              Solve again without it
            </button>
          </p>
        )}
        {said && (
          <p className="draw-first" role="status">
            Solved again. {said}
          </p>
        )}
        {now ? (
          <>
            <div className="draw-now">
              <span className="draw-colour" style={{ background: now.solid.hex }} aria-hidden="true" />
              <div>
                <h2 className="draw-name">{now.name}</h2>
                <p className="draw-words">{now.words}</p>
                {now.beware && <p className="draw-beware">{now.beware}</p>}
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
            {now.dry_minutes > 0 && <DryTimer key={now.number} minutes={now.dry_minutes} />}
            {now.stop_when && <p className="draw-stop">{sentence(now.stop_when)}</p>}
            {recipe && first && (
              <div className="panel strip-panel">
                <Strip
                  grain={recipe.grain}
                  target={first.target}
                  paper={study.paper.tone.hex}
                  labels={recipe.strokes}
                  names={namesOf(recipe.layers, study.kit.colours)}
                  height={72}
                  upTo={first.layer + 1}
                />
              </div>
            )}
            <button type="button" className="draw-done" onClick={forward}>
              Done <kbd>Space</kbd>
            </button>
          </>
        ) : (
          <Ended steps={steps} />
        )}
      </div>
    </Stage>
  );
}
