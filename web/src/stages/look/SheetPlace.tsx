import type { SheetState } from "../../api/client";
import { Slider } from "../../parts/Slider";
import { useUsual } from "../../study/queries";
import { useStudy } from "../../study/useStudy";

/** How large the paper is, and where the picture lies on it. */
export function SheetPlace() {
  const { study, change } = useStudy();
  const sheet = study.state.sheet!;
  const at = study.sheet;
  const set = (some: Partial<SheetState>) => change({ do: "set_sheet", sheet: { ...sheet, ...some } });
  const sizes = useUsual().data?.sheets ?? [];
  const named = sizes.find(
    (s) =>
      (s.width === sheet.width && s.height === sheet.height) ||
      (s.height === sheet.width && s.width === sheet.height),
  );
  return (
    <>
      <h2>Paper</h2>
      <div className="sheet-row">
        <Miniature />
        <div>
          <label className="field">
            Its size
            <select
              value={named?.name ?? ""}
              onChange={(event) => {
                const { width, height } = sizes.find((s) => s.name === event.target.value)!;
                set({ width, height, left: null, top: null, across: null });
              }}
            >
              {!named && <option value="">{`${sheet.width} × ${sheet.height} mm`}</option>}
              {sizes.map((s) => (
                <option key={s.name}>{s.name}</option>
              ))}
            </select>
          </label>
          <button
            type="button"
            className="tool"
            onClick={() =>
              set({ width: sheet.height, height: sheet.width, left: null, top: null, across: null })
            }
          >
            Turn it
          </button>
        </div>
      </div>
      <p className="measure">
        The picture: {at.across.toFixed(0)} × {at.down.toFixed(0)} mm, {at.left.toFixed(0)} mm from the left,{" "}
        {at.top.toFixed(0)} mm from the top.
      </p>
      <Slider
        label="Its width"
        unit="mm"
        least={20}
        most={Math.round(Math.min(at.width, (at.height * at.across) / at.down))}
        step={1}
        value={Math.round(at.across)}
        onValue={(across) =>
          set({
            across,
            left: at.left + (at.across - across) / 2,
            top: at.top + (at.down - (across * at.down) / at.across) / 2,
          })
        }
      />
      <div className="tools" role="group" aria-label="Move the picture on the paper by 5 mm">
        {(
          [
            ["←", -5, 0, "left"],
            ["→", 5, 0, "right"],
            ["↑", 0, -5, "up"],
            ["↓", 0, 5, "down"],
          ] as const
        ).map(([sign, dx, dy, name]) => (
          <button
            key={name}
            type="button"
            className="tool"
            aria-label={`5 mm ${name}`}
            onClick={() => set({ left: at.left + dx, top: at.top + dy, across: at.across })}
          >
            {sign}
          </button>
        ))}
        <button type="button" className="tool" onClick={() => set({ left: null, top: null, across: null })}>
          Centre it
        </button>
      </div>
    </>
  );
}

function Miniature() {
  const { sheet, picture } = useStudy().study;
  const scale = 84 / Math.max(sheet.width, sheet.height);
  return (
    <svg
      className="sheet-mini"
      width={sheet.width * scale + 2}
      height={sheet.height * scale + 2}
      viewBox={`-1 -1 ${sheet.width * scale + 2} ${sheet.height * scale + 2}`}
      role="img"
      aria-label={`A sheet of ${sheet.width} by ${sheet.height} millimetres with the picture on it`}
    >
      <rect width={sheet.width * scale} height={sheet.height * scale} className="sheet-paper" />
      {picture && (
        <image
          href={`/api/pictures/${picture.id}/thumbnail.jpg`}
          x={sheet.left * scale}
          y={sheet.top * scale}
          width={sheet.across * scale}
          height={sheet.down * scale}
          preserveAspectRatio="xMidYMid slice"
        />
      )}
    </svg>
  );
}
