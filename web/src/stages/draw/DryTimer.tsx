import { useEffect, useRef, useState } from "react";

const BEEPS = 3;

/** Three soft tones: made here, not fetched. */
function sound(): void {
  const audio = new AudioContext();
  for (let i = 0; i < BEEPS; i++) {
    const tone = audio.createOscillator();
    const gain = audio.createGain();
    tone.frequency.value = 660;
    gain.gain.setValueAtTime(0, audio.currentTime + 0.5 * i);
    gain.gain.linearRampToValueAtTime(0.25, audio.currentTime + 0.5 * i + 0.03);
    gain.gain.linearRampToValueAtTime(0, audio.currentTime + 0.5 * i + 0.35);
    tone.connect(gain).connect(audio.destination);
    tone.start(audio.currentTime + 0.5 * i);
    tone.stop(audio.currentTime + 0.5 * i + 0.4);
  }
  setTimeout(() => void audio.close(), 600 * BEEPS + 400);
}

/** Counts the minutes that something must dry, and can be heard when they are over. */
export function DryTimer({ minutes }: { minutes: number }) {
  const [ends, setEnds] = useState<number | null>(null);
  const [left, setLeft] = useState(60 * minutes);
  const rung = useRef(false);
  useEffect(() => {
    if (ends === null) return;
    const tick = () => {
      const seconds = Math.max(0, (ends - Date.now()) / 1000);
      setLeft(seconds);
      if (seconds === 0 && !rung.current) {
        rung.current = true;
        sound();
      }
    };
    tick();
    const clock = setInterval(tick, 250);
    return () => clearInterval(clock);
  }, [ends]);
  const whole = Math.ceil(left);
  const shown = `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
  return (
    <p className="draw-timer">
      <b role="timer" aria-label="Time left to dry">
        {shown}
      </b>
      {ends === null ? (
        <button type="button" className="tool" onClick={() => setEnds(Date.now() + 60_000 * minutes)}>
          Time the drying
        </button>
      ) : (
        <span role="status">{left > 0 ? "drying" : "Dry: go on."}</span>
      )}
    </p>
  );
}
