import { useEffect, useRef } from "react";
import type { Tone } from "../api/client";
import { fillGrain, type Patch } from "./grain";

/** A flat, square-cornered chip. Its name or measure always stands beside it. */
export function Chip({ hex, size = 22 }: { hex: string; size?: number }) {
  return <span className="chip" style={{ background: hex, width: size, height: size }} aria-hidden="true" />;
}

/** A swatch with the grain of the tooth; flat where no grain is known. */
export function GrainSwatch({ patches, width, height }: { patches: Patch[]; width: number; height: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const paint = canvas.current?.getContext("2d");
    if (paint) fillGrain(paint, 0, 0, width, height, patches);
  }, [patches, width, height]);
  return <canvas ref={canvas} width={width} height={height} className="grain" aria-hidden="true" />;
}

/** Value first, L* for those who look closer. */
export function ValueWord({ tone }: { tone: Tone }) {
  return (
    <span className="measure">
      value {tone.value.toFixed(1)}
      {!tone.in_srgb && <span className="mark-word"> · outside the screen’s range</span>}
    </span>
  );
}
