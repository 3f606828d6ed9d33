import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { counted } from "../../parts/words";
import { useStudy } from "../../study/useStudy";

/** How many colours serve how many places, and what is said of it. */
function Told({ used, places, children }: { used: number; places: number; children: ReactNode }) {
  return (
    <p className="measure" role="note">
      <b>
        {counted(used, "colour")} for {counted(places, "place")}
      </b>
      {children}
    </p>
  );
}

/** So many colours for places matched one by one, and the offer to share fewer. */
export function ApartNote({ fewer, places, used }: { fewer: number; places: number; used: number }) {
  const { study, change } = useStudy();
  const rules = study.state.rules!;
  return (
    <div className="family-note">
      <Told used={used} places={places}>
        , each matched by itself.
      </Told>
      <div className="tools">
        <button
          type="button"
          className="tool"
          onClick={() => change({ do: "set_rules", rules: { ...rules, together: fewer } })}
        >
          Share at most {fewer} colours
        </button>
      </div>
    </div>
  );
}

/** The family of colours all places share, `mean` away as the recipes stand, and what one more or one less would change. */
export function FamilyNote(props: {
  family: Schemas["FamilyOut"];
  places: number;
  used: number;
  mean: number;
}) {
  const { family, places, used, mean } = props;
  const { one_more: more, one_less: less } = family;
  const { study, change } = useStudy();
  const chosen = Object.keys(study.state.recipes ?? {}).length;
  const rules = study.state.rules!;
  const told = (away: number) => away.toFixed(1);
  // Both are told of the closest recipes, which need not be those shown.
  const changes: string[] = [];
  if (more)
    changes.push(
      told(more.mean) === told(family.mean)
        ? "one colour more would change nothing"
        : `with ${more.name} too\u00a0${told(more.mean)}`,
    );
  if (less)
    changes.push(
      told(less.mean) === told(family.mean)
        ? `${less.name} could be spared`
        : `without ${less.name}\u00a0${told(less.mean)}`,
    );
  return (
    <div className="family-note">
      <Told used={used} places={places}>
        , on average ΔE00 {told(mean)} away
        {told(mean) !== told(family.mean) && `. The closest recipes are ${told(family.mean)} away`}
        {changes.length > 0 && `; ${changes.join(", ")}`}.
        {family.used > family.asked && ` You asked for ${family.asked}; the recipes you chose need more.`}
      </Told>
      <div className="tools">
        {chosen > 0 && (
          <button type="button" className="tool" onClick={() => change({ do: "clear_recipe", place: null })}>
            Let go of what is chosen
          </button>
        )}
        {chosen > 0 && chosen < places && (
          <button
            type="button"
            className="tool"
            onClick={() => change({ do: "set_rules", rules: { ...rules, again: (rules.again ?? 0) + 1 } })}
          >
            Solve again around what is chosen
          </button>
        )}
      </div>
    </div>
  );
}
