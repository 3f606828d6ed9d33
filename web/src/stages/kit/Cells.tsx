import type { CellOut } from "../../api/client";

/** The cells of a sheet: what is laid in each, what was read, and which to do again. */
export function Cells({ cells }: { cells: CellOut[] }) {
  return (
    <ol className="panel sheet-cells">
      {cells.map((c) => (
        <li key={c.cell} className={c.why ? "is-doubtful" : ""}>
          <span
            className={c.hex ? "" : "is-empty"}
            style={c.hex ? { background: c.hex } : undefined}
            aria-hidden="true"
          />
          <b>{c.cell}</b>
          <small>{c.words}</small>
          {c.why && (
            <small className="cell-why">
              <span aria-hidden="true">! </span>
              {c.why}
            </small>
          )}
        </li>
      ))}
    </ol>
  );
}
