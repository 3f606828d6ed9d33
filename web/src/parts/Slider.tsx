import { useState } from "react";

/** A slider that writes when it is let go. */
export function Slider(props: {
  label: string;
  unit: string;
  least: number;
  most: number;
  step: number;
  value: number;
  onValue: (value: number) => void;
}) {
  const { label, unit, least, most, step, value, onValue } = props;
  const [held, setHeld] = useState<number | null>(null);
  const shown = held ?? value;
  const done = () => {
    if (held !== null && held !== value) onValue(held);
    setHeld(null);
  };
  return (
    <label className="slider">
      <span>{label}</span>
      <input
        type="range"
        min={least}
        max={most}
        step={step}
        value={shown}
        onChange={(event) => setHeld(Number(event.target.value))}
        onPointerUp={done}
        onKeyUp={done}
        onBlur={done}
      />
      <output>
        {shown > 0 && unit === "stops" ? "+" : ""}
        {+shown.toFixed(2)} {unit}
      </output>
    </label>
  );
}
