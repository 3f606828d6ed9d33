import type { StepOut } from "../../api/client";
import { StepList } from "./StepList";

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
  const due = (some: StepOut[]) => some.filter((s) => !s.done);
  const only = (step: StepOut): StepOut => ({ ...step, laid: step.laid.filter((x) => x.place === place) });
  return (
    <section aria-label={`How far ${called} is drawn`}>
      <h2>{called}</h2>
      <p className="measure">Touch the last layer that lies there: all up to it is marked as drawn.</p>
      <StepList
        steps={mine}
        name={(step) => step.name}
        words={(step) => step.words}
        end={() => "drawn up to here"}
        onTouch={(index) => onUpTo(due(mine.slice(0, index + 1)).map(only), mine[index]!)}
      />
      <div className="actions">
        <button type="button" className="tool" onClick={onClose}>
          Back to drawing
        </button>
      </div>
    </section>
  );
}
