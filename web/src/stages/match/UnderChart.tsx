import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { client, got, type Act, type PlaceOut, type Problem } from "../../api/client";
import { GrainChip } from "../../parts/GrainChip";
import { Fault, Loading } from "../../parts/Says";
import { useStudy } from "../../study/useStudy";

interface Props {
  place: PlaceOut;
  onTake: (layers: Act[]) => void;
  onClose: () => void;
}

/** The under-colour chart: which colour beneath which would help this place; nearest first. */
export function UnderChart({ place, onTake, onClose }: Props) {
  const { study } = useStudy();
  const [doubtful, setDoubtful] = useState(false);
  const found = useQuery({
    queryKey: ["under", study.id, study.revision, place.id],
    queryFn: () =>
      got(
        client.GET("/api/studies/{id}/under", {
          params: { path: { id: study.id }, query: { place: place.id } },
        }),
      ),
  });
  const rows = (found.data ?? []).filter((r) => !doubtful || r.test_first);
  return (
    <section className="under" aria-label={`Under-colours for ${place.called}`}>
      <div className="margin-head">
        <h2>Under-colours for {place.called}</h2>
        <div className="tools">
          <button
            type="button"
            className="tool"
            aria-pressed={doubtful}
            onClick={() => setDoubtful(!doubtful)}
          >
            Worth a scrap strip
          </button>
          <button type="button" className="tool" onClick={() => window.print()}>
            Print
          </button>
          <button type="button" className="tool" onClick={onClose}>
            Back to the recipe
          </button>
        </div>
      </div>
      <p className="measure">
        Each swatch: the upper colour alone, then over the under-colour, then the target. Laid as on a test
        strip: pencil lightly beneath, pastel firmly, markers in one coat.
      </p>
      <Fault problem={found.error as Problem | null} />
      {found.isPending ? (
        <Loading what="Laying every colour beneath every other" />
      ) : rows.length === 0 ? (
        <p>{doubtful ? "No pair is in doubt enough for a strip." : "No under-colour helps here."}</p>
      ) : (
        <ol className="panel under-chart">
          {rows.map((r) => (
            <li key={`${r.under}/${r.over}`}>
              <button type="button" onClick={() => onTake(r.layers)}>
                <span className="under-tones" aria-hidden="true">
                  <span style={{ background: r.alone.hex }} />
                  <span>
                    <GrainChip grain={r.grain} width={112} height={56} />
                  </span>
                  <span style={{ background: place.target.hex }} />
                </span>
                <b>{r.under}</b>
                <span>
                  under {r.over}, {r.strokes[1]}
                </span>
                <small>
                  ΔE00 {r.away.toFixed(1)} ± {r.uncertainty.toFixed(1)}
                  {r.test_first && " · test it first"}
                </small>
              </button>
            </li>
          ))}
        </ol>
      )}
    </section>
  );
}
