import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { client, got, type MatchOut, type PlaceOut, type Problem } from "../../api/client";
import { Fault } from "../../parts/Says";
import { counted } from "../../parts/words";
import { useMatches, useWork } from "../../study/queries";
import { useStudy } from "../../study/useStudy";
import { taught, under, useSchools } from "./useSchools";

interface Props {
  places: PlaceOut[];
  matches: Map<string, MatchOut>;
  onClose: () => void;
}

/** The same face under two schools: the one in force, and another that is only looked at. */
export function BesideSchools({ places, matches, onClose }: Props) {
  const { study, change } = useStudy();
  const cache = useQueryClient();
  const schools = useSchools().data?.schools ?? [];
  const mine = taught(schools, study.state.rules!);
  const medium = mine?.medium;
  const others = schools.filter((s) => s.slug !== mine?.slug);
  const [chosen, setChosen] = useState("");
  const other = others.find((s) => s.slug === chosen);
  const key = ["beside", study.id, study.revision, chosen];
  const found = useQuery({
    queryKey: key,
    enabled: other !== undefined,
    queryFn: () =>
      got(
        client.GET("/api/studies/{id}/matches/{school}", {
          params: { path: { id: study.id, school: chosen } },
        }),
      ),
  });
  const start = useCallback(
    (school: string) =>
      got(
        client.POST("/api/studies/{id}/jobs", {
          params: { path: { id: study.id } },
          body: { kind: "beside", page: null, school },
        }),
      ),
    [study.id],
  );
  const work = useWork(start, () => void cache.invalidateQueries({ queryKey: ["beside", study.id] }));
  const { begin } = work;
  const now = useMatches(study.id).data;
  const missing = (found.data?.missing.length ?? 0) > 0;
  useEffect(() => {
    if (missing && chosen) begin(chosen);
  }, [missing, chosen, study.revision, begin]);
  const there = new Map((found.data?.matches ?? []).map((m) => [m.place, m.chosen]));
  const left = places.map((p) => matches.get(p.id)?.chosen);
  const right = places.map((p) => there.get(p.id));
  return (
    <section className="beside" aria-label="The same face under two schools">
      <div className="margin-head">
        <h2>The same face under two schools</h2>
        <div className="tools">
          {other && (
            <button
              type="button"
              className="tool"
              onClick={() => {
                change({ do: "set_rules", rules: { ...study.state.rules!, ...under(other) } });
                onClose();
              }}
            >
              Take {other.name}
            </button>
          )}
          <button type="button" className="tool" onClick={onClose}>
            Back to the recipe
          </button>
        </div>
      </div>
      <Fault problem={(found.error as Problem | null) ?? work.problem} />
      <table className="beside-table">
        <thead>
          <tr>
            <th scope="col">Place</th>
            <th scope="col">{mine ? mine.name : "Any order"}, in force</th>
            <th scope="col">
              <select
                aria-label="The other school"
                value={chosen}
                onChange={(event) => setChosen(event.target.value)}
              >
                <option value="">choose another school</option>
                {others
                  .filter((s) => !medium || s.medium === medium || s.id)
                  .map((s) => (
                    <option key={s.slug} value={s.slug}>
                      {s.name} ({s.id ? "yours" : s.medium})
                    </option>
                  ))}
              </select>
            </th>
          </tr>
        </thead>
        <tbody>
          {places.map((p, index) => (
            <tr key={p.id}>
              <th scope="row">
                {p.number} {p.called}
              </th>
              {[left[index], right[index]].map((r, side) => (
                <td key={side}>
                  {r ? (
                    <div className="beside-cell">
                      <span className="pair" aria-hidden="true">
                        <span style={{ background: p.target.hex }} />
                        <span style={{ background: r.tone.hex }} />
                      </span>
                      <span>
                        {r.sentence} <small>ΔE00 {r.difference.de00.toFixed(1)}</small>
                      </span>
                    </div>
                  ) : (
                    <small>{side === 1 && work.open ? "looking" : "–"}</small>
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
        <tfoot>
          <tr>
            <th scope="row">In all</th>
            {[now, found.data].map((all, side) => (
              <td key={side}>
                {all && all.mean !== null && (
                  <>
                    on average ΔE00 {all.mean.toFixed(1)}, {counted(all.used, "colour")}
                  </>
                )}
              </td>
            ))}
          </tr>
        </tfoot>
      </table>
      {other && (
        <p className="measure">
          {other.name}: good for {other.good_for}; danger: {other.danger}.
        </p>
      )}
    </section>
  );
}
