import { useSortable } from "@dnd-kit/sortable";
import type { StepOut } from "../../api/client";
import { Chip } from "../../parts/Swatch";
import { keyOf } from "./steps";
import { amount } from "./Takes";
import { Tooth } from "./Tooth";

interface RowProps {
  step: StepOut;
  number: number;
  /** Whether a sitting begins with it. */
  sitting: boolean;
  selected: boolean;
  onSelect: () => void;
}

/** A step in the list of all, which can be dragged to another place. */
export function StepRow({ step, number, sitting, selected, onSelect }: RowProps) {
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
