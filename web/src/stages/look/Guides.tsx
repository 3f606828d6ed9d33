import type { SheetState } from "../../api/client";
import { Slider } from "../../parts/Slider";
import { useStudy } from "../../study/useStudy";

/** What is drawn over the picture to draw by: grid, diagonals, cross, eye line. */
export function Guides() {
  const { study, change } = useStudy();
  const sheet = study.state.sheet!;
  const set = (some: Partial<SheetState>) => change({ do: "set_sheet", sheet: { ...sheet, ...some } });
  return (
    <>
      <h3>Over it</h3>
      <label className="choice">
        <input
          type="checkbox"
          checked={!!sheet.grid}
          onChange={(event) => set({ grid: event.target.checked ? 20 : null })}
        />
        Grid
      </label>
      {sheet.grid && (
        <Slider
          label="Squares"
          unit="mm"
          least={5}
          most={60}
          step={5}
          value={sheet.grid}
          onValue={(grid) => set({ grid })}
        />
      )}
      <label className="choice">
        <input
          type="checkbox"
          checked={sheet.diagonals ?? false}
          onChange={(event) => set({ diagonals: event.target.checked })}
        />
        Diagonals
      </label>
      <label className="choice">
        <input
          type="checkbox"
          checked={sheet.cross ?? false}
          onChange={(event) => set({ cross: event.target.checked })}
        />
        Centre cross
      </label>
      <label className="choice">
        <input
          type="checkbox"
          checked={sheet.eye_line !== null && sheet.eye_line !== undefined}
          onChange={(event) => set({ eye_line: event.target.checked ? study.sheet.eyes : null })}
        />
        Eye line
      </label>
      {sheet.eye_line !== null && sheet.eye_line !== undefined && (
        <Slider
          label="At"
          unit="of the height"
          least={0}
          most={1}
          step={0.005}
          value={sheet.eye_line}
          onValue={(v) => set({ eye_line: v })}
        />
      )}
    </>
  );
}
