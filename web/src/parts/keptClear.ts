interface Spot {
  x: number;
  y: number;
}

/** Points moved as little as keeps every two of them so far apart. */
export function keptClear(points: Spot[], least: number): Spot[] {
  const out = points.map((p) => ({ ...p }));
  for (let round = 0; round < 12; round++)
    for (let i = 0; i < out.length; i++)
      for (let j = 0; j < i; j++) {
        const one = out[i]!;
        const other = out[j]!;
        const far = Math.hypot(one.x - other.x, one.y - other.y);
        if (far >= least) continue;
        const by = (least - far) / 2;
        const [x, y] = far > 0 ? [(one.x - other.x) / far, (one.y - other.y) / far] : [1, 0];
        one.x += by * x;
        one.y += by * y;
        other.x -= by * x;
        other.y -= by * y;
      }
  return out;
}
