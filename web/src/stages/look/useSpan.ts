import { useState } from "react";
import { client, got, Problem, type SpanOut } from "../../api/client";
import type { Spot } from "./drawn";

interface Measured {
  span: SpanOut;
  from: Spot;
  to: Spot;
}

/** Measuring on the picture: a unit of the artist's own, and the last distance. */
export function useSpan(study: string) {
  const [unit, setUnit] = useState<number | null>(null);
  const [measured, setMeasured] = useState<Measured | null>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  /** Measure from one place to another, or take what lies between them as the unit. */
  const measure = (from: Spot, to: Spot, asUnit: boolean, done: () => void) =>
    got(
      client.POST("/api/studies/{id}/span", {
        params: { path: { id: study } },
        body: { x1: from.x, y1: from.y, x2: to.x, y2: to.y, unit: asUnit ? null : unit },
      }),
    )
      .then((span) => {
        setProblem(null);
        if (!asUnit) return setMeasured({ span, from, to });
        if (span.pixels > 0) {
          setUnit(span.pixels);
          setMeasured(null);
          done();
        }
      })
      .catch(setProblem);
  return { unit, measured, problem, measure, noUnit: () => setUnit(null) };
}
