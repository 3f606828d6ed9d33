import { useState } from "react";
import type { PlaceOut } from "../../api/client";
import { useStudy } from "../../study/useStudy";

/** A place's own name; written when it is left. */
export function NameField({ place }: { place: PlaceOut }) {
  const { change } = useStudy();
  const [name, setName] = useState(place.name);
  return (
    <label className="field">
      Name
      <input
        value={name}
        maxLength={80}
        placeholder={place.role_name}
        onChange={(event) => setName(event.target.value)}
        onBlur={() => name !== place.name && change({ do: "edit_place", id: place.id, name })}
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
      />
    </label>
  );
}
