import type { PlaceOut } from "../../api/client";
import { useStudy } from "../../study/useStudy";

export interface ZoneReview {
  /** The zone after this one that wants a look; none where all were looked at. */
  next: PlaceOut | null;
  propose: () => void;
  /** The zone is what it is called: on to the next. */
  agree: (place: PlaceOut) => void;
}

/** Zones proposed at one touch, and those that Caltin is unsure of gone through one by one, in their order. */
export function useZoneReview(selected: string | null, onSelect: (id: string | null) => void): ZoneReview {
  const { study, change } = useStudy();
  const zones = study.places.filter((p) => p.area !== null);
  const at = zones.findIndex((p) => p.id === selected);
  // Only onwards: what was agreed to a moment ago may not be written yet.
  const next = zones.slice(at + 1).find((p) => p.flagged) ?? null;
  return {
    next,
    propose: () => change({ do: "propose_areas", touched: null }),
    agree: (place) => {
      change({ do: "edit_place", id: place.id, looked: true });
      onSelect(next?.id ?? null);
    },
  };
}
