import type { RecipeOut, Tone } from "../../api/client";
import { allDye, coloursOf, same } from "../../parts/acts";
import { counted } from "../../parts/words";

const KINDS: Record<RecipeOut["kind"], string> = {
  closest: "Closest",
  fewest: "Fewest colours",
  softest: "Softest on the paper",
  plainest: "Plain and sure",
  no_black: "No black",
  no_skin_colour: "No ready-made skin colour",
  vivid: "Vivid: the value kept, the hue free",
  one_tin: "Out of one tin",
  shared: "One for all of its kind",
  own: "Yours",
};

interface Props {
  recipe: RecipeOut;
  target: Tone;
  tin?: string;
  chosen: RecipeOut;
  onTake: (recipe: RecipeOut) => void;
}

/** One recipe to choose: target and prediction side by side, what it is good for, what it costs. */
export function Alternative({ recipe, target, tin, chosen, onTake }: Props) {
  return (
    <li>
      <button type="button" aria-pressed={same(recipe.layers, chosen.layers)} onClick={() => onTake(recipe)}>
        <span className="pair">
          <span style={{ background: target.hex }} />
          <span style={{ background: recipe.tone.hex }} />
        </span>
        <span>
          <b>{tin ? `Only from ${tin}` : KINDS[recipe.kind]}</b>
          <small>
            {counted(coloursOf(recipe.layers).size, "colour")}, {counted(recipe.layers.length, "layer")} ·{" "}
            {allDye(recipe.layers) ? "paper full to" : "tooth"} {Math.round(100 * recipe.tooth_used)} % ·{" "}
            {recipe.equal ? "equal" : `ΔE00 ${recipe.difference.de00.toFixed(1)}`}
          </small>
        </span>
      </button>
    </li>
  );
}
