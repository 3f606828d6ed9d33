import type { SightOut, View } from "../../api/client";
import { VIEWS } from "./views";

interface Props {
  view: View;
  onView: (view: View) => void;
  steps: number;
  onSteps: (steps: number) => void;
  sight: SightOut | undefined;
  disabled: boolean;
}

const percent = (share: number) => `${Math.round(share * 100)} %`;

/** The ways of seeing, in a row beneath the picture, with what the chosen one says. */
export function ViewBar({ view, onView, steps, onSteps, sight, disabled }: Props) {
  const chosen = VIEWS.find((v) => v.view === view)!;
  return (
    <div className="view-bar">
      <div className="views" role="group" aria-label="Ways of seeing">
        {VIEWS.map((v) => (
          <button
            key={v.view}
            type="button"
            className="view"
            aria-pressed={v.view === view}
            aria-keyshortcuts={v.key}
            disabled={disabled}
            onClick={() => onView(v.view)}
          >
            {v.name}
          </button>
        ))}
      </div>
      <p className="view-says" aria-live="polite">
        <span>{chosen.says}</span>
        {view === "values" && (
          <span className="stepper" role="group" aria-label="Steps of value">
            <button
              type="button"
              onClick={() => onSteps(steps - 1)}
              disabled={steps <= 2}
              aria-label="Fewer steps"
            >
              −
            </button>
            <output>{steps}</output>
            <button
              type="button"
              onClick={() => onSteps(steps + 1)}
              disabled={steps >= 10}
              aria-label="More steps"
            >
              +
            </button>
          </span>
        )}
        {view !== "values" &&
          sight?.view === view &&
          sight.shares.map((s) => (
            <span key={s.words} className="view-share">
              {s.words} <b>{percent(s.share)}</b>
            </span>
          ))}
      </p>
    </div>
  );
}
