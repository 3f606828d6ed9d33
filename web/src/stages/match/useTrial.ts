import { useCallback, useRef, useState } from "react";
import { client, got, type Act, type Problem, type RecipeOut } from "../../api/client";

export interface Trial {
  place: string;
  recipe: RecipeOut;
  revision: number;
}

/**
 * Layers tried for a place before they are kept: predicted while a finger moves, one question under way at a time, the last one
 * always asked. An answer to what is no longer tried is let fall.
 */
export function useTrial(study: string, revision: number) {
  const [trial, setTrial] = useState<Trial | null>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  const wanted = useRef<{ place: string; layers: Act[]; kept: () => void } | null>(null);
  const busy = useRef(false);
  const pump = useCallback(async () => {
    if (busy.current) return;
    busy.current = true;
    while (wanted.current) {
      const now = wanted.current;
      try {
        const recipe = await got(
          client.POST("/api/studies/{id}/predict", {
            params: { path: { id: study } },
            body: { place: now.place, layers: now.layers },
          }),
        );
        if (wanted.current === now) {
          wanted.current = null;
          setProblem(null);
          setTrial({ place: now.place, recipe, revision });
          now.kept();
        }
      } catch (fault) {
        if (wanted.current === now) wanted.current = null;
        setProblem(fault as Problem);
      }
    }
    busy.current = false;
  }, [study, revision]);
  /** Predict layers; `kept` is called once they are predicted and nothing else was asked meanwhile. */
  const attempt = useCallback(
    (place: string, layers: Act[], kept: () => void = () => undefined) => {
      wanted.current = { place, layers, kept };
      void pump();
    },
    [pump],
  );
  const leave = useCallback(() => {
    wanted.current = null;
    setTrial(null);
  }, []);
  return { trial, problem, attempt, leave, show: setTrial };
}
