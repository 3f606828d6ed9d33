import { useQuery } from "@tanstack/react-query";
import { client, got, type View } from "../api/client";

/** What is read of a study's picture as a whole; read anew only when the look of it changes. */
export const useOverview = (id: string, look: string, on = true) =>
  useQuery({
    queryKey: ["overview", id, look],
    queryFn: () => got(client.GET("/api/studies/{id}/overview", { params: { path: { id } } })),
    staleTime: Infinity,
    enabled: on,
    placeholderData: (before) => before,
  });

export const useSight = (id: string, look: string, view: View, steps: number, value: number | null) =>
  useQuery({
    queryKey: ["sight", id, look, view, steps, value],
    queryFn: () =>
      got(
        client.GET("/api/studies/{id}/views/{view}", {
          params: { path: { id, view }, query: { steps, value } },
        }),
      ),
    staleTime: Infinity,
    enabled: view !== "picture",
  });

export const useAreas = (id: string, look: string, map: string | null) =>
  useQuery({
    queryKey: ["areas", id, look, map],
    queryFn: () => got(client.GET("/api/studies/{id}/areas", { params: { path: { id } } })),
    staleTime: Infinity,
    enabled: map !== null,
    placeholderData: (before) => before,
  });
