import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { LayShape } from "../../api/client";

const PRESSURES = ["burnish", "firm", "medium", "light"] as const;
const PASSES = [1, 2, 3, 4, 5, 6];

export interface Press {
  pressure: LayShape["pressure"] | null;
  passes: number;
}

interface Props {
  press: Press;
  onTry: (press: Press) => void;
  onSet: (press: Press) => void;
  onLeave: () => void;
}

/**
 * How hard and how often, on one pad: upwards harder, to the right more passes; one row of coats for markers. What a finger
 * slides over is tried at once, and kept when it lets go. Arrow keys do the same.
 */
export function PressPad({ press, onTry, onSet, onLeave }: Props) {
  const pad = useRef<HTMLDivElement>(null);
  const [over, setOver] = useState<Press | null>(null);
  const held = useRef<Press | null>(null);
  const rows: Press["pressure"][] = press.pressure === null ? [null] : [...PRESSURES];
  const at = (event: PointerEvent): Press => {
    const box = pad.current!.getBoundingClientRect();
    const column = Math.floor((6 * (event.clientX - box.left)) / box.width);
    const row = Math.floor((rows.length * (event.clientY - box.top)) / box.height);
    return {
      passes: Math.min(6, Math.max(1, column + 1)),
      pressure: rows[Math.min(rows.length - 1, Math.max(0, row))]!,
    };
  };
  const move = (next: Press) => {
    if (held.current?.passes === next.passes && held.current.pressure === next.pressure) return;
    held.current = next;
    setOver(next);
    onTry(next);
  };
  const drop = () => {
    const kept = held.current;
    held.current = null;
    setOver(null);
    if (!kept) return;
    if (kept.passes === press.passes && kept.pressure === press.pressure) onLeave();
    else onSet(kept);
  };
  const shown = over ?? press;
  const step = (event: KeyboardEvent) => {
    const row = rows.indexOf(press.pressure);
    const by = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] }[event.key];
    const next = by && { pressure: rows[row + by[0]!], passes: press.passes + by[1]! };
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    if (next && next.pressure !== undefined && next.passes >= 1 && next.passes <= 6)
      onSet({ pressure: next.pressure, passes: next.passes });
  };
  const said = (p: Press) =>
    p.pressure === null
      ? `${p.passes} ${p.passes > 1 ? "coats" : "coat"}`
      : `${p.pressure}, ${p.passes} ${p.passes > 1 ? "passes" : "pass"}`;
  return (
    <div className="press">
      <div className="press-names" aria-hidden="true">
        {rows.map((r) => (
          <span key={r ?? "coats"}>{r ?? "coats"}</span>
        ))}
      </div>
      <div
        ref={pad}
        className="press-pad"
        role="slider"
        tabIndex={0}
        aria-label={press.pressure === null ? "Coats" : "Pressure and passes"}
        aria-valuemin={1}
        aria-valuemax={6}
        aria-valuenow={shown.passes}
        aria-valuetext={said(shown)}
        onKeyDown={step}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          move(at(event));
        }}
        onPointerMove={(event) => held.current && move(at(event))}
        onPointerUp={drop}
        onPointerCancel={() => {
          held.current = null;
          setOver(null);
          onLeave();
        }}
        style={{ gridTemplateRows: `repeat(${rows.length}, 1fr)` }}
      >
        {rows.flatMap((r) =>
          PASSES.map((n) => (
            <span
              key={`${r} ${n}`}
              className={r === shown.pressure && n <= shown.passes ? "is-on" : ""}
              data-press={`${r ?? "coat"} ${n}`}
            >
              {r === shown.pressure && n === shown.passes ? n : ""}
            </span>
          )),
        )}
      </div>
    </div>
  );
}
