import type { PlaceOut, StepOut } from "../../api/client";

/** The places that any of the steps serves. */
export function drawnPlaces(places: PlaceOut[], steps: StepOut[]): PlaceOut[] {
  const drawn = new Set(steps.flatMap((s) => s.served.map((p) => p.place)));
  return places.filter((p) => drawn.has(p.id));
}
