import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { client, got, Problem, type PlanOut, type Schemas } from "../../api/client";

type Mark = Schemas["Mark"];
const AGAIN_MS = 1500;

function kept(key: string): Mark[] {
  try {
    return JSON.parse(localStorage.getItem(key) ?? "[]") as Mark[];
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
  const [waiting, setWaiting] = useState<Mark[]>(() => kept(key));
  const [problem, setProblem] = useState<Problem | null>(null);
  const queue = useRef(waiting);
  const busy = useRef(false);
  const hold = useCallback(
    (marks: Mark[]) => {
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
        await got(client.POST("/api/studies/{id}/drawn", { params: { path: { id: study } }, body: mark }));
        cache.setQueryData<PlanOut>(["plan", study], (plan) => plan && marked(plan, [mark]));
        hold(queue.current.slice(1));
        setProblem(null);
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
    (mark: Omit<Mark, "client_id">) => {
      hold([...queue.current, { ...mark, client_id: crypto.randomUUID() }]);
      void pump();
    },
    [hold, pump],
  );
  return { waiting, problem, add };
}

/** The plan as it stands once these marks are in the log. */
export function marked(plan: PlanOut, marks: Mark[]): PlanOut {
  const done = new Map<string, boolean>();
  for (const mark of marks) for (const token of mark.tokens) done.set(token, mark.kind === "done");
  return {
    ...plan,
    steps: plan.steps.map((s) => ({
      ...s,
      done: s.tokens.some((t) => done.has(t)) ? s.tokens.every((t) => done.get(t) ?? s.done) : s.done,
    })),
  };
}
