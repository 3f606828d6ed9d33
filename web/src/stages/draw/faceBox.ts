interface Spot {
  x: number;
  y: number;
}

/** What is left on either side of the places, as a share of how far they reach. */
const AROUND = 0.2;
/** The least that is shown, as a share of the picture's short side; and of width to height, and height to width. */
const LEAST = 0.4;
const UPRIGHT = 0.9;

const reach = (at: number[]) => (Math.max(...at) - Math.min(...at)) * (1 + 2 * AROUND);

/** Where a stretch of this length about these begins, so that it stays within the whole. */
const begin = (at: number[], length: number, whole: number) =>
  Math.min(whole - length, Math.max(0, (Math.min(...at) + Math.max(...at) - length) / 2));

/** The part of a picture in which these places lie, with room about them: the face is larger so than with all that is around it. */
export function faceBox(places: Spot[], picture: { width: number; height: number }) {
  if (places.length === 0) return { x: 0, y: 0, ...picture };
  const across = places.map((p) => p.x);
  const down = places.map((p) => p.y);
  const least = LEAST * Math.min(picture.width, picture.height);
  const wide = Math.max(least, reach(across), UPRIGHT * reach(down));
  const width = Math.min(picture.width, wide);
  const height = Math.min(picture.height, Math.max(least, reach(down), UPRIGHT * wide));
  return { x: begin(across, width, picture.width), y: begin(down, height, picture.height), width, height };
}
