import { useQuery } from "@tanstack/react-query";
import { client, got, type Lab } from "../api/client";

/** What a Lab colour is on the screen, in words and by eye; nothing before it is known. */
export const useTone = (lab: Lab | null) =>
  useQuery({
    queryKey: ["tone", lab],
    enabled: lab !== null,
    queryFn: () => got(client.POST("/api/tone", { body: { lab } })),
    staleTime: Infinity,
  }).data;

/** Whether two tones are one, as far as was written. */
export const sameTone = (one: Lab | null, other: Lab) =>
  one !== null && Math.hypot(one.l - other.l, one.a - other.a, one.b - other.b) < 0.01;
