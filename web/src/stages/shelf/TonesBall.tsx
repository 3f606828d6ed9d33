import type { Tone } from "../../api/client";

/** How large the ball is on the ground of a picture. */
const [WIDE, HIGH, ROUND] = [92, 115, 38];

/** What stands for the picture of a study without one: its tones on a ball, the lightest towards the light. */
export function TonesBall({ tones }: { tones: Tone[] }) {
  const rings = [...tones].sort((one, other) => one.value - other.value);
  return (
    <svg className="study-blank" viewBox={`0 0 ${WIDE} ${HIGH}`} aria-hidden="true">
      {rings.map((tone, index) => {
        const r = ROUND * (1 - index / rings.length) ** 0.85;
        const aside = 0.55 * (ROUND - r);
        return <circle key={index} cx={WIDE / 2 - 0.8 * aside} cy={HIGH / 2 - aside} r={r} fill={tone.hex} />;
      })}
    </svg>
  );
}
