import { counted } from "../../parts/words";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { client, got, Problem, type Lab, type Schemas } from "../../api/client";
import { Empty, Opening } from "../../parts/Says";
import { useSettings } from "../../parts/settings";
import { ColourMargin } from "./ColourMargin";
import { FilePanel } from "./FilePanel";
import { RackMargin } from "./RackMargin";
import { mediumWord, plain, type KitColour, type State } from "./rack";

const ORDERS = ["value", "warmth", "hue", "strength", "by hand"] as const;
const FILES = [
  ["csv", "a table (CSV)"],
  ["json", "everything (JSON)"],
  ["gpl", "a palette (GPL)"],
  ["cgats", "a reader’s text (CGATS)"],
] as const;

/** Kit: the rack of colours; add, name, change, retire. Every change is a new version. */
export function Kit() {
  const { id = "" } = useParams();
  const cache = useQueryClient();
  const go = useNavigate();
  const { surround } = useSettings();
  const found = useQuery({
    queryKey: ["kit", id],
    queryFn: () => got(client.GET("/api/kits/{id}", { params: { path: { id } } })),
  });
  const [selected, setSelected] = useState<string | null>(null);
  const [adding, setAdding] = useState(false);
  const [problem, setProblem] = useState<Problem | null>(null);
  const [name, setName] = useState<string | null>(null);
  const [filing, setFiling] = useState(false);
  const [order, setOrder] = useState<(typeof ORDERS)[number]>("value");
  const [typed, setTyped] = useState("");
  const [near, setNear] = useState<{ words: string; away: Map<string, number> } | null>(null);
  const kit = found.data;
  const told = useQuery({
    queryKey: ["told", kit?.version],
    enabled: kit !== undefined && kit.colours.length > 0,
    queryFn: () => got(client.GET("/api/kits/{id}/told", { params: { path: { id } } })),
  });
  useEffect(() => {
    document.title = `${kit?.name ?? "Kit"} · Caltin`;
  }, [kit?.name]);
  if (!kit) return <Opening what="kit" problem={found.error as Problem | null} />;
  const save = (colours: KitColour[], newName = kit.name, spectra: Record<string, number[]> = {}) =>
    got(
      client.PUT("/api/kits/{id}", {
        params: { path: { id } },
        body: { seen: kit.number, name: newName, colours, spectra },
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
  const put = async (next: KitColour, spectrum?: number[]) => {
    const there = colours.some((c) => c.id === next.id);
    const done = await save(
      there ? colours.map((c) => (c.id === next.id ? next : c)) : [...colours, next],
      kit.name,
      spectrum ? { [next.id]: spectrum } : {},
    );
    // Who adds one colour adds the next.
    if (done && !adding) setSelected(next.id);
    return done;
  };
  const setState = (colour: string, state: State) =>
    got(client.PUT("/api/kits/{id}/states", { params: { path: { id } }, body: { colour, state } }))
      .then((next) => {
        cache.setQueryData(["kit", id], next);
        void cache.invalidateQueries({ queryKey: ["rack"] });
        void cache.invalidateQueries({ queryKey: ["study"] });
        void cache.invalidateQueries({ queryKey: ["matches"] });
      })
      .catch(setProblem);
  const throwAway = () =>
    void got(client.POST("/api/kits/{id}/throw-away", { params: { path: { id } } }))
      .then(() => {
        cache.removeQueries({ queryKey: ["kit", id] });
        void cache.invalidateQueries({ queryKey: ["rack"] });
        void go("/");
      })
      .catch(setProblem);
  const nearTo = (words: string, tone: Lab) =>
    got(client.POST("/api/kits/{id}/near", { params: { path: { id } }, body: tone }))
      .then((found) => setNear({ words, away: new Map(found.map((n) => [n.colour, n.away])) }))
      .catch(setProblem);
  const place = new Map((told.data?.orders[order] ?? []).map((c, index) => [c, index]));
  const rank = (c: (typeof kit.colours)[number]) => near?.away.get(c.id) ?? place.get(c.id) ?? 0;
  const asked = typed.trim().toLocaleLowerCase();
  const shown = kit.colours
    .filter((c) =>
      `${c.name} ${c.line} ${c.words} ${mediumWord(c.medium)} ${c.state}`.toLocaleLowerCase().includes(asked),
    )
    .sort((a, b) => Number(a.out) - Number(b.out) || rank(a) - rank(b));
  const byHand = order === "by hand" && !near && !asked;
  // Put before another colour, or moved by one place with the keys.
  const move = (from: string, to: string) => {
    const at = colours.findIndex((c) => c.id === to);
    const moving = colours.find((c) => c.id === from);
    if (!moving || at < 0 || from === to) return;
    const rest = colours.filter((c) => c.id !== from);
    void save([...rest.slice(0, at), moving, ...rest.slice(at)]);
  };
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
          <button type="button" className="tool" onClick={() => setFiling(true)}>
            From a file
          </button>
          <Link to={`/kits/${id}/sheets`} className="tool">
            Measure it
          </Link>
          {kit.colours.length > 0 && (
            <Link to={`/kits/${id}/serves`} className="tool">
              What it serves
            </Link>
          )}
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
        {filing ? (
          <FilePanel
            taken={new Set(kit.colours.map((c) => c.id))}
            onClose={() => setFiling(false)}
            onTake={(fresh, spectra) =>
              save([...colours, ...fresh], kit.name, spectra).then((done) => {
                if (done) setFiling(false);
                return done;
              })
            }
          />
        ) : (
          <main className="work" id="work">
            {kit.colours.length > 0 && (
              <div className="rack-bar">
                <div className="segments" role="group" aria-label="Order of the rack">
                  {ORDERS.map((o) => (
                    <button
                      key={o}
                      type="button"
                      aria-pressed={o === order && !near}
                      onClick={() => {
                        setOrder(o);
                        setNear(null);
                      }}
                    >
                      {o}
                    </button>
                  ))}
                </div>
                <input
                  type="search"
                  className="rack-find"
                  aria-label="Find a colour"
                  placeholder="Find by name, line, tone or state"
                  value={typed}
                  onChange={(event) => setTyped(event.target.value)}
                />
                <details className="rack-out">
                  <summary>Take it along as</summary>
                  {FILES.map(([format, words]) => (
                    <a key={format} href={`/api/kits/${id}/file/${format}`} download>
                      {words}
                    </a>
                  ))}
                </details>
              </div>
            )}
            {byHand && (
              <p className="measure">
                Drag a colour before another; or Alt and an arrow key moves it by one.
              </p>
            )}
            {near && (
              <p className="rack-near">
                Nearest to {near.words} first.{" "}
                <button type="button" className="tool" onClick={() => setNear(null)}>
                  By {order} again
                </button>
              </p>
            )}
            {kit.colours.length > 0 && shown.length === 0 && (
              <p>No colour here is called or looks like that.</p>
            )}
            {kit.colours.length === 0 && !adding ? (
              <Empty
                action={
                  <button type="button" className="act" onClick={() => setAdding(true)}>
                    Add the first colour
                  </button>
                }
              >
                An empty box. Swatch each colour solidly — three burnished passes, or one dry coat of a marker
                — and give its tone here; or bring a file, or measure a chart.
              </Empty>
            ) : (
              <ul className="panel kit-rack">
                {shown.map((c) => (
                  <li
                    key={c.id}
                    draggable={byHand}
                    onDragStart={(event) => event.dataTransfer.setData("text/plain", c.id)}
                    onDragOver={(event) => byHand && event.preventDefault()}
                    onDrop={(event) => {
                      event.preventDefault();
                      if (byHand) move(event.dataTransfer.getData("text/plain"), c.id);
                    }}
                  >
                    <button
                      type="button"
                      className={c.out ? "kit-colour is-out" : "kit-colour"}
                      aria-pressed={c.id === selected}
                      onKeyDown={(event) => {
                        const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
                        const next = shown[shown.indexOf(c) + (by ?? 0)];
                        if (!byHand || !event.altKey || !by || !next) return;
                        event.preventDefault();
                        move(c.id, next.id);
                      }}
                      onClick={() => {
                        setAdding(false);
                        setSelected(c.id);
                      }}
                    >
                      <span style={{ background: c.shown.hex }} aria-hidden="true" />
                      <b>{c.name}</b>
                      <small>
                        {c.retired
                          ? "retired"
                          : c.state !== "full"
                            ? c.state
                            : near
                              ? `${(near.away.get(c.id) ?? 0).toFixed(1)} away`
                              : `value ${c.shown.value.toFixed(1)}`}
                      </small>
                    </button>
                  </li>
                ))}
              </ul>
            )}
          </main>
        )}
        <aside className="margin" aria-label="The colour selected">
          {colour || adding ? (
            <ColourMargin
              key={adding ? "new" : (selected ?? "none")}
              kit={kit}
              colour={adding ? null : colour}
              adding={adding}
              pairs={told.data?.pairs.filter((p) => p.one === selected || p.other === selected) ?? []}
              onPut={put}
              onState={(state) => selected && void setState(selected, state)}
              onNear={() => colour && void nearTo(colour.name, colour.tone)}
              onClose={() => {
                setSelected(null);
                setAdding(false);
              }}
              problem={problem}
            />
          ) : (
            <RackMargin
              kit={kit}
              told={told.data}
              onSelect={setSelected}
              onNear={(gap: Schemas["GapOut"]) => void nearTo(`a ${gap.words}`, gap.tone.lab)}
              problem={problem}
              onThrow={throwAway}
            />
          )}
        </aside>
      </div>
    </div>
  );
}
