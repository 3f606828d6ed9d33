import { useState } from "react";
import type { DevelopState, Lab, OverviewOut } from "../../api/client";
import { fromWhere } from "../../parts/LightArrow";
import { Slider } from "../../parts/Slider";
import { ToneField } from "../../parts/ToneField";
import { useUsual } from "../../study/queries";
import { useStudy } from "../../study/useStudy";
import { Dial } from "./Dial";

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
