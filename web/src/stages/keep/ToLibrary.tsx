import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { client, got, type Problem } from "../../api/client";
import { PlaceOptions } from "../../parts/PlaceOptions";
import { Fault } from "../../parts/Says";
import { useStudy } from "../../study/useStudy";

/** Keep a recipe, or the whole family, in the library: with kit, paper, hand and light. */
export function ToLibrary() {
  const { study } = useStudy();
  const cache = useQueryClient();
  const [name, setName] = useState(study.state.title);
  const [place, setPlace] = useState("");
  const [keepsake, setKeepsake] = useState("");
  const [says, setSays] = useState("");
  const [problem, setProblem] = useState<Problem | null>(null);
  const kept = useQuery({ queryKey: ["library"], queryFn: () => got(client.GET("/api/library")) }).data ?? [];
  const keep = () =>
    got(
      client.POST("/api/studies/{id}/library", {
        params: { path: { id: study.id } },
        body: { name: name.trim(), note: "", places: place ? [place] : [], keepsake: keepsake || null },
      }),
    )
      .then((one) => {
        setProblem(null);
        setSays(`Kept as ${one.name}, version ${one.number}.`);
        void cache.invalidateQueries({ queryKey: ["library"] });
      })
      .catch(setProblem);
  return (
    <>
      <h3>Keep in the library</h3>
      <label className="field">
        What
        <select value={place} onChange={(event) => setPlace(event.target.value)}>
          <option value="">the whole family</option>
          <PlaceOptions places={study.places} />
        </select>
      </label>
      {kept.length > 0 && (
        <label className="field">
          As
          <select
            value={keepsake}
            onChange={(event) => {
              setKeepsake(event.target.value);
              setName(kept.find((k) => k.id === event.target.value)?.name ?? name);
            }}
          >
            <option value="">something new</option>
            {kept.map((k) => (
              <option key={k.id} value={k.id}>
                the next version of {k.name}
              </option>
            ))}
          </select>
        </label>
      )}
      <label className="field">
        Name
        <input value={name} maxLength={120} onChange={(event) => setName(event.target.value)} />
      </label>
      <button type="button" className="tool" disabled={!name.trim()} onClick={() => void keep()}>
        Keep it there
      </button>
      <p role="status" className="measure">
        {says} {says && <Link to="/library">Open the library</Link>}
      </p>
      <Fault problem={problem} />
    </>
  );
}
