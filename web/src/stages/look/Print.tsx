import { useState } from "react";
import { Fault } from "../../parts/Says";
import { useJob } from "../../study/queries";
import { useStudy } from "../../study/useStudy";

const KINDS = [
  ["grid", "the grid alone"],
  ["outline", "outlines"],
  ["values", "values"],
  ["picture", "the picture"],
  ["pale", "the lines, pale"],
] as const;

/** A page to trace from, at true size. */
export function Print({ lineArt }: { lineArt: boolean }) {
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
