import { useState } from "react";
import { Link } from "react-router";
import type { AreasOut, Lab, PlaceOut, RoleOut } from "../../api/client";
import { newId } from "../../parts/newId";
import { ToneField } from "../../parts/ToneField";
import { useStudy } from "../../study/useStudy";
import { PlaceList, wanting } from "./PlaceList";
import { PlaceTone } from "./PlaceTone";
import { NameField } from "./NameField";
import { RolePicker } from "./RolePicker";
import type { ZoneReview } from "./useZoneReview";

export type ZoneTool = "choose" | "skin" | "brush" | "eraser" | "lasso" | "new" | "closed";

interface Props {
  place: PlaceOut | null;
  roles: RoleOut[];
  areas: AreasOut | undefined;
  areasOld: boolean;
  doubt: string;
  tool: ZoneTool;
  onTool: (tool: ZoneTool) => void;
  onSelect: (id: string | null) => void;
  review: ZoneReview;
  newRole: string;
  onNewRole: (role: string) => void;
  lineArt: boolean;
  busy: boolean;
}

const percent = (share: number) => `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`;

/** Zones: proposed at one touch, looked at one by one, merged, parted, redrawn. */
export function ZonesPanel(props: Props) {
  const { place, roles, areas, areasOld, doubt, tool, onTool, onSelect, review, lineArt, busy } = props;
  const { newRole, onNewRole } = props;
  const { study } = useStudy();
  const zones = study.places.filter((p) => p.area !== null);
  if (place && place.area !== null)
    return (
      <OneZone
        key={place.id}
        {...{ place, roles, areas, areasOld, tool, onTool, onSelect, review, lineArt }}
        zones={zones}
      />
    );
  return (
    <section aria-label="Zones">
      <h2>{zones.length ? "Zones" : lineArt ? "A line drawing" : "No zones yet"}</h2>
      {lineArt ? (
        <>
          <p>Choose a role, then touch an area that lines close in.</p>
          <RolePicker roles={roles} role={newRole} label="The next area is" onRole={onNewRole} />
          <div className="tools">
            <button
              type="button"
              className="tool"
              aria-pressed={tool === "closed"}
              onClick={() => onTool("closed")}
            >
              Touch an area
            </button>
            <button
              type="button"
              className="tool"
              aria-pressed={tool === "new"}
              onClick={() => onTool("new")}
            >
              Draw it round
            </button>
          </div>
        </>
      ) : (
        <p>
          {zones.length
            ? wanting(zones) || "Touch one, on the picture or here."
            : doubt || "Caltin finds the skin and parts it by value and hue, along its form."}
        </p>
      )}
      <PlaceList
        places={zones}
        onSelect={onSelect}
        more={(p) => {
          const share = areas?.areas.find((a) => a.place === p.id)?.share;
          return share === undefined ? "" : ` · ${percent(share)}`;
        }}
      />
      {!lineArt && (
        <>
          {zones.length > 0 && (
            <>
              <h3>Add one</h3>
              <RolePicker roles={roles} role={newRole} label="Its role" onRole={onNewRole} />
              <button
                type="button"
                className="tool"
                aria-pressed={tool === "new"}
                onClick={() => onTool("new")}
              >
                Draw it round
              </button>
            </>
          )}
          {areas && areas.edges.length > 0 && <Edges areas={areas} />}
          <div className="actions">
            {review.next && (
              <button type="button" className="act" onClick={() => onSelect(review.next!.id)}>
                Look at them <kbd>Enter</kbd>
              </button>
            )}
            {zones.length > 0 && (
              <Link className={review.next ? "tool" : "act"} to={`/studies/${study.id}/match`}>
                Find the recipes <kbd>2</kbd>
              </Link>
            )}
            <button
              type="button"
              className={zones.length ? "tool" : "act"}
              disabled={busy}
              onClick={() => {
                onTool("choose");
                review.propose();
              }}
            >
              {busy ? "Looking…" : zones.length ? "Propose afresh" : "Propose zones"}{" "}
              {zones.length === 0 && <kbd>Enter</kbd>}
            </button>
            <button
              type="button"
              className="tool"
              aria-pressed={tool === "skin"}
              onClick={() => onTool(tool === "skin" ? "choose" : "skin")}
            >
              From a touch
            </button>
          </div>
        </>
      )}
    </section>
  );
}

