import { queryOptions, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { client, got, type Lab, type Schemas } from "../api/client";
import { useTone } from "./useTone";

type Eye = Schemas["ByEye"];

/** Where the sliders lie before anything was said: an ordinary skin's base. */
const BEGIN: Eye = { value: 6.5, strength: 22, hue: 55 };
const SLIDERS = [
  { key: "value", name: "Value", goes: "dark to light", most: 10, step: 0.1 },
  { key: "strength", name: "Strength", goes: "grey to vivid", most: 100, step: 1 },
  { key: "hue", name: "Hue", goes: "from red round to red", most: 360, step: 2 },
] as const;

const seenByEye = (eye: Eye) =>
  queryOptions({
    queryKey: ["tone", eye],
    queryFn: () => got(client.POST("/api/tone", { body: { eye } })),
    staleTime: Infinity,
  });

/** A tone found with the eye: a patch to hold the sheet or the stick beside, and what can be turned of it. `start` is what was
 * typed before. */
export function ToneByEye({ start, onTone }: { start: Lab | null; onTone: (lab: Lab) => void }) {
  const cache = useQueryClient();
  const [turned, setTurned] = useState<Eye | null>(null);
  const typed = useTone(start);
  const eye = turned ?? typed?.eye ?? BEGIN;
  const shown = useQuery({ ...seenByEye(eye), placeholderData: (before) => before }).data;
  const newest = useRef<Eye | null>(null);
  const turn = (now: Eye) => {
    newest.current = now;
    setTurned(now);
    void cache.fetchQuery(seenByEye(now)).then((tone) => newest.current === now && onTone(tone.lab));
  };
  return (
    <div className="by-eye">
      <div className="panel">
        <span style={{ background: shown?.hex }} />
        <p>
          {shown?.words}
          {shown && !shown.in_srgb && <small>stronger than the screen can show</small>}
        </p>
      </div>
      {SLIDERS.map(({ key, name, goes, most, step }) => (
        <label key={key} className="slider">
          <span>
            {name} <small>{goes}</small>
          </span>
          <input
            type="range"
            min={0}
            max={most}
            step={step}
            value={eye[key]}
            aria-valuetext={key === "hue" ? shown?.hue_word : undefined}
            onChange={(event) => turn({ ...eye, [key]: Number(event.target.value) })}
          />
          <output>{key === "hue" ? shown?.hue_word : +eye[key].toFixed(1)}</output>
        </label>
      ))}
      <p className="measure">
        Hold the sheet or the swatch beside the patch, in the light you draw by: the value first, then hue and
        strength. The screen’s own white can be matched to your sheet under “?”.
      </p>
    </div>
  );
}
