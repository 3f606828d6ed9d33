import {
  useEffect,
  useImperativeHandle,
  useRef,
  useState,
  type PointerEvent as Pointer,
  type ReactNode,
  type Ref,
} from "react";
import type { PictureOut, PlaceOut } from "../../api/client";
import { keptClear } from "../../parts/keptClear";
import { useSize } from "../../parts/useSize";
import type { Spot } from "./drawn";
import { flipTransform, pictureTransform, toFrame, toPicture, type Geometry } from "./geometry";
import { fitted, zoomed, type View } from "./view";

export interface Disc {
  x: number;
  y: number;
  radius: number;
}

export interface Zoom {
  /** Zoom by a factor about the middle; 0 shows the whole picture. */
  by: (factor: number) => void;
  /** Pan just so far that a place is in sight. */
  show: (disc: Disc) => void;
}

/** What a drag on the picture does: pan (and a touch reads), or draw a path. */
export type Tool = "touch" | "brush" | "lasso" | "box" | "line";

interface Props {
  picture: PictureOut;
  geometry: Geometry;
  href: string;
  places: PlaceOut[];
  selected: string | null;
  pending: Disc | null;
  tool: Tool;
  onTouch: (disc: Disc) => void;
  onSelect: (id: string) => void;
  /** Whether a touch of a zone's number chooses it, whatever lies beneath. */
  byNumber: boolean;
  onMove: (id: string, disc: Disc) => void;
  /** A path drawn with a tool, in pixels of the picture. */
  onPath: (path: Spot[]) => void;
  zoom: Ref<Zoom>;
  radius: number;
  /** A picture in the size of the whole reference, laid over it. */
  overlay?: string | null;
  /** Anything drawn over it in frame pixels. */
  children?: ReactNode;
  /** Words at places, as shares of the frame. */
  words?: { x: number; y: number; words: string }[];
}

type Grip =
  | { kind: "pan"; from: View; startX: number; startY: number; moved: boolean }
  | { kind: "place"; id: string; disc: Disc; startX: number; startY: number; moved: boolean }
  | { kind: "path"; moved: boolean; startX: number; startY: number };

const SLOP = 5;
/** How near the frame a place moved by keys may come before the picture follows. */
const EDGE = 60;
const TOUCH = 22;
/** How far the numbers of two zones lie apart at least. */
const TAG = 25;

