import { counted } from "../../parts/words";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import { client, got, Problem, type KitColourOut, type Schemas } from "../../api/client";
import { Empty, Fault, Loading } from "../../parts/Says";
import { useSettings } from "../../parts/settings";
import { ColourMargin } from "./ColourMargin";

type KitColour = Schemas["KitColour"];

/** A colour without what only the screen needs. */
const plain = (c: KitColourOut): KitColour => ({
  id: c.id,
  name: c.name,
  medium: c.medium,
  tone: c.tone,
  source: c.source,
  handling: c.handling,
  retired: c.retired,
});

/** Kit: the rack of colours; add, name, change, retire. Every change is a new version. */
export function Kit() {
  const { id = "" } = useParams();
  const cache = useQueryClient();
  const { surround } = useSettings();
  const found = useQuery({
    queryKey: ["kit", id],
    queryFn: () => got(client.GET("/api/kits/{id}", { params: { path: { id } } })),
  });
  const [selected, setSelected] = useState<string | null>(null);
  const [adding, setAdding] = useState(false);
  const [problem, setProblem] = useState<Problem | null>(null);
  const [name, setName] = useState<string | null>(null);
  const kit = found.data;
  useEffect(() => {
    document.title = `${kit?.name ?? "Kit"} · Caltin`;
  }, [kit?.name]);
  if (!kit)
    return (
      <main className="page-narrow">
        {found.error ? <Fault problem={found.error as Problem} /> : <Loading what="Opening the kit" />}
      </main>
    );
  const save = (colours: KitColour[], newName = kit.name) =>
    got(
      client.PUT("/api/kits/{id}", {
        params: { path: { id } },
        body: { seen: kit.number, name: newName, colours },
      }),
    )
      .then((next) => {
        cache.setQueryData(["kit", id], next);
        void cache.invalidateQueries({ queryKey: ["rack"] });
        setProblem(null);
        return true;
      })
      .catch((fault: Problem) => {
        setProblem(fault);
        if (fault.status === 409) void found.refetch();
        return false;
      });
  const colours = kit.colours.map(plain);
  const colour = kit.colours.find((c) => c.id === selected) ?? null;
  const put = async (next: KitColour) => {
    const there = colours.some((c) => c.id === next.id);
    const done = await save(there ? colours.map((c) => (c.id === next.id ? next : c)) : [...colours, next]);
    if (done) {
      setSelected(next.id);
      setAdding(false);
    }
    return done;
  };
  const shown = [...kit.colours].sort(
    (a, b) => Number(a.retired) - Number(b.retired) || b.shown.value - a.shown.value,
  );
  return (
    <div className="kit" data-surround={surround}>
      <header className="path">
        <Link to="/" className="path-shelf">
          Shelf
        </Link>
        <div className="path-study">
          <h1>
            <input
              aria-label="Name of the kit"
              className="title-input"
              value={name ?? kit.name}
              maxLength={80}
              onChange={(event) => setName(event.target.value)}
              onBlur={() => name?.trim() && name !== kit.name && void save(colours, name.trim())}
            />
          </h1>
          <p>
            {counted(kit.colours.filter((c) => !c.retired).length, "colour")} · version {kit.number}. Studies
            keep the version they were planned with.
          </p>
        </div>
        <div className="path-tools">
          <button
            type="button"
            className="act"
            onClick={() => {
              setSelected(null);
              setAdding(true);
            }}
          >
            Add a colour
          </button>
        </div>
      </header>
      <div className="kit-body">
        <main className="work" id="work">
          {kit.colours.length === 0 && !adding ? (
            <Empty
              action={
                <button type="button" className="act" onClick={() => setAdding(true)}>
                  Add the first colour
                </button>
              }
            >
              An empty box. Swatch each pencil solidly, three burnished passes, and give its tone here.
            </Empty>
          ) : (
            <ul className="panel kit-rack">
              {shown.map((c) => (
                <li key={c.id}>
                  <button
                    type="button"
                    className={c.retired ? "kit-colour is-out" : "kit-colour"}
                    aria-pressed={c.id === selected}
                    onClick={() => {
                      setAdding(false);
                      setSelected(c.id);
                    }}
                  >
                    <span style={{ background: c.shown.hex }} aria-hidden="true" />
                    <b>{c.name}</b>
                    <small>{c.retired ? "retired" : `value ${c.shown.value.toFixed(1)}`}</small>
                  </button>
                </li>
              ))}
            </ul>
          )}
        </main>
        <aside className="margin" aria-label="The colour selected">
          <ColourMargin
            key={adding ? "new" : (selected ?? "none")}
            colour={adding ? null : colour}
            adding={adding}
            onPut={put}
            problem={problem}
          />
        </aside>
      </div>
    </div>
  );
}
