import type { PlaceOut } from "../../api/client";
import { Chip } from "../../parts/Swatch";

interface Props {
  places: PlaceOut[];
  onSelect: (id: string) => void;
  /** What is told of a place beside its value. */
  more?: (place: PlaceOut) => string;
}

/** Places by number, to choose one; those that Caltin is unsure of are marked. */
export function PlaceList({ places, onSelect, more }: Props) {
  return (
    <ul className="place-list">
      {places.map((p) => (
        <li key={p.id}>
          <button type="button" onClick={() => onSelect(p.id)}>
            <span className="place-number">{p.number}</span>
            <Chip hex={p.tone.hex} size={24} />
            <span>
              {p.called}
              {p.flagged && <b> ?</b>}
              <small>
                value {p.tone.value.toFixed(1)}
                {more?.(p)}
              </small>
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}

/** How many places Caltin is unsure of, as a sentence; empty where there is none. */
export function wanting(places: PlaceOut[]): string {
  const many = places.filter((p) => p.flagged).length;
  if (many === 0) return "";
  return many === 1 ? "1 wants a look; it is marked ?." : `${many} want a look; they are marked ?.`;
}
