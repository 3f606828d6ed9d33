import { useRef, useState } from "react";
import { Problem, sendFile, type PictureOut, type SheetState, type SpanOut } from "../../api/client";
import { Fault } from "../../parts/Says";
import { useJob, useUsual } from "../../study/queries";
import { useStudy } from "../../study/useStudy";
import type { Flip } from "./geometry";
import { Slider } from "./LightPanel";

export type PaperTool = "none" | "crop" | "measure" | "unit";

interface Props {
  tool: PaperTool;
  onTool: (tool: PaperTool) => void;
  span: SpanOut | null;
  spanProblem: Problem | null;
  unit: number | null;
  onNoUnit: () => void;
  flip: Flip;
  onFlip: (flip: Flip) => void;
  lineArt: boolean;
}

const KINDS = [
  ["grid", "the grid alone"],
  ["outline", "outlines"],
  ["values", "values"],
  ["picture", "the picture"],
  ["pale", "the lines, pale"],
] as const;

/** The paper and the picture on it: crop, size, grid, measuring, and a page printed at true size. */
export function PaperPanel(props: Props) {
  const { tool, onTool, span, spanProblem, unit, onNoUnit, flip, onFlip, lineArt } = props;
  const { study, change } = useStudy();
  const sheet = study.state.sheet!;
  const at = study.sheet;
  const set = (some: Partial<SheetState>) => change({ do: "set_sheet", sheet: { ...sheet, ...some } });
  const frame = study.state.frame ?? null;
  const angle = frame?.angle ?? 0;
  const file = useRef<HTMLInputElement>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  const replace = (picture: File) => {
    setProblem(null);
    sendFile<PictureOut>("/api/pictures", "picture", picture)
      .then((taken) => change({ do: "use_picture", picture: taken.id }))
      .catch((fault: Problem) => setProblem(fault));
  };
  const straighten = (turn: number) =>
    change({
      do: "set_frame",
      frame: {
        x: frame?.x ?? study.picture!.width / 2,
        y: frame?.y ?? study.picture!.height / 2,
        width: frame?.width ?? study.picture!.width,
        height: frame?.height ?? study.picture!.height,
        angle: turn,
      },
    });
  const sizes = useUsual().data?.sheets ?? [];
  const named = sizes.find(
    (s) =>
      (s.width === sheet.width && s.height === sheet.height) ||
      (s.height === sheet.width && s.width === sheet.height),
  );
  return (
    <section aria-label="Paper and drawing">
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
      <label className="field">
        Seen
        <select value={flip} onChange={(event) => onFlip(event.target.value as Flip)}>
          <option value="none">as it is</option>
          <option value="mirrored">mirrored</option>
          <option value="upside down">upside down</option>
        </select>
      </label>
      <h3>Measure</h3>
      <div className="tools">
        <button
          type="button"
          className="tool"
          aria-pressed={tool === "unit"}
          onClick={() => onTool(tool === "unit" ? "none" : "unit")}
        >
          {unit ? "Another unit" : "Pick a unit"}
        </button>
        <button
          type="button"
          className="tool"
          aria-pressed={tool === "measure"}
          onClick={() => onTool(tool === "measure" ? "none" : "measure")}
        >
          Measure
        </button>
        {unit && (
          <button type="button" className="tool" onClick={onNoUnit}>
            No unit
          </button>
        )}
      </div>
      <p role="status" data-testid="span">
        {tool === "unit" && "Draw over what shall count as one: an eye’s width, say."}
        {tool === "measure" && !span && "Draw from one place to another."}
        {span && tool !== "unit" && (
          <>
            <b>{span.mm.toFixed(1)} mm</b> on the paper
            {span.units !== null && (
              <>
                , <b>{span.units.toFixed(2)}</b> units
              </>
            )}
            , {Math.abs(span.plumb).toFixed(0)}°{" "}
            {span.plumb > 0.5 ? "right of" : span.plumb < -0.5 ? "left of" : "from"} plumb
          </>
        )}
      </p>
      <Fault problem={spanProblem} />
      <h3>The picture</h3>
      <div className="tools">
        <button
          type="button"
          className="tool"
          aria-pressed={tool === "crop"}
          onClick={() => onTool(tool === "crop" ? "none" : "crop")}
        >
          Crop
        </button>
        {frame && (
          <button type="button" className="tool" onClick={() => change({ do: "set_frame", frame: null })}>
            Whole again
          </button>
        )}
        <button type="button" className="tool" onClick={() => file.current?.click()}>
          Replace it
        </button>
        <input
          ref={file}
          type="file"
          accept="image/*,.heic,.heif,.tif,.tiff"
          hidden
          aria-label="Another picture"
          onChange={(event) => {
            const chosen = event.target.files?.[0];
            if (chosen) replace(chosen);
            event.target.value = "";
          }}
        />
      </div>
      {tool === "crop" && (
        <p role="status">Draw a box round what you want to keep. Nothing is thrown away.</p>
      )}
      <Fault problem={problem} />
      <Slider
        label="Straighten"
        unit="°"
        least={-15}
        most={15}
        step={0.5}
        value={angle}
        onValue={straighten}
      />
      <Print lineArt={lineArt} />
    </section>
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

function Print({ lineArt }: { lineArt: boolean }) {
  const { study } = useStudy();
  const [kind, setKind] = useState<(typeof KINDS)[number][0]>(lineArt ? "pale" : "grid");
  const [page, setPage] = useState<"A4" | "letter">("A4");
  const [mirrored, setMirrored] = useState(false);
  const work = useJob(study.id, "page", () => undefined);
  const { job } = work;
  return (
    <>
      <h3>Print at true size</h3>
      <div className="field-row">
        <label className="field">
          What
          <select value={kind} onChange={(event) => setKind(event.target.value as typeof kind)}>
            {KINDS.filter(([k]) => lineArt || k !== "pale").map(([k, name]) => (
              <option key={k} value={k}>
                {name}
              </option>
            ))}
          </select>
        </label>
        <label className="field">
          On
          <select value={page} onChange={(event) => setPage(event.target.value as typeof page)}>
            <option>A4</option>
            <option>letter</option>
          </select>
        </label>
      </div>
      <label className="choice">
        <input type="checkbox" checked={mirrored} onChange={(event) => setMirrored(event.target.checked)} />
        Mirrored, for tracing from behind
      </label>
      <div className="tools">
        <button
          type="button"
          className="tool"
          disabled={work.open}
          onClick={() => work.begin({ page: { kind, page, mirrored } })}
        >
          {work.open ? "Making the pages…" : "Make the pages"}
        </button>
        {work.open && (
          <button type="button" className="tool" onClick={work.stop}>
            Stop
          </button>
        )}
        {job?.state === "done" && (
          <a className="tool" href={`/api/studies/${study.id}/page.pdf`} download data-testid="page-link">
            Save the PDF
          </a>
        )}
      </div>
      {job?.state === "failed" && <Fault>{job.says}</Fault>}
      <Fault problem={work.problem} />
    </>
  );
}
