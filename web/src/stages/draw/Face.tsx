import { useRef, type CSSProperties } from "react";
import type { StepOut } from "../../api/client";
import { useStudy } from "../../study/useStudy";

interface Props {
  lit: Set<string>;
  steps: StepOut[];
  onTouch: (place: string) => void;
}

/** The reference with the places of this step lit; a touch opens the place that lies nearest. */
export function Face({ lit, steps, onTouch }: Props) {
  const { study } = useStudy();
  const frame = useRef<HTMLDivElement>(null);
  const picture = study.picture;
  const drawn = new Set(steps.flatMap((s) => s.served.map((p) => p.place)));
  const places = study.places.filter((p) => p.x !== null && drawn.has(p.id));
  if (!picture) return null;
  const nearest = (clientX: number, clientY: number) => {
    const box = frame.current!.getBoundingClientRect();
    const x = ((clientX - box.left) / box.width) * picture.width;
    const y = ((clientY - box.top) / box.height) * picture.height;
    const away = (p: (typeof places)[number]) => Math.hypot(p.x! - x, p.y! - y);
    const found = places.reduce<(typeof places)[number] | null>(
      (a, b) => (a === null || away(b) < away(a) ? b : a),
      null,
    );
    if (found) onTouch(found.id);
  };
  const shape = { "--shape": picture.width / picture.height } as CSSProperties;
  return (
    <div className="lit-room" style={shape}>
      <div className="lit" ref={frame} onClick={(event) => nearest(event.clientX, event.clientY)}>
        <img src={`/api/pictures/${picture.id}/view.jpg`} alt="The reference with the places of this step" />
        {places.map((p) => (
          <button
            key={p.id}
            type="button"
            className={lit.has(p.id) ? "lit-mark is-lit" : "lit-mark"}
            style={{ left: `${(100 * p.x!) / picture.width}%`, top: `${(100 * p.y!) / picture.height}%` }}
            aria-label={`${p.number} ${p.called}: drawn up to where?`}
            onClick={(event) => {
              // By keys it is this one; a touch goes on to what lies nearest, for the lit mark may cover another.
              if (event.detail > 0) return;
              event.stopPropagation();
              onTouch(p.id);
            }}
          >
            {p.number}
          </button>
        ))}
      </div>
    </div>
  );
}
