import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { client, got, type Problem, type Schemas } from "../../api/client";
import { ForGood } from "../../parts/ForGood";
import { Fault } from "../../parts/Says";
import { Chip } from "../../parts/Swatch";
import { counted, onDay } from "../../parts/words";
import { useRack, useWith } from "../../study/queries";

type Kept = Schemas["KeptOut"];
type Carried = Schemas["CarriedOut"];
type Kind = "kit" | "paper" | "hand";
const KINDS: [Kind, "kits" | "papers" | "hands", string][] = [
  ["kit", "kits", "Kit"],
  ["paper", "papers", "Paper"],
  ["hand", "hands", "Hand"],
];

/** One kept thing: its roles and conditions; carried to another kit or paper; begun as a study. */
export function Keepsake({ kept, onGone }: { kept: Kept; onGone: () => void }) {
  const cache = useQueryClient();
  const go = useNavigate();
  const rack = useRack().data;
  const versions = useQuery({
    queryKey: ["library-versions", kept.id, kept.number],
    queryFn: () => got(client.GET("/api/library/{id}/versions", { params: { path: { id: kept.id } } })),
  }).data;
  const [pick, setPick] = useState<Partial<Record<Kind, string>>>({});
  const [number, setNumber] = useState<number | null>(null);
  const [carried, setCarried] = useState<Carried | null>(null);
  const [busy, setBusy] = useState("");
  const [problem, setProblem] = useState<Problem | null>(null);
  const chosen = (kind: Kind, all: { id: string; name: string }[] = []) =>
    pick[kind] ?? all.find((t) => t.name === kept[kind])?.id ?? all[0]?.id ?? "";
  const kit = chosen("kit", rack?.kits);
  const along = useWith(kit, pick);
  // To another kit, or another paper, go with it what it was last used with there.
  const asked = {
    kit,
    paper: pick.kit ? along.paper : chosen("paper", rack?.papers),
    hand: pick.kit || pick.paper ? along.hand : chosen("hand", rack?.hands),
    number,
  };
  const settled = asked.paper !== "" && asked.hand !== "";
  const params = { path: { id: kept.id } };
  const during = (words: string, work: Promise<unknown>) => {
    setBusy(words);
    setProblem(null);
    void work.catch(setProblem).finally(() => setBusy(""));
  };
  const carry = () =>
    during(
      "Solving it again there…",
      got(client.POST("/api/library/{id}/carry", { params, body: asked })).then(setCarried),
    );
  const begin = () =>
    during(
      "Beginning the study…",
      got(client.POST("/api/library/{id}/begin", { params, body: asked })).then((study) => {
        cache.setQueryData(["study", study.id], study);
        void cache.invalidateQueries({ queryKey: ["studies"] });
        void go(`/studies/${study.id}/match`);
      }),
    );
  const remove = () =>
    during(
      "Taking it out…",
      got(client.DELETE("/api/library/{id}", { params })).then(() => {
        onGone();
        void cache.invalidateQueries({ queryKey: ["library"] });
      }),
    );
  return (
    <>
      <h2>{kept.name}</h2>
      <p className="measure">
        {kept.kit} on {kept.paper}, {kept.hand.toLowerCase()}, in {kept.light}
        {kept.school && `, ${kept.school.toLowerCase()}`}; from {kept.study}.
        {kept.ita !== null && ` Base: ${kept.undertone}, ITA° ${kept.ita.toFixed(0)} (${kept.ita_class}).`}
      </p>
      {kept.note && <p className="journal-note">{kept.note}</p>}
      <ol className="library-members">
        {kept.members.map((m, i) => (
          <li key={i}>
            <span className="panel">
              <Chip hex={m.tone.hex} size={30} />
            </span>
            <span>
              <b>{m.called}</b>
              <small>{m.words}</small>
            </span>
          </li>
        ))}
      </ol>
      {versions && versions.length > 1 && (
        <label className="field">
          Version
          <select
            value={number ?? kept.number}
            onChange={(event) => {
              setNumber(Number(event.target.value));
              setCarried(null);
            }}
          >
            {versions.map((v) => (
              <option key={v.number} value={v.number}>
                {v.number}, {onDay(v.made)}, {v.kit}
              </option>
            ))}
          </select>
        </label>
      )}
      <h3>Carry it to</h3>
      {rack &&
        KINDS.map(([kind, all, label]) => (
          <label key={kind} className="field">
            {label}
            <select
              value={asked[kind]}
              onChange={(event) => {
                setPick({ ...pick, [kind]: event.target.value });
                setCarried(null);
              }}
            >
              {rack[all].map((t) => (
                <option key={t.id} value={t.id}>
                  {t.name}
                </option>
              ))}
            </select>
          </label>
        ))}
      <div className="tools">
        <button type="button" className="tool" disabled={busy !== "" || !settled} onClick={carry}>
          See what is lost there
        </button>
        <button type="button" className="act" disabled={busy !== "" || !settled} onClick={begin}>
          Begin a study with it
        </button>
      </div>
      <p role="status" className="measure">
        {busy}
      </p>
      <Fault problem={problem} />
      {carried && (
        <section aria-label="Carried there">
          <p>
            {carried.members.some((m) => m.lost)
              ? `On ${carried.paper} with ${carried.kit}, in ${counted(carried.colours, "colour")}:`
              : `Nothing is lost on ${carried.paper} with ${carried.kit}.`}
          </p>
          <ol className="library-members">
            {carried.members.map((m, i) => (
              <li key={i}>
                <span className="panel pair">
                  <Chip hex={m.looked.hex} size={30} />
                  {m.comes_out && <Chip hex={m.comes_out.hex} size={30} />}
                </span>
                <span>
                  <b>{m.called}</b>
                  {m.lost && <small className="lost">! {m.lost}.</small>}
                  <small>{m.words}</small>
                </span>
              </li>
            ))}
          </ol>
        </section>
      )}
      <ForGood
        label="Take it out of the library"
        act="Take it out for good"
        keep="Leave it there"
        onDo={remove}
      />
    </>
  );
}
