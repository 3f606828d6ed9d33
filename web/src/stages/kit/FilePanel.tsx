import { useState } from "react";
import { client, got, Problem, sendFile, type Schemas } from "../../api/client";
import { Fault } from "../../parts/Says";
import { counted } from "../../parts/words";
import { MediumSelect } from "./MediumSelect";
import { mediumWord, type KitColour } from "./rack";

type Row = Schemas["RowOut"];
const CELLS = ["name", "L", "a", "b", "hex", "medium"];

interface Props {
  taken: Set<string>;
  onTake: (colours: KitColour[], spectra: Record<string, number[]>) => Promise<boolean>;
  onClose: () => void;
}

/** A file of colours: what each row will become; wrong rows are mended here, and nothing is taken in by halves. */
export function FilePanel({ taken, onTake, onClose }: Props) {
  const [medium, setMedium] = useState<KitColour["medium"]>("wax_pencil");
  const [rows, setRows] = useState<Row[] | null>(null);
  const [name, setName] = useState("");
  const [problem, setProblem] = useState<Problem | null>(null);
  const read = (file: File) =>
    sendFile<Schemas["FileOut"]>(`/api/kits/file?medium=${medium}`, "file", file)
      .then((found) => {
        setRows(found.rows);
        setName(file.name);
        setProblem(null);
      })
      .catch(setProblem);
  const mend = (row: Row, cells: Record<string, string>) =>
    got(
      client.POST("/api/kits/file/row", {
        params: { query: { medium } },
        body: { number: row.number, cells },
      }),
    )
      .then((next) => setRows((all) => all?.map((r) => (r.number === row.number ? next : r)) ?? null))
      .catch(setProblem);
  const wrong = rows?.filter((r) => r.wrong) ?? [];
  const good = rows?.filter((r) => r.colour) ?? [];
  const fresh = good.filter((r) => !taken.has(r.colour!.id));
  return (
    <main className="work file-panel" id="work">
      <header className="file-head">
        <h2>{rows ? name : "Colours from a file"}</h2>
        <button type="button" className="tool" onClick={onClose}>
          Back to the rack
        </button>
      </header>
      {!rows && (
        <>
          <p>
            A table (CSV) with a row for each colour, a kit that Caltin wrote (JSON), a palette (GPL), or a
            colour reader’s text (CGATS) with or without spectra. Nothing is taken in before you have seen it.
          </p>
          <div className="field-row">
            <MediumSelect
              label="Colours that do not say their medium are"
              medium={medium}
              onMedium={setMedium}
            />
            <label className="field">
              The file
              <input
                type="file"
                accept=".csv,.json,.gpl,.txt,.cgats"
                onChange={(event) => event.target.files?.[0] && void read(event.target.files[0])}
              />
            </label>
          </div>
        </>
      )}
      <Fault problem={problem} />
      {rows && (
        <>
          <p>
            {counted(good.length, "colour")} as they will lie in the rack
            {good.length > fresh.length && `, ${good.length - fresh.length} of them there already`}.
            {wrong.length > 0 && ` ${counted(wrong.length, "row")} to mend; what is not mended is left out.`}
          </p>
          {wrong.map((row) => (
            <Mend key={row.number} row={row} onMend={(cells) => void mend(row, cells)} />
          ))}
          <ul className="panel kit-rack">
            {good.map((row) => (
              <li key={row.number}>
                <div className={taken.has(row.colour!.id) ? "kit-colour is-out" : "kit-colour"}>
                  <span style={{ background: row.hex }} aria-hidden="true" />
                  <b>{row.colour!.name}</b>
                  <small>
                    {taken.has(row.colour!.id) ? "there already" : mediumWord(row.colour!.medium)}
                    {row.spectrum.length > 0 && " · spectrum"}
                  </small>
                </div>
              </li>
            ))}
          </ul>
          <div className="actions">
            <button
              type="button"
              className="act"
              disabled={fresh.length === 0}
              onClick={() =>
                void onTake(
                  fresh.map((r) => r.colour!),
                  Object.fromEntries(
                    fresh.filter((r) => r.spectrum.length).map((r) => [r.colour!.id, r.spectrum]),
                  ),
                )
              }
            >
              Put {counted(fresh.length, "colour")} in the rack
            </button>
            <button type="button" className="tool" onClick={() => setRows(null)}>
              Choose another file
            </button>
          </div>
        </>
      )}
    </main>
  );
}

/** A row that became no colour, its cells open to be mended. */
function Mend({ row, onMend }: { row: Row; onMend: (cells: Record<string, string>) => void }) {
  const [cells, setCells] = useState(row.cells);
  const shown = [...CELLS.filter((c) => c in row.cells || ["name", "L", "a", "b"].includes(c))];
  return (
    <form
      className="mend"
      aria-label={`Row ${row.number}`}
      onSubmit={(event) => {
        event.preventDefault();
        onMend(cells);
      }}
    >
      <Fault>
        Row {row.number}: {row.wrong}
      </Fault>
      <div className="mend-cells">
        {shown.map((c) => (
          <label key={c} className="field">
            {c}
            <input
              value={cells[c] ?? ""}
              onChange={(event) => setCells({ ...cells, [c]: event.target.value })}
            />
          </label>
        ))}
        <button type="submit" className="tool">
          Look at it again
        </button>
      </div>
    </form>
  );
}
