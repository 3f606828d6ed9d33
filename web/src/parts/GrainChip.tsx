import { useEffect, useRef } from "react";
import type { GrainOut } from "../api/client";
import { fillGrain } from "./grain";

/** A swatch with the grain that the paper's tooth leaves. */
export function GrainChip({ grain, width, height }: { grain: GrainOut[]; width: number; height: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const paint = canvas.current?.getContext("2d");
    if (paint) fillGrain(paint, 0, 0, width, height, grain);
  }, [grain, width, height]);
  return <canvas ref={canvas} width={width} height={height} aria-hidden="true" />;
}
