import { useState } from "react";
import { Fault } from "../../parts/Says";
import { PlaceOptions } from "../../parts/PlaceOptions";
import { useJob } from "../../study/queries";
import { useStudy } from "../../study/useStudy";
import type { Schemas } from "../../api/client";

type Asked = Schemas["CardAsked"];
const KINDS: [Asked["kind"], string][] = [
  ["card", "the whole card"],
  ["recipes", "recipe cards, one a place"],
  ["plan", "the plan by sittings"],
  ["under", "an under-colour chart"],
  ["ledge", "the palette ledge"],
];
const PAGES: [Asked["page"], string][] = [
  ["A4", "A4"],
  ["letter", "letter"],
  ["A6", "A6, for the box"],
];

/** What to take along: which sheet, on which page; made when asked for, as PDF and as a picture. */
export function useAlong() {
  const { study } = useStudy();
  const [asked, setAsked] = useState<Asked>({ kind: "card", page: "A4", place: null });
  const [made, setMade] = useState<{ asked: Asked; revision: number } | null>(null);
  const card = useJob(study.id, "card", (job) => {
    if (job.state === "done") setMade({ asked, revision: study.revision });
  });
  const make = () => {
    if (!card.open) card.begin({ card: asked });
  };
  const ready = made?.revision === study.revision && made.asked === asked;
  return { asked, setAsked, card, make, ready };
}

export function Along({ along }: { along: ReturnType<typeof useAlong> }) {
  const { study } = useStudy();
  const { asked, setAsked, card, ready } = along;
  const here = `/api/studies/${study.id}`;
  const query = new URLSearchParams({ kind: asked.kind!, page: asked.page! });
  if (asked.place) query.set("place", asked.place);
  return (
    <>
      <label className="field">
        Sheet
        <select
          value={asked.kind}
          onChange={(event) => setAsked({ ...asked, kind: event.target.value as Asked["kind"], place: null })}
        >
          {KINDS.map(([kind, name]) => (
            <option key={kind} value={kind}>
              {name}
            </option>
          ))}
        </select>
      </label>
      {asked.kind === "under" && (
        <label className="field">
          For
          <select
            value={asked.place ?? ""}
            onChange={(event) => setAsked({ ...asked, place: event.target.value || null })}
          >
            <option value="">the base</option>
            <PlaceOptions places={study.places} />
          </select>
        </label>
      )}
      <label className="field">
        Page
        <select
          value={asked.page}
          onChange={(event) => setAsked({ ...asked, page: event.target.value as Asked["page"] })}
        >
          {PAGES.map(([page, name]) => (
            <option key={page} value={page}>
              {name}
            </option>
          ))}
        </select>
      </label>
      {card.open && <progress max={card.job?.of || 2} value={card.job?.done ?? 0} aria-label="Card" />}
      {ready && (
        <p className="tools">
          <a className="act" href={`${here}/card.pdf?${query}`} download data-testid="card-link">
            Save it (PDF)
          </a>{" "}
          <a className="tool" href={`${here}/card.png?${query}`} download>
            Its first page (PNG)
          </a>
        </p>
      )}
      {card.job?.state === "failed" && <Fault>{card.job.says}</Fault>}
      <Fault problem={card.problem} />
      <p>
        <a href={`${here}/study.json`} download>
          The whole study (JSON)
        </a>
        <br />
        <a href={`${here}/recipes.csv`} download>
          Places and recipes (CSV)
        </a>
        <br />
        <a href={`${here}/palette.gpl`} download>
          Its palette (GPL)
        </a>
      </p>
      <p className="measure">
        Study and recipes are read back on the shelf, a palette as a kit. Every swatch has its value beside
        it, for grey print.
      </p>
    </>
  );
}
