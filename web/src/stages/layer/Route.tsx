import { useStudy } from "../../study/useStudy";
import { ROUTES } from "./routes";

const LENGTHS = [20, 30, 45, 60, 90, 120];

/** Which way through the portrait, and how long a sitting is. */
export function Route({ ownOrder }: { ownOrder: boolean }) {
  const { study, change } = useStudy();
  return (
    <div className="route">
      <div className="segments three" role="group" aria-label="The way through">
        {ROUTES.map(([route, words]) => (
          <button
            key={route}
            type="button"
            aria-pressed={study.state.route === route && !ownOrder}
            onClick={() =>
              change({
                do: "set_route",
                route,
                sitting_minutes: study.state.sitting_minutes ?? null,
              })
            }
          >
            {words}
          </button>
        ))}
      </div>
      <label className="field">
        A sitting
        <select
          value={study.state.sitting_minutes ?? ""}
          onChange={(event) =>
            change({
              do: "set_route",
              route: study.state.route!,
              sitting_minutes: event.target.value ? Number(event.target.value) : null,
            })
          }
        >
          <option value="">all at once</option>
          {LENGTHS.map((n) => (
            <option key={n} value={n}>
              {n} minutes
            </option>
          ))}
        </select>
      </label>
    </div>
  );
}
