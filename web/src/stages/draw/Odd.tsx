import { useState } from "react";
import type { KitColourOut, MarkIn, StepOut } from "../../api/client";
import { recoloured } from "../../parts/acts";
import { PlaceOptions } from "../../parts/PlaceOptions";
import { Chip } from "../../parts/Swatch";
import { useStudy } from "../../study/useStudy";

type Mark = Partial<MarkIn> & Pick<MarkIn, "kind">;
const LIFTS = [
  ["kneaded", "Kneaded eraser"],
  ["stick", "Eraser stick"],
  ["knife", "Knife"],
] as const;

interface Props {
  steps: StepOut[];
  now: StepOut | null;
  last: { id: string; step: StepOut } | null;
  add: (mark: Mark) => void;
  onClose: () => void;
}

/** Another colour was laid than the one asked; what comes after is solved again from there. */
export function WrongOne({ steps, now, last, add, onClose }: Props) {
  const { study } = useStudy();
  const [onLast, setOnLast] = useState(now === null);
  const step = onLast ? last?.step : now;
  const used = new Set(steps.map((s) => s.colour));
  const colours = [...study.kit.colours].sort((a, b) => Number(used.has(b.id)) - Number(used.has(a.id)));
  const say = (colour: KitColourOut) => {
    if (!step) return;
    if (onLast && last) add({ kind: "back", undoes: last.id });
    add({
      kind: "wrong",
      colour: colour.id,
      words: `${colour.name} instead of ${step.name}`,
      laid: step.laid.map((x) => ({ ...x, layer: recoloured(x.layer, colour) })),
    });
    onClose();
  };
  return (
    <section aria-label="Laid the wrong one">
      <h2>Laid the wrong one</h2>
      <div className="tools">
        {now && (
          <button type="button" className="tool" aria-pressed={!onLast} onClick={() => setOnLast(false)}>
            In place of {now.name}, now
          </button>
        )}
        {last && (
          <button type="button" className="tool" aria-pressed={onLast} onClick={() => setOnLast(true)}>
            In place of {last.step.name}, the step before
          </button>
        )}
      </div>
      <p className="measure">Touch the colour that lies there. The rest is solved again from it.</p>
      <ul className="wrong-colours">
        {colours
          .filter((c) => c.id !== step?.colour)
          .map((c) => (
            <li key={c.id}>
              <button type="button" onClick={() => say(c)}>
                <Chip hex={c.shown.hex} size={26} />
                {c.name}
              </button>
            </li>
          ))}
      </ul>
      <Back onClose={onClose} />
    </section>
  );
}

/** The colour due now has run dry: the log and the kit are told, and all that needed it is solved again. */
export function RanDry({ now, add, onClose }: Pick<Props, "now" | "add" | "onClose">) {
  const { study } = useStudy();
  if (!now?.colour) return null;
  const say = () => {
    add({ kind: "dry", colour: now.colour, words: `${now.name} ran dry`.slice(0, 200) });
    onClose();
  };
  return (
    <section aria-label="It has run dry">
      <h2>{now.name} has run dry</h2>
      <p>
        It is marked as dry in {study.kit.name}, for all studies, until you refill it. What is drawn stays;
        what was still to come with it is solved again without it.
      </p>
      <button type="button" className="act" onClick={say}>
        It has run dry
      </button>
      <Back onClose={onClose} />
    </section>
  );
}

/** Something was lifted off a place; what comes after is solved again from what is left. */
export function LiftedOff({ steps, add, onClose }: Pick<Props, "steps" | "add" | "onClose">) {
  const { study } = useStudy();
  const laid = new Map<string, number>();
  for (const s of steps)
    if (s.done) for (const x of s.laid) laid.set(x.place, Math.max(laid.get(x.place) ?? 0, x.number + 1));
  const drawn = study.places.filter((p) => laid.has(p.id));
  const [chosen, setChosen] = useState(drawn.at(-1)?.id ?? "");
  const place = drawn.find((p) => p.id === chosen);
  return (
    <section aria-label="Lifted off">
      <h2>Lifted off</h2>
      {!place ? (
        <p>Nothing is marked as drawn yet.</p>
      ) : (
        <>
          <label className="field">
            Where?
            <select value={chosen} onChange={(event) => setChosen(event.target.value)}>
              <PlaceOptions places={drawn} />
            </select>
          </label>
          <p className="measure">With what?</p>
          <div className="tools">
            {LIFTS.map(([lift, name]) => (
              <button
                key={lift}
                type="button"
                className="tool"
                onClick={() => {
                  add({
                    kind: "lifted",
                    words: `Lifted off ${place.called}, ${name.toLowerCase()}`,
                    laid: [{ place: place.id, number: laid.get(place.id)!, layer: { lift } }],
                  });
                  onClose();
                }}
              >
                {name}
              </button>
            ))}
          </div>
          <p className="caution">
            Knife: scrape away from the hand, blade flat; put the cap back on. The product’s label and local
            rules come first.
          </p>
        </>
      )}
      <Back onClose={onClose} />
    </section>
  );
}

function Back({ onClose }: { onClose: () => void }) {
  return (
    <div className="actions">
      <button type="button" className="tool" onClick={onClose}>
        Back to drawing
      </button>
    </div>
  );
}
