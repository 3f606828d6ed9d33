import { useEffect, useRef, useState } from "react";
import { sendFile, type Lab, type PictureOut, type Problem, type Schemas } from "../../api/client";
import { PlaceOptions } from "../../parts/PlaceOptions";
import { Fault, Loading } from "../../parts/Says";
import { Chip } from "../../parts/Swatch";
import { ToneField } from "../../parts/ToneField";
import { counted } from "../../parts/words";
import { TonePhoto } from "../../study/TonePhoto";
import { useEntries, useJournal } from "../../study/useEntries";
import { useStudy } from "../../study/useStudy";

type Sitting = Schemas["SittingLogOut"];

const hour = (at: string) => new Date(at).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
const day = (at: string) =>
  new Date(at).toLocaleDateString("en-GB", { weekday: "long", day: "numeric", month: "long" });
const SAID: Record<string, string> = { wrong: "Wrong one", lifted: "Lifted", back: "Taken back" };

/** The journal: every sitting as it was, grown out of Draw by itself. */
export function Journal() {
  const { study } = useStudy();
  const found = useJournal(study.id);
  if (!found.data) return <Loading what="Opening the journal" />;
  if (found.data.sittings.length === 0)
    return (
      <p className="keep-empty">
        Nothing yet. It grows by itself while you draw: what you laid, when, and what went otherwise than
        planned. Notes and photographs of the drawing you keep beside it.
      </p>
    );
  return (
    <div className="journal">
      {found.data.sittings.map((sitting, index) => (
        <SittingLog key={sitting.began} sitting={sitting} number={index + 1} />
      ))}
    </div>
  );
}

function SittingLog({ sitting, number }: { sitting: Sitting; number: number }) {
  const { study } = useStudy();
  const { remove } = useEntries(study.id);
  const hexes = new Map(study.kit.colours.map((c) => [c.id, c.shown.hex]));
  const names = new Map(study.places.map((p) => [p.id, p.called]));
  return (
    <section aria-label={`Sitting ${number}`}>
      <h2>
        {day(sitting.began)}
        <small>
          {hour(sitting.began)} – {hour(sitting.ended)}, {Math.max(1, Math.round(sitting.minutes))} min,{" "}
          {counted(sitting.marks.length, "mark")}
        </small>
      </h2>
      <div className="journal-body">
        <ol aria-label="What was drawn">
          {sitting.marks.map((mark) => (
            <li key={mark.client_id}>
              <time>{hour(mark.made)}</time>
              {hexes.has(mark.colour) ? <Chip hex={hexes.get(mark.colour)!} size={18} /> : <span />}
              <span>
                {SAID[mark.kind] && <b>{SAID[mark.kind]}. </b>}
                {mark.words}
                <small>
                  {[...new Set(mark.laid.map((x) => names.get(x.place) ?? "a place since removed"))].join(
                    ", ",
                  )}
                </small>
              </span>
            </li>
          ))}
        </ol>
        <ol aria-label="What was kept" className="journal-kept">
          {sitting.entries.map((entry) => (
            <li key={entry.id}>
              {entry.picture && (
                <img
                  src={`/api/pictures/${entry.picture}/view.jpg`}
                  alt={entry.text || "The drawing as it stood"}
                />
              )}
              {entry.tone && (
                <p className="came-out">
                  <Chip hex={entry.tone.hex} size={26} />
                  <span>
                    <b>{entry.called || "A place"}</b> came out as value {entry.tone.value.toFixed(1)}
                  </span>
                </p>
              )}
              {entry.text && <p className="journal-note">{entry.text}</p>}
              <p className="measure">
                {hour(entry.made)}{" "}
                <button
                  type="button"
                  className="quiet"
                  aria-label={`Take out what was kept at ${hour(entry.made)}`}
                  onClick={() => void remove(entry.id)}
                >
                  Take out
                </button>
              </p>
            </li>
          ))}
        </ol>
      </div>
      {sitting.changes.length > 0 && (
        <p className="measure">Changed in the plan meanwhile: {sitting.changes.join("; ")}.</p>
      )}
    </section>
  );
}

/** Something to keep: a note, a photograph of the drawing, or what a place came out as. */
export function JournalForm() {
  const { study } = useStudy();
  const { keep: keepEntry } = useEntries(study.id);
  const [text, setText] = useState("");
  const [photo, setPhoto] = useState<File | null>(null);
  const [place, setPlace] = useState("");
  const [tone, setTone] = useState<Lab | null>(null);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<Problem | null>(null);
  const [round, setRound] = useState(0);
  const id = useRef(crypto.randomUUID());
  const nothing = !text.trim() && !photo && !(place && tone);
  useEffect(() => {
    // Another thing to keep is another entry.
    id.current = crypto.randomUUID();
  }, [round]);
  const keep = async () => {
    setBusy(true);
    setProblem(null);
    try {
      const picture = photo ? (await sendFile<PictureOut>("/api/pictures", "picture", photo)).id : null;
      await keepEntry({ client_id: id.current, text, picture, place: tone ? place : "", tone });
      setText("");
      setPhoto(null);
      setPlace("");
      setTone(null);
      setRound(round + 1);
    } catch (fault) {
      setProblem(fault as Problem);
    }
    setBusy(false);
  };
  return (
    <section aria-label="Keep beside the log">
      <h2>Keep beside it</h2>
      <label className="field">
        Note
        <textarea rows={4} value={text} maxLength={20000} onChange={(event) => setText(event.target.value)} />
      </label>
      <label className="field">
        Photograph of the drawing
        <input
          key={round}
          type="file"
          accept="image/*"
          onChange={(event) => setPhoto(event.target.files?.[0] ?? null)}
        />
      </label>
      <p className="measure">It stays on this machine; where and when it was taken is dropped.</p>
      <details key={`out-${round}`}>
        <summary>What did a place come out as?</summary>
        <label className="field">
          Where?
          <select value={place} onChange={(event) => setPlace(event.target.value)}>
            <option value="">choose a place</option>
            <PlaceOptions places={study.places} />
          </select>
        </label>
        <ToneField onTone={setTone} label="Its tone" />
        <TonePhoto what="place" paper={study.paper.id} onTone={setTone} onFault={setProblem} />
      </details>
      <Fault problem={problem} />
      <div className="actions">
        <button type="button" className="act" disabled={busy || nothing} onClick={() => void keep()}>
          {busy ? "Keeping it…" : "Keep it"}
        </button>
      </div>
    </section>
  );
}
