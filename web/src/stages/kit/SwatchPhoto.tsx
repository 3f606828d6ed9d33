import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { client, got, type Lab, type Problem } from "../../api/client";
import { Fault } from "../../parts/Says";
import { TonePhoto } from "../../study/TonePhoto";

/** A photograph of swatches on a paper of the shelf: touch one, its tone is taken. */
export function SwatchPhoto({ onTone }: { onTone: (tone: Lab) => void }) {
  const papers = useQuery({ queryKey: ["rack"], queryFn: () => got(client.GET("/api/rack")) }).data?.papers;
  const [chosen, setChosen] = useState("");
  const [problem, setProblem] = useState<Problem | null>(null);
  const paper = papers?.find((p) => p.id === chosen) ?? papers?.[0];
  return (
    <details className="swatch-photo">
      <summary>Touch it on a photograph</summary>
      {papers && !paper && (
        <p>
          Colours are read against the paper they lie on. <Link to="/">Add it on the shelf</Link> first.
        </p>
      )}
      {papers && papers.length > 1 && (
        <label className="field">
          Swatched on
          <select value={paper?.id} onChange={(event) => setChosen(event.target.value)}>
            {papers.map((p) => (
              <option key={p.id} value={p.id}>
                {p.name}
              </option>
            ))}
          </select>
        </label>
      )}
      {paper && (
        <TonePhoto
          what="swatch"
          label="A photograph in even daylight, with bare paper in it"
          paper={paper.id}
          onTone={onTone}
          onFault={setProblem}
        />
      )}
      <Fault problem={problem} />
    </details>
  );
}
