import type { Schemas } from "../../api/client";

const MOST_POINTS = 1500;
const LEAST_CROP = 16;

/** A place on the picture. */
export interface Spot {
  x: number;
  y: number;
}

/** A path with no more points than it needs. */
export const thinned = (path: Spot[]): Spot[] =>
  path.filter((_, index) => index % Math.ceil(path.length / MOST_POINTS) === 0 || index === path.length - 1);

/** The crop between two corners that were dragged on a picture turned by `angle`; null where it is too small. */
export function cropOf(from: Spot, to: Spot, angle: number): Schemas["FrameState"] | null {
  const turn = (-angle * Math.PI) / 180;
  const dx = to.x - from.x;
  const dy = to.y - from.y;
  const width = Math.abs(dx * Math.cos(turn) - dy * Math.sin(turn));
  const height = Math.abs(dx * Math.sin(turn) + dy * Math.cos(turn));
  if (width < LEAST_CROP || height < LEAST_CROP) return null;
  return { x: (from.x + to.x) / 2, y: (from.y + to.y) / 2, width, height, angle };
}
