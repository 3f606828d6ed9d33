import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { client, got, type Lab } from "../api/client";
import { Chip } from "./Swatch";

/** A tone typed as `L a b` or as hex. What was typed stays; what is wrong with it is said beside it. */
export function ToneField({
  start,
  onTone,
  label = "Tone",
}: {
  start?: Lab;
  onTone: (tone: Lab | null) => void;
  label?: string;
}) {
  const [text, setText] = useState(
    start ? [start.l, start.a, start.b].map((v) => +v.toFixed(2)).join(" ") : "",
  );
  const [fault, setFault] = useState("");
  const [lab, setLab] = useState(start ?? null);
  const shown = useQuery({
    queryKey: ["tone", lab],
    enabled: lab !== null,
    queryFn: () => got(client.POST("/api/tone", { body: { lab } })),
  }).data;
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
  return (
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
  );
}
