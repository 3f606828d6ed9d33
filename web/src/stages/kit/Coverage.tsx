import { capital } from "../../parts/words";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import { client, got, Problem } from "../../api/client";
import { Fault, Loading, Opening } from "../../parts/Says";
import { useSettings } from "../../parts/settings";
import { useRack, useWith } from "../../study/queries";

/** What complexions a kit serves on a paper in a hand: depth downwards, ruddy to olive across, each role in reach or not. */
export function Coverage() {
  const { id = "" } = useParams();
  const { surround } = useSettings();
  const rack = useRack();
  const [paperAsked, setPaper] = useState("");
  const [handAsked, setHand] = useState("");
  const [chosen, setChosen] = useState<number | null>(null);
  const kit = rack.data?.kits.find((k) => k.id === id);
  const { paper, hand } = useWith(id, { paper: paperAsked, hand: handAsked });
  const found = useQuery({
    queryKey: ["coverage", id, kit?.version, paper, hand, kit?.colours.map((c) => c.state).join()],
    enabled: paper !== "" && hand !== "" && kit !== undefined,
    queryFn: () =>
      got(client.GET("/api/kits/{id}/coverage", { params: { path: { id }, query: { paper, hand } } })),
  });
  useEffect(() => {
    document.title = `What it serves · ${kit?.name ?? "Kit"} · Caltin`;
  }, [kit?.name]);
  if (rack.data && !kit)
    return <Opening what="kit" problem={new Problem(404, "There is no such kit on this shelf")} />;
  const seen = found.data;
  const across = seen?.undertones.length ?? 1;
  const one = seen && chosen !== null ? seen.complexions[chosen] : null;
  return (
    <div className="kit" data-surround={surround}>
      <header className="path">
        <Link to={`/kits/${id}`} className="path-shelf">
          The kit
        </Link>
        <div className="path-study">
          <h1>What {kit?.name ?? "this kit"} serves</h1>
          <p>
            Complexions from light to deep, from ruddy to olive; seven roles of each, from highlight to
            accent.
          </p>
        </div>
      </header>
      <div className="kit-body">
        <main className="work coverage-work" id="work">
          <Fault problem={(rack.error ?? found.error) as Problem | null} />
          {found.isFetching && !seen && <Loading what="Looking at 45 complexions in seven roles" />}
          {seen && (
            <>
              <ul className="coverage-words">
                {seen.words.map((w) => (
                  <li key={w}>{w}</li>
                ))}
              </ul>
              <table className="panel coverage">
                <thead>
                  <tr>
                    <th scope="col">value</th>
                    {seen.undertones.map((u) => (
                      <th key={u} scope="col">
                        {u}
                      </th>
                    ))}
                  </tr>
                </thead>
                <tbody>
                  {Array.from({ length: seen.complexions.length / across }, (_, row) => (
                    <tr key={row}>
                      <th scope="row">{seen.complexions[row * across]!.base.value.toFixed(1)}</th>
                      {seen.complexions.slice(row * across, (row + 1) * across).map((c, column) => {
                        const at = row * across + column;
                        const missed = Object.keys(c.missed);
                        return (
                          <td key={c.undertone}>
                            <button
                              type="button"
                              aria-pressed={at === chosen}
                              onClick={() => setChosen(at)}
                              aria-label={`${c.undertone}, value ${c.base.value.toFixed(1)}: ${
                                missed.length ? `misses ${missed.join(", ")}` : "all roles in reach"
                              }`}
                            >
                              <span className="coverage-base" style={{ background: c.base.hex }} />
                              <span className="coverage-roles" aria-hidden="true">
                                {seen.roles.map((r) => (
                                  <i key={r} className={r in c.missed ? "is-missed" : ""} />
                                ))}
                              </span>
                            </button>
                          </td>
                        );
                      })}
                    </tr>
                  ))}
                </tbody>
              </table>
              <p className="measure">
                Below each base its seven roles: filled where this kit reaches them, a cross where it misses.
              </p>
            </>
          )}
        </main>
        <aside className="margin" aria-label="On which paper, in which hand">
          <section>
            <label className="field">
              On paper
              <select value={paper} onChange={(event) => setPaper(event.target.value)}>
                {rack.data?.papers.map((p) => (
                  <option key={p.id} value={p.id}>
                    {p.name}
                  </option>
                ))}
              </select>
            </label>
            <label className="field">
              In this hand
              <select value={hand} onChange={(event) => setHand(event.target.value)}>
                {rack.data?.hands.map((h) => (
                  <option key={h.id} value={h.id}>
                    {h.name}
                  </option>
                ))}
              </select>
            </label>
            {one && (
              <>
                <h2>
                  {capital(one.undertone)}, value {one.base.value.toFixed(1)}
                </h2>
                {Object.keys(one.missed).length === 0 ? (
                  <p>All seven roles are in reach.</p>
                ) : (
                  <ul className="rack-notes">
                    {Object.entries(one.missed).map(([role, miss]) => (
                      <li key={role}>
                        {role}: {miss.toFixed(1)} away
                      </li>
                    ))}
                  </ul>
                )}
              </>
            )}
          </section>
        </aside>
      </div>
    </div>
  );
}
