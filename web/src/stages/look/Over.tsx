import { useStudy } from "../../study/useStudy";
import { toFrame, type Geometry } from "./geometry";
import type { Spot } from "./drawn";

interface Props {
  measured: { from: Spot; to: Spot } | null;
  geometry: Geometry;
}

/** What is drawn over the picture: grid, diagonals, centre cross, eye line, and what was measured. */
export function Over({ measured, geometry }: Props) {
  const { sheet, state } = useStudy().study;
  const over = state.sheet!;
  const { width, height } = geometry;
  const x = (mm: number) => (mm - sheet.left) / sheet.mm_per_pixel;
  const y = (mm: number) => (mm - sheet.top) / sheet.mm_per_pixel;
  const lines: [number, number, number, number][] = [
    ...sheet.uprights.map((mm): [number, number, number, number] => [x(mm), 0, x(mm), height]),
    ...sheet.levels.map((mm): [number, number, number, number] => [0, y(mm), width, y(mm)]),
  ];
  if (over.diagonals) lines.push([0, 0, width, height], [width, 0, 0, height]);
  if (over.cross) lines.push([width / 2, 0, width / 2, height], [0, height / 2, width, height / 2]);
  if (over.eye_line !== null && over.eye_line !== undefined)
    lines.push([0, over.eye_line * height, width, over.eye_line * height]);
  const plain = { ...geometry, flip: "none" as const };
  if (measured) {
    const [from, to] = [toFrame(plain, measured.from), toFrame(plain, measured.to)];
    lines.push([from.x, from.y, to.x, to.y]);
  }
  return (
    <g className="over">
      {lines.map(([x1, y1, x2, y2], index) => (
        <g key={index}>
          <line x1={x1} y1={y1} x2={x2} y2={y2} className="over-dark" />
          <line x1={x1} y1={y1} x2={x2} y2={y2} className="over-light" />
        </g>
      ))}
    </g>
  );
}
