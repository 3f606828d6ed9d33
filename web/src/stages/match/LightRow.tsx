import type { RecipeOut, Schemas } from "../../api/client";
import { Chip } from "../../parts/Swatch";
import { useUsual, type Light } from "../../study/queries";

interface Props {
  light: Light;
  onLight: (light: Light) => void;
  seen: Schemas["InLightOut"] | undefined;
  place: string;
  recipe: RecipeOut;
}

/** The light the drawing is looked at in, and what the recipe turns to there, where its spectra were measured. */
export function LightRow({ light, onLight, seen, place, recipe }: Props) {
  const lights = useUsual().data?.viewing ?? [];
  const there = seen?.illuminant === light ? seen.places.find((p) => p.place === place) : undefined;
  return (
    <div className="light-row">
      <div className="segments" role="group" aria-label="Looked at in">
        {lights.map((l) => (
          <button
            type="button"
            key={l.illuminant}
            aria-pressed={light === l.illuminant}
            onClick={() => onLight(l.illuminant)}
          >
            {l.name}
          </button>
        ))}
      </div>
      {light !== "D50" && (
        <p className="measure" role="status">
          {!there ? (
            "Looking…"
          ) : there.tone ? (
            <>
              <Chip hex={recipe.tone.hex} size={16} /> <Chip hex={there.tone.hex} size={16} /> Beside itself
              in daylight: <b>{there.words}</b> (ΔE00 {there.de00?.toFixed(1)}). What the sitter does there is
              not known.
            </>
          ) : (
            "Not known: the spectra of these colours were not measured."
          )}
        </p>
      )}
    </div>
  );
}
