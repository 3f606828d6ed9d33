import type { PlanOut, StepOut } from "../../api/client";
import { useStudy } from "../../study/useStudy";
import { Finishes } from "./Finishes";
import { StepWords } from "./StepWords";
import { Takes } from "./Takes";
import { Tooth } from "./Tooth";

interface Props {
  step: StepOut;
  first: boolean;
  last: boolean;
  /** Whether any step has been drawn. */
  begun: boolean;
  /** Whether the steps lie in the artist's order. */
  ownOrder: boolean;
  takes: PlanOut["takes"];
  growing: boolean;
  onMove: (by: number) => void;
  onGrow: () => void;
  onDraw: () => void;
}

/** The step at hand: what it is for, where it goes, and what all of them take. */
export function StepMargin({
  step,
  first,
  last,
  begun,
  ownOrder,
  takes,
  growing,
  onMove,
  onGrow,
  onDraw,
}: Props) {
  const { change } = useStudy();
  return (
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
        <button type="button" className="tool" disabled={first} onClick={() => onMove(-1)}>
          Earlier <kbd>E</kbd>
        </button>
        <button type="button" className="tool" disabled={last} onClick={() => onMove(1)}>
          Later <kbd>L</kbd>
        </button>
        <button type="button" className="tool" aria-pressed={growing} onClick={onGrow}>
          See it grow <kbd>G</kbd>
        </button>
        {ownOrder && (
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
      <Takes takes={takes} />
      <div className="actions">
        <button type="button" className="act" onClick={onDraw}>
          {begun ? "Go on drawing" : "Begin to draw"} <kbd>Space</kbd>
        </button>
      </div>
    </section>
  );
}
