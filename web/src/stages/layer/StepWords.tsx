import { sentence } from "../../parts/words";
import type { StepOut } from "../../api/client";

/** What a step asks beside its stroke: what comes first, when to stop, which edges it crosses, and why. */
export function StepWords({ step }: { step: StepOut }) {
  return (
    <div className="step-words">
      {step.first.map((line) => (
        <p key={line}>
          <b>First.</b> {line}
        </p>
      ))}
      {step.stop_when && <p>{sentence(step.stop_when)}</p>}
      {step.beware && <p>{step.beware}</p>}
      {step.edges.map((line) => (
        <p key={line}>{line}</p>
      ))}
      {step.why && <p className="measure">{step.why}</p>}
    </div>
  );
}
