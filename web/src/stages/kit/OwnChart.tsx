import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { client, got, Problem, sendFile, type CellOut, type KitOut } from "../../api/client";
import { Fault } from "../../parts/Says";
import { counted } from "../../parts/words";
import { MediumSelect } from "./MediumSelect";
import { ORDINARY, plain, type KitColour } from "./rack";

type Spot = [number, number];
const CORNERS = ["top left", "top right", "bottom right", "bottom left"];

interface Props {
  kit: KitOut;
  paper: string;
  onClose: () => void;
}

/** A chart the artist has: four corners touched, rows and columns said, cells named, and they lie in the rack. */
export function OwnChart({ kit, paper, onClose }: Props) {
  const cache = useQueryClient();
  const [file, setFile] = useState<File | null>(null);
  const [size, setSize] = useState<Spot>([1, 1]);
  const [corners, setCorners] = useState<(Spot | null)[]>([null, null, null, null]);
  const [bare, setBare] = useState<Spot[]>([]);
  const [touching, setTouching] = useState<"corners" | "bare">("corners");
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
    setCells(null);
    if (touching === "bare") setBare((all) => [...all, spot].slice(-40));
    else setCorners((all) => placed(all, spot));
  };
  const read = () => {
    if (!file) return;
    sendFile<CellOut[]>("/api/charts", "photo", file, {
      chart: JSON.stringify({ paper, corners, rows, columns, bare }),
    })
      .then((found) => {
        setCells(found);
        setProblem(null);
      })
      .catch(setProblem);
  };
  const called = names.split("\n").map((n) => n.trim());
  const take = () => {
    if (!cells) return;
    const fresh = cells
      .map((c, index): KitColour | null =>
        c.tone && called[index]
          ? {
              id: crypto.randomUUID().slice(0, 13),
              name: called[index].slice(0, 80),
              medium,
              tone: c.tone,
              source: "photograph",
              handling: ORDINARY,
              retired: false,
              line: "",
              lightfast: "",
              harmful: "",
            }
          : null,
      )
      .filter((c) => c !== null);
    got(
      client.PUT("/api/kits/{id}", {
        params: { path: { id: kit.id } },
        body: {
          seen: kit.number,
          name: kit.name,
          colours: [...kit.colours.map(plain), ...fresh],
          spectra: {},
        },
      }),
    )
      .then((next) => {
        cache.setQueryData(["kit", kit.id], next);
        void cache.invalidateQueries({ queryKey: ["rack"] });
        onClose();
      })
      .catch(setProblem);
  };
  const named = called.filter(Boolean).length;
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
            onChange={(event) => setFile(event.target.files?.[0] ?? null)}
          />
        </label>
      )}
      <Fault problem={problem} />
      {file && (
        <>
          <p role="status">
            {touching === "bare"
              ? `${counted(bare.length, "place")} of bare paper touched. Two or three on each side tell the light best.`
              : next
                ? `Touch the chart’s ${next} corner.`
                : "Touch near a corner to move it. Say the rows and columns, then read it."}
          </p>
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
          <div className="field-row">
            <label className="field">
              Rows
              <input
                type="number"
                min={1}
                max={40}
                value={rows}
                onChange={(event) => setRows(Number(event.target.value) || 1)}
              />
            </label>
            <label className="field">
              Columns
              <input
                type="number"
                min={1}
                max={40}
                value={columns}
                onChange={(event) => setColumns(Number(event.target.value) || 1)}
              />
            </label>
            <MediumSelect label="Medium" medium={medium} onMedium={setMedium} />
          </div>
          <div className="actions">
            <button type="button" className="act" disabled={set.length < 4} onClick={read}>
              Read the chart
            </button>
          </div>
        </>
      )}
      {cells && (
        <>
          <ol className="panel sheet-cells">
            {cells.map((c, index) => (
              <li key={c.cell}>
                <span style={{ background: c.hex }} aria-hidden="true" />
                <b>{called[index] || `${c.cell}, not named`}</b>
                {c.why && <small>! {c.why}</small>}
              </li>
            ))}
          </ol>
          <label className="field">
            Their names, a line each, row by row; a cell without a name is left out
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
