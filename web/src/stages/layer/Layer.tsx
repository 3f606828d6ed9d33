import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from "@dnd-kit/core";
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import type { StepOut } from "../../api/client";
import { Empty, Fault, Loading } from "../../parts/Says";
import { Chip } from "../../parts/Swatch";
import { useKeys } from "../../parts/useKeys";
import { ValueRail } from "../../parts/ValueRail";
import { counted, sentence } from "../../parts/words";
import { Finishes } from "./Finishes";
import { Grow } from "./Grow";
import { amount, Takes } from "./Takes";
import { StepWords } from "./StepWords";
import { useMatches, usePlan } from "../../study/queries";
import { Stage } from "../../study/StudyFrame";
import { useStudy } from "../../study/useStudy";

const ROUTES = [
  ["sheet", "whole sheet together"],
  ["feature", "feature by feature"],
  ["colour", "colour in the hand"],
] as const;
const LENGTHS = [20, 30, 45, 60, 90, 120];

const keyOf = (step: StepOut) => step.laid.map((x) => `${x.place}:${x.number}`).join("|");

/** Layer: all recipes as one ordered list of steps. */
export function Layer() {
  const { study, change, saving, dismiss } = useStudy();
  const go = useNavigate();
  const { data: plan, isFetching } = usePlan(study.id);
  const [selected, setSelected] = useState<string | null>(null);
  const [moved, setMoved] = useState<{
    revision: number;
    order: string[];
    steps: StepOut["places"][];
  } | null>(null);
  const [growing, setGrowing] = useState(false);
  const matches = useMatches(study.id).data;
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  useEffect(() => {
    document.title = `${study.state.title} · Layer · Caltin`;
  }, [study.state.title]);
  const fresh = plan?.steps ?? [];
  const steps =
    moved && plan?.revision === moved.revision && saving.state !== "refused"
      ? [...fresh].sort((a, b) => moved.order.indexOf(keyOf(a)) - moved.order.indexOf(keyOf(b)))
      : fresh;
  const chosen = steps.findIndex((s) => keyOf(s) === selected);
  const at =
    chosen >= 0
      ? chosen
      : Math.max(
          0,
          steps.findIndex((s) => !s.done),
        );
  const step = steps[at];
  const current = step && keyOf(step);
  const shown = useRef(false);
  useEffect(() => {
    if (growing) shown.current = false;
    if (!current || growing || shown.current) return;
    shown.current = true;
    document.getElementById(`step-${current}`)?.scrollIntoView({ block: "center" });
  }, [current, growing]);
  const place = (from: number, to: number) => {
    if (to < 0 || to >= steps.length || from === to) return;
    const next = [...steps];
    const [taken] = next.splice(from, 1);
    next.splice(to, 0, taken!);
    const asked = next.map((s) => s.places);
    setMoved({ revision: plan!.revision, order: next.map(keyOf), steps: asked });
    change({ do: "order_steps", steps: asked, mend: false });
  };
  const dropped = ({ active, over }: DragEndEvent) => {
    if (!over) return;
    place(
      steps.findIndex((s) => keyOf(s) === active.id),
      steps.findIndex((s) => keyOf(s) === over.id),
    );
  };
  const pick = (index: number) => {
    const next = steps[Math.min(steps.length - 1, Math.max(0, index))];
    if (!next) return;
    setSelected(keyOf(next));
    document.getElementById(`step-${keyOf(next)}`)?.scrollIntoView({ block: "nearest" });
  };
  const named = ROUTES.find(([route]) => route === study.state.route)?.[1];
  const draw = () => steps.length && void go(`/studies/${study.id}/draw`);
  useKeys({
    ArrowUp: () => !growing && pick(at - 1),
    ArrowDown: () => !growing && pick(at + 1),
    e: () => !growing && place(at, at - 1),
    l: () => !growing && place(at, at + 1),
    g: () => setGrowing(!growing),
    " ": draw,
  });
  const nearest = saving.state === "refused" && saving.where.startsWith("steps") ? moved?.steps : undefined;
  const marks = step
    ? step.served.flatMap((p) => [
        {
          id: `${p.place}-after`,
          value: p.after.tone.value,
          hex: p.after.tone.hex,
          label: `${p.called} after this step`,
        },
        {
          id: `${p.place}-end`,
          value: p.target.value,
          hex: p.target.hex,
          label: `${p.called} must end here`,
        },
      ])
    : [];
  return (
    <Stage
      name="layer"
      rail={<ValueRail marks={marks} />}
      margin={
        step ? (
          <section aria-label="The step">
            <h2>
              {step.number} · {step.name}
            </h2>
            <p>{step.words}</p>
            <StepWords step={step} />
            {step.served.map((p) => (
              <div className="served" key={p.place}>
                <b>
                  {p.number} {p.called}
                </b>
                <div className="tone">
                  <div className="panel">
                    <span className="tone-swatch" style={{ background: p.before.tone.hex }} />
                    <span className="tone-swatch" style={{ background: p.after.tone.hex }} />
                    <span className="tone-swatch" style={{ background: p.target.hex }} />
                  </div>
                  <p className="measure">
                    before, after, target
                    <br />
                    layer {p.layer + 1} of {p.layers}
                  </p>
                </div>
                <Tooth step={step} before={p.before.tooth_used} after={p.after.tooth_used} />
              </div>
            ))}
            <div className="tools">
              <button type="button" className="tool" disabled={at === 0} onClick={() => place(at, at - 1)}>
                Earlier <kbd>E</kbd>
              </button>
              <button
                type="button"
                className="tool"
                disabled={at === steps.length - 1}
                onClick={() => place(at, at + 1)}
              >
                Later <kbd>L</kbd>
              </button>
              <button
                type="button"
                className="tool"
                aria-pressed={growing}
                onClick={() => setGrowing(!growing)}
              >
                See it grow <kbd>G</kbd>
              </button>
              {plan?.own_order && (
                <button
                  type="button"
                  className="tool"
                  onClick={() => change({ do: "order_steps", steps: [], mend: false })}
                >
                  Back to Caltin’s order
                </button>
              )}
            </div>
            <Finishes />
            <Takes takes={plan?.takes ?? []} />
            <div className="actions">
              <button type="button" className="act" onClick={draw}>
                {steps.some((s) => s.done) ? "Go on drawing" : "Begin to draw"} <kbd>Space</kbd>
              </button>
            </div>
          </section>
        ) : null
      }
    >
      {!plan ? (
        <Loading what="Putting the steps in order" />
      ) : steps.length === 0 ? (
        <Empty
          action={
            <button type="button" className="act" onClick={() => void go(`/studies/${study.id}/match`)}>
              Go to Match
            </button>
          }
        >
          The steps are made from recipes, and no place has one yet.
        </Empty>
      ) : (
        <div className="steps">
          {growing ? (
            <Grow
              study={study}
              steps={steps}
              matches={matches?.matches ?? []}
              onStep={(seen) => setSelected(keyOf(seen))}
              onClose={() => setGrowing(false)}
            />
          ) : (
            <>
              <div className="steps-head">
                <h2>
                  {steps.length} steps, {plan.own_order ? "in your order" : named}
                </h2>
                <p className="measure">
                  {counted(plan.changes, "change")} of colour ·{" "}
                  {Math.round(plan.sittings.reduce((sum, s) => sum + s.minutes, 0))} minutes
                  {plan.sittings.length > 1 && ` in ${plan.sittings.length} sittings`}
                </p>
                {plan.unplanned.length > 0 && (
                  <Fault>Without a recipe yet: {plan.unplanned.join(", ")}.</Fault>
                )}
              </div>
              <div className="route">
                <div className="segments three" role="group" aria-label="The way through">
                  {ROUTES.map(([route, words]) => (
                    <button
                      key={route}
                      type="button"
                      aria-pressed={study.state.route === route && !plan.own_order}
                      onClick={() =>
                        change({
                          do: "set_route",
                          route,
                          sitting_minutes: study.state.sitting_minutes ?? null,
                        })
                      }
                    >
                      {words}
                    </button>
                  ))}
                </div>
                <label className="field">
                  A sitting
                  <select
                    value={study.state.sitting_minutes ?? ""}
                    onChange={(event) =>
                      change({
                        do: "set_route",
                        route: study.state.route!,
                        sitting_minutes: event.target.value ? Number(event.target.value) : null,
                      })
                    }
                  >
                    <option value="">all at once</option>
                    {LENGTHS.map((n) => (
                      <option key={n} value={n}>
                        {n} minutes
                      </option>
                    ))}
                  </select>
                </label>
              </div>
              {nearest && (
                <p className="caution" role="alert">
                  <span aria-hidden="true">! </span>
                  That order cannot be.{" "}
                  <button
                    type="button"
                    className="tool"
                    onClick={() => {
                      dismiss();
                      change({ do: "order_steps", steps: nearest, mend: true });
                    }}
                  >
                    Take the nearest that can
                  </button>
                </p>
              )}
              {plan.conflicts.map((c) => (
                <p key={c.what} className="caution" role="note">
                  <span aria-hidden="true">! </span>
                  {sentence(c.what)} Nearest: {c.nearest}.
                </p>
              ))}
              <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={dropped}>
                <SortableContext items={steps.map(keyOf)} strategy={verticalListSortingStrategy}>
                  <ol aria-busy={isFetching || saving.state === "saving"}>
                    {steps.map((s, index) => (
                      <StepRow
                        key={keyOf(s)}
                        step={s}
                        sitting={s.sitting !== steps[index - 1]?.sitting && plan.sittings.length > 1}
                        number={index + 1}
                        selected={index === at}
                        onSelect={() => setSelected(keyOf(s))}
                      />
                    ))}
                  </ol>
                </SortableContext>
              </DndContext>
            </>
          )}
        </div>
      )}
    </Stage>
  );
}

