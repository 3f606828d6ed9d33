import type { Schemas } from "../../api/client";
import { useStudy } from "../../study/useStudy";

type UnderDrawing = Schemas["SetUnderDrawing"]["under_drawing"];
const DRAWINGS: [UnderDrawing, string][] = [
  ["none", "none"],
  ["graphite", "graphite, lifted to a ghost"],
  ["pale_pencil", "a pale pencil"],
  ["fine_line", "a line that does not bleed"],
  ["charcoal", "charcoal, wiped back"],
  ["pastel_pencil", "a pastel pencil"],
];
const BAND: [number, string][] = [
  [0, "grainy"],
  [0.5, "as it falls"],
  [1, "smooth"],
];

/** The drawing beneath the colours, and the finish wanted on each place, from grainy to smooth. */
export function Finishes() {
  const { study, change } = useStudy();
  const finish = study.state.finish ?? {};
  return (
    <>
      <label className="field">
        Under-drawing
        <select
          value={study.state.under_drawing}
          onChange={(event) =>
            change({ do: "set_under_drawing", under_drawing: event.target.value as UnderDrawing })
          }
        >
          {DRAWINGS.map(([value, name]) => (
            <option key={value} value={value}>
              {name}
            </option>
          ))}
        </select>
      </label>
      <details className="finishes">
        <summary>Finish, place by place</summary>
        <p className="measure">
          Smooth ends with a blender on wax, a stump on chalk; grainy asks that nothing closes the grain.
        </p>
        <ul>
          {study.places.map((p) => (
            <li key={p.id}>
              <span id={`finish-${p.id}`}>
                {p.number} {p.called}
              </span>
              <span role="radiogroup" aria-labelledby={`finish-${p.id}`} className="finish-band">
                {BAND.map(([value, name]) => (
                  <label key={value}>
                    <input
                      type="radio"
                      name={`finish-${p.id}`}
                      checked={(finish[p.id] ?? 0.5) === value}
                      onChange={() =>
                        change({ do: "set_finish", place: p.id, finish: value === 0.5 ? null : value })
                      }
                    />
                    {name}
                  </label>
                ))}
              </span>
            </li>
          ))}
        </ul>
      </details>
    </>
  );
}
