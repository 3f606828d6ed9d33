import { Link } from "react-router";
import type { StepOut } from "../../api/client";
import { ToneTile } from "../../parts/ToneTile";
import { useStudy } from "../../study/useStudy";
import { drawnPlaces } from "./drawnPlaces";

/** All is drawn: what each place was to become, lightest first, to hold the drawing beside. */
export function Ended({ steps }: { steps: StepOut[] }) {
  const { study } = useStudy();
  const places = drawnPlaces(study.places, steps).sort((a, b) => b.target.value - a.target.value);
  return (
    <div className="draw-end">
      <h2 className="draw-name">Step back and look.</h2>
      <p className="draw-words">Are the darks dark enough beside everything that now stands around them?</p>
      <p>Hold the drawing beside what each place was to become, lightest first.</p>
      <ul className="panel draw-end-tones">
        {places.map((p) => (
          <li key={p.id} className="tones-one">
            <ToneTile place={p} tone={p.target} />
          </li>
        ))}
      </ul>
      <Link className="act" to={`/studies/${study.id}/keep`}>
        Go to Keep
      </Link>
    </div>
  );
}
