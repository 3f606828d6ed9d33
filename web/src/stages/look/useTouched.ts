import { useCallback, useRef, useState } from "react";
import { client, got, Problem, type Lab, type ReadOut } from "../../api/client";
import type { Disc } from "./PictureBoard";

/** The place just touched and its tone; only the last touch is answered. */
export function useTouched(study: string, base: Lab | null) {
  const [touched, setTouched] = useState<Disc | null>(null);
  const [read, setRead] = useState<ReadOut | null>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  const asked = useRef(0);
  const touch = useCallback(
    (disc: Disc) => {
      const mine = ++asked.current;
      setTouched(disc);
      got(
        client.POST("/api/studies/{id}/read", {
          params: { path: { id: study } },
          body: { ...disc, against: base },
        }),
      )
        .then((found) => {
          if (mine !== asked.current) return;
          setRead(found);
          setProblem(null);
        })
        .catch((fault: Problem) => mine === asked.current && setProblem(fault));
    },
    [study, base],
  );
  const drop = useCallback(() => {
    asked.current += 1;
    setTouched(null);
    setRead(null);
    setProblem(null);
  }, []);
  return { touched, read, problem, touch, drop };
}
