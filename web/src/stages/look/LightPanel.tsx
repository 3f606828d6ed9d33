import { useRef, useState } from "react";
import type { DevelopState, Lab, OverviewOut } from "../../api/client";
import { fromWhere } from "../../parts/LightArrow";
import { ToneField } from "../../parts/ToneField";
import { useUsual } from "../../study/queries";
import { useStudy } from "../../study/useStudy";

export type Picking = "neutral" | "skin" | null;

interface Props {
  overview: OverviewOut | undefined;
  picking: Picking;
  onPicking: (what: Picking, known: Lab | null) => void;
  before: boolean;
  onBefore: (on: boolean) => void;
}

const KINDS: Record<DevelopState["kind"] & string, string> = {
  none: "as it came",
  neutral: "by a neutral place",
  skin: "by a known skin",
  kelvin: "by the light’s kelvin",
  cast: "by its own cast",
};

/** Where the light comes from; and how the picture is balanced and exposed before it is read. */
export function LightPanel({ overview, picking, onPicking, before, onBefore }: Props) {
  const { study, change } = useStudy();
  const usual = useUsual().data;
  const d = study.state.develop!;
  const [known, setKnown] = useState<Lab | null>(null);
  const set = (some: Partial<DevelopState>) =>
    change({ do: "set_develop", develop: { ...d, matrix: null, ...some } });
  const changed = d.kind !== "none" || d.stops !== 0 || d.contrast !== 1;
  return (
    <section aria-label="Light and balance">
      <h2>Light</h2>
      <Dial read={overview?.lights[0]?.direction ?? null} />
      {overview?.lights.map((l, index) => (
        <p key={index} className="measure">
          {index === 0 ? "Read from the shading: a" : "and a"} {l.tint} light from {fromWhere(l.direction)},{" "}
          {l.confidence > 0.7 ? "clearly" : l.confidence > 0.35 ? "fairly sure" : "unsure"}.
        </p>
      ))}
      {overview && overview.lights.length === 0 && (
        <p className="measure">No one direction can be read. Drag the arrow to where the light comes from.</p>
      )}
      <h3>Balance</h3>
      <p className="measure">
        Now {KINDS[d.kind ?? "none"]}
        {d.kind === "kelvin" && `, ${d.kelvin} K`}.
      </p>
      {overview?.cast.clear && d.kind === "none" && (
        <p className="reach">
          This picture looks tinted ({overview.cast.words}).{" "}
          <button type="button" className="tool" onClick={() => set({ kind: "cast" })}>
            Take it back
          </button>
        </p>
      )}
      {overview?.clipped.map((words) => (
        <p key={words} className="fault">
          <span className="fault-mark" aria-hidden="true">
            !
          </span>
          {words}
        </p>
      ))}
      <div className="tools">
        <button
          type="button"
          className="tool"
          aria-pressed={picking === "neutral"}
          onClick={() => onPicking(picking === "neutral" ? null : "neutral", null)}
        >
          Touch a white or grey
        </button>
        <button
          type="button"
          className="tool"
          disabled={!changed}
          onClick={() => set({ kind: "none", stops: 0, contrast: 1 })}
        >
          As it came
        </button>
        <button
          type="button"
          className="tool"
          aria-pressed={before}
          disabled={!changed}
          onClick={() => onBefore(!before)}
        >
          Show before
        </button>
      </div>
      {picking === "neutral" && (
        <p role="status">Now touch something in the picture that was white or grey.</p>
      )}
      <label className="field">
        The light’s kelvin
        <select
          value={d.kind === "kelvin" ? String(d.kelvin) : ""}
          onChange={(event) =>
            event.target.value
              ? set({ kind: "kelvin", kelvin: Number(event.target.value) })
              : set({ kind: "none" })
          }
        >
          <option value="">as the camera took it</option>
          {usual?.lights.map((l) => (
            <option key={l.kelvin} value={l.kelvin}>
              {l.kelvin} K, {l.name}
            </option>
          ))}
        </select>
      </label>
      <Slider
        label="Exposure"
        unit="stops"
        least={-2}
        most={2}
        step={0.1}
        value={d.stops ?? 0}
        onValue={(stops) => set({ stops, matrix: d.matrix })}
      />
      <Slider
        label="Contrast"
        unit="×"
        least={0.6}
        most={1.4}
        step={0.05}
        value={d.contrast ?? 1}
        onValue={(contrast) => set({ contrast, matrix: d.matrix })}
      />
      <details>
        <summary>By a skin I know</summary>
        <ToneField onTone={setKnown} label="Its tone in daylight" />
        <button
          type="button"
          className="tool"
          disabled={!known}
          aria-pressed={picking === "skin"}
          onClick={() => onPicking(picking === "skin" ? null : "skin", known)}
        >
          Touch it in the picture
        </button>
      </details>
    </section>
  );
}

