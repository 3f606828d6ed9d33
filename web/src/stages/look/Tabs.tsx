export type Panel = "places" | "zones" | "light" | "skin" | "range" | "paper";

const NAMES: Record<Panel, string> = {
  places: "Places",
  zones: "Zones",
  light: "Light",
  skin: "Skin",
  range: "Range",
  paper: "Paper",
};

/** What the margin is about. */
export function Tabs({
  panel,
  onPanel,
  keys,
}: {
  panel: Panel;
  onPanel: (p: Panel) => void;
  keys: Record<string, Panel>;
}) {
  return (
    <div className="look-tabs" role="group" aria-label="What to look at">
      {Object.entries(keys).map(([key, name]) => (
        <button
          key={name}
          type="button"
          aria-pressed={panel === name}
          aria-keyshortcuts={key}
          onClick={() => onPanel(name)}
        >
          {NAMES[name]}
        </button>
      ))}
    </div>
  );
}
