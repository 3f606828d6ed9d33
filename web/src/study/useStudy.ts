import { useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, useCallback, useContext, useEffect, useRef, useState } from "react";
import { client, got, Problem, type Op, type StudyOut } from "../api/client";

export type Saving =
  | { state: "saved"; at: string }
  | { state: "saving" }
  | { state: "waiting"; says: string }
  | { state: "late"; changed: string[] }
  | { state: "refused"; says: string; where: string };

export interface StudyDoor {
  study: StudyOut;
  saving: Saving;
  change: (op: Op) => void;
  undo: () => void;
  redo: () => void;
  takeTheirs: () => void;
  mineOnTop: () => void;
  dismiss: () => void;
}

export const StudyContext = createContext<StudyDoor | null>(null);

export function useStudy(): StudyDoor {
  const door = useContext(StudyContext);
  if (!door) throw new Error("a stage stands outside its study");
  return door;
}

type Write = { kind: "op"; op: Op } | { kind: "undo" } | { kind: "redo" };
const AGAIN_MS = 1500;

function send(id: string, write: Write, seen: number): Promise<StudyOut> {
  const params = { path: { id } };
  if (write.kind === "op")
    return got(client.POST("/api/studies/{id}/changes", { params, body: { seen, op: write.op } }));
  return got(client.POST(`/api/studies/{id}/${write.kind}`, { params, body: { seen } }));
}

/** A study with its writes sent one after another; what cannot be sent waits and is sent again. */
export function useStudyDoor(id: string): { door: StudyDoor | null; problem: Problem | null } {
  const cache = useQueryClient();
  const found = useQuery({
    queryKey: ["study", id],
    queryFn: () => got(client.GET("/api/studies/{id}", { params: { path: { id } } })),
  });
  const [saving, setSaving] = useState<Saving | null>(null);
  const waiting = useRef<Write[]>([]);
  const busy = useRef(false);
  const revision = useRef(0);
  const data = found.data;
  useEffect(() => {
    if (data && !busy.current && waiting.current.length === 0) revision.current = data.revision;
  }, [data]);

  const pump = useCallback(async () => {
    if (busy.current) return;
    busy.current = true;
    while (waiting.current.length) {
      const next = waiting.current[0]!;
      setSaving({ state: "saving" });
      try {
        const after = await send(id, next, revision.current);
        waiting.current.shift();
        revision.current = after.revision;
        cache.setQueryData(["study", id], after);
        void cache.invalidateQueries({ queryKey: ["matches", id] });
        void cache.invalidateQueries({ queryKey: ["plan", id] });
        setSaving({ state: "saved", at: new Date().toISOString() });
      } catch (fault) {
        const problem = fault instanceof Problem ? fault : new Problem(0, String(fault));
        if (problem.status === 0 || problem.status >= 500) {
          setSaving({ state: "waiting", says: problem.message });
          await new Promise((done) => setTimeout(done, AGAIN_MS));
          continue;
        }
        if (problem.status === 409) {
          setSaving({ state: "late", changed: problem.changed });
          break;
        }
        waiting.current.shift();
        setSaving({ state: "refused", says: problem.message, where: problem.where });
      }
    }
    busy.current = false;
  }, [cache, id]);

  const push = useCallback(
    (write: Write) => {
      waiting.current.push(write);
      void pump();
    },
    [pump],
  );
  const refresh = useCallback(async () => {
    const now = await cache.fetchQuery({
      queryKey: ["study", id],
      queryFn: () => got(client.GET("/api/studies/{id}", { params: { path: { id } } })),
      staleTime: 0,
    });
    revision.current = now.revision;
    void cache.invalidateQueries({ queryKey: ["matches", id] });
    void cache.invalidateQueries({ queryKey: ["plan", id] });
  }, [cache, id]);

  if (!data) return { door: null, problem: found.error instanceof Problem ? found.error : null };
  return {
    problem: null,
    door: {
      study: data,
      saving: saving ?? { state: "saved", at: data.changed },
      change: (op) => push({ kind: "op", op }),
      undo: () => data.can_undo && push({ kind: "undo" }),
      redo: () => data.can_redo && push({ kind: "redo" }),
      takeTheirs: () => {
        waiting.current = [];
        void refresh().then(() => setSaving(null));
      },
      mineOnTop: () => void refresh().then(pump),
      dismiss: () => setSaving(null),
    },
  };
}
