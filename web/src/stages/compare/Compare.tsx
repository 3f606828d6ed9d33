import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useSearchParams } from "react-router";
import { client, got, type ComplexionOut, type StudyOut } from "../../api/client";
import { railY } from "../../parts/scale";
import { Fault, Loading } from "../../parts/Says";
import { Problem } from "../../api/client";
import { useSize } from "../../parts/useSize";
import { useOverview } from "../../study/reading";
import { useStudies } from "../../study/queries";

const useOne = (id: string) =>
  useQuery({
    queryKey: ["study", id],
    queryFn: () => got(client.GET("/api/studies/{id}", { params: { path: { id } } })),
    enabled: id !== "",
  });

/** Two sitters, two pictures or two crops side by side, on one rail. */
export function Compare() {
  const [asked, ask] = useSearchParams();
  const studies = (useStudies().data ?? []).filter((s) => s.picture);
  const one = asked.get("one") ?? studies[0]?.id ?? "";
  const other = asked.get("other") ?? studies.find((s) => s.id !== one)?.id ?? "";
  const left = useOne(one);
  const right = useOne(other);
  const apart = useQuery({
    queryKey: ["against", one, other, left.data?.look, right.data?.look],
    queryFn: () =>
      got(client.GET("/api/studies/{id}/against/{other}", { params: { path: { id: one, other } } })).then(
        (a) => a ?? null,
      ),
    enabled: !!left.data?.picture && !!right.data?.picture,
  }).data;
  useEffect(() => {
    document.title = "Two side by side · Caltin";
  }, []);
  const pick = (which: "one" | "other", id: string) => ask({ one, other, [which]: id }, { replace: true });
  const problem = [left.error, right.error].find((e) => e instanceof Problem) as Problem | undefined;
  return (
    <div className="compare-page">
      <header className="compare-head">
        <Link to="/" className="path-shelf">
          Shelf
        </Link>
        <h1>Two side by side</h1>
        {(
          [
            ["one", one, "Left"],
            ["other", other, "Right"],
          ] as const
        ).map(([which, id, name]) => (
          <label key={which} className="field">
            {name}
            <select value={id} onChange={(event) => pick(which, event.target.value)}>
              {studies.map((s) => (
                <option key={s.id} value={s.id}>
                  {s.title}
                </option>
              ))}
            </select>
          </label>
        ))}
        <p role="status" className="compare-apart">
          {apart && (
            <>
              Right base against left: <b>{apart.words}</b> <small>ΔE00 {apart.de00.toFixed(1)}</small>
            </>
          )}
        </p>
      </header>
      <Fault problem={problem ?? null} />
      {studies.length < 2 ? (
        <main className="page-narrow">
          <p>Two studies with pictures are needed. Begin another on the shelf.</p>
        </main>
      ) : left.data && right.data ? (
        <main className="compare">
          <Side name="Left" study={left.data} />
          <Rail left={left.data} right={right.data} />
          <Side name="Right" study={right.data} />
        </main>
      ) : (
        <Loading what="Fetching both" />
      )}
    </div>
  );
}

function Side({ name, study }: { name: string; study: StudyOut }) {
  const overview = useOverview(study.id, study.look, study.picture !== null).data;
  return (
    <section className="compare-side" aria-label={`${name}: ${study.state.title}`}>
      <div className="compare-picture">
        <img
          src={`/api/studies/${study.id}/views/${study.look}/picture.jpg`}
          alt={`The picture of ${study.state.title}`}
        />
      </div>
      <div className="compare-words">
        <h2>
          <Link to={`/studies/${study.id}/look`}>{study.state.title}</Link>
        </h2>
        {overview?.complexion ? (
          <Measures c={overview.complexion} />
        ) : (
          <p>{overview ? "No skin was found." : "reading…"}</p>
        )}
      </div>
    </section>
  );
}

function Measures({ c }: { c: ComplexionOut }) {
  const rows = [
    ["Base", `value ${c.base.value.toFixed(1)}, leans ${c.undertone}, hue ${c.hue.toFixed(0)}°`],
    ["ITA°", `${c.ita.toFixed(0)}°, “${c.ita_class}”`],
    ["Strength", `C* ${c.chroma.toFixed(0)}`],
    [
      "Shadow",
      `value ${c.shadow.value.toFixed(1)}, ${c.shadow_word === "equal" ? "as warm" : c.shadow_word}`,
    ],
    ["Melanin, blood", `${c.melanin.toFixed(2)}, ${c.blood.toFixed(2)}`],
  ];
  return (
    <dl className="measures">
      {rows.map(([name, said]) => (
        <div key={name}>
          <dt>{name}</dt>
          <dd>{said}</dd>
        </div>
      ))}
    </dl>
  );
}

const CHIP = 15;

function Rail({ left, right }: { left: StudyOut; right: StudyOut }) {
  const [hold, { width, height }] = useSize<HTMLElement>();
  const middle = width / 2;
  return (
    <section className="compare-rail" ref={hold} aria-label="Both on one value rail">
      {height > 0 && (
        <svg width={width} height={height} role="img" aria-label="Values from 10, lightest, to 1, darkest">
          <line x1={middle} x2={middle} y1={railY(10, height)} y2={railY(0, height)} stroke="currentColor" />
          {Array.from({ length: 10 }, (_, i) => i + 1).map((value) => (
            <text key={value} x={middle + 4} y={railY(value, height)} dy="-0.3em" className="rail-number">
              {value}
            </text>
          ))}
          {[left, right].map((study, side) =>
            study.places.map((p) => (
              <g
                key={`${side}${p.id}`}
                transform={`translate(${side ? middle + 20 : middle - 20 - CHIP} ${railY(p.tone.value, height) - CHIP / 2})`}
              >
                <rect width={CHIP} height={CHIP} style={{ fill: p.tone.hex }} />
                <title>{`${p.called}, value ${p.tone.value.toFixed(1)}`}</title>
              </g>
            )),
          )}
        </svg>
      )}
    </section>
  );
}
