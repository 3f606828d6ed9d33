import { useQuery, useQueryClient } from "@tanstack/react-query";
import { client, got, type Schemas } from "../api/client";

type JournalOut = Schemas["JournalOut"];
type EntryIn = Schemas["EntryIn"];

export const useJournal = (study: string) =>
  useQuery({
    queryKey: ["journal", study],
    queryFn: () => got(client.GET("/api/studies/{id}/journal", { params: { path: { id: study } } })),
  });

/** Keep things beside the log, or take them out. What a place was measured to look like is what its recipe goes on from. */
export function useEntries(study: string) {
  const cache = useQueryClient();
  // Awaited, so that what is changed next is changed in the study as it is then.
  const moved = () =>
    Promise.all(
      ["study", "matches", "plan"].map((key) => cache.invalidateQueries({ queryKey: [key, study] })),
    );
  const keep = async (entry: EntryIn) => {
    const journal = await got(
      client.POST("/api/studies/{id}/entries", { params: { path: { id: study } }, body: entry }),
    );
    cache.setQueryData<JournalOut>(["journal", study], journal);
    if (entry.tone) await moved();
  };
  const remove = async (id: string) => {
    await got(client.DELETE("/api/entries/{id}", { params: { path: { id } } }));
    void cache.invalidateQueries({ queryKey: ["journal", study] });
    await moved();
  };
  return { keep, remove };
}
