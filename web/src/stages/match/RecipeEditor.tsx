import { useState } from "react";
import type { LayShape, RecipeOut } from "../../api/client";
import { Chip } from "../../parts/Swatch";
import { useStudy } from "../../study/useStudy";

const PRESSURES = ["light", "medium", "firm", "burnish"] as const;

interface Props {
  recipe: RecipeOut;
  pinned: boolean;
  place: string;
  onEdit: (layers: LayShape[]) => void;
}

/** The layers as one lays them, first at the top: pressure and passes by touch, swap, move, turn, take out, add. */
export function RecipeEditor({ recipe, pinned, place, onEdit }: Props) {
  const { study, change } = useStudy();
  const [open, setOpen] = useState(0);
  const layers = recipe.layers;
  const colours = study.kit.colours.filter((c) => !c.retired || layers.some((l) => l.colour === c.id));
  const known = new Map(study.kit.colours.map((c) => [c.id, c]));
  const set = (index: number, some: Partial<LayShape>) =>
    onEdit(layers.map((l, i) => (i === index ? { ...l, ...some } : l)));
  const move = (index: number, by: number) => {
    const next = [...layers];
    const [layer] = next.splice(index, 1);
    next.splice(index + by, 0, layer!);
    setOpen(index + by);
    onEdit(next);
  };
  return (
    <div className="editor">
      <ol>
        {layers.map((layer, index) => {
          const colour = known.get(layer.colour);
          const on = open === index;
          return (
            <li key={index} className={on ? "is-open" : ""}>
              <button
                type="button"
                className="editor-head"
                aria-expanded={on}
                onClick={() => setOpen(on ? -1 : index)}
              >
                <Chip hex={colour?.shown.hex ?? "#888"} size={26} />
                <span>
                  <b>{colour?.name ?? layer.colour}</b>
                  <small>{recipe.strokes[index]}</small>
                </span>
              </button>
              {on && (
                <div className="editor-body">
                  <div className="segments" role="group" aria-label="Pressure">
                    {PRESSURES.map((p) => (
                      <button
                        key={p}
                        type="button"
                        aria-pressed={layer.pressure === p}
                        onClick={() => set(index, { pressure: p })}
                      >
                        {p}
                      </button>
                    ))}
                  </div>
                  <div className="editor-row">
                    <div className="stepper" role="group" aria-label="Passes">
                      <button
                        type="button"
                        aria-label="One pass less"
                        disabled={layer.passes <= 1}
                        onClick={() => set(index, { passes: layer.passes - 1 })}
                      >
                        −
                      </button>
                      <output>
                        {layer.passes} pass{layer.passes > 1 ? "es" : ""}
                      </output>
                      <button
                        type="button"
                        aria-label="One pass more"
                        disabled={layer.passes >= 6}
                        onClick={() => set(index, { passes: layer.passes + 1 })}
                      >
                        +
                      </button>
                    </div>
                    <button
                      type="button"
                      className="tool"
                      aria-pressed={layer.turned}
                      onClick={() => set(index, { turned: !layer.turned })}
                    >
                      Turned
                    </button>
                    <button
                      type="button"
                      className="tool"
                      aria-pressed={layer.point === "side"}
                      onClick={() => set(index, { point: layer.point === "side" ? "sharp" : "side" })}
                    >
                      Side
                    </button>
                  </div>
                  <label className="field">
                    Colour
                    <select
                      value={layer.colour}
                      onChange={(event) => set(index, { colour: event.target.value })}
                    >
                      {colours.map((c) => (
                        <option key={c.id} value={c.id}>
                          {c.name} — {c.words}
                        </option>
                      ))}
                    </select>
                  </label>
                  <div className="tools">
                    <button
                      type="button"
                      className="tool"
                      disabled={index === 0}
                      onClick={() => move(index, -1)}
                    >
                      Lay earlier
                    </button>
                    <button
                      type="button"
                      className="tool"
                      disabled={index === layers.length - 1}
                      onClick={() => move(index, 1)}
                    >
                      Lay later
                    </button>
                    <button
                      type="button"
                      className="tool"
                      disabled={layers.length === 1}
                      onClick={() => onEdit(layers.filter((_, i) => i !== index))}
                    >
                      Take out
                    </button>
                  </div>
                </div>
              )}
            </li>
          );
        })}
      </ol>
      <div className="tools">
        <button
          type="button"
          className="tool"
          disabled={layers.length >= 12}
          onClick={() => {
            setOpen(layers.length);
            onEdit([
              ...layers,
              { ...layers[layers.length - 1]!, pressure: "light", passes: 1, turned: false, point: "sharp" },
            ]);
          }}
        >
          Add a layer
        </button>
        {pinned && (
          <button type="button" className="tool" onClick={() => change({ do: "clear_recipe", place })}>
            As proposed
          </button>
        )}
      </div>
    </div>
  );
}
