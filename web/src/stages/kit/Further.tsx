import { useQuery } from "@tanstack/react-query";
import { client, got } from "../../api/client";
import { counted } from "../../parts/words";

/** What each further row of swatches would improve, given what was read on this paper; `onRow` lays one out. */
export function Further(props: {
  kit: string;
  paper: string;
  read: number;
  busy: boolean;
  onRow: (words: string) => void;
}) {
  const { kit, paper, read, busy, onRow } = props;
  const told = useQuery({
    queryKey: ["further", kit, paper, read],
    enabled: paper !== "",
    queryFn: () =>
      got(client.GET("/api/kits/{id}/further", { params: { path: { id: kit }, query: { paper } } })),
  });
  if (!told.data?.rows.length) return null;
  return (
    <>
      <h3>What another row would teach</h3>
      <p className="measure">
        A likely recipe is in doubt by {told.data.now.toFixed(1)} now.
        {!told.data.rows.some((row) => row.worth) && " Another row would hardly lessen that."}
      </p>
      <ul className="further">
        {told.data.rows.map((row) => (
          <li key={row.words}>
            <details>
              <summary>
                <b>{row.doubt.toFixed(1)}</b> after {counted(row.cells.length, "cell")}: {row.words}
              </summary>
              <ol>
                {row.cells.map((cell) => (
                  <li key={cell}>{cell}</li>
                ))}
              </ol>
              <button type="button" className="tool" disabled={busy} onClick={() => onRow(row.words)}>
                Lay out this row
              </button>
            </details>
          </li>
        ))}
      </ul>
    </>
  );
}
