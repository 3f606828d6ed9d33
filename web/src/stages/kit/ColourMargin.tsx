import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import {
  client,
  got,
  Problem,
  type KitColourOut,
  type KitOut,
  type Lab,
  type Schemas,
} from "../../api/client";
import { newId } from "../../parts/newId";
import { Fault } from "../../parts/Says";
import { ToneField } from "../../parts/ToneField";
import { SwatchPhoto } from "./SwatchPhoto";
import { MediumSelect } from "./MediumSelect";
import { ORDINARY, trust, type KitColour, type State } from "./rack";
import { StateRow } from "./StateRow";
import { Without } from "./Without";

interface Props {
  kit: KitOut;
  colour: KitColourOut | null;
  adding: boolean;
  pairs: Schemas["PairOut"][];
  problem: Problem | null;
  onPut: (colour: KitColour, spectrum?: number[]) => Promise<boolean>;
  onState: (state: State) => void;
  onNear: () => void;
  onClose: () => void;
}

const LIGHTFAST = ["excellent", "very good", "fair", "poor"] as const;

/** One colour of the kit: its name, its tone (typed, or touched on a photograph of its swatch), in use or retired. */
export function ColourMargin({
  kit,
  colour,
  adding,
  pairs,
  problem,
  onPut,
  onState,
  onNear,
  onClose,
}: Props) {
  const [name, setName] = useState(colour?.name ?? "");
  const before = kit.colours.at(-1);
  const [medium, setMedium] = useState<KitColour["medium"]>(colour?.medium ?? before?.medium ?? "wax_pencil");
  const [tone, setTone] = useState<Lab | null>(colour?.tone ?? null);
  const [source, setSource] = useState<KitColour["source"]>(colour?.source ?? "typed");
  const [touched, setTouched] = useState<{ lab: Lab; count: number } | null>(null);
  const [again, setAgain] = useState(0);
  const [line, setLine] = useState(colour?.line ?? "");
  const [lately, setLately] = useState("");
  const named = useRef<HTMLInputElement>(null);
  const [lightfast, setLightfast] = useState<KitColour["lightfast"]>(colour?.lightfast ?? "");
  const [harmful, setHarmful] = useState(colour?.harmful ?? "");
  const [handling, setHandling] = useState(colour?.handling ?? ORDINARY);
  const [spectrum, setSpectrum] = useState<number[] | undefined>();
  const reader = useQuery({ queryKey: ["reader"], queryFn: () => got(client.GET("/api/reader")) });
  const [fault, setFault] = useState<Problem | null>(null);
  const read = () =>
    got(client.POST("/api/reader"))
      .then((seen) => {
        setTouched({ lab: seen.tone.lab, count: (touched?.count ?? 0) + 1 });
        setTone(seen.tone.lab);
        setSpectrum(seen.spectrum);
        setSource("reader");
        setFault(null);
      })
      .catch(setFault);
  const put = (retired: boolean) => {
    if (!tone || !name.trim()) return;
    void onPut(
      {
        id: colour?.id ?? newId(),
        name: name.trim(),
        medium,
        tone,
        source,
        handling,
        line: line.trim(),
        lightfast,
        harmful: harmful.trim(),
        retired,
      },
      spectrum,
    ).then((done) => {
      if (done && adding) {
        setLately(name.trim());
        named.current?.focus();
        setName("");
        setTone(null);
        setTouched(null);
        setSpectrum(undefined);
        setSource("typed");
        setLightfast("");
        setHarmful("");
        setHandling(ORDINARY);
        setAgain(again + 1);
      }
    });
  };
  return (
    <section aria-label={colour?.name ?? "A new colour"}>
      <div className="margin-head">
        <h2>{colour?.name ?? "A new colour"}</h2>
        <button type="button" className="tool" onClick={onClose}>
          Close
        </button>
      </div>
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
              {` · ${trust(colour)}`}
            </p>
          </div>
        </div>
      )}
      {colour && <StateRow state={colour.state ?? "full"} onState={onState} />}
      {pairs.map((p) => (
        <p key={p.one + p.other} className="caution">
          {p.says}.
        </p>
      ))}
      {colour?.harmful && (
        <p className="caution">Contains {colour.harmful}: no dust, no mouth; the label comes first.</p>
      )}
      {colour && <Without kit={kit} colour={colour.id} />}
      {colour && (
        <button type="button" className="tool" onClick={onNear}>
          Show what is nearest to it
        </button>
      )}
      {colour?.measured && (
        <p className="measure">
          Its patches were measured. Another tone or medium gives that up; a name does not. {colour.learnt}
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
          <input
            ref={named}
            value={name}
            maxLength={80}
            required
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <MediumSelect label="Medium" medium={medium} onMedium={setMedium} />
        <details>
          <summary>Line, handling and cautions</summary>
          <label className="field">
            Line
            <input value={line} maxLength={60} onChange={(event) => setLine(event.target.value)} />
          </label>
          {medium === "alcohol_marker" ? (
            <label className="field">
              Nib it is laid with
              <select
                value={handling.nib}
                onChange={(event) =>
                  setHandling({ ...handling, nib: event.target.value as typeof handling.nib })
                }
              >
                <option value="">not said</option>
                <option value="brush">brush: wet, for blends and small places</option>
                <option value="chisel">chisel: even, for large places</option>
              </select>
            </label>
          ) : (
            <label className="field">
              Hardness, 1 soft to 5 hard
              <input
                type="number"
                min={1}
                max={5}
                value={handling.hardness}
                onChange={(event) => setHandling({ ...handling, hardness: Number(event.target.value) || 3 })}
              />
            </label>
          )}
          <div className="tools" role="group" aria-label="Handling">
            {(
              [
                ["weak", "weak"],
                ["crumbles", "crumbles"],
                ["chalky", "goes chalky"],
                ["keeps_point", "keeps its point"],
              ] as const
            )
              .filter(([key]) => key === "weak" || medium !== "alcohol_marker")
              .map(([key, words]) => (
                <button
                  key={key}
                  type="button"
                  className="tool"
                  aria-pressed={handling[key]}
                  onClick={() => setHandling({ ...handling, [key]: !handling[key] })}
                >
                  {words}
                </button>
              ))}
          </div>
          <label className="field">
            Lightfastness, by its label
            <select
              value={lightfast}
              onChange={(event) => setLightfast(event.target.value as KitColour["lightfast"])}
            >
              <option value="">not known</option>
              {LIGHTFAST.map((word) => (
                <option key={word} value={word}>
                  {word}
                </option>
              ))}
            </select>
          </label>
          <label className="field">
            Harmful pigment, by its label
            <input value={harmful} maxLength={200} onChange={(event) => setHarmful(event.target.value)} />
          </label>
        </details>
        <ToneField
          key={`${again}-${touched?.count ?? 0}`}
          start={touched?.lab ?? tone ?? undefined}
          label="Tone of the solid swatch"
          onTone={(lab) => {
            setTone(lab);
            setSource("typed");
            setSpectrum(undefined);
          }}
        />
        {reader.data?.there && (
          <button type="button" className="tool" onClick={() => void read()}>
            {spectrum ? "Read it again" : "Read it with the colour reader"}
          </button>
        )}
        {spectrum && (
          <p className="measure" role="status">
            Read, spectrum and all; save to keep it.
          </p>
        )}
        <Fault problem={fault} />
        <SwatchPhoto
          onTone={(found) => {
            setTouched({ lab: found, count: (touched?.count ?? 0) + 1 });
            setTone(found);
            setSource("photograph");
            setSpectrum(undefined);
          }}
        />
        <Fault problem={problem} />
        {adding && (
          <p role="status" className="measure">
            {lately && `${lately} is in the box.`}
          </p>
        )}
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
