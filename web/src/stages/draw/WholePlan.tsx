import type { StepOut } from "../../api/client";
import { StepList } from "./StepList";

interface Props {
  steps: StepOut[];
  now: StepOut | null;
  onUpTo: (steps: StepOut[], last: StepOut) => void;
  onClose: () => void;
}

/** The whole plan, to look along; a touch on a step says that all up to it is drawn. */
export function WholePlan({ steps, now, onUpTo, onClose }: Props) {
  return (
    <section aria-label="The whole plan">
      <h2>The whole plan</h2>
      <p className="measure">Touch a step to say that all up to it is drawn.</p>
      <StepList
        steps={steps}
        now={now}
        name={(step) => `${step.number} ${step.name}`}
        words={(step) => `${step.words} · ${step.served.map((p) => p.called).join(", ")}`}
        end={(step) => (step === now ? "now" : "")}
        onTouch={(index) =>
          onUpTo(
            steps.slice(0, index + 1).filter((s) => !s.done),
            steps[index]!,
          )
        }
      />
      <div className="actions">
        <button type="button" className="tool" onClick={onClose}>
          Back to drawing
        </button>
      </div>
    </section>
  );
}
