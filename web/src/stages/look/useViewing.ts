import { useMemo, useState } from "react";
import type { StudyOut, View } from "../../api/client";
import { useSight } from "../../study/reading";
import type { Flip, Geometry } from "./geometry";
import { viewHref } from "./views";

/** How the picture is being looked at: the way of seeing, before or after development, mirrored or not. */
export function useViewing(study: StudyOut) {
  const [view, setView] = useState<View>("picture");
  const [steps, setSteps] = useState(5);
  const [value, setValue] = useState<number | null>(null);
  const [flip, setFlip] = useState<Flip>("none");
  const [before, setBefore] = useState(false);
  const { look, picture, state } = study;
  const sight = useSight(study.id, look, view, steps, value).data;
  const geometry = useMemo<Geometry>(
    () => ({
      matrix: study.frame?.matrix ?? [1, 0, 0, 0, 1, 0],
      width: study.frame?.width ?? 1,
      height: study.frame?.height ?? 1,
      flip,
    }),
    [study.frame, flip],
  );
  const d = state.develop!;
  const plain = !state.frame && d.kind === "none" && d.stops === 0 && d.contrast === 1;
  const untouched = picture ? `/api/pictures/${picture.id}/view.jpg` : "";
  /** The picture as it is developed and framed. */
  const developed = plain ? untouched : viewHref(study.id, look, "picture", steps, null);
  const seen = view === "picture" ? developed : viewHref(study.id, look, view, steps, value);
  const href = before && !state.frame ? untouched : seen;
  return {
    view,
    setView,
    steps,
    setSteps,
    value,
    setValue,
    flip,
    setFlip,
    before,
    setBefore,
    sight,
    geometry,
    developed,
    href,
  };
}
