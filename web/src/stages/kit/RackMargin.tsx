import { Chip } from "../../parts/Swatch";
import type { KitOut, Problem, Schemas } from "../../api/client";
import { ForGood } from "../../parts/ForGood";
import { Fault } from "../../parts/Says";

interface Props {
  kit: KitOut;
  told: Schemas["RackTold"] | undefined;
  onSelect: (id: string) => void;
  onNear: (gap: Schemas["GapOut"]) => void;
  problem: Problem | null;
  onThrow: () => void;
}

/** What the rack tells when no colour is selected: pairs to beware of, and tones of skin that nothing is near. */
export function RackMargin({ kit, told, onSelect, onNear, problem, onThrow }: Props) {
  const known = new Map(kit.colours.map((c) => [c.id, c]));
  const out = kit.colours.filter((c) => !c.retired && c.state !== "full");
  return (
    <section>
      <h2>The rack</h2>
      <p>Touch a colour to say how full it is, to change it, or to see what replaces it.</p>
      {out.length > 0 && (
        <>
          <h3>Not full</h3>
          <ul className="rack-notes">
            {out.map((c) => (
              <li key={c.id}>
                <button type="button" className="rack-note" onClick={() => onSelect(c.id)}>
                  <Chip hex={c.shown.hex} /> <span>{c.name}</span> <small>{c.state}</small>
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
      {told && told.pairs.length > 0 && (
        <>
          <h3>Taken for one another</h3>
          <ul className="rack-notes">
            {told.pairs.slice(0, 8).map((p) => (
              <li key={`${p.one} ${p.other}`}>
                <button type="button" className="rack-note" onClick={() => onSelect(p.other)}>
                  <Chip hex={known.get(p.one)?.shown.hex ?? "#888"} />
                  <Chip hex={known.get(p.other)?.shown.hex ?? "#888"} />
                  <span>{p.says}.</span>
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
      {told && told.gaps.length > 0 && (
        <>
          <h3>Tones of skin with nothing near</h3>
          <ul className="rack-notes">
            {told.gaps.map((g) => (
              <li key={g.words + g.away}>
                <button type="button" className="rack-note" onClick={() => onNear(g)}>
                  <Chip hex={g.tone.hex} /> <span>{g.words}</span> <small>{g.away.toFixed(0)} away</small>
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
      <h3>Done with it?</h3>
      <ForGood label="Throw this kit away" act="Throw it away for good" onDo={onThrow}>
        Its colours, its sheets and the hands measured with it go for good. This cannot be undone.
      </ForGood>
      <Fault problem={problem} />
    </section>
  );
}
