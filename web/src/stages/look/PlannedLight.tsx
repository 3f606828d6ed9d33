import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useRef, useState, type ReactNode } from "react";
import { client, got, type Problem, type RoleOut, type Schemas } from "../../api/client";
import { fromWhere } from "../../parts/LightArrow";
import type { RailMark } from "../../parts/marks";
import { Fault, Loading } from "../../parts/Says";
import { ToneField } from "../../parts/ToneField";
import { sameTone } from "../../parts/useTone";
import { useStudy } from "../../study/useStudy";
import { Slider } from "../../parts/Slider";

type Planned = Required<Schemas["PlannedState"]>;
interface Props {
  usual: Schemas["UsualOut"];
  roles: RoleOut[];
  onTaken: () => void;
  /** Draws the stage around it, with the tones on the rail that would be taken now. */
  stage: (board: ReactNode, marks: RailMark[]) => ReactNode;
}

const OWN = "own";
/** A complexion under a light of one's own: what its highlight, its shadow and all between look like, to take as places. */
export function PlannedLight({ usual, roles, onTaken, stage }: Props) {
  const { study, change } = useStudy();
  const [plan, setPlan] = useState({ ...usual.planned, ...study.state.planned } as Planned);
  const [taken, setTaken] = useState(() => {
    const there = study.places.filter((p) => p.x === null && p.area === null).map((p) => p.role);
    return there.length > 0 ? there : roles.filter((r) => r.group === "skin").map((r) => r.slug);
  });
  const named = usual.things.find((t) => sameTone(plan.bounce, t.tone));
  const [ownThing, setOwnThing] = useState(plan.bounce !== null && !named);
  const set = (some: Partial<Planned>) => setPlan((before) => ({ ...before, ...some }));
  // While one light is on its way the next waits, and the latest is asked for.
  const [asked, setAsked] = useState(plan);
  const seen = useQuery({
    queryKey: ["planned", asked],
    queryFn: () => got(client.POST("/api/planned-light", { body: asked })),
    placeholderData: keepPreviousData,
  });
  if (asked !== plan && !seen.isFetching) setAsked(plan);
  const offered = seen.data?.tones.map((t) => t.role) ?? [];
  const many = offered.filter((r) => taken.includes(r)).length;
  const lights = (label: string, key: "kelvin" | "fill_kelvin") => (
    <label className="field">
      {label}
      <select value={plan[key]} onChange={(event) => set({ [key]: Number(event.target.value) })}>
        {usual.lights.map((l) => (
          <option key={l.kelvin} value={l.kelvin}>
            {l.name}, {l.kelvin} K
          </option>
        ))}
      </select>
    </label>
  );
  const marks = (seen.data?.tones ?? [])
    .filter((t) => taken.includes(t.role))
    .map((t) => ({
      id: t.role,
      value: t.tone.value,
      hex: t.tone.hex,
      label: `${t.role_name}, value ${t.tone.value.toFixed(1)}`,
    }));
  return stage(
    <section className="planned" aria-label="A light of your own">
      <div className="planned-base">
        <h2>The complexion</h2>
        <p className="measure">light to deep, ruddy to olive</p>
        <div className="panel planned-complexions">
          {usual.complexions.map((c) => (
            <button
              key={`${c.undertone} ${c.tone.value}`}
              type="button"
              aria-pressed={sameTone(plan.base, c.tone.lab)}
              aria-label={`${c.undertone}, value ${c.tone.value.toFixed(1)}`}
              style={{ background: c.tone.hex }}
              onClick={() => set({ base: c.tone.lab })}
            />
          ))}
        </div>
      </div>
      <div className="planned-light">
        <h2>The light</h2>
        <div className="panel planned-ball">
          {seen.data ? (
            <Ball
              src={seen.data.ball}
              elevation={plan.elevation}
              azimuth={plan.azimuth}
              onMoved={(elevation, azimuth) => set({ elevation, azimuth })}
            />
          ) : (
            <Loading what="Lighting the head" />
          )}
          {seen.data && (
            <p>
              {plan.elevation > 80 || plan.elevation < -80
                ? `From straight ${plan.elevation > 0 ? "above" : "below"}`
                : `From ${fromWhere(seen.data.direction)}, ${depth(plan.azimuth)}`}
            </p>
          )}
        </div>
        <Slider
          label="Side"
          unit="°"
          least={-180}
          most={180}
          step={5}
          value={plan.azimuth}
          onValue={(azimuth) => set({ azimuth })}
        />
        <Slider
          label="Height"
          unit="°"
          least={-90}
          most={90}
          step={5}
          value={plan.elevation}
          onValue={(elevation) => set({ elevation })}
        />
      </div>
      <div className="planned-lights">
        {lights("Key light", "kelvin")}
        {lights("Light in the shadows", "fill_kelvin")}
        <Slider
          label="Shadows"
          unit="stops below"
          least={0}
          most={5}
          step={0.5}
          value={plan.stops_below}
          onValue={(stops_below) => set({ stops_below })}
        />
        <label className="field">
          Beside the sitter
          <select
            value={ownThing ? OWN : (named?.name ?? "")}
            onChange={(event) => {
              setOwnThing(event.target.value === OWN);
              if (event.target.value !== OWN)
                set({ bounce: usual.things.find((t) => t.name === event.target.value)?.tone ?? null });
            }}
          >
            <option value="">nothing that throws light back</option>
            {usual.things.map((t) => (
              <option key={t.name} value={t.name}>
                {t.name}
              </option>
            ))}
            <option value={OWN}>another tone</option>
          </select>
        </label>
        {ownThing && (
          <ToneField
            label="Its tone"
            start={plan.bounce ?? undefined}
            onTone={(bounce) => bounce && set({ bounce })}
          />
        )}
        {plan.bounce && (
          <Slider
            label="How much of it"
            unit=""
            least={0}
            most={1}
            step={0.1}
            value={plan.strength}
            onValue={(strength) => set({ strength })}
          />
        )}
      </div>
      <Fault problem={seen.error as Problem | null} />
      {seen.data && (
        <div className="panel planned-tones" role="group" aria-label="The tones; touch those to take">
          {seen.data.tones.map((t) => (
            <button
              key={t.role}
              type="button"
              aria-pressed={taken.includes(t.role)}
              onClick={() =>
                setTaken((before) =>
                  before.includes(t.role) ? before.filter((r) => r !== t.role) : [...before, t.role],
                )
              }
            >
              <span style={{ background: t.tone.hex }} />
              <b>{t.role_name}</b>
              <small>
                {taken.includes(t.role) ? "✓ " : ""}
                {t.tone.value.toFixed(1)}
              </small>
            </button>
          ))}
        </div>
      )}
      <div className="planned-take">
        <p className="measure">Touch a tone to take it or leave it.</p>
        <button
          type="button"
          className="act"
          disabled={many === 0}
          onClick={() => {
            const roles = offered.filter((r) => taken.includes(r));
            change({ do: "plan_light", planned: plan, roles });
            onTaken();
          }}
        >
          Take these {many} tones
        </button>
      </div>
    </section>,
    marks,
  );
}

