import type { CSSProperties, MouseEvent } from "react";
import type { StepOut } from "../../api/client";
import { keptClear } from "../../parts/keptClear";
import { useSize } from "../../parts/useSize";
import { useStudy } from "../../study/useStudy";
import { drawnPlaces } from "./drawnPlaces";
import { faceBox } from "./faceBox";

interface Props {
  lit: Set<string>;
  steps: StepOut[];
  onTouch: (place: string) => void;
}

/** How far the numbers of two places lie apart at least, in pixels. */
const MARK = 25;

/**
 * The reference about the places, those of this step lit, the others as dots that leave the face to be seen; a touch opens the place
 * that lies nearest.
 */
export function Face({ lit, steps, onTouch }: Props) {
  const { study } = useStudy();
  const [frame, size] = useSize<HTMLDivElement>();
  const picture = study.picture;
  const drawn = drawnPlaces(study.places, steps).flatMap((p) =>
    p.x === null ? [] : [{ ...p, x: p.x, y: p.y! }],
  );
  if (!picture) return null;
  const box = faceBox(drawn, picture);
  const scale = size.width / box.width;
  const places = size.width > 0 ? drawn : [];
  const spots = keptClear(
    places.map((p) => ({ x: (p.x - box.x) * scale, y: (p.y - box.y) * scale })),
    MARK,
  );
  const nearest = (event: MouseEvent<HTMLDivElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const away = spots.map((s) => Math.hypot(s.x - event.clientX + box.left, s.y - event.clientY + box.top));
    const found = places[away.indexOf(Math.min(...away))];
    if (found) onTouch(found.id);
  };
  const shape = { "--shape": box.width / box.height } as CSSProperties;
  return (
    <div className="lit-room" style={shape}>
      <div className="lit" ref={frame} onClick={nearest}>
        <img
          src={`/api/pictures/${picture.id}/view.jpg`}
          alt="The reference with the places of this step"
          style={{
            width: `${(100 * picture.width) / box.width}%`,
            left: `${(-100 * box.x) / box.width}%`,
            top: `${(-100 * box.y) / box.height}%`,
          }}
        />
        {places.map((p, index) => (
          <button
            key={p.id}
            type="button"
            className={lit.has(p.id) ? "lit-mark is-lit" : lit.size > 0 ? "lit-mark is-dot" : "lit-mark"}
            style={{ left: spots[index]!.x, top: spots[index]!.y }}
            aria-label={`${p.number} ${p.called}: drawn up to where?`}
            onClick={(event) => {
              // By keys it is this one; a touch goes on to what lies nearest, for the lit mark may cover another.
              if (event.detail > 0) return;
              event.stopPropagation();
              onTouch(p.id);
            }}
          >
            <span>{p.number}</span>
          </button>
        ))}
      </div>
    </div>
  );
}
