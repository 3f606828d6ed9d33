/** The one scale of the value rail: value 10 at the top, 0 at the foot. */
export const TOP = 18;
export const FOOT = 14;

export const railY = (value: number, height: number) => TOP + ((10 - value) / 10) * (height - TOP - FOOT);
export const railValue = (y: number, height: number) =>
  Math.min(10, Math.max(0, 10 - ((y - TOP) / (height - TOP - FOOT)) * 10));

/**
 * Spread positions so that neighbours lie at least `gap` apart, within 0-`height`, each moved as little as can be in squares: an
 * isotonic regression by pooling adjacent violators. They come in the order of `like`, from the top down.
 */
export function spread(wanted: number[], gap: number, height: number, like = wanted): number[] {
  const order = wanted.map((_, index) => index).sort((a, b) => like[a]! - like[b]!);
  const room = Math.min(gap, (height - 8) / Math.max(1, wanted.length));
  const pools: { sum: number; count: number }[] = [];
  order.forEach((index, place) => {
    let pool = { sum: wanted[index]! - place * room, count: 1 };
    for (
      let last = pools.at(-1);
      last && last.sum / last.count > pool.sum / pool.count;
      last = pools.at(-1)
    ) {
      pool = { sum: pool.sum + last.sum, count: pool.count + last.count };
      pools.pop();
    }
    pools.push(pool);
  });
  const most = height - room / 2 - (order.length - 1) * room;
  const starts = pools.flatMap((p) =>
    Array.from({ length: p.count }, () => Math.min(most, Math.max(room / 2, p.sum / p.count))),
  );
  const out = wanted.slice();
  order.forEach((index, place) => (out[index] = starts[place]! + place * room));
  return out;
}
