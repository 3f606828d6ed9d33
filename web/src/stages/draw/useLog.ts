import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import {
  client,
  got,
  Problem,
  type MarkIn,
  type PlanOut,
  type StepOut,
  type StudyOut,
} from "../../api/client";

const AGAIN_MS = 1500;

function kept(key: string): MarkIn[] {
  try {
    return JSON.parse(localStorage.getItem(key) ?? "[]") as MarkIn[];
  } catch {
    return [];
  }
}

/**
 * Marks on their way to the log. Each has its own id, is kept in the browser until the server has it, and
 * is sent again until then; the server counts it once.
 */
export function useLog(study: string) {
  const key = `caltin.marks.${study}`;
  const cache = useQueryClient();
  const [waiting, setWaiting] = useState<MarkIn[]>(() => kept(key));
  const [problem, setProblem] = useState<Problem | null>(null);
  const [said, setSaid] = useState("");
  const queue = useRef(waiting);
  const busy = useRef(false);
  const hold = useCallback(
    (marks: MarkIn[]) => {
      queue.current = marks;
      if (marks.length) localStorage.setItem(key, JSON.stringify(marks));
      else localStorage.removeItem(key);
      setWaiting(marks);
    },
    [key],
  );
  const pump = useCallback(async () => {
    if (busy.current) return;
    busy.current = true;
    while (queue.current.length) {
      const mark = queue.current[0]!;
      try {
        const taken = await got(
          client.POST("/api/studies/{id}/drawn", { params: { path: { id: study } }, body: mark }),
        );
        // A plan asked for before the log had this mark must not come in after it and undo it here.
        await cache.cancelQueries({ queryKey: ["plan", study] });
        cache.setQueryData<PlanOut>(["plan", study], (plan) => plan && marked(plan, [mark]));
        hold(queue.current.slice(1));
        setProblem(null);
        if (taken.said) setSaid(taken.said);
        if (mark.kind === "dry") void cache.invalidateQueries({ queryKey: ["rack"] });
        // Drawing settles recipes, and what went wrong is solved again: the study has moved on.
        if (
          mark.kind === "dry" ||
          cache.getQueryData<StudyOut>(["study", study])?.revision !== taken.revision
        )
          for (const key of ["study", "matches"]) void cache.invalidateQueries({ queryKey: [key, study] });
      } catch (fault) {
        setProblem(fault as Problem);
        if ((fault as Problem).status >= 400 && (fault as Problem).status < 500) break;
        await new Promise((done) => setTimeout(done, AGAIN_MS));
      }
    }
    busy.current = false;
    void cache.invalidateQueries({ queryKey: ["plan", study] });
  }, [cache, hold, study]);
  useEffect(() => {
    void pump();
  }, [pump]);
  const add = useCallback(
    (mark: Partial<MarkIn> & Pick<MarkIn, "kind">) => {
      setSaid("");
      const whole = { colour: "", words: "", laid: [], undoes: null, minutes: null, ...mark };
      hold([...queue.current, { ...whole, client_id: crypto.randomUUID() }]);
      void pump();
    },
    [hold, pump],
  );
  return { waiting, problem, said, setSaid, add };
}

/** What the log is told of these steps drawn at one go. */
export const doneMark = (steps: StepOut[], words: string): Partial<MarkIn> & Pick<MarkIn, "kind"> => ({
  kind: "done",
  colour: steps.length === 1 ? steps[0]!.colour : "",
  words: words.slice(0, 200),
  laid: steps.flatMap((s) => s.laid),
  minutes: steps.length === 1 ? Math.max(steps[0]!.minutes, 0.1) : null,
});

/** The plan as it stands once these marks are in the log. */
export function marked(plan: PlanOut, marks: MarkIn[]): PlanOut {
  const key = (x: { place: string; number: number }) => `${x.place}:${x.number}`;
  const done = new Set(plan.steps.filter((s) => s.done).flatMap((s) => s.laid.map(key)));
  const recent = new Map(plan.recent.map((m) => [m.client_id, m]));
  for (const mark of marks) {
    if (mark.kind === "back") {
      for (const x of recent.get(mark.undoes ?? "")?.laid ?? []) done.delete(key(x));
      recent.delete(mark.undoes ?? "");
    } else if (mark.kind !== "dry" && !recent.has(mark.client_id)) {
      for (const x of mark.laid) done.add(key(x));
      recent.set(mark.client_id, {
        ...mark,
        undoes: null,
        minutes: mark.minutes ?? null,
        made: new Date().toISOString(),
      });
    }
  }
  const steps = plan.steps.map((s) => ({ ...s, done: s.laid.every((x) => done.has(key(x))) }));
  return { ...plan, steps, recent: [...recent.values()] };
}