function Edges({ areas }: { areas: AreasOut }) {
  return (
    <details>
      <summary>Edges, hard to lost</summary>
      <ul className="edges">
        {areas.edges.slice(0, 24).map((e) => (
          <li key={`${e.one}-${e.other}`}>
            {e.one_called} – {e.other_called}: <b>{e.kind}</b>
            {e.kind !== "lost" && `, ${e.width_mm.toFixed(1)} mm wide`}
          </li>
        ))}
      </ul>
    </details>
  );
}

function OneZone(props: {
  place: PlaceOut;
  zones: PlaceOut[];
  roles: RoleOut[];
  areas: AreasOut | undefined;
  areasOld: boolean;
  tool: ZoneTool;
  onTool: (tool: ZoneTool) => void;
  onSelect: (id: string | null) => void;
  review: ZoneReview;
  lineArt: boolean;
}) {
  const { place, zones, roles, areas, areasOld, tool, onTool, onSelect, review, lineArt } = props;
  const { change } = useStudy();
  const [tone, setTone] = useState<Lab | null>(null);
  const mine = areas?.areas.find((a) => a.place === place.id);
  const edges = areas?.edges.filter((e) => e.one === place.id || e.other === place.id) ?? [];
  const toggle = (wanted: ZoneTool) => onTool(tool === wanted ? "choose" : wanted);
  return (
    <section aria-label={`Zone ${place.number}`}>
      <h2>
        {place.number} · {place.called}
      </h2>
      {place.flagged && (
        <p className="reach">
          {place.flagged}{" "}
          <button type="button" className="tool" onClick={() => review.agree(place)}>
            Yes, it is <kbd>Enter</kbd>
          </button>
        </p>
      )}
      <PlaceTone place={place} busy={areasOld}>
        {mine && ` · ${percent(mine.share)} of the work`}
        {mine && mine.parts > 1 && ` in ${mine.parts} pieces`}
      </PlaceTone>
      {lineArt && (
        <>
          <ToneField start={place.tone.lab} onTone={setTone} label="The tone it shall have" />
          <div className="tools">
            <button
              type="button"
              className="tool"
              disabled={!tone}
              onClick={() => tone && change({ do: "edit_place", id: place.id, tone })}
            >
              Give it this tone
            </button>
          </div>
        </>
      )}
      {edges.length > 0 && (
        <ul className="edges">
          {edges.slice(0, 5).map((e) => (
            <li key={`${e.one}-${e.other}`}>
              to {e.one === place.id ? e.other_called : e.one_called}: <b>{e.kind}</b>
              {e.kind !== "lost" && `, ${e.width_mm.toFixed(1)} mm`}
            </li>
          ))}
        </ul>
      )}
      <h3>Draw it</h3>
      <div className="tools">
        <button
          type="button"
          className="tool"
          aria-pressed={tool === "brush"}
          onClick={() => toggle("brush")}
        >
          Brush on
        </button>
        <button
          type="button"
          className="tool"
          aria-pressed={tool === "eraser"}
          onClick={() => toggle("eraser")}
        >
          Brush off
        </button>
        <button
          type="button"
          className="tool"
          aria-pressed={tool === "lasso"}
          onClick={() => toggle("lasso")}
        >
          Lasso on
        </button>
        <button
          type="button"
          className="tool"
          onClick={() => change({ do: "split_area", id: place.id, new: newId() })}
        >
          Part it
        </button>
        <button
          type="button"
          className="tool"
          onClick={() => {
            change({ do: "remove_place", id: place.id });
            onSelect(null);
          }}
        >
          Remove
        </button>
      </div>
      <label className="field">
        Make one with
        <select
          value=""
          onChange={(event) => change({ do: "merge_areas", id: place.id, others: [event.target.value] })}
        >
          <option value="">choose a zone</option>
          {zones
            .filter((p) => p.id !== place.id)
            .map((p) => (
              <option key={p.id} value={p.id}>
                {p.number} {p.called}
              </option>
            ))}
        </select>
      </label>
      <NameField place={place} />
      <RolePicker
        roles={roles}
        role={place.role}
        label="Its role"
        onRole={(role) => change({ do: "edit_place", id: place.id, role })}
      />
      <div className="actions">
        <button type="button" className="tool" onClick={() => onSelect(null)}>
          All zones
        </button>
      </div>
    </section>
  );
}
