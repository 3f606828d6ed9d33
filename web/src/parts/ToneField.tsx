import { useEffect, useRef, useState } from "react";
import { client, got, type Lab } from "../api/client";
import { Chip } from "./Swatch";
import { ToneByEye } from "./ToneByEye";
import { useTone } from "./useTone";

const written = (lab: Lab) => [lab.l, lab.a, lab.b].map((v) => +v.toFixed(2)).join(" ");

/** A tone typed as `L a b` or as hex, or set by eye. What was typed stays; what is wrong with it is said beside it. */
export function ToneField({
  start,
  onTone,
  label = "Tone",
}: {
  start?: Lab;
  onTone: (tone: Lab | null) => void;
  label?: string;
}) {
  const [text, setText] = useState(start ? written(start) : "");
  const [fault, setFault] = useState("");
  const [lab, setLab] = useState(start ?? null);
  // What was typed last, and how often: the eye begins there.
  const [typed, setTyped] = useState({ lab: start ?? null, count: 0 });
  const [open, setOpen] = useState(false);
  const shown = useTone(lab);
  const asked = useRef(0);
  const heard = useRef(onTone);
  useEffect(() => {
    heard.current = onTone;
  });
  const type = (value: string) => {
    setText(value);
    const mine = ++asked.current;
    const say = (said: Lab | null, wrong: string) => {
      if (mine !== asked.current) return;
      setFault(wrong);
      setLab(said);
      setTyped(({ count }) => ({ lab: said, count: count + 1 }));
      heard.current(said);
    };
    const numbers = value
      .trim()
      .split(/[\s,;/]+/)
      .map(Number);
    if (!value.trim()) return say(null, "");
    if (numbers.length === 3 && numbers.every(Number.isFinite)) {
      const [l, a, b] = numbers as [number, number, number];
      if (l < 0 || l > 100) return say(null, "L* runs from 0 to 100.");
      if (Math.abs(a) > 128 || Math.abs(b) > 128) return say(null, "a* and b* run from −128 to 128.");
      return say({ l, a, b }, "");
    }
    if (/^#?[0-9a-f]{6}$/i.test(value.trim()))
      return void got(client.POST("/api/tone", { body: { hex: value.trim() } }))
        .then((tone) => say(tone.lab, ""))
        .catch((problem: Error) => say(null, problem.message));
    return say(null, "Type three numbers, L* a* b*, or six digits like #a1b2c3.");
  };
  const seen = (tone: Lab) => {
    asked.current++;
    setText(written(tone));
    setFault("");
    setLab(tone);
    heard.current(tone);
  };
  return (
    <div className="tone-field">
      <label className="field">
        {label} <small>L* a* b*, or hex</small>
        <span className="field-row">
          <input
            value={text}
            onChange={(event) => type(event.target.value)}
            placeholder="62 18 20"
            spellCheck={false}
            aria-invalid={fault !== ""}
          />
          {lab && shown && <Chip hex={shown.hex} size={34} />}
        </span>
        {fault && (
          <span className="fault" role="alert">
            <span className="fault-mark" aria-hidden="true">
              !
            </span>
            {fault}
          </span>
        )}
      </label>
      <details open={open} onToggle={(event) => setOpen(event.currentTarget.open)}>
        <summary>Set it by eye</summary>
        {open && <ToneByEye key={typed.count} start={typed.lab} onTone={seen} />}
      </details>
    </div>
  );
}
