import { useSettings, type White } from "./settings";

const LEAST = 0.25;
const AS_IT_IS: White = { bright: 1, red: 1, green: 1, blue: 1 };
const SLIDERS = [
  ["bright", "Brightness"],
  ["red", "Red"],
  ["green", "Green"],
  ["blue", "Blue"],
] as const;

/** The filter that dims the whole screen to the sheet's white. */
export function WhiteFilter({ white }: { white: White }) {
  const [r, g, b] = [white.red, white.green, white.blue].map((share) => white.bright * share);
  return (
    <svg width="0" height="0" className="white-filter" aria-hidden="true">
      <filter id="sheet-white" colorInterpolationFilters="linearRGB">
        <feColorMatrix type="matrix" values={`${r} 0 0 0 0  0 ${g} 0 0 0  0 0 ${b} 0 0  0 0 0 1 0`} />
      </filter>
    </svg>
  );
}

/** Hold the sheet beside the screen and match a patch of white, so that swatches and sheet are seen on the same footing. */
export function ScreenWhite() {
  const { white, set } = useSettings();
  const now = white ?? AS_IT_IS;
  return (
    <details className="screen-white">
      <summary>Match the screen’s white to the sheet</summary>
      <p>
        Hold the bare sheet beside this patch, in the light you draw by. Dim it first; then take out the
        colour that is too much, until both look alike. What you see on screen then stands on the sheet’s
        footing.
      </p>
      <div className="white-patch" aria-hidden="true" />
      {SLIDERS.map(([key, name]) => (
        <label key={key} className="field">
          {name}
          <input
            type="range"
            min={LEAST}
            max={1}
            step={0.005}
            value={now[key]}
            onChange={(event) => set({ white: { ...now, [key]: Number(event.target.value) } })}
          />
        </label>
      ))}
      <button type="button" className="tool" disabled={!white} onClick={() => set({ white: null })}>
        The screen as it is
      </button>
    </details>
  );
}
