import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { client, got, type PlaceOut, type Problem } from "../../api/client";
import { Fault } from "../../parts/Says";
import { Chip } from "../../parts/Swatch";
import { useStudy } from "../../study/useStudy";

const SHOWN = 4;

/** What the library has near this place's tone; one touch takes it, solved again where this kit lacks a colour. */
export function FromLibrary({ place }: { place: PlaceOut }) {
  const { study } = useStudy();
  const cache = useQueryClient();
  const [open, setOpen] = useState(false);
  const [problem, setProblem] = useState<Problem | null>(null);
  const { l, a, b } = place.target.lab;
  const kept = useQuery({
    queryKey: ["library", { l, a, b }],
    queryFn: () => got(client.GET("/api/library", { params: { query: { l, a, b } } })),
    enabled: open,
  }).data;
  const take = (keepsake: string, member: number) =>
    got(
      client.POST("/api/studies/{id}/from-library", {
        params: { path: { id: study.id }, query: { seen: study.revision } },
        body: { place: place.id, keepsake, member },
      }),
    )
      .then((after) => {
        setProblem(null);
        cache.setQueryData(["study", study.id], after);
        for (const key of ["matches", "plan"]) void cache.invalidateQueries({ queryKey: [key, study.id] });
      })
      .catch(setProblem);
  return (
    <details className="from-library" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary>From the library</summary>
      {kept?.length === 0 && <p className="measure">Nothing is kept yet.</p>}
      <ul className="library-members">
        {kept?.slice(0, SHOWN).map((k) => {
          const member = k.members[k.nearest ?? 0]!;
          return (
            <li key={k.id}>
              <span className="panel">
                <Chip hex={member.tone.hex} size={30} />
              </span>
              <span>
                <b>{k.name}</b>, {member.called}
                <small>
                  ΔE00 {k.away?.toFixed(1)} away · {member.words}
                </small>
                <button type="button" className="tool" onClick={() => void take(k.id, k.nearest ?? 0)}>
                  Take it here
                </button>
              </span>
            </li>
          );
        })}
      </ul>
      <Fault problem={problem} />
    </details>
  );
}
