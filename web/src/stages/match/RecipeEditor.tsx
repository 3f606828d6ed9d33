import { useState } from "react";
import type { Act, Laid, LayShape, RecipeOut } from "../../api/client";
import { isLaid, namesOf, recoloured } from "../../parts/acts";
import { Chip } from "../../parts/Swatch";
import { useStudy } from "../../study/useStudy";
import { PressPad, type Press } from "./PressPad";

const pressed = (layer: Laid): layer is LayShape => "pressure" in layer;
const SOFT = { pressure: "light", passes: 1, turned: false, point: "sharp" } as const;
const strike = (layer: Act, press: Press): Act => {
  if (!isLaid(layer)) return layer;
  return press.pressure && pressed(layer)
    ? { ...layer, pressure: press.pressure, passes: press.passes }
    : { ...layer, passes: press.passes };
};

interface Props {
  recipe: RecipeOut;
  pinned: boolean;
  place: string;
  onEdit: (layers: Act[]) => void;
  /** What is only tried while a finger moves, and when it leaves without keeping it. */
  onTry: (layers: Act[]) => void;
  onLeave: () => void;
}

/** The layers as one lays them, first at the top: pressure and passes on a pad, swap, move, turn, take out, add. */
export function RecipeEditor({ recipe, pinned, place, onEdit, onTry, onLeave }: Props) {
  const { study, change } = useStudy();
  const [open, setOpen] = useState(0);
  const layers = recipe.layers;
  const last = layers.filter(isLaid).at(-1);
  const colours = study.kit.colours.filter(
    (c) => !c.out || layers.some((l) => isLaid(l) && l.colour === c.id),
  );
  const names = namesOf(layers, study.kit.colours);
  const known = new Map(study.kit.colours.map((c) => [c.id, c]));
  const set = (index: number, some: Partial<Laid>) =>
    onEdit(layers.map((l, i) => (i === index ? ({ ...l, ...some } as Act) : l)));
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
          const colour = isLaid(layer) ? known.get(layer.colour) : undefined;
          const on = open === index;
          return (
            <li key={index} className={on ? "is-open" : ""}>
              <button
                type="button"
                className="editor-head"
                aria-expanded={on}
                onClick={() => setOpen(on ? -1 : index)}
              >
                {isLaid(layer) && <Chip hex={colour?.shown.hex ?? "#888"} size={26} />}
                <span>
                  <b>{names[index]}</b>
                  <small>{recipe.strokes[index]}</small>
                </span>
              </button>
              {on && (
                <div className="editor-body">
                  {isLaid(layer) && (
                    <>
                      <PressPad
                        press={{ pressure: pressed(layer) ? layer.pressure : null, passes: layer.passes }}
                        onTry={(press) => onTry(layers.map((l, i) => (i === index ? strike(l, press) : l)))}
                        onSet={(press) => onEdit(layers.map((l, i) => (i === index ? strike(l, press) : l)))}
                        onLeave={onLeave}
                      />
                      <div className="editor-row">
                        {pressed(layer) ? (
                          <>
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
                          </>
                        ) : (
                          <button
                            type="button"
                            className="tool"
                            aria-pressed={layer.wet}
                            onClick={() => set(index, { wet: !layer.wet })}
                          >
                            Wet
                          </button>
                        )}
                      </div>
                      <label className="field">
                        Colour
                        <select
                          value={layer.colour}
                          onChange={(event) =>
                            onEdit(
                              layers.map((l, i) =>
                                i === index ? recoloured(l, known.get(event.target.value)!) : l,
                              ),
                            )
                          }
                        >
                          {colours.map((c) => (
                            <option key={c.id} value={c.id}>
                              {c.name} — {c.words}
                            </option>
                          ))}
                        </select>
                      </label>
                    </>
                  )}
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
          disabled={layers.length >= 12 || !last}
          onClick={() => {
            setOpen(layers.length);
            if (last) onEdit([...layers, pressed(last) ? { ...last, ...SOFT } : { ...last, passes: 1 }]);
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
