import { Link } from "react-router";
import type { RackOut } from "../../api/client";
import { Empty } from "../../parts/Says";

/** What must lie on the table before a study can begin, one thing after the other; or null where all is there. */
export function firstThing(rack: RackOut): "paper" | "kit" | "colours" | null {
  if (!rack.papers.length) return "paper";
  if (!rack.kits.length) return "kit";
  return rack.kits.some((k) => k.colours.length) ? null : "colours";
}

/** The next of those things: a sentence and the way to it. */
export function FirstThings(props: { rack: RackOut; onPaper: () => void; onKit: () => void }) {
  const next = firstThing(props.rack);
  if (next === "paper")
    return (
      <Empty
        action={
          <button type="button" className="act" onClick={props.onPaper}>
            Add your paper
          </button>
        }
      >
        First the paper you draw on: its tone and its tooth.
      </Empty>
    );
  if (next === "kit")
    return (
      <Empty
        action={
          <button type="button" className="act" onClick={props.onKit}>
            Add your kit
          </button>
        }
      >
        Then the colours you own: typed in, from a file, or read off a chart of swatches.
      </Empty>
    );
  const kit = props.rack.kits[0];
  return (
    next &&
    kit && (
      <Empty
        action={
          <Link to={`/kits/${kit.id}`} className="act">
            Put colours in
          </Link>
        }
      >
        {kit.name} has no colours yet. Once it has, a picture can be dropped here.
      </Empty>
    )
  );
}
