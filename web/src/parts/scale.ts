/** The one scale of the value rail: value 10 at the top, 0 at the foot. */
export const TOP = 18;
export const FOOT = 14;

export const railY = (value: number, height: number) => TOP + ((10 - value) / 10) * (height - TOP - FOOT);
export const railValue = (y: number, height: number) =>
  Math.min(10, Math.max(0, 10 - ((y - TOP) / (height - TOP - FOOT)) * 10));

/** Spread positions so that neighbours lie at least `gap` apart, within 0-`height`, moving each as little as can be. */
export function spread(wanted: number[], gap: number, height: number): number[] {
  const order = wanted.map((_, index) => index).sort((a, b) => wanted[a]! - wanted[b]!);
  const room = Math.min(gap, (height - 8) / Math.max(1, wanted.length));
  const out = wanted.map((y) => Math.min(height - room / 2, Math.max(room / 2, y)));
  for (let turn = 0; turn < 60; turn++)
    for (let i = 1; i < order.length; i++) {
      const above = order[i - 1]!;
      const below = order[i]!;
      const short = room - (out[below]! - out[above]!);
      if (short > 0.1) {
        out[above] = Math.max(room / 2, out[above]! - short / 2);
        out[below] = Math.min(height - room / 2, out[below]! + short / 2);
      }
    }
  return out;
}
