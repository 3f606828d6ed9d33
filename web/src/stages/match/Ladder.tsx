import { useEffect, useRef } from "react";
import type { MatchOut, PlaceOut, Tone } from "../../api/client";
import { railY, spread } from "../../parts/scale";
import { useSettings } from "../../parts/settings";
import { useSize } from "../../parts/useSize";

interface Props {
  places: PlaceOut[];
  matches: Map<string, MatchOut>;
  selected: string | null;
  onSelect: (id: string) => void;
  reach: { dark: number; light: number };
  /** The recipes' tones in another light, by place. */
  lit: Map<string, Tone> | null;
}

const RAIL = 40;
const CHIP = 46;
const THIN = 30;
/** Pixels that a role needs at least, and below which its name takes one line; and the height of a line. */
const ROW = 25;
const TWO_LINES = 30;
const LINE = 13.8;
const LEADING = 1.8;
/** Chroma along the warm axis that moves a point sideways by one pixel. */
const DRIFT = 0.45;
const warm = (lab: { a: number; b: number }) => lab.a * 0.5 + lab.b * 0.866;

/**
 * The ladder: every role's target on the left and its recipe's prediction on the right, each at its own value,
 * joined by a line. Level means right; a slope is an error seen before it is read. Sideways is cooler or warmer
 * than the base. The bracket is how far this hand may be from the prediction.
 */
export function Ladder({ places, matches, selected, onSelect, reach, lit }: Props) {
  const [hold, { width, height }] = useSize<HTMLDivElement>();
  const { countDown } = useSettings();
  const base = places.find((p) => p.role === "base") ?? places[0];
  const left = RAIL + 146;
  const right = width - 98;
  const centre = (left + right) / 2;
  const gap = Math.max(ROW, Math.min(44, (height - 20) / Math.max(places.length, 1)));
  const slim = gap < 36;
  // Of the last line the leading may be missing.
  const lines = Math.floor((gap + LEADING) / LINE);
  const targets = places.map((p) => railY(p.target.value, height));
  const ys = spread(targets, gap, height);
  // In the order of the targets: where two lie close, what is asked and what is predicted stay side by side.
  const yr = spread(
    places.map((p) => railY(matches.get(p.id)?.chosen?.tone.value ?? p.target.value, height)),
    gap,
    height,
    targets,
  );
  const at = ys[places.findIndex((p) => p.id === selected)] ?? 0;
  const frame = useRef<HTMLElement>(null);
  useEffect(() => {
    const box = frame.current;
    if (box && (at < box.scrollTop + gap || at > box.scrollTop + box.clientHeight - gap))
      box.scrollTop = at - box.clientHeight / 2;
  }, [at, gap]);
  const drift = (lab: { a: number; b: number }) =>
    base ? Math.max(-46, Math.min(46, (warm(lab) - warm(base.target.lab)) * DRIFT)) : 0;
  const chip = slim ? THIN : CHIP;
  const shown = (id: string, tone: Tone) => lit?.get(id)?.hex ?? tone.hex;
  return (
    <section ref={frame} className="ladder" aria-label="Ladder of all roles">
      <div
        ref={hold}
        className={gap < TWO_LINES ? "ladder-hold is-tight" : "ladder-hold"}
        style={{ minHeight: ROW * places.length + 20 }}
      >
        {height > 0 && (
          <>
            <svg width={width} height={height} aria-hidden="true">
              <line x1={RAIL} x2={RAIL} y1={railY(10, height)} y2={railY(0, height)} className="rail-line" />
              {Array.from({ length: 10 }, (_, i) => i + 1).map((value) => (
                <g key={value} transform={`translate(0 ${railY(value, height)})`}>
                  <line x1={RAIL - 5} x2={RAIL + 5} className="rail-line" />
                  <text x={RAIL - 12} dy="0.34em" textAnchor="end" className="rail-number">
                    {countDown ? 11 - value : value}
                  </text>
                </g>
              ))}
              <path
                d={`M ${RAIL + 8} ${railY(reach.light, height)} h 7 V ${railY(reach.dark, height)} h -7`}
                className="rail-reach"
              />
              <line
                x1={centre}
                x2={centre}
                y1={railY(10, height)}
                y2={railY(0, height)}
                className="ladder-centre"
              />
              <text x={centre - 8} y={height - 3} textAnchor="end" className="rail-number">
                cooler
              </text>
              <text x={centre + 8} y={height - 3} className="rail-number">
                warmer
              </text>
              {places.map((p, index) => {
                const found = matches.get(p.id)?.chosen;
                const y0 = railY(p.target.value, height);
                const y1 = found ? railY(found.tone.value, height) : y0;
                const x0 = centre - 44 + drift(p.target.lab);
                const x1 = centre + 44 + drift(found?.tone.lab ?? p.target.lab);
                const on = p.id === selected;
                return (
                  <g key={p.id} className={on ? "rung is-selected" : "rung"}>
                    <path d={`M ${left} ${ys[index]} L ${left + 14} ${y0} H ${x0}`} className="rung-lead" />
                    {found && (
                      <>
                        <line x1={x0} y1={y0} x2={x1} y2={y1} className="rung-line" />
                        <path
                          d={`M ${x1} ${y1} H ${right - 14} L ${right} ${yr[index]}`}
                          className="rung-lead"
                        />
                        <path
                          d={`M ${x1 + 8} ${railY(found.value_high, height)} h 5 V ${railY(found.value_low, height)} h -5`}
                          className="rung-unsure"
                        />
                        <rect
                          x={x1 - 5}
                          y={y1 - 5}
                          width={10}
                          height={10}
                          style={{ fill: shown(p.id, found.tone) }}
                        />
                      </>
                    )}
                    <rect x={x0 - 5} y={y0 - 5} width={10} height={10} style={{ fill: p.target.hex }} />
                  </g>
                );
              })}
            </svg>
            <ul>
              {places.map((p, index) => {
                const match = matches.get(p.id);
                const found = match?.chosen;
                const words = found ? found.difference.words : "still looking";
                return (
                  <li key={p.id}>
                    <button
                      type="button"
                      className="rung-button"
                      aria-pressed={p.id === selected}
                      style={{ top: ys[index]! - gap / 2, left: RAIL + 22, width: 124, height: gap }}
                      onClick={() => onSelect(p.id)}
                    >
                      <span className="rung-name" style={{ WebkitLineClamp: lines }}>
                        {p.number} {p.called}
                      </span>
                      <span
                        className="rung-chip"
                        style={{ background: p.target.hex, width: chip * 0.7, height: gap - 6 }}
                      />
                      <span className="visually-hidden">
                        target value {p.target.value.toFixed(1)}; {words}
                      </span>
                    </button>
                    {found && (
                      <span
                        className="rung-result"
                        style={{ top: yr[index]! - gap / 2, left: right, height: gap }}
                        aria-hidden="true"
                      >
                        <span
                          className="rung-chip"
                          style={{ background: shown(p.id, found.tone), width: chip * 0.7, height: gap - 6 }}
                        />
                        <small>
                          {match && !match.reach.ok && !match.pinned ? (
                            <b>! out of reach</b>
                          ) : found.difference.de00 < 1 ? (
                            "level"
                          ) : (
                            `ΔE ${found.difference.de00.toFixed(1)}`
                          )}
                        </small>
                      </span>
                    )}
                  </li>
                );
              })}
            </ul>
          </>
        )}
      </div>
    </section>
  );
}
