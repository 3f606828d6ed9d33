import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { client, got, type Lab } from "../../api/client";
import { Loading } from "../../parts/Says";
import { ToneField } from "../../parts/ToneField";
import { counted } from "../../parts/words";
import { useRoles } from "../../study/queries";
import { Keepsake } from "./Keepsake";

const MEDIA: [string, string][] = [
  ["wax_pencil", "wax pencil"],
  ["oil_pencil", "oil pencil"],
  ["alcohol_marker", "alcohol marker"],
  ["soft_pastel", "soft pastel"],
  ["hard_pastel", "hard pastel"],
  ["pastel_pencil", "pastel pencil"],
];
const CLASSES = ["very light", "light", "intermediate", "tan", "brown", "dark"];

const ANY = { role: "", medium: "", complexion: "", q: "" };

/** The library: recipes and families kept with their conditions; found by look, role, medium and measure. */
export function Library() {
  const roles = useRoles().data ?? [];
  const [near, setNear] = useState<Lab | null>(null);
  const [asked, setAsked] = useState(ANY);
  const [cleared, setCleared] = useState(0);
  const [chosen, setChosen] = useState<string | null>(null);
  const found = useQuery({
    queryKey: ["library", near, asked],
    queryFn: () => got(client.GET("/api/library", { params: { query: { ...asked, ...near } } })),
    placeholderData: (before) => before,
  });
  const kept = found.data?.find((k) => k.id === chosen) ?? found.data?.[0] ?? null;
  useEffect(() => {
    document.title = "Library · Caltin";
  }, []);
  const narrowed = near !== null || Object.values(asked).some(Boolean);
  const clear = () => {
    setAsked(ANY);
    setNear(null);
    setCleared(cleared + 1);
  };
  const set = (some: Partial<typeof asked>) => setAsked({ ...asked, ...some });
  const choice = (label: string, key: "role" | "medium" | "complexion", all: [string, string][]) => (
    <label className="field">
      {label}
      <select value={asked[key]} onChange={(event) => set({ [key]: event.target.value })}>
        <option value="">any</option>
        {all.map(([value, name]) => (
          <option key={value} value={value}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
  return (
    <div className="library">
      <header className="library-head">
        <Link to="/">Shelf</Link>
        <h1>Library</h1>
      </header>
      <section className="library-find" aria-label="Find">
        <label className="field">
          With these words
          <input type="search" value={asked.q} onChange={(event) => set({ q: event.target.value })} />
        </label>
        <ToneField key={cleared} onTone={setNear} label="Near this tone" />
        {choice(
          "Role",
          "role",
          roles.map((r) => [r.slug, r.name]),
        )}
        {choice("Medium", "medium", MEDIA)}
        {choice(
          "Base, by its class of ITA°",
          "complexion",
          CLASSES.map((c) => [c, c]),
        )}
      </section>
      <main className="library-list">
        {!found.data ? (
          <Loading what="Opening the library" />
        ) : found.data.length === 0 ? (
          <div className="keep-empty">
            <p>
              {narrowed
                ? "Nothing kept answers all of this."
                : "Nothing is kept yet. In Keep, a recipe or a whole family goes into the library with its kit, paper, hand and light."}
            </p>
            {narrowed ? (
              <button type="button" className="act" onClick={clear}>
                Show all that is kept
              </button>
            ) : (
              <Link className="act" to="/">
                To the studies
              </Link>
            )}
          </div>
        ) : (
          <ul>
            {found.data.map((k) => (
              <li key={k.id}>
                <button type="button" aria-pressed={k === kept} onClick={() => setChosen(k.id)}>
                  <span className="panel library-tones" aria-hidden="true">
                    {k.members.map((m, i) => (
                      <span
                        key={i}
                        style={{ background: m.tone.hex }}
                        className={i === k.nearest ? "is-near" : ""}
                      />
                    ))}
                  </span>
                  <span>
                    <b>{k.name}</b>
                    <small>
                      {counted(k.members.length, "role")} · {k.kit} on {k.paper}
                      {k.away !== null && ` · ΔE00 ${k.away.toFixed(1)} away`}
                    </small>
                  </span>
                </button>
              </li>
            ))}
          </ul>
        )}
      </main>
      <aside className="library-one" aria-label="What is kept">
        {kept && <Keepsake key={kept.id} kept={kept} onGone={() => setChosen(null)} />}
      </aside>
    </div>
  );
}
