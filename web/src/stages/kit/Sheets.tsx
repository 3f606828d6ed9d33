import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState, type ReactNode } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { client, got, Problem, sendFile, type SwatchSheetOut } from "../../api/client";
import { Empty, Fault, Opening } from "../../parts/Says";
import { useSettings } from "../../parts/settings";
import { counted, onDay } from "../../parts/words";
import { PhotoLight } from "../../study/PhotoLight";
import { useWith, useWork } from "../../study/queries";
import { Cells } from "./Cells";
import { Further } from "./Further";
import { OwnChart } from "./OwnChart";

const EVENINGS = [
  [3, "two minutes: 3 control cells"],
  [24, "a quarter of an hour: 24 cells"],
  [48, "half an hour: 48 cells"],
  [96, "an hour: 96 cells"],
] as const;

/** What was photographed of a sheet; pictures are not kept, so that both are sent where a second one comes. */
interface Taken {
  sheet: string;
  photo: File;
  again?: File;
}

/** A button that asks for a photograph. */
function PhotoOf({ onPhoto, children }: { onPhoto: (photo: File) => void; children: ReactNode }) {
  return (
    <label className="tool">
      {children}
      <input
        type="file"
        className="visually-hidden"
        accept="image/jpeg,image/png,image/webp,image/heic,image/tiff"
        onChange={(event) => event.target.files?.[0] && onPhoto(event.target.files[0])}
      />
    </label>
  );
}

