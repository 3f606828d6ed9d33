import type { StepOut } from "../../api/client";

/** How full the tooth is before and after a step; of dye, the paper. */
export function Tooth({ step, before, after }: { step: StepOut; before: number; after: number }) {
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
