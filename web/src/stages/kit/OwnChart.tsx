import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { client, got, Problem, sendFile, type CellOut, type KitOut, type Schemas } from "../../api/client";
import { Fault } from "../../parts/Says";
import { useSettings } from "../../parts/settings";
import { counted } from "../../parts/words";
import { PhotoLight } from "../../study/PhotoLight";
import { MediumSelect } from "./MediumSelect";
import { type KitColour } from "./rack";

type Spot = [number, number];
type Grid = Schemas["GridOut"];
const WAYS = [
  ["light", 2],
  ["medium", 1],
  ["medium", 3],
  ["firm", 2],
] as const;
const CORNERS = ["top left", "top right", "bottom right", "bottom left"];

interface Props {
  kit: KitOut;
  paper: string;
  onClose: () => void;
}

/** A chart the artist has: four corners touched, rows and columns said, cells named, and they lie in the rack. */
export function OwnChart({ kit, paper, onClose }: Props) {
  const cache = useQueryClient();
  const { photoLight } = useSettings();
  const [file, setFile] = useState<File | null>(null);
  const [size, setSize] = useState<Spot>([1, 1]);
  const [corners, setCorners] = useState<(Spot | null)[]>([null, null, null, null]);
  const [bare, setBare] = useState<Spot[]>([]);
  const [touching, setTouching] = useState<"corners" | "bare" | "cell">("corners");
  const [moved, setMoved] = useState<Record<string, Spot>>({});
  const [cell, setCell] = useState<string | null>(null);
  const [rowwise, setRowwise] = useState(false);
  const [ways, setWays] = useState<Record<number, number>>({});
  const [looking, setLooking] = useState(false);
  const [rows, setRows] = useState(4);
  const [columns, setColumns] = useState(6);
  const [medium, setMedium] = useState<KitColour["medium"]>(kit.colours[0]?.medium ?? "wax_pencil");
  const [names, setNames] = useState("");
  const [cells, setCells] = useState<CellOut[] | null>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  const shown = useMemo(() => (file ? URL.createObjectURL(file) : ""), [file]);
  useEffect(() => () => URL.revokeObjectURL(shown), [shown]);
  const touch = (event: React.MouseEvent<HTMLImageElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const spot: Spot = [
      ((event.clientX - box.left) / box.width) * size[0],
      ((event.clientY - box.top) / box.height) * size[1],
    ];
    if (touching === "cell" && cell) {
      const next = { ...moved, [cell]: spot };
      setMoved(next);
      read(next);
      return;
    }
    setCells(null);
    setMoved({});
    if (touching === "bare") setBare((all) => [...all, spot].slice(-40));
    else setCorners((all) => placed(all, spot));
  };
  const takeUp = (chosen: File | null) => {
    setFile(chosen);
    if (!chosen) return;
    setLooking(true);
    sendFile<Grid>("/api/charts/found", "photo", chosen)
      .then((grid) => {
        if (!grid.corners.length) return;
        setCorners(grid.corners as Spot[]);
        setRows(grid.rows);
        setColumns(grid.columns);
      })
      .catch(setProblem)
      .finally(() => setLooking(false));
  };
  const read = (beside = moved, light = photoLight) => {
    if (!file) return;
    sendFile<CellOut[]>("/api/charts", "photo", file, {
      chart: JSON.stringify({ paper, corners, rows, columns, bare, moved: beside, light }),
    })
      .then((found) => {
        setCells(found);
        setProblem(null);
      })
      .catch(setProblem);
  };
  const called = names.split("\n").map((n) => n.trim());
  // Row by row: each column is a colour, its first row the solid, the others the same colour laid in other ways.
  const nameOf = (index: number) => called[rowwise ? index % columns : index];
  const solid = (index: number) => !rowwise || index < columns;
  const wayOf = (row: number) => ways[row] ?? (row - 1) % WAYS.length;
  const take = () => {
    if (!cells) return;
    const below = rowwise ? Array.from({ length: rows - 1 }, (_, at) => WAYS[wayOf(at + 1)]!) : [];
    got(
      client.POST("/api/kits/{id}/charts", {
        params: { path: { id: kit.id } },
        body: {
          seen: kit.number,
          paper,
          medium,
          columns,
          names: called,
          // A cell that disagrees with itself still tells a solid's tone; as a patch it would mislead.
          tones: cells.map((c, index) => (c.ok || solid(index) ? c.tone : null)),
          ways: below.map(([pressure, passes]) => ({ pressure, passes })),
        },
      }),
    )
      .then((next) => {
        cache.setQueryData(["kit", kit.id], next);
        for (const key of ["rack", "sheets", "further"]) void cache.invalidateQueries({ queryKey: [key] });
        onClose();
      })
      .catch(setProblem);
  };
  const named = cells?.filter((c, index) => c.tone && solid(index) && nameOf(index)).length ?? 0;
  const count = (label: string, many: number, onMany: (many: number) => void) => (
    <label className="field">
      {label}
      <input
        type="number"
        min={1}
        max={40}
        value={many}
        onChange={(event) => onMany(Number(event.target.value) || 1)}
      />
    </label>
  );
  const set = corners.filter((c) => c !== null);
  const next = CORNERS[corners.indexOf(null)];
  return (
    <>
      <div className="margin-head">
        <h2>A chart you have already</h2>
        <button type="button" className="tool" onClick={onClose}>
          Back to the sheets
        </button>
      </div>
      <p>
        Solid swatches in rows, some bare paper between them, photographed in even daylight. The picture stays
        on this machine.
      </p>
      {!file && (
        <label className="field">
          The photograph
          <input
            type="file"
            accept="image/jpeg,image/png,image/webp"
            onChange={(event) => takeUp(event.target.files?.[0] ?? null)}
          />
        </label>
      )}
      <Fault problem={problem} />
      {file && (
        <>
          <p role="status">
            {looking
              ? "Looking for the rows of swatches…"
              : touching === "cell" && cell
                ? `Touch the middle of cell ${cell} on the photograph.`
                : touching === "bare"
                  ? `${counted(bare.length, "place")} of bare paper touched. Two or three on each side tell the light best.`
                  : next
                    ? `Touch the chart’s ${next} corner.`
                    : "Are corners, rows and columns right? Touch near a corner to move it; then read it."}
          </p>
          <div className="field-row chart-said">
            {count("Rows", rows, setRows)}
            {count("Columns", columns, setColumns)}
            <MediumSelect label="Medium" medium={medium} onMedium={setMedium} />
            <PhotoLight onLight={(light) => cells && read(moved, light)} />
            <button type="button" className="act" disabled={set.length < 4} onClick={() => read()}>
              Read the chart
            </button>
          </div>
          <div className="chart-photo">
            <img
              src={shown}
              alt="Your chart; touch its corners"
              onClick={touch}
              onLoad={(event) =>
                setSize([event.currentTarget.naturalWidth, event.currentTarget.naturalHeight])
              }
            />
            <svg viewBox={`0 0 ${size[0]} ${size[1]}`} preserveAspectRatio="none" aria-hidden="true">
              {cells?.map((c) => (
                <polygon
                  key={c.cell}
                  className={c.cell === cell ? "is-chosen" : ""}
                  points={c.outline.map((p) => p.join()).join(" ")}
                />
              ))}
              {set.length > 1 && <polygon points={set.map((c) => c.join()).join(" ")} />}
              {set.map((c, index) => (
                <circle
                  key={index}
                  cx={c[0]}
                  cy={c[1]}
                  r={size[0] / 120}
                  fill="#fff"
                  stroke="#000"
                  vectorEffect="non-scaling-stroke"
                />
              ))}
              {bare.map((c, index) => (
                <rect
                  key={index}
                  x={c[0] - size[0] / 160}
                  y={c[1] - size[0] / 160}
                  width={size[0] / 80}
                  height={size[0] / 80}
                  fill="none"
                  stroke="#000"
                  vectorEffect="non-scaling-stroke"
                />
              ))}
            </svg>
          </div>
          <div className="tools">
            <button
              type="button"
              className="tool"
              aria-pressed={touching === "bare"}
              onClick={() => setTouching(touching === "bare" ? "corners" : "bare")}
            >
              {touching === "bare" ? "Back to the corners" : "No bare strips? Touch bare paper"}
            </button>
            {bare.length > 0 && (
              <button type="button" className="tool" onClick={() => setBare([])}>
                Forget the bare places
              </button>
            )}
          </div>
          <details className="swatch-photo">
            <summary>Type the corners instead</summary>
            {CORNERS.map((corner, index) => (
              <label key={corner} className="field">
                {corner}, pixels from the left and from the top
                <input
                  defaultValue={corners[index]?.map(Math.round).join(" ") ?? ""}
                  onBlur={(event) => {
                    const typed = event.target.value.split(/[\s,;]+/).map(Number);
                    if (typed.length !== 2 || typed.some(Number.isNaN)) return;
                    setCells(null);
                    const at: Spot = [typed[0]!, typed[1]!];
                    setCorners((all) => all.map((c, i) => (i === index ? at : c)));
                  }}
                />
              </label>
            ))}
          </details>
        </>
      )}
      {cells && (
        <>
          <ol className="panel sheet-cells">
            {cells.map((c, index) => (
              <li key={c.cell}>
                <button
                  type="button"
                  className="cell-move"
                  aria-pressed={touching === "cell" && cell === c.cell}
                  aria-label={`${c.cell}: touch its true place`}
                  onClick={() => {
                    const again = touching === "cell" && cell === c.cell;
                    setCell(again ? null : c.cell);
                    setTouching(again ? "corners" : "cell");
                  }}
                  style={{ background: c.hex }}
                />
                <b>{nameOf(index) || `${c.cell}, not named`}</b>
                {c.why && <small>! {c.why}</small>}
              </li>
            ))}
          </ol>
          <p>A cell read beside its swatch? Touch it here, then its true place on the photograph.</p>
          <label className="check">
            <input type="checkbox" checked={rowwise} onChange={(event) => setRowwise(event.target.checked)} />{" "}
            Each column is one colour: its first row solid, the rows below laid otherwise
          </label>
          {rowwise &&
            Array.from({ length: rows - 1 }, (_, at) => at + 1).map((row) => (
              <label key={row} className="field">
                Row {row + 1}
                <select
                  value={wayOf(row)}
                  onChange={(event) => setWays({ ...ways, [row]: Number(event.target.value) })}
                >
                  {WAYS.map(([pressure, passes], index) => (
                    <option key={index} value={index}>
                      {counted(passes, `${pressure} pass`, `${pressure} passes`)}
                    </option>
                  ))}
                </select>
              </label>
            ))}
          {rowwise && (
            <p>Markers, lines and pens: one coat in the first row, and one more in each row below.</p>
          )}
          <div className="tools">
            <button
              type="button"
              className="tool"
              onClick={() =>
                setNames(
                  kit.colours
                    .slice(0, rowwise ? columns : rows * columns)
                    .map((c) => c.name)
                    .join("\n"),
                )
              }
            >
              Names in the kit’s order
            </button>
          </div>
          <label className="field">
            Their names, a line each, {rowwise ? "one for each column" : "row by row"}; without a name it is
            left out
            <textarea rows={6} value={names} onChange={(event) => setNames(event.target.value)} />
          </label>
          <div className="actions">
            <button type="button" className="act" disabled={named === 0} onClick={take}>
              Put {counted(named, "colour")} in the rack
            </button>
          </div>
        </>
      )}
    </>
  );
}

/** A touch is the next corner that is not set, or moves the nearest of all four. */
function placed(all: (Spot | null)[], spot: Spot): (Spot | null)[] {
  const open = all.indexOf(null);
  const away = all.map((c) => (c ? Math.hypot(c[0] - spot[0], c[1] - spot[1]) : Infinity));
  const at = open >= 0 ? open : away.indexOf(Math.min(...away));
  return all.map((c, index) => (index === at ? spot : c));
}
