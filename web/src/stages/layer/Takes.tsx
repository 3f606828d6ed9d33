import type { TakesOut } from "../../api/client";
import { Chip } from "../../parts/Swatch";

/** Colour by the area it covers: square centimetres, in two figures. */
export const amount = (cm2: number) =>
  `${cm2 < 10 ? cm2.toFixed(1) : Number(cm2.toPrecision(2)).toFixed(0)}\u00a0cm²`;

const ofNew = (share: number) =>
  share < 0.01 ? "less than a hundredth of a new one" : `${Math.round(100 * share)} % of a new one`;

/** What is still to be laid of every colour, and which may run dry before the end. */
export function Takes({ takes }: { takes: TakesOut[] }) {
  if (takes.length === 0) return null;
  const short = takes.filter((t) => t.words);
  return (
    <details className="takes" open={short.length > 0}>
      <summary>Colour still to be laid</summary>
      <p className="measure">
        Reckoned as one even medium pass. How long a new one lasts is common practice until two of its kind
        have run dry in your log.
      </p>
      <ul>
        {takes.map((t) => (
          <li key={t.colour}>
            <Chip hex={t.solid.hex} size={22} />
            <span>
              <b>{t.name}</b>
              <small>{t.words || ofNew(t.share)}</small>
            </span>
            <small>{amount(t.cm2)}</small>
          </li>
        ))}
      </ul>
    </details>
  );
}
