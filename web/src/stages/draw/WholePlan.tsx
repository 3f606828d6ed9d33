import type { StepOut } from "../../api/client";
import { Chip } from "../../parts/Swatch";

interface Props {
  steps: StepOut[];
  now: StepOut | null;
  onUpTo: (steps: StepOut[], last: StepOut) => void;
  onClose: () => void;
}

const toMiddle = (row: HTMLLIElement | null) => {
  row?.scrollIntoView({ block: "center" });
};

/** The whole plan, to look along; a touch on a step says that all up to it is drawn. */
export function WholePlan({ steps, now, onUpTo, onClose }: Props) {
  return (
    <section aria-label="The whole plan">
      <h2>The whole plan</h2>
      <p className="measure">Touch a step to say that all up to it is drawn.</p>
      <ol className="so-far">
        {steps.map((step, index) => (
          <li
            key={step.number}
            ref={step === now ? toMiddle : undefined}
            className={step === now ? "is-now" : step.done ? "is-done" : ""}
          >
            <button
              type="button"
              disabled={step.done}
              onClick={() =>
                onUpTo(
                  steps.slice(0, index + 1).filter((s) => !s.done),
                  step,
                )
              }
            >
              <Chip hex={step.solid.hex} size={26} />
              <span>
                <b>
                  {step.number} {step.name}
                </b>
                <small>
                  {step.words} · {step.served.map((p) => p.called).join(", ")}
                </small>
              </span>
              <small>{step.done ? "drawn" : step === now ? "now" : ""}</small>
            </button>
          </li>
        ))}
      </ol>
      <div className="actions">
        <button type="button" className="tool" onClick={onClose}>
          Back to drawing
        </button>
      </div>
    </section>
  );
}
