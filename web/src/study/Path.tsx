import { counted, sentence } from "../parts/words";
import { Link, NavLink } from "react-router";
import { useMatches, usePlan } from "./queries";
import { useStudy, type Saving } from "./useStudy";
import { fromWhere, LightArrow } from "../parts/LightArrow";
import { Chip } from "../parts/Swatch";
import { useOverview } from "./reading";

export const STAGES = [
  { slug: "look", name: "Look" },
  { slug: "match", name: "Match" },
  { slug: "layer", name: "Layer" },
  { slug: "draw", name: "Draw" },
  { slug: "keep", name: "Keep" },
] as const;

/** Where in Keep it is said what a study is planned with. */
export const PLANNED_WITH = "#planned-with";

function useReady(): Record<string, string> {
  const { study } = useStudy();
  const matches = useMatches(study.id).data;
  const plan = usePlan(study.id).data;
  const done = plan?.steps.filter((s) => s.done).length ?? 0;
  const many = study.places.length;
  const matched = matches?.matches.filter((m) => m.chosen).length ?? 0;
  return {
    look: many ? counted(many, "place") : study.picture ? "touch the face" : "plan the light",
    match: !matches ? "" : many ? `${matched} of ${many}` : "waits",
    layer: !plan ? "" : plan.steps.length ? counted(plan.steps.length, "step") : "waits",
    draw: !plan ? "" : plan.steps.length ? `${done} of ${plan.steps.length}` : "waits",
    keep: "",
  };
}

/** The path along the top: where one is, what is ready, what waits; the study's name, paper and kit. */
export function Path({ stage, onHelp }: { stage: string; onHelp: () => void }) {
  const { study, undo, redo, saving } = useStudy();
  const ready = useReady();
  const overview = useOverview(study.id, study.look, study.picture !== null).data;
  const light = study.state.light ?? overview?.lights[0]?.direction ?? null;
  const newer = (["kit", "paper", "hand"] as const).filter((t) => study[t].newest > study[t].number);
  return (
    <header className="path">
      <NavLink to="/" className="path-shelf">
        Shelf
      </NavLink>
      <nav aria-label="Stages">
        <ol>
          {STAGES.map((s, index) => (
            <li key={s.slug}>
              <NavLink
                to={`/studies/${study.id}/${s.slug}`}
                aria-current={stage === s.slug ? "step" : undefined}
              >
                <b>
                  <span className="path-number" aria-hidden="true">
                    {index + 1}
                  </span>
                  {s.name}
                </b>
                <small>{ready[s.slug]}</small>
              </NavLink>
            </li>
          ))}
        </ol>
      </nav>
      {light !== null && <LightArrow direction={light} size={30} label={`Light from ${fromWhere(light)}`} />}
      <div className="path-study">
        <h1 title={study.state.title}>{study.state.title}</h1>
        <p>
          <Chip hex={study.paper.tone.hex} size={11} /> {study.paper.name} · {study.kit.name} ·{" "}
          {study.hand.name}
          {newer.length > 0 && (
            <>
              {" · "}
              <Link to={`/studies/${study.id}/keep${PLANNED_WITH}`}>newer {newer.join(" and ")} to take</Link>
            </>
          )}
        </p>
      </div>
      <div className="path-tools">
        <Saved saving={saving} />
        <button
          type="button"
          className="tool"
          onClick={undo}
          disabled={!study.can_undo}
          title={`Undo: ${study.undo_label}`}
        >
          Undo
        </button>
        <button
          type="button"
          className="tool"
          onClick={redo}
          disabled={!study.can_redo}
          title={`Redo: ${study.redo_label}`}
        >
          Redo
        </button>
        <button type="button" className="tool" onClick={onHelp} aria-label="Keys and settings">
          ?
        </button>
      </div>
      <Trouble />
    </header>
  );
}

function Saved({ saving }: { saving: Saving }) {
  const word =
    saving.state === "saved"
      ? "saved"
      : saving.state === "saving"
        ? "saving"
        : saving.state === "waiting"
          ? "not sent yet"
          : "";
  return (
    <span className="saved" role="status">
      {word}
    </span>
  );
}

function Trouble() {
  const { saving, takeTheirs, mineOnTop, dismiss } = useStudy();
  if (saving.state === "waiting")
    return (
      <p className="trouble" role="alert">
        {sentence(saving.says)} What you did is kept here and is sent as soon as it answers.
      </p>
    );
  if (saving.state === "refused")
    return (
      <p className="trouble" role="alert">
        {sentence(saving.says)}
        <button type="button" className="tool" onClick={dismiss}>
          Understood
        </button>
      </p>
    );
  if (saving.state !== "late") return null;
  return (
    <p className="trouble" role="alert">
      Another window changed this study first: {saving.changed.join("; ")}.
      <button type="button" className="tool" onClick={mineOnTop}>
        Add mine on top
      </button>
      <button type="button" className="tool" onClick={takeTheirs}>
        Keep only theirs
      </button>
    </p>
  );
}
