import { useQuery } from "@tanstack/react-query";
import { client, got, type KitOut } from "../../api/client";
import { Chip } from "../../parts/Swatch";

/** What it takes to do without a colour. */
export function Without({ kit, colour }: { kit: KitOut; colour: string }) {
  const states = kit.colours.map((c) => c.state).join();
  const found = useQuery({
    queryKey: ["without", kit.version, colour, states],
    queryFn: () =>
      got(client.GET("/api/kits/{id}/without/{colour}", { params: { path: { id: kit.id, colour } } })),
  });
  const other = found.data;
  if (!other) return <p className="measure">Looking for what replaces it…</p>;
  const nearest = kit.colours.find((c) => c.id === other.nearest);
  if (!nearest) return <p>Nothing else is at hand.</p>;
  return (
    <div className="without">
      <h3>Without it</h3>
      <p>
        <Chip hex={nearest.shown.hex} /> {nearest.name} is nearest, {other.away?.toFixed(1)} away.
      </p>
      {other.tone && (
        <p>
          <Chip hex={other.tone.hex} /> {other.sentence.replace(/\.$/, "")}: {other.misses?.toFixed(1)} away.
        </p>
      )}
    </div>
  );
}
