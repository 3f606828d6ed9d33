import { useState } from "react";
import type { PlaceOut, RulesState } from "../../api/client";
import { useStudy } from "../../study/useStudy";
import { SchoolField } from "./SchoolField";

const BLACK: [RulesState["black"], string][] = [
  ["never", "never"],
  ["under", "only beneath another colour"],
  ["last", "only as the last touch"],
  ["allowed", "anywhere"],
];

/** The rules of the study: layers, colours, goal, black for all and for this role, what to leave in the box. */
export function RulesForm({
  onClose,
  onBeside,
  place,
}: {
  onClose: () => void;
  onBeside: () => void;
  place: PlaceOut | null;
}) {
  const { study, change, saving } = useStudy();
  // What was just set shows at once, until all that was set has been answered.
  const [draft, setDraft] = useState<{ rules: RulesState; revision: number } | null>(null);
  const open = saving.state === "saving" || saving.state === "waiting";
  const rules = draft && (open || study.revision <= draft.revision) ? draft.rules : study.state.rules!;
  const set = (some: Partial<RulesState>) => {
    const next = { ...rules, ...some };
    setDraft({ rules: next, revision: study.revision });
    change({ do: "set_rules", rules: next });
  };
  const number = (key: "max_layers" | "max_colours" | "together", most: number, label: string, least = 1) => (
    <div className="rule-number">
      <span id={key}>{label}</span>
      <div className="stepper" role="group" aria-labelledby={key}>
        <button
          type="button"
          aria-label="One less"
          disabled={rules[key]! <= (key === "together" ? 0 : least)}
          onClick={() => set({ [key]: rules[key]! <= least ? 0 : rules[key]! - 1 })}
        >
          −
        </button>
        <output>{rules[key] === 0 ? "any" : rules[key]}</output>
        <button
          type="button"
          aria-label="One more"
          disabled={rules[key]! >= most}
          onClick={() => set({ [key]: Math.max(rules[key]! + 1, least) })}
        >
          +
        </button>
      </div>
    </div>
  );
  const own = place ? rules.black_by_role![place.role] : undefined;
  return (
    <section aria-label="Rules">
      <h2>Rules</h2>
      {number("max_layers", 12, "Layers in one recipe, at most")}
      {rules.together === 0 && number("max_colours", 8, "Different colours in one, at most")}
      {number("together", 18, "Colours in the whole family, at most", 2)}
      <p className="measure">
        {rules.together === 0
          ? "Each place is matched by itself. Say a number, and all are solved together in one family of colours."
          : "All places are solved together; recipes you chose stay, and the others are solved around them."}
      </p>
      <SchoolField rules={rules} onSet={set} onBeside={onBeside} />
      <fieldset>
        <legend>Aim at</legend>
        <label className="choice">
          <input
            type="radio"
            name="goal"
            checked={rules.goal === "colour"}
            onChange={() => set({ goal: "colour" })}
          />
          the colour
        </label>
        <label className="choice">
          <input
            type="radio"
            name="goal"
            checked={rules.goal === "value"}
            onChange={() => set({ goal: "value" })}
          />
          the value first; hue may wander, not to green, dead grey or raw yellow
        </label>
      </fieldset>
      <fieldset>
        <legend>Black</legend>
        {BLACK.map(([policy, words]) => (
          <label key={policy} className="choice">
            <input
              type="radio"
              name="black"
              checked={rules.black === policy}
              onChange={() => set({ black: policy })}
            />
            {words}
          </label>
        ))}
      </fieldset>
      <p className="measure">
        What is meant to shine begins without black; pupils, lashes and the deepest places begin with it under
        or over. Each role has its own rule, seen when one of its places is chosen.
      </p>
      {place && (
        <label className="field">
          Black for {place.role_name}
          <select
            value={own ?? ""}
            onChange={(event) => {
              const rest = Object.fromEntries(
                Object.entries(rules.black_by_role!).filter(([r]) => r !== place.role),
              );
              set({
                black_by_role: event.target.value
                  ? { ...rest, [place.role]: event.target.value as NonNullable<RulesState["black"]> }
                  : rest,
              });
            }}
          >
            <option value="">as for all</option>
            {BLACK.map(([policy, words]) => (
              <option key={policy} value={policy}>
                {words}
              </option>
            ))}
          </select>
        </label>
      )}
      <p className="measure">To prefer a colour or leave one in the box, touch it on the tray.</p>
      <div className="actions">
        <button type="button" className="act" onClick={onClose}>
          Back to the recipe
        </button>
      </div>
    </section>
  );
}
