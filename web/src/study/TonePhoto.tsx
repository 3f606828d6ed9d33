import { useState, type MouseEvent } from "react";
import { sendFile, type CellOut, type Lab, type Problem } from "../api/client";
import { useSettings } from "../parts/settings";
import { PhotoLight } from "./PhotoLight";
import { useStudy } from "./useStudy";

type Spot = [number, number];
/** Of the photograph's shorter side, how large the square is that is read. */
const SQUARE = 0.035;

/** A photograph with some bare paper in it: touch what is asked, then the paper beside it; its tone is read against that. */
export function TonePhoto({
  what,
  onTone,
  onFault,
}: {
  /** What is to be touched in it. */
  what: string;
  onTone: (tone: Lab) => void;
  onFault: (problem: Problem | null) => void;
}) {
  const { study } = useStudy();
  const light = useSettings().photoLight;
  const [photo, setPhoto] = useState<{ file: File; url: string } | null>(null);
  const [strip, setStrip] = useState<Spot | null>(null);
  const [read, setRead] = useState<CellOut | null>(null);
  const touch = (event: MouseEvent<HTMLImageElement>) => {
    const img = event.currentTarget;
    const box = img.getBoundingClientRect();
    const x = ((event.clientX - box.left) / box.width) * img.naturalWidth;
    const y = ((event.clientY - box.top) / box.height) * img.naturalHeight;
    if (!strip) return setStrip([x, y]);
    const half = (SQUARE * Math.min(img.naturalWidth, img.naturalHeight)) / 2;
    const [sx, sy] = strip;
    const corners = [
      [sx - half, sy - half],
      [sx + half, sy - half],
      [sx + half, sy + half],
      [sx - half, sy + half],
    ];
    const chart = { corners, rows: 1, columns: 1, bare: [[x, y]], paper: study.paper.id, moved: {}, light };
    setStrip(null);
    sendFile<CellOut[]>("/api/charts", "photo", photo!.file, { chart: JSON.stringify(chart) })
      .then(([cell]) => {
        onFault(null);
        setRead(cell!);
        if (cell?.tone) onTone(cell.tone);
      })
      .catch(onFault);
  };
  return (
    <>
      <label className="field">
        or its photograph, with bare paper beside it
        <input
          type="file"
          accept="image/*"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (photo) URL.revokeObjectURL(photo.url);
            setPhoto(file ? { file, url: URL.createObjectURL(file) } : null);
            setStrip(null);
            setRead(null);
          }}
        />
      </label>
      {photo && (
        <>
          <PhotoLight />
          <p className="measure">{strip ? "Now touch the bare paper beside it." : `Touch the ${what}.`}</p>
          <img src={photo.url} alt={`The photographed ${what}`} className="strip-photo" onClick={touch} />
          {read && (
            <p className="measure" role="status">
              <span className="chip" style={{ background: read.hex, width: 26, height: 26 }} />{" "}
              {read.tone
                ? `L* ${read.tone.l.toFixed(1)}, a* ${read.tone.a.toFixed(1)}, b* ${read.tone.b.toFixed(1)}`
                : ""}{" "}
              {read.why}
            </p>
          )}
        </>
      )}
    </>
  );
}
