import { STATES, type State } from "./rack";

/** How full a stick is, by one touch; every recipe heeds it at once. */
export function StateRow({ state, onState }: { state: State; onState: (state: State) => void }) {
  return (
    <div className="state-row" role="group" aria-label="How full it is">
      {STATES.map((s) => (
        <button key={s} type="button" aria-pressed={s === state} onClick={() => onState(s)}>
          {s}
        </button>
      ))}
    </div>
  );
}
