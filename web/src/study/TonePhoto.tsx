import { useState, type MouseEvent } from "react";
import { sendFile, type CellOut, type Lab, type Problem } from "../api/client";
import { useSettings } from "../parts/settings";
import { PhotoLight } from "./PhotoLight";

/** A spot touched, in pixels of the photograph and in shares of its width and height. */
interface Spot {
  x: number;
  y: number;
  left: number;
  top: number;
}
/** Of the photograph's shorter side, how large the square is that is read; in pixels, at least so large. */
const [SQUARE, LEAST] = [0.035, 24];

/** A photograph with some bare paper in it: touch that first, then what is asked, as often as need be; tones are read against
 * the paper. The photograph is only looked at. */
export function TonePhoto({
  what,
  label = "or its photograph, with bare paper beside it",
  paper,
  onTone,
  onFault,
}: {
  /** What is to be touched in it. */
  what: string;
  label?: string;
  /** The paper it lies on. */
  paper: string;
  onTone: (tone: Lab) => void;
  onFault: (problem: Problem | null) => void;
}) {
  const light = useSettings().photoLight;
  const [photo, setPhoto] = useState<{ file: File; url: string } | null>(null);
  const [bare, setBare] = useState<Spot | null>(null);
  const [there, setThere] = useState<Spot | null>(null);
  const [read, setRead] = useState<CellOut | null>(null);
  const begin = (file: File | undefined) => {
    if (photo) URL.revokeObjectURL(photo.url);
    setPhoto(file ? { file, url: URL.createObjectURL(file) } : null);
    touchPaper();
  };
  const touchPaper = () => {
    setBare(null);
    setThere(null);
    setRead(null);
  };
  const touch = (event: MouseEvent<HTMLImageElement>) => {
    const img = event.currentTarget;
    const box = img.getBoundingClientRect();
    const left = (event.clientX - box.left) / box.width;
    const top = (event.clientY - box.top) / box.height;
    const [x, y] = [left * img.naturalWidth, top * img.naturalHeight];
    if (!bare) return setBare({ x, y, left, top });
    setThere({ x, y, left, top });
    setRead(null);
    const half = Math.max(SQUARE * Math.min(img.naturalWidth, img.naturalHeight), LEAST) / 2;
    const corners = [
      [x - half, y - half],
      [x + half, y - half],
      [x + half, y + half],
      [x - half, y + half],
    ];
    const chart = { corners, rows: 1, columns: 1, bare: [[bare.x, bare.y]], paper, moved: {}, light };
    sendFile<CellOut[]>("/api/charts", "photo", photo!.file, { chart: JSON.stringify(chart) })
      .then(([cell]) => {
        onFault(null);
        setRead(cell!);
        if (cell?.tone) onTone(cell.tone);
      })
      .catch((problem: Problem) => {
        setThere(null);
        onFault(problem);
      });
  };
  return (
    <>
      {photo && (
        <>
          <p className="measure" role="status">
            {!bare
              ? "Touch the bare paper first: colours are read against it."
              : there && !read
                ? "Reading it…"
                : `Touch the ${what}.`}
          </p>
          <div className="tone-photo">
            <img src={photo.url} alt={`The photographed ${what}`} onClick={touch} />
            {bare && <span className="is-paper" style={at(bare)} />}
            {there && <span style={at(there)} />}
          </div>
          {read && (
            <p className="measure tone-read" role="status">
              <span className="chip" style={{ background: read.hex, width: 26, height: 26 }} />
              {read.tone &&
                `L* ${read.tone.l.toFixed(1)}, a* ${read.tone.a.toFixed(1)}, b* ${read.tone.b.toFixed(1)}`}{" "}
              {read.why}
            </p>
          )}
          {bare && (
            <button type="button" className="tool" onClick={touchPaper}>
              Touch the paper anew
            </button>
          )}
          <PhotoLight />
        </>
      )}
      <label className="field">
        {label}
        <input type="file" accept="image/*" onChange={(event) => begin(event.target.files?.[0])} />
      </label>
    </>
  );
}

const at = ({ left, top }: Spot) => ({ left: `${100 * left}%`, top: `${100 * top}%` });
