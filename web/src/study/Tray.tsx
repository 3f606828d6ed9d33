import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { client, got, type Problem, type RulesState, type StepOut } from "../api/client";
import { Fault } from "../parts/Says";
import { usePlan } from "./queries";
import { useStudy } from "./useStudy";

interface Stick {
  id: string;
  name: string;
  hex: string;
  steps: StepOut[];
  left: number;
}

function sticksOf(steps: StepOut[]): Stick[] {
  const found = new Map<string, Stick>();
  for (const step of steps) {
    if (step.does !== "lay") continue;
    const stick = found.get(step.colour) ?? {
      id: step.colour,
      name: step.name,
      hex: step.solid.hex,
      steps: [],
      left: 0,
    };
    stick.steps.push(step);
    if (!step.done) stick.left += 1;
    found.set(step.colour, stick);
  }
  return [...found.values()];
}

/** The tray along the bottom: the colours of this study in the order they will be used. */
export function Tray() {
  const { study, change } = useStudy();
  const { data: plan, isLoading } = usePlan(study.id);
  const cache = useQueryClient();
  const [open, setOpen] = useState<string | null>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  const sticks = sticksOf(plan?.steps ?? []);
  const all = plan?.steps.length ?? 1;
  const rules = study.state.rules;
  const stick = sticks.find((s) => s.id === open);
  const banned = study.kit.colours.filter((c) => rules.avoid.includes(c.id));
  const toggle = (key: "avoid" | "prefer", id: string) => {
    const other = key === "avoid" ? "prefer" : "avoid";
    const next: RulesState = { ...rules, [other]: rules[other]!.filter((c) => c !== id) };
    next[key] = rules[key]!.includes(id) ? rules[key]!.filter((c) => c !== id) : [...rules[key]!, id];
    change({ do: "set_rules", rules: next });
  };
  const ranDry = (colour: string) =>
    got(
      client.PUT("/api/kits/{id}/states", {
        params: { path: { id: study.kit.id } },
        body: { colour, state: "dry" },
      }),
    )
      .then(() => {
        setOpen(null);
        setProblem(null);
        for (const key of [
          ["study", study.id],
          ["matches", study.id],
          ["plan", study.id],
          ["rack"],
          ["kit", study.kit.id],
        ])
          void cache.invalidateQueries({ queryKey: key });
      })
      .catch(setProblem);
  return (
    <footer className="tray" aria-label="Colours of this study">
      <Fault problem={problem} />
      {stick && (
        <div className="tray-open">
          <p>
            <b>{stick.name}</b> lies in{" "}
            {[...new Set(stick.steps.flatMap((s) => s.served.map((p) => `${p.number} ${p.called}`)))].join(
              ", ",
            )}
            .
          </p>
          <div className="tools">
            <button
              type="button"
              className="tool"
              aria-pressed={rules.prefer!.includes(stick.id)}
              onClick={() => toggle("prefer", stick.id)}
            >
              Prefer it
            </button>
            <button
              type="button"
              className="tool"
              aria-pressed={rules.avoid!.includes(stick.id)}
              onClick={() => toggle("avoid", stick.id)}
            >
              Leave it in the box
            </button>
            <button type="button" className="tool" onClick={() => void ranDry(stick.id)}>
              It has run dry
            </button>
            <button type="button" className="tool" onClick={() => setOpen(null)}>
              Close
            </button>
          </div>
        </div>
      )}
      {sticks.length === 0 ? (
        <p className="tray-empty">
          {isLoading
            ? "Laying out the colours …"
            : "The colours you will need lie here once places have recipes."}
        </p>
      ) : (
        <ul>
          {sticks.map((s) => (
            <li key={s.id}>
              <button
                type="button"
                className="stick"
                aria-expanded={open === s.id}
                onClick={() => setOpen(open === s.id ? null : s.id)}
              >
                <span className="stick-colour" style={{ background: s.hex }} aria-hidden="true" />
                <span className="stick-name">{s.name}</span>
                <small>
                  {Math.round((100 * s.steps.length) / all)} %{s.left === 0 ? " · done" : ""}
                </small>
              </button>
            </li>
          ))}
          {banned.map((c) => (
            <li key={c.id}>
              <button
                type="button"
                className="stick is-out"
                onClick={() => toggle("avoid", c.id)}
                title="Take it out of the box again"
              >
                <span className="stick-colour" style={{ background: c.shown.hex }} aria-hidden="true" />
                <span className="stick-name">{c.name}</span>
                <small>left in the box</small>
              </button>
            </li>
          ))}
        </ul>
      )}
    </footer>
  );
}