/** The picture with its places. Touch to read, drag a place to move it, drag the picture to pan, wheel or pinch to zoom. */
export function PictureBoard(props: Props) {
  const { picture, geometry, places, selected, pending, onTouch, onSelect, onMove, onPath, zoom, radius } =
    props;
  const { tool, byNumber, overlay, href, words } = props;
  const [hold, size] = useSize<HTMLDivElement>();
  const [view, setView] = useState<View | null>(null);
  const [dragged, setDragged] = useState<{ id: string; disc: Disc } | null>(null);
  const [path, setPath] = useState<Spot[]>([]);
  const drawn = useRef<Spot[]>([]);
  const pointers = useRef(new Map<number, { x: number; y: number }>());
  const grip = useRef<Grip | null>(null);
  const board = useRef<SVGSVGElement>(null);
  const whole = fitted(geometry.width, geometry.height, size.width, size.height);
  const now = view ?? whole;

  const screenOf = (p: Spot) => {
    const q = toFrame(geometry, p);
    return { x: q.x * now.scale + now.x, y: q.y * now.scale + now.y };
  };
  const pictureOf = (x: number, y: number): Spot => {
    const p = toPicture(geometry, { x: (x - now.x) / now.scale, y: (y - now.y) / now.scale });
    return {
      x: Math.min(picture.width - 1, Math.max(0, p.x)),
      y: Math.min(picture.height - 1, Math.max(0, p.y)),
    };
  };

  useImperativeHandle(zoom, () => ({
    by: (factor) => {
      if (factor === 0) setView(null);
      else setView(zoomed(now, factor, size.width / 2, size.height / 2, whole.scale));
    },
    show: (disc) => {
      const away = (at: number, room: number) =>
        at < EDGE ? EDGE - at : at > room - EDGE ? room - EDGE - at : 0;
      const p = screenOf(disc);
      const dx = away(p.x, size.width);
      const dy = away(p.y, size.height);
      if ((dx || dy) && now.scale > whole.scale * 1.001) setView({ ...now, x: now.x + dx, y: now.y + dy });
    },
  }));

  const wheel = useRef<(event: WheelEvent) => void>(() => undefined);
  useEffect(() => {
    wheel.current = (event) => {
      event.preventDefault();
      const box = board.current!.getBoundingClientRect();
      setView(
        zoomed(
          now,
          Math.exp(-event.deltaY * 0.0016),
          event.clientX - box.left,
          event.clientY - box.top,
          whole.scale,
        ),
      );
    };
  });
  useEffect(() => {
    const element = board.current;
    const hear = (event: WheelEvent) => wheel.current(event);
    element?.addEventListener("wheel", hear, { passive: false });
    return () => element?.removeEventListener("wheel", hear);
  }, [size.width > 0]); // eslint-disable-line react-hooks/exhaustive-deps

  const at = (event: Pointer) => {
    const box = board.current!.getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  const inside = (x: number, y: number) => {
    const u = (x - now.x) / now.scale;
    const v = (y - now.y) / now.scale;
    return u >= 0 && v >= 0 && u < geometry.width && v < geometry.height;
  };
  const near = (p: Spot) =>
    places
      .filter((q) => q.x !== null && q.area === null)
      .map((q) => {
        const s = screenOf(q as Disc);
        return { q, d: Math.hypot(s.x - p.x, s.y - p.y) };
      })
      .sort((a, b) => a.d - b.d)[0];

  const down = (event: Pointer<SVGSVGElement>) => {
    if (event.button !== 0) return;
    const p = at(event);
    event.currentTarget.setPointerCapture(event.pointerId);
    pointers.current.set(event.pointerId, p);
    if (tool !== "touch") {
      grip.current = { kind: "path", moved: false, startX: p.x, startY: p.y };
      drawn.current = [pictureOf(p.x, p.y)];
      setPath(drawn.current);
      return;
    }
    const found = near(p);
    if (found && found.d < Math.max(TOUCH, found.q.radius! * now.scale)) {
      const disc = { x: found.q.x!, y: found.q.y!, radius: found.q.radius! };
      grip.current = { kind: "place", id: found.q.id, disc, startX: p.x, startY: p.y, moved: false };
    } else grip.current = { kind: "pan", from: now, startX: p.x, startY: p.y, moved: false };
  };
  const move = (event: Pointer<SVGSVGElement>) => {
    const before = pointers.current.get(event.pointerId);
    if (!before) return;
    const p = at(event);
    const held = grip.current;
    if (pointers.current.size === 2) {
      const other = [...pointers.current.entries()].find(([id]) => id !== event.pointerId)![1];
      const was = Math.hypot(before.x - other.x, before.y - other.y);
      const is = Math.hypot(p.x - other.x, p.y - other.y);
      if (was > 0) setView(zoomed(now, is / was, (p.x + other.x) / 2, (p.y + other.y) / 2, whole.scale));
      if (held) held.moved = true;
      if (held?.kind === "path") setPath([]);
    } else if (held) {
      const dx = p.x - held.startX;
      const dy = p.y - held.startY;
      if (Math.hypot(dx, dy) > SLOP) held.moved = true;
      if (held.kind === "path") {
        const spot = pictureOf(p.x, p.y);
        if (tool === "brush" || tool === "lasso") drawn.current.push(spot);
        else drawn.current = [drawn.current[0]!, spot];
        setPath([...drawn.current]);
      } else if (held.moved && held.kind === "pan" && now.scale > whole.scale * 1.001)
        setView({ ...held.from, x: held.from.x + dx, y: held.from.y + dy });
      else if (held.moved && held.kind === "place") {
        const from = screenOf(held.disc);
        setDragged({ id: held.id, disc: { ...held.disc, ...pictureOf(from.x + dx, from.y + dy) } });
      }
    }
    pointers.current.set(event.pointerId, p);
  };
  const up = (event: Pointer<SVGSVGElement>) => {
    const p = at(event);
    const held = grip.current;
    pointers.current.delete(event.pointerId);
    if (pointers.current.size > 0) return;
    grip.current = null;
    if (!held) return;
    if (held.kind === "path") {
      const done = drawn.current;
      drawn.current = [];
      setPath([]);
      if (done.length > 1 || tool === "brush") onPath(done);
    } else if (held.kind === "place") {
      if (held.moved && dragged) onMove(held.id, dragged.disc);
      else onSelect(held.id);
      setDragged(null);
    } else if (!held.moved) {
      const numbered = byNumber && [...tags].find(([, s]) => Math.hypot(s.x - p.x, s.y - p.y) < TAG / 2);
      if (numbered) onSelect(numbered[0]);
      else if (inside(p.x, p.y)) onTouch({ ...pictureOf(p.x, p.y), radius });
    }
  };

  const shown = places.map((p) => (dragged?.id === p.id ? { ...p, ...dragged.disc } : p));
  const line = path.map(screenOf);
  const zones = shown.filter((p) => p.area !== null && p.x !== null);
  const spots = keptClear(
    zones.map((p) => screenOf(p as Disc)),
    TAG,
  );
  const tags = new Map(zones.map((p, index) => [p.id, spots[index]!]));
  return (
    <div className="board" ref={hold}>
      {size.width > 0 && (
        <svg
          ref={board}
          width={size.width}
          height={size.height}
          onPointerDown={down}
          onPointerMove={move}
          onPointerUp={up}
          onPointerCancel={up}
          role="img"
          aria-label={`The picture ${picture.name}. Arrow keys move the crosshair, Enter touches the place under it.`}
          data-scale={now.scale}
          data-x={now.x}
          data-y={now.y}
          data-tool={tool}
        >
          <g transform={`translate(${now.x} ${now.y}) scale(${now.scale})`}>
            <g transform={flipTransform(geometry)}>
              <image
                href={href}
                width={geometry.width}
                height={geometry.height}
                preserveAspectRatio="none"
                className="board-picture"
              />
              {overlay && (
                <svg width={geometry.width} height={geometry.height} overflow="hidden">
                  <image
                    href={overlay}
                    width={picture.width}
                    height={picture.height}
                    preserveAspectRatio="none"
                    transform={pictureTransform(geometry)}
                  />
                </svg>
              )}
              {props.children}
            </g>
          </g>
          {shown.map((p) => {
            const s = tags.get(p.id) ?? (p.x === null ? null : screenOf(p as Disc));
            if (s === null) return null;
            return (
              <Mark
                key={p.id}
                x={s.x}
                y={s.y}
                r={p.area === null ? p.radius! * now.scale : 0}
                label={p.flagged ? `${p.number}?` : String(p.number)}
                selected={p.id === selected}
              />
            );
          })}
          {pending && (
            <Mark {...screenOf(pending)} r={pending.radius * now.scale} label="" selected crosshair />
          )}
          {apart(
            (words ?? []).map((w) => ({
              x: (geometry.flip === "none" ? w.x : 1 - w.x) * geometry.width * now.scale + now.x,
              y: (geometry.flip === "upside down" ? 1 - w.y : w.y) * geometry.height * now.scale + now.y,
              words: w.words,
            })),
            size.width,
          ).map((w) => (
            <Label key={`${w.x}-${w.y}`} {...w} />
          ))}
          {line.length > 0 && tool === "box" && line.length === 2 && (
            <rect
              className="board-path"
              x={Math.min(line[0]!.x, line[1]!.x)}
              y={Math.min(line[0]!.y, line[1]!.y)}
              width={Math.abs(line[0]!.x - line[1]!.x)}
              height={Math.abs(line[0]!.y - line[1]!.y)}
            />
          )}
          {line.length > 0 && tool !== "box" && (
            <polyline
              className={`board-path is-${tool}`}
              points={line.map((q) => `${q.x},${q.y}`).join(" ")}
              style={tool === "brush" ? { strokeWidth: Math.max(2, 2 * radius * now.scale) } : undefined}
            />
          )}
        </svg>
      )}
    </div>
  );
}

interface Plate {
  x: number;
  y: number;
  words: string;
  left: number;
  top: number;
  wide: number;
}

const PLATE = 24;

/** Plates beneath their places, moved down where two would lie on one another. */
function apart(words: { x: number; y: number; words: string }[], room: number): Plate[] {
  const out: Plate[] = [];
  for (const w of [...words].sort((a, b) => a.y - b.y)) {
    const wide = w.words.length * 7.2 + 16;
    const left = Math.min(Math.max(4, w.x - wide / 2), room - wide - 4);
    let top = w.y + 9;
    for (const p of out)
      if (left < p.left + p.wide && p.left < left + wide && Math.abs(top - p.top) < PLATE + 2)
        top = p.top + PLATE + 2;
    out.push({ ...w, left, top, wide });
  }
  return out;
}

/** A word at a place, on a plate of its own. */
function Label({ x, y, words, left, top, wide }: Plate) {
  return (
    <g className="board-word">
      <circle cx={x} cy={y} r={4} />
      <rect x={left} y={top} width={wide} height={PLATE} />
      <text x={left + wide / 2} y={top + 16.5}>
        {words}
      </text>
    </g>
  );
}

function Mark(props: {
  x: number;
  y: number;
  r: number;
  label: string;
  selected: boolean;
  crosshair?: boolean;
}) {
  const { x, y, label, selected, crosshair } = props;
  const r = props.r === 0 ? 0 : Math.max(5, props.r);
  return (
    <g className={selected ? "spot is-selected" : "spot"} transform={`translate(${x} ${y})`}>
      {r > 0 && <circle r={r + 1.5} className="spot-out" />}
      {r > 0 && <circle r={r} className="spot-in" />}
      {crosshair && (
        <path d={`M ${-r - 12} 0 H ${-r} M ${r} 0 H ${r + 12} M 0 ${-r - 12} V ${-r} M 0 ${r} V ${r + 12}`} />
      )}
      {label && (
        <g transform={r > 0 ? `translate(${r * 0.72 + 9} ${-r * 0.72 - 9})` : undefined}>
          <circle r={label.length > 2 ? 12 : 9.5} className="spot-tag" />
          <text dy="0.35em">{label}</text>
        </g>
      )}
    </g>
  );
}
