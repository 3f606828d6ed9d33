import type { ReactNode } from "react";
import type { StepOut } from "../../api/client";
import { Chip } from "../../parts/Swatch";

interface Props {
  steps: StepOut[];
  now?: StepOut | null;
  /** What stands beside a step's name and stroke, and at its end. */
  name: (step: StepOut) => ReactNode;
  words: (step: StepOut) => ReactNode;
  end: (step: StepOut) => ReactNode;
  onTouch: (index: number) => void;
}

const toMiddle = (row: HTMLLIElement | null) => {
  row?.scrollIntoView({ block: "center" });
};

/** Steps in a list; a touch on one that is not drawn yet says how far the drawing is. */
export function StepList({ steps, now, name, words, end, onTouch }: Props) {
  return (
    <ol className="so-far">
      {steps.map((step, index) => (
        <li
          key={step.number}
          ref={step === now ? toMiddle : undefined}
          className={step === now ? "is-now" : step.done ? "is-done" : ""}
        >
          <button type="button" disabled={step.done} onClick={() => onTouch(index)}>
            <Chip hex={step.solid.hex} size={26} />
            <span>
              <b>{name(step)}</b>
              <small>{words(step)}</small>
            </span>
            <small>{step.done ? "drawn" : end(step)}</small>
          </button>
        </li>
      ))}
    </ol>
  );
}
