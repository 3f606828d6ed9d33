import { useQuery } from "@tanstack/react-query";
import { client, got } from "../../api/client";
import { counted } from "../../parts/words";

/** What each further row of swatches would improve, given what was read on this paper. */
export function Further({ kit, paper, read }: { kit: string; paper: string; read: number }) {
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
      <p className="measure">A likely recipe is in doubt by {told.data.now.toFixed(1)} now.</p>
      <ul className="further">
        {told.data.rows.map((row) => (
          <li key={row.words}>
            <b>{row.doubt.toFixed(1)}</b> after {row.words}, {counted(row.many, "cell")}
          </li>
        ))}
      </ul>
    </>
  );
}
