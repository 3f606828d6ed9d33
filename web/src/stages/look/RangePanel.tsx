import { useStudy } from "../../study/useStudy";
import { Slider } from "../../parts/Slider";

const HOLDS = [
  ["skin", "the skin", "its mid-tone stays where it is"],
  ["darks", "the darks", "their steps stay as wide as they are; the lights give way"],
  ["lights", "the lights", "their steps stay as wide as they are; the darks give way"],
] as const;

/** The picture’s values carried onto what paper and kit can show; bent by hand, and what that costs. */
export function RangePanel() {
  const { study, change } = useStudy();
  const range = study.range;
  const middle = study.state.range_middle ?? null;
  const knot = range.shown.length === 3 ? range.shown[1]! : null;
  const set = (some: { on?: boolean; hold?: "skin" | "darks" | "lights"; middle?: number | null }) =>
    change({ do: "set_range", on: range.on, hold: range.hold, middle, ...some });
  return (
    <section aria-label="Range">
      <h2>Range</h2>
      <p>
        This kit on this paper shows values {range.darkest_shown.toFixed(1)} to{" "}
        {range.lightest_shown.toFixed(1)}
        {range.picture_values.length > 1 &&
          `; the picture runs from ${range.picture_values[0]!.toFixed(1)} to ${range.picture_values.at(-1)!.toFixed(1)}`}
        .
      </p>
      <label className="choice">
        <input type="checkbox" checked={range.on} onChange={(event) => set({ on: event.target.checked })} />
        Fit the picture to what can be shown
      </label>
      {range.on && (
        <>
          <fieldset>
            <legend>Hold</legend>
            {HOLDS.map(([hold, name, says]) => (
              <label key={hold} className="choice">
                <input
                  type="radio"
                  name="hold"
                  checked={middle === null && range.hold === hold}
                  onChange={() => set({ hold, middle: null })}
                />
                <span>
                  {name} <small>{says}</small>
                </span>
              </label>
            ))}
          </fieldset>
          {knot !== null && (
            <Slider
              label="Skin goes to"
              unit="L*"
              least={Math.ceil(range.shown[0]!)}
              most={Math.floor(range.shown[2]!)}
              step={0.5}
              value={Math.round(knot * 2) / 2}
              onValue={(v) => set({ middle: v })}
            />
          )}
          <h3>What is given up</h3>
          {range.given_up.length ? (
            <ul className="given-up">
              {range.given_up.map((words) => (
                <li key={words}>{words}</li>
              ))}
            </ul>
          ) : (
            <p>Nothing that can be seen.</p>
          )}
        </>
      )}
    </section>
  );
}
