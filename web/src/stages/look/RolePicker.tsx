import type { RoleOut } from "../../api/client";

const GROUPS: Record<string, string> = { skin: "Skin", mouth: "Mouth", eye: "Eye", other: "Elsewhere" };

/** All roles, by group; the chosen one in a solid frame. */
export function RolePicker(props: {
  roles: RoleOut[];
  role: string;
  onRole: (slug: string) => void;
  label: string;
}) {
  const { roles, role, onRole, label } = props;
  const chosen = roles.find((r) => r.slug === role);
  return (
    <fieldset className="roles">
      <legend>{label}</legend>
      {Object.entries(GROUPS).map(([group, name]) => {
        const mine = roles.filter((r) => r.group === group);
        const buttons = (
          <div className="roles-row">
            {mine.map((r) => (
              <button
                key={r.slug}
                type="button"
                className="role"
                aria-pressed={r.slug === role}
                onClick={() => onRole(r.slug)}
              >
                {r.name}
              </button>
            ))}
          </div>
        );
        return group === "skin" ? (
          <div key={group}>{buttons}</div>
        ) : (
          <details key={group} open={chosen?.group === group || undefined}>
            <summary>{name}</summary>
            {buttons}
          </details>
        );
      })}
    </fieldset>
  );
}
