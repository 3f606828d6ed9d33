import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useState, type MouseEvent } from "react";
import {
  client,
  got,
  sendFile,
  Problem,
  type CellOut,
  type JobOut,
  type Lab,
  type Laid,
} from "../../api/client";
import { Fault } from "../../parts/Says";
import { ToneField } from "../../parts/ToneField";
import { useWork } from "../../study/queries";
import { useStudy } from "../../study/useStudy";

interface Props {
  place: string;
  layers: Laid[];
  words: string;
  onClose: () => void;
}

/** What a scrap strip of these layers came out as, typed or read from its photograph; the recipe is refitted to it. */
export function StripForm({ place, layers, words, onClose }: Props) {
  const { study } = useStudy();
  const cache = useQueryClient();
  const [tone, setTone] = useState<Lab | null>(null);
  const [says, setSays] = useState("");
  const [refused, setRefused] = useState<Problem | null>(null);
  const start = useCallback(
    (seen: Lab): Promise<JobOut> =>
      got(
        client.POST("/api/studies/{id}/strips", {
          params: { path: { id: study.id } },
          body: { place, layers, tone: seen },
        }),
      ).then((out) => {
        setSays(out.words);
        return out.job;
      }),
    [study.id, place, layers],
  );
  const work = useWork(start, (job) => {
    if (job.state !== "done") return;
    for (const key of ["study", "matches", "plan"])
      void cache.invalidateQueries({ queryKey: [key, study.id] });
    void cache.invalidateQueries({ queryKey: ["rack"] });
  });
  const done = work.job?.state === "done";
  return (
    <section className="strip-form" aria-label="The scrap strip">
      <h2 className="minor">What the strip came out as</h2>
      <p className="measure">Lay it on a scrap of the same paper: {words}</p>
      <ToneField onTone={setTone} label="Its tone" />
      <StripPhoto onTone={setTone} onFault={setRefused} />
      <Fault problem={refused ?? work.problem} />
      {work.job?.state === "failed" && <Fault>{work.job.says}</Fault>}
      {says && <p role="status">{says}</p>}
      {done && (
        <p role="status">
          Kit, paper and hand have learnt from it, and the recipe was found again. Undo brings the old ones
          back.
        </p>
      )}
      {work.open && <progress max={work.job?.of || 1} value={work.job?.done ?? 0} aria-label="Learning" />}
      <div className="tools">
        <button
          type="button"
          className="tool"
          disabled={!tone || work.open || done}
          onClick={() => tone && work.begin(tone)}
        >
          Refit the recipe to it
        </button>
        <button type="button" className="tool" onClick={onClose}>
          Close
        </button>
      </div>
    </section>
  );
}

type Spot = [number, number];
/** Of the photograph's shorter side, how large the square is that is read. */
const SQUARE = 0.035;

/** A photograph of the strip with some bare paper: touch the strip, then the paper beside it. */
function StripPhoto({
  onTone,
  onFault,
}: {
  onTone: (tone: Lab) => void;
  onFault: (problem: Problem | null) => void;
}) {
  const { study } = useStudy();
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
    const chart = { corners, rows: 1, columns: 1, bare: [[x, y]], paper: study.paper.id, moved: {} };
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
          <p className="measure">{strip ? "Now touch the bare paper beside it." : "Touch the strip."}</p>
          <img src={photo.url} alt="The photographed strip" className="strip-photo" onClick={touch} />
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