const depth = (azimuth: number) =>
  Math.abs(azimuth) <= 60 ? "in front" : Math.abs(azimuth) <= 110 ? "beside" : "behind";

const SIZE = 208;
const round5 = (degrees: number) => Math.round(degrees / 5) * 5;

/** The complexion as a ball; the light is dragged over it, and beyond its edge to behind it. The sliders do the same by key. */
function Ball(props: {
  src: string;
  elevation: number;
  azimuth: number;
  onMoved: (elevation: number, azimuth: number) => void;
}) {
  const { src, elevation, azimuth, onMoved } = props;
  const held = useRef(false);
  const [up, about] = [(elevation * Math.PI) / 180, (azimuth * Math.PI) / 180];
  const behind = Math.cos(up) * Math.cos(about) < 0;
  // A light behind the ball lies as far beyond its edge as it would lie within.
  const flat = Math.hypot(Math.cos(up) * Math.sin(about), Math.sin(up));
  const far = behind ? 1 + 0.25 * (1 - flat) : flat;
  const scale = flat > 1e-6 ? far / flat : 0;
  const x = Math.cos(up) * Math.sin(about) * scale;
  const y = Math.sin(up) * scale;
  const move = (event: React.PointerEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const half = box.width / 2 / 1.3;
    const [px, py] = [
      (event.clientX - box.left - box.width / 2) / half,
      -(event.clientY - box.top - box.height / 2) / half,
    ];
    const away = Math.hypot(px, py) || 1e-6;
    const inside = away <= 1 ? away : Math.max(0, 1 - (away - 1) * 4);
    const [nx, ny] = [(px / away) * inside, (py / away) * inside];
    const nz = Math.sqrt(Math.max(0, 1 - nx * nx - ny * ny)) * (away <= 1 ? 1 : -1);
    onMoved(
      round5((Math.asin(Math.max(-1, Math.min(1, ny))) * 180) / Math.PI),
      round5((Math.atan2(nx, nz) * 180) / Math.PI),
    );
  };
  return (
    <svg
      className="ball"
      viewBox="-1.3 -1.3 2.6 2.6"
      width={SIZE}
      height={SIZE}
      aria-hidden="true"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        held.current = true;
        move(event);
      }}
      onPointerMove={(event) => held.current && move(event)}
      onPointerUp={() => (held.current = false)}
      onPointerCancel={() => (held.current = false)}
    >
      <image href={src} x={-1} y={-1} width={2} height={2} />
      <circle r={1.25} className="ball-behind" />
      <circle cx={x} cy={-y} r={0.09} className={behind ? "ball-light is-behind" : "ball-light"} />
    </svg>
  );
}
