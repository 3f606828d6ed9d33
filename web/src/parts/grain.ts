/** Which tooth quantile lies where, as a tile of smooth noise cut into equal shares. Drawing only. */
const SIZE = 192;
let tile: Float32Array | null = null;

function noise(): Float32Array {
  if (tile) return tile;
  let seed = 20261124;
  const random = () => {
    seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
    return seed / 4294967296;
  };
  const raw = Float32Array.from({ length: SIZE * SIZE }, random);
  const soft = new Float32Array(SIZE * SIZE);
  for (let y = 0; y < SIZE; y++)
    for (let x = 0; x < SIZE; x++) {
      let sum = 0;
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++)
          sum += raw[((y + dy + SIZE) % SIZE) * SIZE + ((x + dx + SIZE) % SIZE)]! * (dx || dy ? 1 : 2);
      soft[y * SIZE + x] = sum;
    }
  const order = Array.from(soft.keys()).sort((a, b) => soft[a]! - soft[b]!);
  tile = new Float32Array(SIZE * SIZE);
  order.forEach((at, rank) => (tile![at] = rank / order.length));
  return tile;
}

/** Of `many` equal quantiles the one at each pixel of a picture so wide and high. */
export function quantiles(width: number, height: number, many: number): Uint8Array {
  const where = noise();
  const out = new Uint8Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      out[y * width + x] = Math.min(many - 1, Math.floor(many * where[(y % SIZE) * SIZE + (x % SIZE)]!));
  return out;
}

export interface Patch {
  share: number;
  hex: string;
}

/** Fill a rectangle of a canvas with patches by their shares, in grain. */
export function fillGrain(
  paint: CanvasRenderingContext2D,
  x: number,
  y: number,
  w: number,
  h: number,
  patches: Patch[],
): void {
  if (w < 1 || h < 1 || patches.length === 0) return;
  const where = noise();
  const bounds: number[] = [];
  patches.reduce((sum, p) => {
    bounds.push(sum + p.share);
    return sum + p.share;
  }, 0);
  const rgb = patches.map((p) => [1, 3, 5].map((i) => parseInt(p.hex.slice(i, i + 2), 16)));
  const image = paint.createImageData(Math.floor(w), Math.floor(h));
  for (let row = 0; row < image.height; row++)
    for (let column = 0; column < image.width; column++) {
      const at = where[((row + y) % SIZE) * SIZE + ((column + x) % SIZE)]!;
      let k = bounds.findIndex((b) => at < b);
      if (k < 0) k = rgb.length - 1;
      const to = (row * image.width + column) * 4;
      const [r, g, b] = rgb[k]!;
      image.data[to] = r!;
      image.data[to + 1] = g!;
      image.data[to + 2] = b!;
      image.data[to + 3] = 255;
    }
  paint.putImageData(image, x, y);
}
