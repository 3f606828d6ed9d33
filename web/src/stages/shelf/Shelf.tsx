import { counted } from "../../parts/words";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import {
  client,
  got,
  Problem,
  sendFile,
  type PaperOut,
  type PictureOut,
  type StudyOut,
} from "../../api/client";
import { Help } from "../../parts/Help";
import { Fault, Loading } from "../../parts/Says";
import { Chip } from "../../parts/Swatch";
import { useKeys } from "../../parts/useKeys";
import { useRack, useStudies, useWith } from "../../study/queries";
import { FirstThings, firstThing } from "./FirstThings";
import { JournalSearch } from "./JournalSearch";
import { PaperForm } from "./PaperForm";
import { TonesBall } from "./TonesBall";

const readable = (name: string) =>
  name
    .replace(/\.[^.]+$/, "")
    .replace(/[-_]+/g, " ")
    .trim();

/** Shelf: the studies, the kits, the papers; and the way to begin. */
export function Shelf() {
  const cache = useQueryClient();
  const go = useNavigate();
  const rack = useRack();
  const studies = useStudies();
  const [problem, setProblem] = useState<Problem | null>(null);
  const [busy, setBusy] = useState("");
  const [over, setOver] = useState(false);
  const [help, setHelp] = useState(false);
  const [paper, setPaper] = useState<PaperOut | "new" | null>(null);
  const [pick, setPick] = useState({ kit: "", paper: "", hand: "" });
  const kit = pick.kit || rack.data?.kits[0]?.id || "";
  const { paper: onPaper, hand } = useWith(kit, pick);
  const chosen = { kit, paper: onPaper, hand };
  const file = useRef<HTMLInputElement>(null);
  const back = useRef<HTMLInputElement>(null);
  useKeys({ "?": () => setHelp(true) });
  useEffect(() => {
    document.title = "Shelf · Caltin";
  }, []);

  const first = rack.data ? firstThing(rack.data) : null;
  const ready = first === null && chosen.kit && chosen.paper && chosen.hand;
  const begin = async (picture: File | null) => {
    if (first) return;
    setProblem(null);
    try {
      let taken: PictureOut | null = null;
      if (picture) {
        setBusy(`Taking in ${picture.name}`);
        taken = await sendFile<PictureOut>("/api/pictures", "picture", picture);
      }
      const title = taken ? readable(taken.name) || "New study" : "Study from tones";
      const study = await got(
        client.POST("/api/studies", {
          body: { title: title.slice(0, 120), picture: taken?.id ?? null, ...chosen },
        }),
      );
      cache.setQueryData(["study", study.id], study);
      void cache.invalidateQueries({ queryKey: ["studies"] });
      void go(`/studies/${study.id}/look`);
    } catch (fault) {
      setProblem(fault as Problem);
      setBusy("");
    }
  };
  const readBack = async (saved: File) => {
    setProblem(null);
    setBusy(`Reading ${saved.name}`);
    try {
      const study = await sendFile<StudyOut>("/api/read-back", "file", saved);
      void cache.invalidateQueries();
      void go(`/studies/${study.id}/look`);
    } catch (fault) {
      setProblem(fault as Problem);
      setBusy("");
    }
  };
  const newKit = () =>
    got(client.POST("/api/kits", { body: { name: "New kit", colours: [], spectra: {} } }))
      .then((kit) => {
        void cache.invalidateQueries({ queryKey: ["rack"] });
        void go(`/kits/${kit.id}`);
      })
      .catch(setProblem);
  const begun = useRef(begin);
  useEffect(() => {
    begun.current = begin;
  });
  useEffect(() => {
    const pasted = (event: ClipboardEvent) => {
      const image = [...(event.clipboardData?.files ?? [])].find((f) => f.type.startsWith("image/"));
      if (image) void begun.current(image);
    };
    window.addEventListener("paste", pasted);
    return () => window.removeEventListener("paste", pasted);
  }, []);

  return (
    <div className="shelf">
      <header className="shelf-head">
        <h1>Caltin</h1>
        <p>Skin recipes for the colours on your table.</p>
        <button type="button" className="tool" onClick={() => setHelp(true)} aria-label="Keys and settings">
          ?
        </button>
      </header>
      <main className="shelf-body">
        <section
          className={over ? "begin is-over" : "begin"}
          aria-label="Begin a study"
          onDragOver={(event) => {
            event.preventDefault();
            setOver(true);
          }}
          onDragLeave={() => setOver(false)}
          onDrop={(event) => {
            event.preventDefault();
            setOver(false);
            const dropped = event.dataTransfer.files[0];
            if (dropped) void begin(dropped);
          }}
        >
          <h2>{first ? "Before the first picture" : "Begin with a picture"}</h2>
          {rack.data && first && (
            <FirstThings rack={rack.data} onPaper={() => setPaper("new")} onKit={() => void newKit()} />
          )}
          {!first && (
            <p>
              Drop a portrait here, paste one, or choose it. It stays on this machine; only its pixels are
              kept.
            </p>
          )}
          {busy ? (
            <Loading what={busy} />
          ) : first ? null : (
            <div className="actions">
              <button type="button" className="act" disabled={!ready} onClick={() => file.current?.click()}>
                Choose a picture
              </button>
              <button type="button" className="tool" disabled={!ready} onClick={() => void begin(null)}>
                From a planned light or tones
              </button>
            </div>
          )}
          <input
            ref={file}
            type="file"
            accept="image/*,.heic,.heif,.tif,.tiff"
            hidden
            aria-label="Picture"
            onChange={(event) => event.target.files?.[0] && void begin(event.target.files[0])}
          />
          <Fault problem={problem} />
          {rack.data && !first && (
            <div className="begin-with">
              {(
                [
                  ["kit", "Kit", rack.data.kits],
                  ["paper", "Paper", rack.data.papers],
                  ["hand", "Hand", rack.data.hands],
                ] as const
              ).map(([key, label, all]) => (
                <label key={key} className="field">
                  {label}
                  <select
                    value={chosen[key]}
                    onChange={(event) => {
                      // What goes with a kit, or with a kit on a paper, follows it.
                      const after =
                        key === "kit" ? { paper: "", hand: "" } : key === "paper" ? { hand: "" } : {};
                      setPick({ ...pick, ...after, [key]: event.target.value });
                    }}
                  >
                    {all.map((t) => (
                      <option key={t.id} value={t.id}>
                        {t.name}
                      </option>
                    ))}
                  </select>
                </label>
              ))}
            </div>
          )}
        </section>

        <section className="studies" aria-label="Studies">
          <div className="studies-head">
            <h2>Studies</h2>
            {(studies.data?.filter((s) => s.picture).length ?? 0) > 1 && (
              <Link to="/compare" className="path-shelf">
                Two side by side
              </Link>
            )}
            <Link to="/library" className="path-shelf">
              Library
            </Link>
          </div>
          {(studies.data?.length ?? 0) > 0 && <JournalSearch />}
          {studies.error && <Fault problem={studies.error as Problem} />}
          {studies.isLoading && <Loading what="Fetching the studies" />}
          {studies.data?.length === 0 && (
            <p>No study yet. {first ? "" : "The first picture you drop begins one."}</p>
          )}
          <ul>
            {studies.data?.map((s) => (
              <li key={s.id}>
                <Link
                  to={`/studies/${s.id}/${s.drawn ? "draw" : s.places ? "match" : "look"}`}
                  className="study"
                >
                  {s.picture ? (
                    <img src={`/api/pictures/${s.picture}/thumbnail.jpg`} alt="" width={92} height={115} />
                  ) : (
                    <TonesBall tones={s.tones} />
                  )}
                  <span className="study-words">
                    <b>{s.title}</b>
                    <small>
                      {s.kit} on {s.paper}
                    </small>
                    <small>
                      {counted(s.places, "place")}
                      {s.drawn ? `, ${s.drawn} steps drawn` : s.places ? ", not begun to draw" : ""}
                    </small>
                    <span className="study-tones" aria-hidden="true">
                      {s.tones.map((t, index) => (
                        <span key={index} style={{ background: t.hex }} />
                      ))}
                    </span>
                  </span>
                </Link>
              </li>
            ))}
          </ul>
          <button type="button" className="tool" onClick={() => back.current?.click()}>
            Read a saved study back
          </button>
          <input
            ref={back}
            type="file"
            accept=".json,.csv"
            hidden
            aria-label="Saved study"
            onChange={(event) => event.target.files?.[0] && void readBack(event.target.files[0])}
          />
        </section>

        <section className="racks" aria-label="Kits and papers">
          <h2>Kits</h2>
          {rack.isLoading && <Loading what="Fetching the kits" />}
          <ul>
            {rack.data?.kits.map((kit) => (
              <li key={kit.id}>
                <Link to={`/kits/${kit.id}`} className="rack-kit">
                  <b>{kit.name}</b>
                  <small>{counted(kit.colours.filter((c) => !c.retired).length, "colour")}</small>
                  <span className="rack-colours" aria-hidden="true">
                    {kit.colours.map((c) => (
                      <span key={c.id} style={{ background: c.shown.hex }} />
                    ))}
                  </span>
                </Link>
              </li>
            ))}
          </ul>
          <button type="button" className="tool" onClick={() => void newKit()}>
            Add a kit
          </button>
          <h2>Papers</h2>
          <ul>
            {rack.data?.papers.map((p) => (
              <li key={p.id}>
                <button type="button" className="rack-paper" onClick={() => setPaper(p)}>
                  <Chip hex={p.tone.hex} size={24} /> {p.name} <small>{p.tooth}</small>
                </button>
              </li>
            ))}
          </ul>
          <button type="button" className="tool" onClick={() => setPaper("new")}>
            Add a paper
          </button>
        </section>
      </main>
      <PaperForm
        key={paper === "new" ? "new" : (paper?.version ?? "none")}
        paper={paper === "new" ? null : paper}
        show={paper !== null}
        onHide={() => setPaper(null)}
      />
      <Help stage="shelf" show={help} onHide={() => setHelp(false)} />
    </div>
  );
}
