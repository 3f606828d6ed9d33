import type { Problem, ReadOut, RoleOut } from "../../api/client";
import { Fault } from "../../parts/Says";
import { useSettings } from "../../parts/settings";
import { Belief } from "./Belief";
import type { Geometry } from "./geometry";
import { Loupe } from "./Loupe";
import type { Disc } from "./PictureBoard";
import { RolePicker } from "./RolePicker";

interface Props {
  disc: Disc;
  href: string;
  geometry: Geometry;
  read: ReadOut | null;
  base: boolean;
  problem: Problem | null;
  roles: RoleOut[];
  role: string;
  onRole: (slug: string) => void;
  onKeep: () => void;
  onLetGo: () => void;
  onResize: (by: number) => void;
}

/** What was just touched: its tone, and the question what it is. */
export function TouchMargin(props: Props) {
  const { disc, href, geometry, read, base, problem, roles, role, onRole, onKeep, onLetGo, onResize } = props;
  const { guessFirst } = useSettings();
  const name = roles.find((r) => r.slug === role)?.name ?? role;
  const told = read && (
    <>
      <div>
        <p className="tone-words">{read.words}</p>
        <p className="measure">
          value {read.tone.value.toFixed(1)} · {read.undertone} · {read.evenness}
        </p>
      </div>
      {read.against_words && (
        <p>
          Than the base: <b>{read.against_words}</b>.
        </p>
      )}
    </>
  );
  return (
    <section aria-label="The place touched">
      <h2>What is this place?</h2>
      <Loupe href={href} geometry={geometry} disc={disc} mean={read?.tone.hex ?? null} />
      <div data-testid="touched-tone" data-ready={read ? "yes" : "no"} aria-live="polite">
        {!read ? (
          <p className="measure">{problem ? "" : "reading…"}</p>
        ) : guessFirst ? (
          <Belief key={`${disc.x} ${disc.y}`} read={read} base={base}>
            {told}
          </Belief>
        ) : (
          told
        )}
      </div>
      <Fault problem={problem} />
      <RolePicker roles={roles} role={role} onRole={onRole} label="Its role" />
      <div className="tools">
        <button type="button" className="tool" onClick={() => onResize(1 / 1.15)}>
          Smaller disc
        </button>
        <button type="button" className="tool" onClick={() => onResize(1.15)}>
          Larger disc
        </button>
      </div>
      <div className="actions">
        <button type="button" className="act" onClick={onKeep} disabled={!read}>
          Keep as {name} <kbd>Enter</kbd>
        </button>
        <button type="button" className="tool" onClick={onLetGo}>
          Let go
        </button>
      </div>
    </section>
  );
}
