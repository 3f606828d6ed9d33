import type { PlaceOut } from "../api/client";

/** Places as the options of a select, each with its number. */
export function PlaceOptions({ places }: { places: PlaceOut[] }) {
  return places.map((p) => (
    <option key={p.id} value={p.id}>
      {p.number} · {p.called}
    </option>
  ));
}