interface RowProps {
  step: StepOut;
  number: number;
  /** Whether a sitting begins with it. */
  sitting: boolean;
  selected: boolean;
  onSelect: () => void;
}

function StepRow({ step, number, sitting, selected, onSelect }: RowProps) {
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id: keyOf(step) });
  const fullest = step.served.reduce((a, b) => (b.after.tooth_used > a.after.tooth_used ? b : a));
  return (
    <li
      ref={setNodeRef}
      id={`step-${keyOf(step)}`}
      style={{ transform: transform ? `translate3d(0, ${transform.y}px, 0)` : undefined, transition }}
      className={`step ${selected ? "is-selected" : ""} ${step.done ? "is-done" : ""}`}
    >
      {sitting && <span className="step-sitting">Sitting {step.sitting}</span>}
      <button
        type="button"
        className="step-grip"
        {...attributes}
        {...listeners}
        aria-label={`Move step ${number}, ${step.name}`}
      >
        <span aria-hidden="true">⋮⋮</span>
      </button>
      <button type="button" className="step-body" aria-pressed={selected} onClick={onSelect}>
        <span className="step-number">{number}</span>
        <Chip hex={step.solid.hex} size={30} />
        <span className="step-name">
          <b>{step.name}</b>
          <small>
            {step.words} · {step.minutes.toFixed(0)}
            {"\u00a0min"}
            {step.cm2 > 0 && ` · ${amount(step.cm2)}`}
            {step.first.length > 0 &&
              ` · first:\u00a0${step.first.map((f) => f.split(":")[0]!.toLowerCase().replaceAll(" ", "\u00a0")).join(", ")}`}
          </small>
        </span>
        <span className="step-places">
          {step.served.map((p) => (
            <span key={p.place}>
              {p.number} {p.called}
            </span>
          ))}
        </span>
        <span className="step-end">
          {step.done ? (
            <b>drawn</b>
          ) : (
            <Tooth step={step} before={fullest.before.tooth_used} after={fullest.after.tooth_used} />
          )}
        </span>
      </button>
    </li>
  );
}

/** How full the tooth is before and after a step; of dye, the paper. */
function Tooth({ step, before, after }: { step: StepOut; before: number; after: number }) {
  return (
    <span className="tooth">
      <span className="tooth-bar" aria-hidden="true">
        <span style={{ width: `${100 * after}%` }} className="tooth-after" />
        <span style={{ width: `${100 * before}%` }} className="tooth-before" />
      </span>
      <small>
        {step.pressure === "coat" ? "paper full" : "tooth"} {Math.round(100 * before)} →{" "}
        {Math.round(100 * after)} %
      </small>
    </span>
  );
}
