import { useEffect, useMemo, useRef, useState } from "react";
import type { GrainOut, MatchOut, StepOut, StudyOut } from "../../api/client";
import { quantiles } from "../../parts/grain";
import { Loading } from "../../parts/Says";
import { useKeys } from "../../parts/useKeys";
import type { AreaMap } from "../look/useAreaMap";
import { useZones } from "./useZones";

interface Props {
  study: StudyOut;
  steps: StepOut[];
  matches: MatchOut[];
  /** Told which step is the last that is seen. */
  onStep: (step: StepOut) => void;
  onClose: () => void;
}

const QUANTILES = 8;
const colour = (hex: string) =>
  (0xff000000 |
    (parseInt(hex.slice(5, 7), 16) << 16) |
    (parseInt(hex.slice(3, 5), 16) << 8) |
    parseInt(hex.slice(1, 3), 16)) >>>
  0;

/** What lies on each place after so many steps: its layer, or none. */
function laidAfter(steps: StepOut[], upTo: number): Map<string, { layer: number; tooth: number }> {
  const out = new Map<string, { layer: number; tooth: number }>();
  for (const step of steps.slice(0, upTo))
    for (const p of step.served) out.set(p.place, { layer: p.layer, tooth: p.after.tooth_used });
  return out;
}

/** The portrait's pixels: an image to paint, and which place and which grain each of them belongs to. */
interface Sheet {
  image: ImageData;
  cells: Uint16Array;
}

function sheetOf(zones: AreaMap): Sheet {
  const where = quantiles(zones.width, zones.height, QUANTILES);
  const cells = new Uint16Array(where.length);
  for (let i = 0; i < cells.length; i++) cells[i] = zones.labels[i]! * QUANTILES + where[i]!;
  return { image: new ImageData(zones.width, zones.height), cells };
}

/** Paint the portrait as it stands after so many steps, in predicted colours with grain. */
function paintState(
  canvas: HTMLCanvasElement,
  { image, cells }: Sheet,
  paper: string,
  grains: (GrainOut[] | null)[],
) {
  const pixels = new Uint32Array(image.data.buffer);
  const palette = new Uint32Array((grains.length + 1) * QUANTILES).fill(colour(paper));
  grains.forEach((grain, index) => {
    if (!grain) return;
    for (let q = 0; q < QUANTILES; q++) {
      const at = Math.min(grain.length - 1, Math.floor((q * grain.length) / QUANTILES));
      palette[(index + 1) * QUANTILES + q] = colour(grain[at]!.hex);
    }
  });
  for (let i = 0; i < pixels.length; i++) pixels[i] = palette[cells[i]!]!;
  canvas.getContext("2d")!.putImageData(image, 0, 0);
}

const save = (canvas: HTMLCanvasElement, name: string) =>
  canvas.toBlob((blob) => {
    if (!blob) return;
    const link = document.createElement("a");
    link.href = URL.createObjectURL(blob);
    link.download = name;
    link.click();
    URL.revokeObjectURL(link.href);
  }, "image/png");

/** The portrait growing step by step beside its reference; the tooth of every place with it. */
export function Grow({ study, steps, matches, onStep, onClose }: Props) {
  const zones = useZones(study);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [upTo, setUpTo] = useState(() => steps.filter((s) => s.done).length);
  const paper = useMemo(() => zones && sheetOf(zones), [zones]);
  const recipes = useMemo(() => new Map(matches.map((m) => [m.place, m.chosen])), [matches]);
  const grainsAt = (many: number) => {
    const laid = laidAfter(steps, many);
    return study.places.map((p) => {
      const there = laid.get(p.id);
      return there ? (recipes.get(p.id)?.grain[there.layer] ?? null) : null;
    });
  };
  const drawn = useRef(grainsAt);
  useEffect(() => {
    drawn.current = grainsAt;
  });
  useEffect(() => {
    if (canvas.current && paper) paintState(canvas.current, paper, study.paper.tone.hex, drawn.current(upTo));
  }, [paper, upTo, study.paper.tone.hex, recipes]);
  const show = (many: number) => {
    setUpTo(many);
    if (steps[many - 1]) onStep(steps[many - 1]!);
  };
  const go = (by: number) => show(Math.min(steps.length, Math.max(0, upTo + by)));
  useKeys({ ArrowLeft: () => go(-1), ArrowRight: () => go(1) });
  const step = steps[upTo - 1];
  const laid = laidAfter(steps, upTo);
  const all = () => {
    if (!zones || !paper) return;
    const many = Math.min(12, steps.length);
    const [across, down] = [4, Math.ceil(many / 4)];
    const sheet = document.createElement("canvas");
    sheet.width = across * zones.width;
    sheet.height = down * zones.height;
    const one = document.createElement("canvas");
    one.width = zones.width;
    one.height = zones.height;
    for (let i = 0; i < many; i++) {
      paintState(one, paper, study.paper.tone.hex, grainsAt(Math.round(((i + 1) * steps.length) / many)));
      sheet
        .getContext("2d")!
        .drawImage(one, (i % across) * zones.width, Math.floor(i / across) * zones.height);
    }
    save(sheet, "steps.png");
  };
  return (
    <section className="grow" aria-label="The portrait growing">
      <div className="margin-head">
        <h2>See it grow</h2>
        <div className="tools">
          <button
            type="button"
            className="tool"
            onClick={() => canvas.current && save(canvas.current, `step-${upTo}.png`)}
          >
            Save this step
          </button>
          <button type="button" className="tool" onClick={all}>
            Save all on one sheet
          </button>
          <button type="button" className="tool" onClick={onClose}>
            Back to the steps
          </button>
        </div>
      </div>
      {!zones ? (
        study.picture ? (
          <Loading what="Opening the zones" />
        ) : (
          <p>Without a picture there is no face to grow on; the steps stand in the list.</p>
        )
      ) : (
        <>
          <label className="grow-at">
            <span>
              {step ? (
                <>
                  After step {upTo} of {steps.length}: <b>{step.name}</b>, {step.words}
                </>
              ) : (
                "Bare paper"
              )}
            </span>
            <input
              type="range"
              min={0}
              max={steps.length}
              value={upTo}
              onChange={(event) => show(Number(event.target.value))}
            />
          </label>
          <div className="grow-body">
            <div className="panel grow-pair">
              <canvas
                ref={canvas}
                width={zones.width}
                height={zones.height}
                role="img"
                aria-label={`The portrait after ${upTo} of ${steps.length} steps`}
              />
              {study.picture && (
                <img src={`/api/pictures/${study.picture.id}/view.jpg`} alt="The reference" />
              )}
            </div>
            <ul className="grow-tooth">
              {study.places.map((p) => {
                const used = laid.get(p.id)?.tooth ?? 0;
                return (
                  <li key={p.id}>
                    <span>
                      {p.number} {p.called}
                    </span>
                    <span className="tooth-bar" aria-hidden="true">
                      <span className="tooth-after" style={{ width: `${100 * used}%` }} />
                    </span>
                    <small>{Math.round(100 * used)} %</small>
                  </li>
                );
              })}
            </ul>
          </div>
        </>
      )}
    </section>
  );
}
