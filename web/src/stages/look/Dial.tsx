import { useRef, useState } from "react";
import { fromWhere } from "../../parts/LightArrow";
import { useStudy } from "../../study/useStudy";

const DIAL = 60;

/** The arrow on its dial: dragged, or turned by arrow keys; where nothing was set it stands where the shading says. */
export function Dial({ read }: { read: number | null }) {
  const { study, change } = useStudy();
  const set = study.state.light ?? null;
  const [held, setHeld] = useState<number | null>(null);
  const ring = useRef<SVGSVGElement>(null);
  const shown = held ?? set ?? read;
  const at = (event: React.PointerEvent) => {
    const box = ring.current!.getBoundingClientRect();
    const x = event.clientX - box.left - box.width / 2;
    const y = event.clientY - box.top - box.height / 2;
    return (Math.round((Math.atan2(-y, x) * 180) / Math.PI) + 360) % 360;
  };
  const turn = ((shown ?? 90) * Math.PI) / 180;
  const x = Math.cos(turn);
  const y = -Math.sin(turn);
  return (
    <div className="dial">
      <svg
        ref={ring}
        width={2 * DIAL + 12}
        height={2 * DIAL + 12}
        viewBox={`${-DIAL - 6} ${-DIAL - 6} ${2 * DIAL + 12} ${2 * DIAL + 12}`}
        role="slider"
        tabIndex={0}
        aria-label="Where the light comes from"
        aria-valuemin={0}
        aria-valuemax={359}
        aria-valuenow={Math.round(shown ?? 90)}
        aria-valuetext={shown === null ? "not known" : `from ${fromWhere(shown)}`}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          setHeld(at(event));
        }}
        onPointerMove={(event) => held !== null && setHeld(at(event))}
        onPointerUp={() => {
          if (held !== null) change({ do: "set_light", direction: held });
          setHeld(null);
        }}
        onKeyDown={(event) => {
          const by =
            event.key === "ArrowLeft" || event.key === "ArrowUp"
              ? 5
              : event.key === "ArrowRight" || event.key === "ArrowDown"
                ? -5
                : 0;
          if (!by) return;
          event.preventDefault();
          change({ do: "set_light", direction: (Math.round(shown ?? 90) + by + 360) % 360 });
        }}
      >
        <circle r={DIAL} className="dial-ring" />
        <ellipse rx={20} ry={26} className="dial-head" />
        {read !== null && (
          <circle
            cx={Math.cos((read * Math.PI) / 180) * DIAL}
            cy={-Math.sin((read * Math.PI) / 180) * DIAL}
            r={4}
            className="dial-read"
          />
        )}
        {shown !== null && (
          <g className="dial-arrow">
            <line x1={x * DIAL} y1={y * DIAL} x2={x * 31} y2={y * 31} />
            <polygon
              points={`${x * 24},${y * 24} ${x * 36 + y * 8},${y * 36 - x * 8} ${x * 36 - y * 8},${y * 36 + x * 8}`}
            />
          </g>
        )}
      </svg>
      <div>
        <p className="tone-words">{shown === null ? "not known yet" : `from ${fromWhere(shown)}`}</p>
        <p className="measure">
          {held !== null || set !== null ? "set by hand" : read !== null ? "as it is read" : ""}
        </p>
        {set !== null && (
          <button type="button" className="tool" onClick={() => change({ do: "set_light", direction: null })}>
            As it is read
          </button>
        )}
      </div>
    </div>
  );
}
