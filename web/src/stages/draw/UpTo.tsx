import type { StepOut } from "../../api/client";
import { Chip } from "../../parts/Swatch";

interface Props {
  called: string;
  place: string;
  steps: StepOut[];
  /** All steps of this place that are drawn now, up to the one touched. */
  onUpTo: (steps: StepOut[], last: StepOut) => void;
  onClose: () => void;
}

/** One place: its layers in order, drawn and to come; a touch says how far it is drawn. */
export function UpTo({ called, place, steps, onUpTo, onClose }: Props) {
  const mine = steps.filter((s) => s.served.some((p) => p.place === place));
  const only = (step: StepOut): StepOut => ({ ...step, laid: step.laid.filter((x) => x.place === place) });
  return (
    <section aria-label={`How far ${called} is drawn`}>
      <h2>{called}</h2>
      <p className="measure">Touch the last layer that lies there: all up to it is marked as drawn.</p>
      <ol className="so-far">
        {mine.map((step, index) => (
          <li key={step.number} className={step.done ? "is-done" : ""}>
            <button
              type="button"
              disabled={step.done}
              onClick={() =>
                onUpTo(
                  mine
                    .slice(0, index + 1)
                    .filter((s) => !s.done)
                    .map(only),
                  step,
                )
              }
            >
              <Chip hex={step.solid.hex} size={26} />
              <span>
                <b>{step.name}</b>
                <small>{step.words}</small>
              </span>
              <small>{step.done ? "drawn" : "drawn up to here"}</small>
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
