import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { client, got, Problem, type Op } from "../../api/client";
import { ForGood } from "../../parts/ForGood";
import { Fault } from "../../parts/Says";
import { Chip } from "../../parts/Swatch";
import { useKeys } from "../../parts/useKeys";
import { ValueRail } from "../../parts/ValueRail";
import { useMatches, useRack } from "../../study/queries";
import { PLANNED_WITH } from "../../study/Path";
import { Stage } from "../../study/StudyFrame";
import { useStudy } from "../../study/useStudy";
import { Along, useAlong } from "./Along";
import { Journal, JournalForm } from "./Journal";
import { LookBack } from "./LookBack";
import { ToLibrary } from "./ToLibrary";

type Tab = "card" | "journal" | "back";
const TABS: [Tab, string, string][] = [
  ["card", "The card", "C"],
  ["journal", "Journal", "J"],
  ["back", "Look back", "B"],
];

/** Keep: the card to take along, the data, the note; newer versions; deletion. */
export function Keep() {
  const { study, change } = useStudy();
  const cache = useQueryClient();
  const go = useNavigate();
  const matches = useMatches(study.id).data;
  const [title, setTitle] = useState(study.state.title);
  const [note, setNote] = useState(study.state.note ?? "");
  const [problem, setProblem] = useState<Problem | null>(null);
  const along = useAlong();
  const again = () =>
    got(client.POST("/api/studies/{id}/copy", { params: { path: { id: study.id } } }))
      .then((copy) => {
        cache.setQueryData(["study", copy.id], copy);
        void cache.invalidateQueries({ queryKey: ["studies"] });
        void go(`/studies/${copy.id}/look`);
      })
      .catch(setProblem);
  const [tab, setTab] = useState<Tab>((useLocation().state as { tab?: Tab } | null)?.tab ?? "card");
  const top = useRef<HTMLDivElement>(null);
  useEffect(() => {
    top.current?.scrollIntoView({ block: "start" });
  }, [tab]);
  useKeys({
    " ": () => tab === "card" && along.make(),
    c: () => setTab("card"),
    j: () => setTab("journal"),
    b: () => setTab("back"),
  });
  useEffect(() => {
    document.title = `${study.state.title} · Keep · Caltin`;
  }, [study.state.title]);
  const remove = () =>
    got(client.DELETE("/api/studies/{id}", { params: { path: { id: study.id } } }))
      .then(() => {
        cache.removeQueries({ queryKey: ["study", study.id] });
        void cache.invalidateQueries({ queryKey: ["studies"] });
        void go("/");
      })
      .catch(setProblem);
  const saveNote = () =>
    note !== study.state.note && change({ do: "note", note, drawn_on: study.state.drawn_on ?? null });
  return (
    <Stage
      name="keep"
      rail={
        <ValueRail
          marks={study.places.map((p) => ({
            id: p.id,
            value: p.target.value,
            hex: p.target.hex,
            label: p.called,
          }))}
        />
      }
      margin={
        tab === "journal" ? (
          <JournalForm />
        ) : (
          <section aria-label="Take it along">
            <h2>Take it along</h2>
            <Along along={along} />
            <ToLibrary />
            <Versions />
            <h3>Again</h3>
            <p className="measure">
              Another study of the same picture as it stands here: to crop it otherwise, to try another way,
              to lay both side by side.
            </p>
            <button type="button" className="tool" onClick={() => void again()}>
              Begin it again
            </button>
            <h3>Delete</h3>
            <ForGood label="Delete this study" act="Delete for good" onDo={() => void remove()}>
              The picture, the recipes and the log of what was drawn go for good. This cannot be undone.
            </ForGood>
            <Fault problem={problem} />
            <div className="actions">
              <button type="button" className="act" onClick={along.make} disabled={along.card.open}>
                {along.card.open ? "Making it…" : "Make it"} <kbd>Space</kbd>
              </button>
            </div>
          </section>
        )
      }
    >
      <div className="keep" ref={top}>
        <div className="look-tabs keep-tabs" role="group" aria-label="What to keep">
          {TABS.map(([name, label, key]) => (
            <button key={name} type="button" aria-pressed={tab === name} onClick={() => setTab(name)}>
              {label} <kbd>{key}</kbd>
            </button>
          ))}
        </div>
        {tab === "journal" && <Journal />}
        {tab === "back" && <LookBack />}
        {tab === "card" && (
          <>
            <label className="field keep-title">
              Title
              <input
                value={title}
                maxLength={120}
                onChange={(event) => setTitle(event.target.value)}
                onBlur={() =>
                  title.trim() && title !== study.state.title && change({ do: "rename", title: title.trim() })
                }
              />
            </label>
            <div className="keep-row">
              <label className="field">
                Note
                <textarea
                  rows={4}
                  value={note}
                  maxLength={20000}
                  onChange={(event) => setNote(event.target.value)}
                  onBlur={saveNote}
                />
              </label>
              <label className="field">
                Date
                <input
                  type="date"
                  value={study.state.drawn_on ?? ""}
                  onChange={(event) => change({ do: "note", note, drawn_on: event.target.value || null })}
                />
              </label>
            </div>
            <h2 className="minor">On the card</h2>
            <table className="card-table">
              <thead>
                <tr>
                  <th scope="col">Place</th>
                  <th scope="col">Target, recipe</th>
                  <th scope="col">Layers</th>
                </tr>
              </thead>
              <tbody>
                {study.places.map((p) => {
                  const recipe = matches?.matches.find((m) => m.place === p.id)?.chosen;
                  return (
                    <tr key={p.id}>
                      <th scope="row">
                        {p.number} {p.called}
                      </th>
                      <td>
                        <span className="panel pair">
                          <Chip hex={p.target.hex} size={30} />
                          {recipe && <Chip hex={recipe.tone.hex} size={30} />}
                        </span>
                      </td>
                      <td>{recipe?.sentence ?? "No recipe yet."}</td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          </>
        )}
      </div>
    </Stage>
  );
}

type Over = Extract<Op, { do: "use_versions" }>;

/** What the study is planned with; other kits, papers and hands, and newer versions, to change over to. */
function Versions() {
  const { study, change, saving } = useStudy();
  const rack = useRack().data;
  const [tried, setTried] = useState<Over | null>(null);
  if (!rack) return null;
  const take = (op: Over) => {
    setTried(op);
    change(op);
  };
  const over = async (kind: "kit" | "paper" | "hand", to: { id: string; version: string }) => {
    const op: Over = { do: "use_versions", [kind]: to.version, let_go: false };
    if (kind === "hand") return take(op);
    // The hand is that of the kit on the paper, where there is one.
    const next = { kit: study.kit.id, paper: study.paper.id, [kind]: to.id };
    const path = { id: next.kit };
    const along = await got(
      client.GET("/api/kits/{id}/goes-with", { params: { path, query: { paper: next.paper } } }),
    ).catch(() => null);
    const hand = rack.hands.find((h) => h.id === along?.hand)?.version;
    take(hand ? { ...op, hand } : op);
  };
  const row = (
    kind: "kit" | "paper" | "hand",
    label: string,
    all: { id: string; name: string; version: string }[],
  ) => {
    const now = study[kind];
    const newer = now.newest > now.number;
    return (
      <div className="version">
        <label className="field">
          {label}
          <select
            value={now.id}
            onChange={(event) =>
              void over(
                kind,
                all.find((t) => t.id === event.target.value)!,
              )
            }
          >
            {all.map((t) => (
              <option key={t.id} value={t.id}>
                {t.name}
              </option>
            ))}
          </select>
        </label>
        <p className="measure">
          version {now.number}
          {newer && ` of ${now.newest}`}
        </p>
        {newer && (
          <button
            type="button"
            className="tool"
            onClick={() => {
              const newest = all.find((t) => t.id === now.id)!.version;
              take({ do: "use_versions", [kind]: newest, let_go: false });
            }}
          >
            Take version {now.newest}
          </button>
        )}
      </div>
    );
  };
  return (
    <>
      <PlannedWith />
      {row("kit", "Kit", rack.kits)}
      {row("paper", "Paper", rack.papers)}
      {row("hand", "Hand", rack.hands)}
      {tried && saving.state === "refused" && saving.where.startsWith("recipes.") && (
        <button type="button" className="tool" onClick={() => take({ ...tried, let_go: true })}>
          Take it, and let go of the recipes it cannot lay
        </button>
      )}
    </>
  );
}

/** The heading that a newer version leads to. */
function PlannedWith() {
  const { hash } = useLocation();
  const here = useRef<HTMLHeadingElement>(null);
  useEffect(() => {
    if (hash === PLANNED_WITH) here.current?.scrollIntoView();
  }, [hash]);
  return <h3 ref={here}>Planned with</h3>;
}
