import { useEffect, useRef } from "react";
import type { GrainOut, Tone } from "../api/client";
import { fillGrain } from "./grain";

interface Props {
  /** Grain after each layer. */
  grain: GrainOut[][];
  target: Tone;
  paper: string;
  labels: string[];
  names: string[];
  height?: number;
  /** Layers laid so far, for Draw; all by default. */
  upTo?: number;
}

/**
 * The stepped strip: each layer starts a step further right over all before it, so that the right end is
 * the result, with the target beside it.
 */
export function Strip({ grain, target, paper, labels, names, height = 120, upTo }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const frame = useRef<HTMLDivElement>(null);
  const steps = upTo ?? grain.length;
  useEffect(() => {
    const draw = () => {
      const element = canvas.current;
      const width = Math.floor(frame.current?.clientWidth ?? 0);
      if (!element || width < 10) return;
      element.width = width;
      element.height = height;
      const paint = element.getContext("2d")!;
      paint.fillStyle = paper;
      paint.fillRect(0, 0, width, height);
      const ends = grain.length + 1.6;
      const edge = (index: number) => Math.round((width * index) / ends);
      for (let index = 0; index < grain.length; index++) {
        const shown = Math.min(index, steps - 1);
        if (shown >= 0)
          fillGrain(
            paint,
            edge(index + 0.3),
            0,
            edge(index + 1.3) - edge(index + 0.3),
            height,
            grain[shown]!,
          );
      }
      paint.fillStyle = target.hex;
      paint.fillRect(edge(grain.length + 0.3), 0, width, height);
    };
    draw();
    const watch = new ResizeObserver(draw);
    if (frame.current) watch.observe(frame.current);
    return () => watch.disconnect();
  }, [grain, target, paper, height, steps]);
  const share = 100 / (grain.length + 1.6);
  return (
    <div className="strip" ref={frame}>
      <canvas ref={canvas} style={{ height }} aria-hidden="true" />
      <ol className="strip-labels">
        {labels.map((label, index) => (
          <li
            key={index}
            style={{ width: `${share}%`, marginLeft: index ? 0 : `${0.3 * share}%` }}
            className={index < steps ? "" : "to-come"}
          >
            <b>{names[index]}</b> {label}
          </li>
        ))}
        <li style={{ width: `${1.3 * share}%` }}>
          <b>Target</b> value {target.value.toFixed(1)}
        </li>
      </ol>
    </div>
  );
}
