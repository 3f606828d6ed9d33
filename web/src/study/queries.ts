import { queryOptions, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { client, got, Problem, type JobOut, type Schemas } from "../api/client";
import { useSettings } from "../parts/settings";

export const rackQuery = queryOptions({
  queryKey: ["rack"],
  queryFn: () => got(client.GET("/api/rack")),
});
export const studiesQuery = queryOptions({
  queryKey: ["studies"],
  queryFn: () => got(client.GET("/api/studies")),
});

export const useRack = () => useQuery(rackQuery);

export const useStudies = () => useQuery(studiesQuery);

/** What a kit is drawn with: what was asked, or what it was last used with, or what there is. */
export const useWith = (kit: string, asked: { paper?: string; hand?: string } = {}) => {
  const rack = useRack();
  const known = useQuery({
    queryKey: ["goes-with", kit, asked.paper],
    enabled: kit !== "",
    queryFn: () =>
      got(
        client.GET("/api/kits/{id}/goes-with", {
          params: { path: { id: kit }, query: { paper: asked.paper || null } },
        }),
      ),
  });
  const settled = !known.isLoading && rack.data !== undefined;
  return {
    paper: asked.paper || (settled && (known.data?.paper ?? rack.data.papers[0]?.id)) || "",
    hand: asked.hand || (settled && (known.data?.hand ?? rack.data.hands[0]?.id)) || "",
  };
};

export const useRoles = () =>
  useQuery({ queryKey: ["roles"], queryFn: () => got(client.GET("/api/roles")), staleTime: Infinity });

/** Usual lights and sheets, to choose from. */
export const useUsual = () =>
  useQuery({ queryKey: ["usual"], queryFn: () => got(client.GET("/api/usual")), staleTime: Infinity });

export const useMatches = (id: string) =>
  useQuery({
    queryKey: ["matches", id],
    queryFn: () => got(client.GET("/api/studies/{id}/matches", { params: { path: { id } } })),
    placeholderData: (before) => before,
  });

export type Light = Schemas["ViewingLight"]["illuminant"];

/** The recipes in another light than daylight. */
export const useLight = (id: string, revision: number, whole: boolean, light: Light) =>
  useQuery({
    queryKey: ["light", id, revision, whole, light],
    queryFn: () =>
      got(
        client.GET("/api/studies/{id}/light/{illuminant}", { params: { path: { id, illuminant: light } } }),
      ),
    enabled: light !== "D50",
    placeholderData: (before) => before,
  });

export const usePlan = (id: string) => {
  const { leftHanded } = useSettings();
  return useQuery({
    queryKey: ["plan", id],
    queryFn: () =>
      got(
        client.GET("/api/studies/{id}/plan", {
          params: { path: { id }, query: { left_handed: leftHanded } },
        }),
      ),
    placeholderData: (before) => before,
  });
};

const OPEN = ["waiting", "running"];
const LOOK_AGAIN_MS = 200;

/** What printed work is asked: a page of the picture, or a card. */
interface SheetAsked {
  page?: Schemas["PageAsked"];
  card?: Schemas["CardAsked"];
}

/** A study's job of one kind: begin it, follow it, stop it. `moved` is called whenever it has got further. */
export function useJob(study: string, kind: "match" | "card" | "page", moved: (job: JobOut) => void) {
  const start = useCallback(
    (asked: SheetAsked) =>
      got(
        client.POST("/api/studies/{id}/jobs", {
          params: { path: { id: study } },
          body: { kind, page: asked.page ?? null, card: asked.card ?? null, school: "" },
        }),
      ),
    [study, kind],
  );
  const work = useWork(start, moved);
  const { begin: beginWith } = work;
  const begin = useCallback((asked: SheetAsked = {}) => beginWith(asked), [beginWith]);
  return { ...work, begin };
}

/** Long work begun by `start` with what it is asked. */
export function useWork<Asked>(start: (asked: Asked) => Promise<JobOut>, moved: (job: JobOut) => void) {
  const [job, setJob] = useState<JobOut | null>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  const heard = useRef(moved);
  useEffect(() => {
    heard.current = moved;
  });
  const begin = useCallback(
    (asked: Asked) => {
      setProblem(null);
      start(asked).then(setJob).catch(setProblem);
    },
    [start],
  );
  const stop = useCallback(() => {
    if (job)
      got(client.POST("/api/jobs/{id}/stop", { params: { path: { id: job.id } } }))
        .then(setJob)
        .catch(setProblem);
  }, [job]);
  const open = job !== null && OPEN.includes(job.state);
  useEffect(() => {
    if (!open || !job) return;
    // An answer that comes after another job was begun must not take its place.
    let past = false;
    const timer = setTimeout(() => {
      got(client.GET("/api/jobs/{id}", { params: { path: { id: job.id } } }))
        .then((now) => {
          if (past) return;
          if (now.done !== job.done || now.state !== job.state) heard.current(now);
          setJob({ ...now });
        })
        .catch((fault: Problem) => {
          if (past) return;
          setProblem(fault);
          setJob({ ...job });
        });
    }, LOOK_AGAIN_MS);
    return () => {
      past = true;
      clearTimeout(timer);
    };
  }, [job, open]);
  return { job, open, problem, begin, stop };
}

/** Begins a match whenever places are still to be matched. */
export function useMatching(id: string, revision: number, missing: number) {
  const cache = useQueryClient();
  const work = useJob(id, "match", () => {
    void cache.invalidateQueries({ queryKey: ["matches", id] });
    void cache.invalidateQueries({ queryKey: ["plan", id] });
  });
  const { begin } = work;
  useEffect(() => {
    if (missing > 0) begin();
    // A new revision may ask for other targets even when as many are missing.
  }, [begin, revision, missing > 0]); // eslint-disable-line react-hooks/exhaustive-deps
  return work;
}
