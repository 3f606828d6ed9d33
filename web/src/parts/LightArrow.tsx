/** An arrow that points the way the light falls: from where it comes towards the middle. */
export function LightArrow({
  direction,
  size = 22,
  label,
}: {
  direction: number;
  size?: number;
  label: string;
}) {
  const turn = (direction * Math.PI) / 180;
  const x = Math.cos(turn);
  const y = -Math.sin(turn);
  const from = [x * 10, y * 10];
  const to = [-x * 7, -y * 7];
  const head = [-x, -y];
  const side = [y, -x];
  const tip = (k: number) =>
    `${to[0]! - head[0]! * 5 + side[0]! * k} ${to[1]! - head[1]! * 5 + side[1]! * k}`;
  return (
    <svg
      width={size}
      height={size}
      viewBox="-12 -12 24 24"
      className="light-arrow"
      role="img"
      aria-label={label}
    >
      <path d={`M ${from[0]} ${from[1]} L ${to[0]} ${to[1]} M ${tip(4)} L ${to[0]} ${to[1]} L ${tip(-4)}`} />
    </svg>
  );
}

const SIDES = [
  "the right",
  "above right",
  "above",
  "above left",
  "the left",
  "below left",
  "below",
  "below right",
];

/** Where a light comes from, in words. */
export const fromWhere = (direction: number) =>
  SIDES[Math.round((((direction % 360) + 360) % 360) / 45) % 8]!;
