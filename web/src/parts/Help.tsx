import { ScreenWhite } from "./ScreenWhite";
import { Modal } from "react-bootstrap";
import { SchoolsHelp } from "../stages/match/SchoolsHelp";
import { SURROUNDS, useSettings } from "./settings";

const EVERYWHERE = [
  ["1 – 5", "go to a stage (locked in Draw)"],
  ["S", "next surround: paper, white, grey, black"],
  ["Ctrl Z", "undo; with Shift, redo"],
  ["?", "this page"],
];
const OF_STAGE: Record<string, string[][]> = {
  look: [
    [
      "Enter",
      "touch the place under the crosshair; then keep it; under Zones: propose, then go through those marked ?",
    ],
    ["T Z L K G P", "places, zones, light, skin, range, paper"],
    ["I Q V N X H", "as it is, squint, values, two masses, ends, hue"],
    ["W C O U M B", "warm and cool, hidden, one value, undertone, melanin, blood"],
    ["F", "mirrored, upside down, as it is"],
    ["Arrows", "move the crosshair or the selected place; with Shift, further"],
    ["[ ]", "smaller or larger disc"],
    ["+ −", "zoom; 0 shows the whole picture"],
    ["R", "range map on or off"],
    ["Delete", "remove the selected place"],
    ["Esc", "let go of what is selected"],
  ],
  match: [
    ["↑ ↓", "along the rungs"],
    ["← →", "the other recipes of a rung"],
    ["Enter", "take the recipe shown"],
    ["Space", "put all recipes in order (Layer)"],
    ["U", "under-colours for the chosen place"],
    ["B", "the same face under another school"],
    ["X", "what a scrap strip came out as"],
  ],
  layer: [
    ["↑ ↓", "along the steps"],
    ["E, L", "move the step earlier or later"],
    ["G", "see the portrait grow; ← → step by step"],
    ["Space", "begin to draw"],
  ],
  draw: [
    ["Space", "this step is done"],
    ["Backspace", "take the last mark back"],
    ["L D K", "laid the wrong one, it has run dry, lifted off"],
    ["W", "something is wrong: find a cure"],
    ["P", "the whole plan; touch how far it is drawn"],
    ["Esc", "back to drawing"],
  ],
  keep: [
    ["Space", "make the card"],
    ["C J B", "the card, the journal, the look back"],
  ],
};

/** Keys of this stage, and the few settings. */
export function Help({ stage, show, onHide }: { stage: string; show: boolean; onHide: () => void }) {
  const settings = useSettings();
  return (
    <Modal show={show} onHide={onHide} size="lg" aria-labelledby="help-title">
      <Modal.Header closeButton>
        <Modal.Title id="help-title" as="h2">
          Keys and settings
        </Modal.Title>
      </Modal.Header>
      <Modal.Body className="help">
        <dl>
          {[...(OF_STAGE[stage] ?? []), ...EVERYWHERE].map(([key, does]) => (
            <div key={key}>
              <dt>{key}</dt>
              <dd>{does}</dd>
            </div>
          ))}
        </dl>
        <div>
          <fieldset>
            <legend>Wall</legend>
            {(["day", "evening"] as const).map((wall) => (
              <label key={wall} className="choice">
                <input
                  type="radio"
                  name="wall"
                  checked={settings.wall === wall}
                  onChange={() => settings.set({ wall })}
                />
                {wall === "day" ? "Day, light plaster" : "Evening, dark"}
              </label>
            ))}
          </fieldset>
          <fieldset>
            <legend>Behind every swatch</legend>
            {SURROUNDS.map((surround) => (
              <label key={surround} className="choice">
                <input
                  type="radio"
                  name="surround"
                  checked={settings.surround === surround}
                  onChange={() => settings.set({ surround })}
                />
                {{ paper: "The study’s paper", white: "White", grey: "Mid grey", black: "Black" }[surround]}
              </label>
            ))}
          </fieldset>
          <label className="choice">
            <input
              type="checkbox"
              checked={settings.leftHanded}
              onChange={(event) => settings.set({ leftHanded: event.target.checked })}
            />
            Left-handed: margin left, rail right
          </label>
          <label className="choice">
            <input
              type="checkbox"
              checked={settings.countDown}
              onChange={(event) => settings.set({ countDown: event.target.checked })}
            />
            Count values from light (1) to dark (10)
          </label>
          <label className="choice">
            <input
              type="checkbox"
              checked={settings.guessFirst}
              onChange={(event) => settings.set({ guessFirst: event.target.checked })}
            />
            Let me guess value and warmth before a touched place answers
          </label>
          <label className="choice">
            <input
              type="checkbox"
              checked={settings.spoken}
              onChange={(event) => settings.set({ spoken: event.target.checked })}
            />
            Say each step aloud in Draw, by a voice that lies on this machine
          </label>
          <ScreenWhite />
        </div>
        {stage === "match" && <SchoolsHelp />}
        <p className="caution">
          Pencil dust: tap it off, do not blow; keep it from small children and food. Sharpen away from the
          drawing. The product’s label and local rules come first.
        </p>
      </Modal.Body>
    </Modal>
  );
}
