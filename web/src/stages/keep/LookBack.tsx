import { useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { client, got, type Schemas } from "../../api/client";
import { Fault, Loading } from "../../parts/Says";
import { Chip } from "../../parts/Swatch";
import { useWork } from "../../study/queries";
import { useJournal } from "../../study/useEntries";
import { useStudy } from "../../study/useStudy";

type Values = Schemas["ValuesOut"];

/** The look back: range reached against planned, colours truly used, time by place, what was learnt. */
export function LookBack() {
  const { study } = useStudy();
  const cache = useQueryClient();
  const found = useJournal(study.id);
  const start = useCallback(
    () => got(client.POST("/api/studies/{id}/learn", { params: { path: { id: study.id } } })),
    [study.id],
  );
  const work = useWork(start, (job) => {
    if (job.state === "done") void cache.invalidateQueries();
  });
  if (!found.data) return <Loading what="Looking back" />;
  const review = found.data.review;
  if (!review) return <p className="keep-empty">Once something is drawn, what was reached stands here.</p>;
  const longest = Math.max(1, ...review.spent.map((s) => s.minutes));
  const most = Math.max(0.01, ...review.used.map((u) => Math.max(u.share, u.planned)));
  return (
    <div className="look-back">
      <section aria-label="What was learnt">
        <p className="learnt">{review.learnt}</p>
        {review.differs && (
          <button type="button" className="act" disabled={work.open} onClick={() => work.begin(undefined)}>
            {work.open ? "Learning…" : "Take it over into the hand"}
          </button>
        )}
        {work.open && <progress max={work.job?.of || 1} value={work.job?.done ?? 0} aria-label="Learning" />}
        {work.job?.state === "done" && (
          <p role="status">Kit, paper and hand have learnt from it. Undo brings the old ones back.</p>
        )}
        {work.job?.state === "failed" && <Fault>{work.job.says}</Fault>}
        <Fault problem={work.problem} />
      </section>
      <section aria-label="Values">
        <h2 className="minor">Values, darkest to lightest</h2>
        <table className="back-table">
          <tbody>
            <Range label="Planned" values={review.planned} />
            <Range label="Reached" values={review.reached} />
          </tbody>
        </table>
        <p className="measure">
          Reached is what came out, where you said so; elsewhere what the layers that lie there are predicted
          to be.
        </p>
      </section>
      <section aria-label="Colours used">
        <h2 className="minor">Colours truly used</h2>
        <table className="back-table">
          <tbody>
            {review.used.map((u) => (
              <tr key={u.colour}>
                <th scope="row">
                  <Chip hex={u.solid.hex} size={22} /> {u.name}
                </th>
                <td>
                  <span className="back-bar" style={{ width: `${(70 * u.share) / most}%` }} />
                  {Math.round(100 * u.share)} %
                  {Math.abs(u.share - u.planned) >= 0.005 && (
                    <small> planned {Math.round(100 * u.planned)} %</small>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <section aria-label="Time">
        <h2 className="minor">Time by place</h2>
        <table className="back-table">
          <tbody>
            {review.spent.map((s) => (
              <tr key={s.place}>
                <th scope="row">{s.called}</th>
                <td>
                  <span className="back-bar" style={{ width: `${(70 * s.minutes) / longest}%` }} />
                  {Math.round(s.minutes)} min
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    </div>
  );
}

function Range({ label, values }: { label: string; values: Values | null }) {
  return (
    <tr>
      <th scope="row">{label}</th>
      <td>
        {values ? (
          <>
            <span className="back-scale" aria-hidden="true">
              <span
                style={{
                  left: `${10 * values.dark}%`,
                  width: `${10 * Math.max(0.1, values.light - values.dark)}%`,
                }}
              />
            </span>
            {values.dark.toFixed(1)} – {values.light.toFixed(1)}
          </>
        ) : (
          "nothing yet"
        )}
      </td>
    </tr>
  );
}
