import { useState } from "react";
import type { ReadOut } from "../../api/client";

const KEY = "caltin.beliefs";
const WARMTHS = ["cooler", "like it", "warmer"] as const;
type Warmth = (typeof WARMTHS)[number];

interface Count {
  guesses: number;
  off: number;
  warm: number;
}

function counted(): Count {
  try {
    return {
      guesses: 0,
      off: 0,
      warm: 0,
      ...(JSON.parse(localStorage.getItem(KEY) ?? "{}") as Partial<Count>),
    };
  } catch {
    return { guesses: 0, off: 0, warm: 0 };
  }
}

const truth = (read: ReadOut): Warmth =>
  read.against_words.includes("warmer")
    ? "warmer"
    : read.against_words.includes("cooler")
      ? "cooler"
      : "like it";

/** What one believes before the answer is shown: value and warmth; errors of colour come from believing. */
export function Belief({
  read,
  base,
  children,
}: {
  read: ReadOut;
  base: boolean;
  children: React.ReactNode;
}) {
  const [value, setValue] = useState<number | null>(null);
  const [warmth, setWarmth] = useState<Warmth | null>(base ? null : "like it");
  const [count, setCount] = useState<Count | null>(null);
  const answer = (guess: number, feel: Warmth) => {
    const before = counted();
    const now = {
      guesses: before.guesses + 1,
      off: before.off + Math.abs(guess - read.tone.value),
      warm: before.warm + (feel === truth(read) ? 1 : 0),
    };
    localStorage.setItem(KEY, JSON.stringify(now));
    setCount(now);
  };
  const pick = (guess: number | null, feel: Warmth | null) => {
    setValue(guess);
    setWarmth(feel);
    if (guess !== null && feel !== null && !count) answer(guess, feel);
  };
  if (count && value !== null)
    return (
      <>
        <p className="believed" role="status">
          You believed <b>{value}</b>, it is <b>{read.tone.value.toFixed(1)}</b>
          {base && (
            <>
              ; you believed <b>{warmth}</b>, it is <b>{truth(read)}</b>
            </>
          )}
          .{" "}
          <small>
            {count.guesses} so far, {(count.off / count.guesses).toFixed(1)} values off on average.
          </small>
        </p>
        {children}
      </>
    );
  return (
    <div className="belief">
      <p>Which value do you believe this is?</p>
      <div className="belief-values" role="group" aria-label="Value believed">
        {[10, 9, 8, 7, 6, 5, 4, 3, 2, 1].map((v) => (
          <button key={v} type="button" aria-pressed={v === value} onClick={() => pick(v, warmth)}>
            {v}
          </button>
        ))}
      </div>
      {base && (
        <>
          <p>And against the base?</p>
          <div className="segments three" role="group" aria-label="Warmth believed">
            {WARMTHS.map((w) => (
              <button key={w} type="button" aria-pressed={w === warmth} onClick={() => pick(value, w)}>
                {w}
              </button>
            ))}
          </div>
        </>
      )}
    </div>
  );
}
