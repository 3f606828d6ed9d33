import { useEffect, useRef } from "react";
import { toFrame, type Geometry } from "./geometry";
import type { Disc } from "./PictureBoard";

const SIZE = 84;

/** Loads a picture once and keeps it to be drawn from. */
const loaded = new Map<string, HTMLImageElement>();
function pictureOf(href: string, ready: (image: HTMLImageElement) => void): void {
  const there = loaded.get(href);
  if (there?.complete && there.naturalWidth) return ready(there);
  const image = there ?? new Image();
  image.addEventListener("load", () => ready(image), { once: true });
  if (!there) {
    if (loaded.size > 3) loaded.clear();
    loaded.set(href, image);
    image.src = href;
  }
}

/** One place three times: its pixels, alone on neutral, and among its surroundings. */
export function Loupe({
  href,
  geometry,
  disc,
  mean,
}: {
  href: string;
  geometry: Geometry;
  disc: Disc;
  mean: string | null;
}) {
  const near = useRef<HTMLCanvasElement>(null);
  const far = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    let gone = false;
    pictureOf(href, (image) => {
      if (gone) return;
      const plain = { ...geometry, flip: "none" as const };
      const at = toFrame(plain, disc);
      const scale = image.naturalWidth / geometry.width;
      const draw = (canvas: HTMLCanvasElement | null, across: number, ring: boolean) => {
        const paint = canvas?.getContext("2d");
        if (!canvas || !paint) return;
        const half = (across / 2) * scale;
        paint.imageSmoothingEnabled = across > 8 * disc.radius;
        paint.fillStyle = "#a3a3a3";
        paint.fillRect(0, 0, canvas.width, canvas.height);
        paint.drawImage(
          image,
          at.x * scale - half,
          at.y * scale - half,
          2 * half,
          2 * half,
          0,
          0,
          canvas.width,
          canvas.height,
        );
        if (!ring) return;
        const r = (disc.radius / across) * canvas.width;
        for (const [width, ink] of [
          [4, "#111"],
          [2, "#fff"],
        ] as const) {
          paint.lineWidth = width;
          paint.strokeStyle = ink;
          paint.beginPath();
          paint.arc(canvas.width / 2, canvas.height / 2, Math.max(r, 3), 0, 2 * Math.PI);
          paint.stroke();
        }
      };
      draw(near.current, Math.max(2.2 * disc.radius, 12), false);
      draw(far.current, Math.max(16 * disc.radius, 120), true);
    });
    return () => {
      gone = true;
    };
  }, [href, geometry, disc]);
  return (
    <ul className="loupe">
      <li>
        <canvas ref={near} width={2 * SIZE} height={2 * SIZE} />
        <small>its pixels</small>
      </li>
      <li>
        <span className="loupe-alone">
          <span style={{ background: mean ?? "transparent" }} />
        </span>
        <small>alone</small>
      </li>
      <li>
        <canvas ref={far} width={2 * SIZE} height={2 * SIZE} />
        <small>in its place</small>
      </li>
    </ul>
  );
}
