import type { Schemas } from "../../api/client";
import { counted } from "../../parts/words";
import { useStudy } from "../../study/useStudy";

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
  return (
    <div className="family-note">
      <p className="measure" role="note">
        <b>
          {counted(used, "colour")} for {counted(places, "place")}
        </b>
        , on average ΔE00 {mean.toFixed(1)} away; the closest recipes {family.mean.toFixed(1)}.
        {more &&
          (family.mean - more.mean < 0.05
            ? " One colour more would change nothing."
            : ` With ${more.name} too: ${more.mean.toFixed(1)}.`)}
        {less && ` Without ${less.name}: ${less.mean.toFixed(1)}.`}
        {family.used > family.asked && ` You asked for ${family.asked}; the recipes you chose need more.`}
      </p>
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
