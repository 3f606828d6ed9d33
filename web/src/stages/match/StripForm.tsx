import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { client, got, Problem, type Act, type JobOut, type Lab } from "../../api/client";
import { Fault } from "../../parts/Says";
import { ToneField } from "../../parts/ToneField";
import { TonePhoto } from "../../study/TonePhoto";
import { useWork } from "../../study/queries";
import { useStudy } from "../../study/useStudy";

interface Props {
  place: string;
  layers: Act[];
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
      <TonePhoto what="strip" paper={study.paper.id} onTone={setTone} onFault={setRefused} />
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
