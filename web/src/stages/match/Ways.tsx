import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { client, got, type PlaceOut, type Problem, type RecipeOut } from "../../api/client";
import { Fault, Loading } from "../../parts/Says";
import { useStudy } from "../../study/useStudy";
import { Alternative } from "./Alternative";

/** Ways that differ in kind: no black, no ready-made skin colour, by value alone, out of one tin. */
export function Ways({
  place,
  chosen,
  onTake,
}: {
  place: PlaceOut;
  chosen: RecipeOut;
  onTake: (recipe: RecipeOut) => void;
}) {
  const { study } = useStudy();
  const [open, setOpen] = useState(false);
  const found = useQuery({
    queryKey: ["ways", study.id, study.revision, place.id],
    enabled: open,
    queryFn: () =>
      got(
        client.GET("/api/studies/{id}/ways", {
          params: { path: { id: study.id }, query: { place: place.id } },
        }),
      ),
  });
  if (!open)
    return (
      <button type="button" className="tool" onClick={() => setOpen(true)}>
        Without black, without skin sticks, vivid, one tin
      </button>
    );
  return (
    <>
      <Fault problem={found.error as Problem | null} />
      {found.isPending && <Loading what="Looking for other ways" />}
      <ul className="alternatives" aria-label="Ways that differ in kind">
        {found.data?.map((w) =>
          w.recipe ? (
            <Alternative
              key={w.way}
              recipe={w.recipe}
              target={place.target}
              tin={w.tin}
              chosen={chosen}
              onTake={onTake}
            />
          ) : (
            <li key={w.way} className="measure">
              {w.why}
            </li>
          ),
        )}
      </ul>
    </>
  );
}