/** A slider that writes when it is let go. */
export function Slider(props: {
  label: string;
  unit: string;
  least: number;
  most: number;
  step: number;
  value: number;
  onValue: (value: number) => void;
}) {
  const { label, unit, least, most, step, value, onValue } = props;
  const [held, setHeld] = useState<number | null>(null);
  const shown = held ?? value;
  const done = () => {
    if (held !== null && held !== value) onValue(held);
    setHeld(null);
  };
  return (
    <label className="slider">
      <span>{label}</span>
      <input
        type="range"
        min={least}
        max={most}
        step={step}
        value={shown}
        onChange={(event) => setHeld(Number(event.target.value))}
        onPointerUp={done}
        onKeyUp={done}
        onBlur={done}
      />
      <output>
        {shown > 0 && unit === "stops" ? "+" : ""}
        {+shown.toFixed(2)} {unit}
      </output>
    </label>
  );
}

const DIAL = 60;

/** The arrow on its dial: dragged, or turned by arrow keys; where nothing was set it stands where the shading says. */
function Dial({ read }: { read: number | null }) {
  const { study, change } = useStudy();
  const set = study.state.light ?? null;
  const [held, setHeld] = useState<number | null>(null);
  const ring = useRef<SVGSVGElement>(null);
  const shown = held ?? set ?? read;
  const at = (event: React.PointerEvent) => {
    const box = ring.current!.getBoundingClientRect();
    const x = event.clientX - box.left - box.width / 2;
    const y = event.clientY - box.top - box.height / 2;
    return (Math.round((Math.atan2(-y, x) * 180) / Math.PI) + 360) % 360;
  };
  const turn = ((shown ?? 90) * Math.PI) / 180;
  const x = Math.cos(turn);
  const y = -Math.sin(turn);
  return (
    <div className="dial">
      <svg
        ref={ring}
        width={2 * DIAL + 12}
        height={2 * DIAL + 12}
        viewBox={`${-DIAL - 6} ${-DIAL - 6} ${2 * DIAL + 12} ${2 * DIAL + 12}`}
        role="slider"
        tabIndex={0}
        aria-label="Where the light comes from"
        aria-valuemin={0}
        aria-valuemax={359}
        aria-valuenow={Math.round(shown ?? 90)}
        aria-valuetext={shown === null ? "not known" : `from ${fromWhere(shown)}`}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          setHeld(at(event));
        }}
        onPointerMove={(event) => held !== null && setHeld(at(event))}
        onPointerUp={() => {
          if (held !== null) change({ do: "set_light", direction: held });
          setHeld(null);
        }}
        onKeyDown={(event) => {
          const by =
            event.key === "ArrowLeft" || event.key === "ArrowUp"
              ? 5
              : event.key === "ArrowRight" || event.key === "ArrowDown"
                ? -5
                : 0;
          if (!by) return;
          event.preventDefault();
          change({ do: "set_light", direction: (Math.round(shown ?? 90) + by + 360) % 360 });
        }}
      >
        <circle r={DIAL} className="dial-ring" />
        <ellipse rx={20} ry={26} className="dial-head" />
        {read !== null && (
          <circle
            cx={Math.cos((read * Math.PI) / 180) * DIAL}
            cy={-Math.sin((read * Math.PI) / 180) * DIAL}
            r={4}
            className="dial-read"
          />
        )}
        {shown !== null && (
          <g className="dial-arrow">
            <line x1={x * DIAL} y1={y * DIAL} x2={x * 31} y2={y * 31} />
            <polygon
              points={`${x * 24},${y * 24} ${x * 36 + y * 8},${y * 36 - x * 8} ${x * 36 - y * 8},${y * 36 + x * 8}`}
            />
          </g>
        )}
      </svg>
      <div>
        <p className="tone-words">{shown === null ? "not known yet" : `from ${fromWhere(shown)}`}</p>
        <p className="measure">
          {held !== null || set !== null ? "set by hand" : read !== null ? "as it is read" : ""}
        </p>
        {set !== null && (
          <button type="button" className="tool" onClick={() => change({ do: "set_light", direction: null })}>
            As it is read
          </button>
        )}
      </div>
    </div>
  );
}
