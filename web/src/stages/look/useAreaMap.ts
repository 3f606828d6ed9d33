import { useEffect, useMemo, useState } from "react";

export interface AreaMap {
  width: number;
  height: number;
  labels: Uint8Array;
}

/** A map of areas, decoded: one label for each of its pixels. */
export function useAreaMap(id: string | null): AreaMap | null {
  const [found, setFound] = useState<{ id: string; map: AreaMap } | null>(null);
  useEffect(() => {
    if (!id) return;
    let gone = false;
    const image = new Image();
    image.onload = () => {
      if (gone) return;
      const canvas = document.createElement("canvas");
      canvas.width = image.naturalWidth;
      canvas.height = image.naturalHeight;
      const paint = canvas.getContext("2d", { willReadFrequently: true })!;
      paint.drawImage(image, 0, 0);
      const pixels = paint.getImageData(0, 0, canvas.width, canvas.height).data;
      const labels = new Uint8Array(canvas.width * canvas.height);
      for (let i = 0; i < labels.length; i++) labels[i] = pixels[4 * i]!;
      setFound({ id, map: { width: canvas.width, height: canvas.height, labels } });
    };
    image.src = `/api/maps/${id}.png`;
    return () => {
      gone = true;
    };
  }, [id]);
  return found && found.id === id ? found.map : null;
}

/** The label at a pixel of the picture; 0 where there is none. */
export function labelAt(map: AreaMap, x: number, y: number, pictureWidth: number): number {
  const scale = map.width / pictureWidth;
  const column = Math.floor(x * scale);
  const row = Math.floor(y * scale);
  if (column < 0 || row < 0 || column >= map.width || row >= map.height) return 0;
  return map.labels[row * map.width + column]!;
}

/** The outlines of all areas as a picture to lay over; the selected one is framed heavily and hatched. */
export function useOutlines(map: AreaMap | null, selected: number | null): string | null {
  return useMemo(() => {
    if (!map) return null;
    const { width, height, labels } = map;
    const times = 2;
    const canvas = document.createElement("canvas");
    canvas.width = width * times;
    canvas.height = height * times;
    const paint = canvas.getContext("2d")!;
    const image = paint.createImageData(canvas.width, canvas.height);
    const put = (x: number, y: number, grey: number, alpha: number) => {
      const at = 4 * (y * canvas.width + x);
      image.data[at] = image.data[at + 1] = image.data[at + 2] = grey;
      image.data[at + 3] = alpha;
    };
    const at = (x: number, y: number) =>
      labels[Math.min(height - 1, y >> 1) * width + Math.min(width - 1, x >> 1)]!;
    // A dark line on one side of every border and a light one on the other, so that it shows on any tone.
    for (let y = 0; y < canvas.height; y++)
      for (let x = 0; x < canvas.width; x++) {
        const here = at(x, y);
        const after = [
          at(Math.min(x + times, canvas.width - 1), y),
          at(x, Math.min(y + times, canvas.height - 1)),
        ];
        const ahead = [at(Math.max(x - times, 0), y), at(x, Math.max(y - times, 0))];
        const chosen = selected !== null && here === selected;
        if (chosen && [...after, ...ahead].some((l) => l !== selected)) put(x, y, 255, 255);
        else if (after.some((l) => l !== here)) put(x, y, 20, 190);
        else if (ahead.some((l) => l !== here)) put(x, y, 255, 215);
        else if (chosen && (x + y) % 12 < 4) put(x, y, (x + y) % 12 < 2 ? 255 : 20, 110);
      }
    paint.putImageData(image, 0, 0);
    return canvas.toDataURL("image/png");
  }, [map, selected]);
}
