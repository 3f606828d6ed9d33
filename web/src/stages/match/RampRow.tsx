import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { client, got, type PlaceOut, type Problem } from "../../api/client";
import { PlaceOptions } from "../../parts/PlaceOptions";
import { Fault, Loading } from "../../parts/Says";
import { useStudy } from "../../study/useStudy";

const KINDS = ["hard", "soft", "lost"] as const;

/** From this place to another: the ramp of recipes in even steps, and how the edge between is drawn. */
export function RampRow({ place }: { place: PlaceOut }) {
  const { study } = useStudy();
  const others = study.places.filter((p) => p.id !== place.id);
  const [to, setTo] = useState("");
  const [between, setBetween] = useState(3);
  const there = others.find((p) => p.id === to);
  const found = useQuery({
    queryKey: ["ramp", study.id, study.revision, place.id, to, between],
    enabled: there !== undefined,
    queryFn: () =>
      got(
        client.GET("/api/studies/{id}/ramp", {
          params: { path: { id: study.id }, query: { place: place.id, to, between } },
        }),
      ),
  });
  const read = useQuery({
    queryKey: ["edges", study.id, study.revision, place.id],
    queryFn: () =>
      got(
        client.GET("/api/studies/{id}/edges", {
          params: { path: { id: study.id }, query: { place: place.id } },
        }),
      ),
  });
  const known = read.data?.find((e) => e.place === to);
  const [kind, setKind] = useState<(typeof KINDS)[number] | "">("");
  const asked = useQuery({
    queryKey: ["edge", study.id, study.revision, place.id, to, kind],
    enabled: there !== undefined && (kind !== "" || !known),
    queryFn: () =>
      got(
        client.GET("/api/studies/{id}/edges", {
          params: { path: { id: study.id }, query: { place: place.id, to, ...(kind && { kind }) } },
        }),
      ),
  });
  const edge = kind === "" && known ? known : asked.data?.[0];
  const usual = !known
    ? "as usual"
    : known.read === known.kind
      ? `${known.kind}, as read`
      : `${known.kind}; reads ${known.read}`;
  if (!others.length) return null;
  return (
    <section className="ramp" aria-label="From here to another place">
      <h2 className="minor">From here to another place</h2>
      <div className="field-row">
        <label className="field">
          To
          <select value={there ? to : ""} onChange={(event) => setTo(event.target.value)}>
            <option value="">choose a place</option>
            <PlaceOptions places={others} />
          </select>
        </label>
        <label className="field">
          Steps between
          <select value={between} onChange={(event) => setBetween(Number(event.target.value))}>
            {[1, 2, 3, 4, 5, 6].map((n) => (
              <option key={n} value={n}>
                {n}
              </option>
            ))}
          </select>
        </label>
        <label className="field">
          Edge
          <select value={kind} onChange={(event) => setKind(event.target.value as typeof kind)}>
            <option value="">{usual}</option>
            {KINDS.map((k) => (
              <option key={k} value={k}>
                {k}
              </option>
            ))}
          </select>
        </label>
      </div>
      {there && (
        <>
          {edge && (
            <p className="edge-words" role="status">
              {edge.words}
            </p>
          )}
          <Fault problem={found.error as Problem | null} />
          {found.isFetching ? (
            <Loading what="Laying the steps between" />
          ) : (
            found.data && (
              <>
                <div className="panel ramp-tones" aria-hidden="true">
                  {found.data.steps.map((step, index) => (
                    <span key={index} style={{ background: step.tone.hex }} />
                  ))}
                </div>
                <ol className="ramp-steps">
                  {found.data.steps.map((step, index) => (
                    <li key={index}>
                      {step.sentence} <small>value {step.tone.value.toFixed(1)}</small>
                    </li>
                  ))}
                </ol>
                {found.data.missing && (
                  <p className="caution" role="note">
                    <span aria-hidden="true">! </span>
                    {found.data.missing}
                  </p>
                )}
              </>
            )
          )}
        </>
      )}
    </section>
  );
}