/** Measuring a kit: a sheet that teaches most, printed, drawn, photographed; or a photograph of a chart there is already. */
export function Sheets() {
  const { id = "" } = useParams();
  const cache = useQueryClient();
  const { surround, photoLight } = useSettings();
  const kit = useQuery({
    queryKey: ["kit", id],
    queryFn: () => got(client.GET("/api/kits/{id}", { params: { path: { id } } })),
  });
  const rack = useQuery({ queryKey: ["rack"], queryFn: () => got(client.GET("/api/rack")) });
  const sheets = useQuery({
    queryKey: ["sheets", id],
    queryFn: () => got(client.GET("/api/kits/{id}/sheets", { params: { path: { id } } })),
  });
  const [asked] = useSearchParams();
  const [chosen, setChosen] = useState(asked.get("paper"));
  const [own, setOwn] = useState(false);
  const [page, setPage] = useState<"A4" | "letter">("A4");
  const [frame, setFrame] = useState(false);
  const [acts, setActs] = useState(false);
  const [many, setMany] = useState(48);
  const [open, setOpen] = useState<string | null>(null);
  const [busy, setBusy] = useState("");
  const [taken, setTaken] = useState<Taken | null>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  const usual = useWith(id).paper;
  const paper = chosen ?? sheets.data?.[0]?.paper ?? (sheets.isLoading ? "" : usual);
  const start = useCallback(
    (on: string) =>
      got(client.POST("/api/kits/{id}/jobs", { params: { path: { id } }, body: { paper: on } })),
    [id],
  );
  const work = useWork(start, (job) => {
    if (job.state !== "done") return;
    for (const key of ["kit", "rack", "sheets", "told", "further"])
      void cache.invalidateQueries({ queryKey: [key] });
  });
  useEffect(() => {
    document.title = `Measuring ${kit.data?.name ?? "a kit"} · Caltin`;
  }, [kit.data?.name]);
  if (!kit.data || !rack.data) return <Opening what="kit" problem={kit.error as Problem | null} />;
  const here = sheets.data?.filter((s) => s.paper === paper) ?? [];
  const read = here.flatMap((s) => s.cells).filter((c) => c.ok).length;
  const shown = here.find((s) => s.id === open) ?? here[0];
  const paperless = rack.data.papers.length === 0;
  const bare = paperless || kit.data.colours.length === 0;
  const keep = (sheet: SwatchSheetOut) => {
    setOpen(sheet.id);
    setOwn(false);
    setProblem(null);
    void cache.invalidateQueries({ queryKey: ["sheets", id] });
  };
  const layOut = (row = "") => {
    setBusy(row ? "Laying out the row" : "Choosing the cells that teach most");
    got(
      client.POST("/api/kits/{id}/sheets", {
        params: { path: { id } },
        body: { paper, page, frame, many, acts, control: many === 3 && !row, row },
      }),
    )
      .then(keep)
      .catch(setProblem)
      .finally(() => setBusy(""));
  };
  const photograph = (of: Taken, light = photoLight) => {
    setBusy(of.again ? "Reading both photographs" : "Reading the photograph");
    const more: Record<string, string | File> = of.again ? { light, again: of.again } : { light };
    sendFile<SwatchSheetOut>(`/api/sheets/${of.sheet}/photo`, "photo", of.photo, more)
      .then((sheet) => {
        keep(sheet);
        setTaken(of);
      })
      .catch(setProblem)
      .finally(() => setBusy(""));
  };
  return (
    <div className="kit" data-surround={surround}>
      <header className="path">
        <Link to={`/kits/${id}`} className="path-shelf">
          Rack
        </Link>
        <div className="path-study">
          <h1>Measuring {kit.data.name}</h1>
          <p>
            {counted(kit.data.colours.filter((c) => c.measured).length, "colour")} of{" "}
            {kit.data.colours.length} measured by patches
          </p>
        </div>
        <div className="path-tools">
          <label className="inline-field">
            Paper
            <select aria-label="Paper" value={paper} onChange={(event) => setChosen(event.target.value)}>
              {rack.data.papers.map((p) => (
                <option key={p.id} value={p.id}>
                  {p.name}
                </option>
              ))}
            </select>
          </label>
        </div>
      </header>
      <div className={own ? "kit-body is-chart" : "kit-body"}>
        <main className="work sheets" id="work" tabIndex={0}>
          {own ? (
            <OwnChart kit={kit.data} paper={paper} onClose={() => setOwn(false)} />
          ) : shown ? (
            <>
              <h2>{shown.title}</h2>
              <p>
                {shown.read
                  ? `${shown.cells.filter((c) => c.ok).length} of ${shown.cells.length} cells read.`
                  : "Not photographed yet. Draw each cell as it says, then photograph the sheet in even daylight."}
              </p>
              {shown.drift && (
                <p className="caution" role="status">
                  {shown.drift}
                </p>
              )}
              <Cells cells={shown.cells} />
            </>
          ) : paperless ? (
            <Empty
              action={
                <Link to="/" className="act">
                  To the shelf
                </Link>
              }
            >
              Swatches lie on a paper: add yours on the shelf first.
            </Empty>
          ) : bare ? (
            <Empty
              action={
                <button type="button" className="act" onClick={() => setOwn(true)}>
                  I have a chart already
                </button>
              }
            >
              No colours yet. The solid swatches of a chart you have become the colours of this rack, the
              others teach how they lie in your hand; a sheet can be laid out after that.
            </Empty>
          ) : (
            <>
              <h2>No sheet on this paper yet</h2>
              <ol className="sheet-steps">
                <li>
                  <b>Lay it out.</b> Caltin chooses the cells that teach it most about these colours, this
                  paper and your hand.
                </li>
                <li>
                  <b>Print it</b> at 100 % on the drawing paper itself; for paper no printer takes, cut out
                  the frame instead, the knife away from your fingers.
                </li>
                <li>
                  <b>Draw each cell</b> as it says, in the hand you draw portraits with. Blow no dust about;
                  air the room with markers.
                </li>
                <li>
                  <b>Photograph it</b> in even daylight, any angle. The picture is read here and not kept.
                </li>
                <li>
                  <b>Calibrate.</b> Ten good cells already help; an hour makes recipes one can trust.
                </li>
              </ol>
              <p>
                Or begin with a chart you have already: its solid swatches become the colours of this rack.
              </p>
            </>
          )}
        </main>
        <aside className="margin" aria-label="Sheets">
          <section>
            <h2>Sheets</h2>
            <p role="status" className="measure">
              {busy && `${busy}…`}
            </p>
            <Fault problem={problem ?? work.problem} />
            {here.length > 0 && (
              <ul className="sheet-list">
                {here.map((sheet) => (
                  <li key={sheet.id}>
                    <span>
                      <button
                        type="button"
                        className="tool"
                        aria-pressed={!own && sheet.id === shown?.id}
                        onClick={() => {
                          setOwn(false);
                          setOpen(sheet.id);
                        }}
                      >
                        {counted(sheet.cells.length, sheet.control ? "control" : "cell")}, {sheet.page}
                        {sheet.frame && ", frame"}
                      </button>{" "}
                      <small>{sheet.read ? `read ${onDay(sheet.read)}` : "not photographed yet"}</small>
                    </span>
                    <a
                      className="tool"
                      href={`/api/sheets/${sheet.id}/page.pdf`}
                      target="_blank"
                      rel="noreferrer"
                    >
                      Print
                    </a>
                    <PhotoOf onPhoto={(photo) => photograph({ sheet: sheet.id, photo })}>
                      {sheet.read ? "Photograph again" : "Its photograph"}
                    </PhotoOf>
                  </li>
                ))}
              </ul>
            )}
            {here.length > 0 && !own && (
              <PhotoLight
                onLight={(light) =>
                  taken && here.some((s) => s.id === taken.sheet) && photograph(taken, light)
                }
              />
            )}
            {taken && !own && here.some((s) => s.id === taken.sheet && !s.control) && (
              <>
                <p className="measure">
                  {taken.again
                    ? "Read by two photographs: the contrast your camera adds is taken off."
                    : "Deep colours are surer with a second photograph, a stop or two darker: it tells how much contrast your camera adds."}
                </p>
                <div className="tools">
                  <PhotoOf onPhoto={(again) => photograph({ ...taken, again })}>
                    {taken.again ? "Another darker one" : "Its darker photograph"}
                  </PhotoOf>
                </div>
              </>
            )}
            {read > 0 && (
              <>
                <button type="button" className="act" disabled={work.open} onClick={() => work.begin(paper)}>
                  Calibrate by {counted(read, "patch", "patches")}
                </button>
                {work.open && (
                  <p role="status">
                    <progress value={work.job?.done ?? 0} max={work.job?.of || 1} aria-label="Calibration" />{" "}
                    <button type="button" className="tool" onClick={work.stop}>
                      Stop
                    </button>
                  </p>
                )}
                {work.job?.state === "done" && (
                  <p role="status">
                    The kit, the paper and your hand on it have new versions; studies keep the ones they were
                    planned with.
                  </p>
                )}
                {work.job?.state === "failed" && <Fault>{work.job.says}</Fault>}
              </>
            )}
            <Further kit={id} paper={paper} read={read} busy={busy !== ""} onRow={layOut} />
            {!bare && (
              <>
                <h3>A new sheet</h3>
                <label className="field">
                  How long have you got?
                  <select value={many} onChange={(event) => setMany(Number(event.target.value))}>
                    {EVENINGS.map(([count, words]) => (
                      <option key={count} value={count}>
                        {words}
                      </option>
                    ))}
                  </select>
                </label>
                <div className="field-row">
                  <label className="field">
                    Page
                    <select value={page} onChange={(event) => setPage(event.target.value as "A4" | "letter")}>
                      <option value="A4">A4</option>
                      <option value="letter">letter</option>
                    </select>
                  </label>
                </div>
                <label className="check">
                  <input
                    type="checkbox"
                    checked={frame}
                    onChange={(event) => setFrame(event.target.checked)}
                  />{" "}
                  A frame to cut out, for paper no printer takes
                </label>
                {kit.data.colours.some((c) => c.medium !== "alcohol_marker") && (
                  <label className="check">
                    <input
                      type="checkbox"
                      checked={acts}
                      onChange={(event) => setActs(event.target.checked)}
                    />{" "}
                    I blend and lift: ask for that too
                  </label>
                )}
                <div className="actions">
                  <button
                    type="button"
                    className="act"
                    disabled={busy !== "" || !paper}
                    onClick={() => layOut()}
                  >
                    Lay it out
                  </button>
                  <button type="button" className="tool" onClick={() => setOwn(true)}>
                    I have a chart already
                  </button>
                </div>
              </>
            )}
          </section>
        </aside>
      </div>
    </div>
  );
}
