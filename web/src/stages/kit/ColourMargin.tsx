import { useEffect, useState } from "react";
import {
  client,
  got,
  Problem,
  sendFile,
  type KitColourOut,
  type Lab,
  type PictureOut,
  type Schemas,
  type Tone,
} from "../../api/client";
import { Fault } from "../../parts/Says";
import { ToneField } from "../../parts/ToneField";

type KitColour = Schemas["KitColour"];

interface Props {
  colour: KitColourOut | null;
  adding: boolean;
  problem: Problem | null;
  onPut: (colour: KitColour) => Promise<boolean>;
}

const MEDIA = [
  ["wax_pencil", "wax pencil"],
  ["oil_pencil", "oil pencil"],
] as const;

/** One colour of the kit: its name, its tone (typed, or touched on a photograph of its swatch), in use or retired. */
export function ColourMargin({ colour, adding, problem, onPut }: Props) {
  const [name, setName] = useState(colour?.name ?? "");
  const [medium, setMedium] = useState<KitColour["medium"]>(colour?.medium ?? "wax_pencil");
  const [tone, setTone] = useState<Lab | null>(colour?.tone ?? null);
  const [source, setSource] = useState<KitColour["source"]>(colour?.source ?? "typed");
  const [touched, setTouched] = useState<{ tone: Tone; count: number } | null>(null);
  const [again, setAgain] = useState(0);
  if (!colour && !adding)
    return (
      <section>
        <h2>The rack</h2>
        <p>Touch a colour to change or retire it. Colours lie from light to dark.</p>
      </section>
    );
  const put = (retired: boolean) => {
    if (!tone || !name.trim()) return;
    void onPut({
      id: colour?.id ?? crypto.randomUUID().slice(0, 13),
      name: name.trim(),
      medium,
      tone,
      source,
      handling: colour?.handling ?? {
        hardness: 3,
        weak: false,
        crumbles: false,
        chalky: false,
        keeps_point: true,
      },
      retired,
    }).then((done) => {
      if (done && adding) {
        setName("");
        setTone(null);
        setTouched(null);
        setAgain(again + 1);
      }
    });
  };
  return (
    <section aria-label={colour?.name ?? "A new colour"}>
      <h2>{colour?.name ?? "A new colour"}</h2>
      {colour && (
        <div className="tone">
          <div className="panel">
            <span className="tone-swatch" style={{ background: colour.shown.hex }} />
          </div>
          <div>
            <p className="tone-words">{colour.words}</p>
            <p className="measure">
              value {colour.shown.value.toFixed(1)}
              {colour.is_black && " · counts as a black"}
              {colour.measured && " · measured"}
            </p>
          </div>
        </div>
      )}
      {colour?.measured && (
        <p className="measure">
          Its patches were measured. Another tone or medium gives that up; a name does not.
        </p>
      )}
      <form
        onSubmit={(event) => {
          event.preventDefault();
          put(colour?.retired ?? false);
        }}
      >
        <label className="field">
          Name
          <input value={name} maxLength={80} required onChange={(event) => setName(event.target.value)} />
        </label>
        <label className="field">
          Medium
          <select value={medium} onChange={(event) => setMedium(event.target.value as KitColour["medium"])}>
            {MEDIA.map(([slug, words]) => (
              <option key={slug} value={slug}>
                {words}
              </option>
            ))}
          </select>
        </label>
        <ToneField
          key={`${again}-${touched?.count ?? 0}`}
          start={touched?.tone.lab ?? tone ?? undefined}
          label="Tone of the solid swatch"
          onTone={(lab) => {
            setTone(lab);
            setSource("typed");
          }}
        />
        <SwatchPhoto
          onTone={(found) => {
            setTouched({ tone: found, count: (touched?.count ?? 0) + 1 });
            setTone(found.lab);
            setSource("photograph");
          }}
        />
        <Fault problem={problem} />
        <div className="actions">
          <button type="submit" className="act" disabled={!tone || !name.trim()}>
            {adding ? "Put it in the box" : "Save"}
          </button>
          {colour && (
            <button type="button" className="tool" onClick={() => put(!colour.retired)}>
              {colour.retired ? "Take it up again" : "Retire it"}
            </button>
          )}
        </div>
      </form>
    </section>
  );
}

/** A photograph of a swatch: touch the swatch, its tone is taken. */
function SwatchPhoto({ onTone }: { onTone: (tone: Tone) => void }) {
  const [photo, setPhoto] = useState<PictureOut | null>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  const [at, setAt] = useState<{ x: number; y: number } | null>(null);
  // A photograph of swatches is only looked at here; it goes when this does.
  useEffect(() => {
    if (photo) return () => void client.DELETE("/api/pictures/{id}", { params: { path: { id: photo.id } } });
  }, [photo]);
  const touch = (event: React.MouseEvent<HTMLImageElement>) => {
    if (!photo) return;
    const box = event.currentTarget.getBoundingClientRect();
    const share = { x: (event.clientX - box.left) / box.width, y: (event.clientY - box.top) / box.height };
    setAt(share);
    got(
      client.POST("/api/pictures/{id}/read", {
        params: { path: { id: photo.id } },
        body: { x: share.x * (photo.width - 1), y: share.y * (photo.height - 1), radius: photo.width / 60 },
      }),
    )
      .then((read) => onTone(read.tone))
      .catch(setProblem);
  };
  return (
    <details className="swatch-photo">
      <summary>Touch it on a photograph</summary>
      {photo ? (
        <div className="swatch-picture">
          {/* The keyboard's way is to type the tone above. */}
          <img
            src={`/api/pictures/${photo.id}/view.jpg`}
            alt="Swatches photographed; touch one"
            onClick={touch}
          />
          {at && <span style={{ left: `${100 * at.x}%`, top: `${100 * at.y}%` }} />}
        </div>
      ) : (
        <label className="field">
          A photograph in even daylight
          <input
            type="file"
            accept="image/jpeg,image/png"
            onChange={(event) => {
              const file = event.target.files?.[0];
              if (file)
                sendFile<PictureOut>("/api/pictures", "picture", file).then(setPhoto).catch(setProblem);
            }}
          />
        </label>
      )}
      <Fault problem={problem} />
    </details>
  );
}
