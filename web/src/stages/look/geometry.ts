/** Where things of the picture stand in the frame that is shown: cropped, straightened, mirrored or upside down. */
export type Flip = "none" | "mirrored" | "upside down";

export interface Geometry {
  /** Frame pixels to picture pixels, by rows: [a, c, e; b, d, f]. */
  matrix: number[];
  width: number;
  height: number;
  flip: Flip;
}

interface Point {
  x: number;
  y: number;
}

const flipped = (g: Geometry, p: Point): Point =>
  g.flip === "none" ? p : { x: g.width - p.x, y: g.flip === "upside down" ? g.height - p.y : p.y };

/** A pixel of the picture, in the frame as it is shown. */
export function toFrame(g: Geometry, p: Point): Point {
  const [a, c, e, b, d, f] = g.matrix as [number, number, number, number, number, number];
  const size = a * d - b * c;
  const x = p.x - e;
  const y = p.y - f;
  return flipped(g, { x: (d * x - c * y) / size, y: (a * y - b * x) / size });
}

/** A place in the frame as it is shown, in pixels of the picture. */
export function toPicture(g: Geometry, p: Point): Point {
  const [a, c, e, b, d, f] = g.matrix as [number, number, number, number, number, number];
  const q = flipped(g, p);
  return { x: a * q.x + c * q.y + e, y: b * q.x + d * q.y + f };
}

/** The SVG transform that lays something in frame pixels as it is shown. */
export const flipTransform = (g: Geometry) =>
  g.flip === "none"
    ? undefined
    : g.flip === "mirrored"
      ? `translate(${g.width} 0) scale(-1 1)`
      : `translate(${g.width} ${g.height}) scale(-1 -1)`;

/** The SVG transform that lays something in picture pixels into the frame, before it is flipped. */
export function pictureTransform(g: Geometry): string {
  const [a, c, e, b, d, f] = g.matrix as [number, number, number, number, number, number];
  const size = a * d - b * c;
  const [ia, ic, ib, id] = [d / size, -c / size, -b / size, a / size];
  return `matrix(${ia} ${ib} ${ic} ${id} ${-(ia * e + ic * f)} ${-(ib * e + id * f)})`;
}
