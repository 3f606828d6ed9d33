import { useEffect, useMemo, useRef, useState } from "react";
import { Link, useLocation, useNavigate } from "react-router";
import type { Act, RecipeOut } from "../../api/client";
import { allDye, namesOf, same } from "../../parts/acts";
import { Empty, Fault, Loading } from "../../parts/Says";
import { Strip } from "../../parts/Strip";
import { useKeys } from "../../parts/useKeys";
import { counted } from "../../parts/words";
import { useLight, useMatches, useMatching, type Light } from "../../study/queries";
import { Stage } from "../../study/StudyFrame";
import { useStudy } from "../../study/useStudy";
import { Alternative } from "./Alternative";
import { BesideSchools } from "./BesideSchools";
import { FromLibrary } from "./FromLibrary";
import { ApartNote, FamilyNote } from "./FamilyNote";
import { Ladder } from "./Ladder";
import { LightRow } from "./LightRow";
import { RampRow } from "./RampRow";
import { RecipeEditor } from "./RecipeEditor";
import { RulesForm } from "./RulesForm";
import { StripForm } from "./StripForm";
import { UnderChart } from "./UnderChart";
import { useTrial } from "./useTrial";
import { Ways } from "./Ways";

/** Match: the ladder of all roles; the chosen rung's strip, sentence and alternatives; the recipe to edit. */
export function Match() {
  const { study, change } = useStudy();
  const go = useNavigate();
  // From Draw one comes to try a place's recipe on a scrap strip.
  const asked = useLocation().state as { place?: string; strip?: boolean } | null;
  const found = useMatches(study.id);
  const [selected, setSelected] = useState<string | null>(asked?.place ?? null);
  const { trial: trying, problem, attempt, leave, show } = useTrial(study.id, study.revision);
  const [rules, setRules] = useState(false);
  // What stands over the recipe: the under-colour chart, or two schools side by side.
  const [over, setOver] = useState<"under" | "schools" | null>(null);
  const [strip, setStrip] = useState(asked?.strip ?? false);
  // Asked to put all in order before the last change was answered: it is done once it is, unless something else was changed.
  const [wish, setWish] = useState(-1);
  const [light, setLight] = useState<Light>("D50");
  const seen = useLight(study.id, study.revision, found.data?.missing.length === 0, light);
  const lit = useMemo(() => {
    if (light === "D50" || seen.data?.illuminant !== light) return null;
    return new Map(seen.data.places.flatMap((p) => (p.tone ? [[p.place, p.tone] as const] : [])));
  }, [light, seen.data]);
  const work = useMatching(study.id, study.revision, found.data?.missing.length ?? 0);
  const places = study.places;
  const order = useMemo(() => [...places].sort((a, b) => b.target.value - a.target.value), [places]);
  const place =
    places.find((p) => p.id === selected) ?? places.find((p) => p.role === "base") ?? places[0] ?? null;
  const matches = useMemo(() => {
    const all = new Map((found.data?.matches ?? []).map((m) => [m.place, m]));
    // What was tried is shown until an answer newer than it has come.
    if (trying && (found.data?.revision ?? 0) <= trying.revision) {
      const mine = all.get(trying.place);
      if (mine) all.set(trying.place, { ...mine, chosen: trying.recipe, pinned: true });
    }
    return all;
  }, [found.data, trying]);
  const match = place ? matches.get(place.id) : undefined;
  const recipe = match?.chosen ?? null;
  const cameOut = recipe?.seen_after === recipe?.layers.length;
  useEffect(() => {
    document.title = `${study.state.title} · Match · Caltin`;
  }, [study.state.title]);

  const edit = (layers: Act[]) => {
    if (place)
      attempt(place.id, layers, () => change({ do: "set_recipe", place: place.id, layers, kind: "own" }));
  };
  const take = (taken: RecipeOut) => {
    if (!place) return;
    show({ place: place.id, recipe: taken, revision: study.revision });
    change({ do: "set_recipe", place: place.id, layers: taken.layers, kind: taken.kind });
  };
  // What was found before the last change must not be taken for what it asks.
  const whole = found.data?.missing.length === 0 && found.data.revision >= study.revision;
  const putInOrder = () => {
    if (!whole) {
      if (found.data?.missing.length === 0) setWish(study.revision);
      return;
    }
    if (found.data?.matches.some((m) => !m.pinned && m.chosen)) change({ do: "settle" });
    void go(`/studies/${study.id}/layer`);
  };
  const due = whole && wish === study.revision;
  const now = useRef(putInOrder);
  useEffect(() => {
    now.current = putInOrder;
  });
  useEffect(() => {
    if (due) now.current();
  }, [due]);
  const along = (by: number) => {
    if (!place) return;
    const at = order.findIndex((p) => p.id === place.id);
    setSelected(order[Math.min(order.length - 1, Math.max(0, at + by))]!.id);
  };
  const other = (by: number) => {
    const all = match?.recipes ?? [];
    if (!all.length || !recipe) return;
    const at = all.findIndex((r) => same(r.layers, recipe.layers));
    take(all[(at + by + all.length) % all.length]!);
  };
  useKeys({
    ArrowUp: () => along(-1),
    ArrowDown: () => along(1),
    ArrowLeft: () => other(-1),
    ArrowRight: () => other(1),
    Enter: () => recipe && !match?.pinned && take(recipe),
    u: () => setOver(over === "under" ? null : "under"),
    b: () => setOver(over === "schools" ? null : "schools"),
    x: () => setStrip(!strip),
    " ": putInOrder,
  });

  if (places.length === 0)
    return (
      <Stage name="match" rail={null} margin={null}>
        <Empty
          action={
            <button type="button" className="act" onClick={() => void go(`/studies/${study.id}/look`)}>
              Go to Look
            </button>
          }
        >
          A recipe needs a place to aim at. Touch one on the picture first.
        </Empty>
      </Stage>
    );
  return (
    <Stage
      name="match"
      rail={
        <Ladder
          places={places}
          matches={matches}
          selected={place?.id ?? null}
          onSelect={setSelected}
          reach={{ dark: study.range.darkest_shown, light: study.range.lightest_shown }}
          lit={lit}
        />
      }
      margin={
        rules ? (
          <RulesForm
            onClose={() => setRules(false)}
            onBeside={() => {
              setRules(false);
              setOver("schools");
            }}
            place={place}
          />
        ) : (
          place && (
            <section aria-label="The recipe">
              <h2>
                {place.number} · {place.called}
              </h2>
              {recipe ? (
                <RecipeEditor
                  recipe={recipe}
                  pinned={match?.pinned ?? false}
                  place={place.id}
                  onEdit={edit}
                  onTry={(layers) => attempt(place.id, layers)}
                  onLeave={leave}
                />
              ) : (
                <Loading what="Looking for layers" />
              )}
              <Fault problem={problem} />
              <div className="actions">
                <button type="button" className="act" onClick={putInOrder} disabled={!whole}>
                  Put all in order <kbd>Space</kbd>
                </button>
                <button
                  type="button"
                  className="tool"
                  onClick={() => setRules(true)}
                  title={`${study.state.rules!.max_layers} layers, ${study.state.rules!.max_colours} colours`}
                >
                  Rules
                </button>
                <button
                  type="button"
                  className="tool"
                  aria-pressed={over === "under"}
                  onClick={() => setOver(over === "under" ? null : "under")}
                >
                  Under-colours <kbd>U</kbd>
                </button>
                <button type="button" className="tool" aria-expanded={strip} onClick={() => setStrip(!strip)}>
                  Scrap strip <kbd>X</kbd>
                </button>
              </div>
              <FromLibrary key={`library-${place.id}`} place={place} />
              {strip && recipe && (
                <StripForm
                  key={place.id}
                  place={place.id}
                  layers={recipe.layers}
                  words={recipe.sentence}
                  onClose={() => setStrip(false)}
                />
              )}
            </section>
          )
        )
      }
    >
      <div className="match-work">
        {over === "under" && place && (
          <UnderChart
            place={place}
            onClose={() => setOver(null)}
            onTake={(layers) => {
              edit(layers);
              setOver(null);
            }}
          />
        )}
        {over === "schools" && (
          <BesideSchools places={order} matches={matches} onClose={() => setOver(null)} />
        )}
        {work.open && (
          <p className="working" role="status">
            Looking for layers: {work.job?.done ?? 0} of {work.job?.of || found.data?.missing.length}
            <progress max={work.job?.of || 1} value={work.job?.done ?? 0} aria-label="Roles matched" />
            <button type="button" className="tool" onClick={work.stop}>
              Stop
            </button>
          </p>
        )}
        {!work.open && (found.data?.missing.length ?? 0) > 0 && work.job && (
          <p className="working">
            {work.job.says || "The search was stopped; some places have no recipe yet."}
            <button type="button" className="tool" onClick={() => work.begin()}>
              Look again
            </button>
          </p>
        )}
        <Fault problem={work.problem} />
        {place && recipe && !over && (
          <>
            <p className="sentence" data-testid="sentence">
              {recipe.sentence}
              {recipe.reason && <small> {recipe.reason}</small>}
            </p>
            {recipe.cautions.map((c) => (
              <p key={c} className="caution" role="note">
                <span aria-hidden="true">! </span>
                {c}
              </p>
            ))}
            {recipe.left_out!.length > 0 && (
              <p className="measure" role="note">
                It does without what this school lays here as a rule: {recipe.left_out!.join("; ")}.
              </p>
            )}
            <div className="panel strip-panel">
              <Strip
                grain={recipe.grain}
                target={place.target}
                paper={study.paper.tone.hex}
                labels={recipe.strokes}
                names={namesOf(recipe.layers, study.kit.colours)}
                height={128}
              />
            </div>
            <p className="measure against" data-testid="against">
              Value {place.target.value.toFixed(1)} asked, {recipe.tone.value.toFixed(1)}{" "}
              {cameOut ? "measured" : "predicted"}: <b>{recipe.difference.words}</b>{" "}
              <span>
                (ΔE00 {recipe.difference.de00.toFixed(1)}
                {!cameOut &&
                  `; ${recipe.measured ? "your measured hand" : "a hand not yet measured"} may be ${recipe.uncertainty.toFixed(1)} away`}
                ).{" "}
                {recipe.seen_after &&
                  !cameOut &&
                  `From what you measured after ${counted(recipe.seen_after, "layer")}. `}
                {allDye(recipe.layers) ? "Paper full to" : "Tooth used"} {Math.round(100 * recipe.tooth_used)}{" "}
                %.{" "}
                {!recipe.measured && !cameOut && (
                  <Link to={`/kits/${study.kit.id}/sheets?paper=${study.paper.id}`}>Measure this kit</Link>
                )}
              </span>
            </p>
            <LightRow light={light} onLight={setLight} seen={seen.data} place={place.id} recipe={recipe} />
            {match && !match.reach.ok && (
              <div className="reach" role="note">
                <p>
                  <b>! Out of reach:</b> {match.reach.why}.
                </p>
                <p>What would open it: {match.reach.would_help}.</p>
              </div>
            )}
            {found.data?.family && found.data.mean !== null && (
              <FamilyNote
                family={found.data.family}
                places={places.length}
                used={found.data.used}
                mean={found.data.mean}
              />
            )}
            {found.data?.fewer && (
              <ApartNote fewer={found.data.fewer} places={places.length} used={found.data.used} />
            )}
            <h2 className="minor">Other ways</h2>
            {(match?.recipes ?? []).slice(1).some((r) => r.equal) && (
              <p className="measure">Equal: your hand cannot tell it from the closest.</p>
            )}
            <ul className="alternatives">
              {(match?.recipes ?? []).map((r) => (
                <Alternative key={r.kind} recipe={r} target={place.target} chosen={recipe} onTake={take} />
              ))}
            </ul>
            <Ways key={`ways ${place.id}`} place={place} chosen={recipe} onTake={take} />
            <RampRow key={place.id} place={place} />
          </>
        )}
        {place && !recipe && !work.open && match?.found && (
          <div className="reach" role="note">
            <p>
              <b>! No recipe:</b> {match.reach.why}.
            </p>
            <p>What would open it: {match.reach.would_help}.</p>
          </div>
        )}
      </div>
    </Stage>
  );
}
