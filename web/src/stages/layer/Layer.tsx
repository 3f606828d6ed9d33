import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from "@dnd-kit/core";
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import type { StepOut } from "../../api/client";
import { Empty, Fault, Loading } from "../../parts/Says";
import { useKeys } from "../../parts/useKeys";
import { ValueRail } from "../../parts/ValueRail";
import { counted, sentence } from "../../parts/words";
import { Grow } from "./Grow";
import { Route } from "./Route";
import { ROUTES } from "./routes";
import { StepMargin } from "./StepMargin";
import { StepRow } from "./StepRow";
import { keyOf } from "./steps";
import { useMatches, usePlan } from "../../study/queries";
import { Stage } from "../../study/StudyFrame";
import { useStudy } from "../../study/useStudy";

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
          <StepMargin
            step={step}
            first={at === 0}
            last={at === steps.length - 1}
            begun={steps.some((s) => s.done)}
            ownOrder={plan?.own_order ?? false}
            takes={plan?.takes ?? []}
            growing={growing}
            onMove={(by) => place(at, at + by)}
            onGrow={() => setGrowing(!growing)}
            onDraw={draw}
          />
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
              <Route ownOrder={plan.own_order} />
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
