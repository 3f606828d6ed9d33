import { onDay } from "../../parts/words";
import { useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { Link } from "react-router";
import { client, got } from "../../api/client";

/** Words looked for in the journals of all studies: titles, notes, what was kept, what was drawn. */
export function JournalSearch() {
  const [words, setWords] = useState("");
  const asked = useDeferredValue(words.trim());
  const found = useQuery({
    queryKey: ["journals", asked],
    queryFn: () => got(client.GET("/api/journal", { params: { query: { q: asked } } })),
    enabled: asked.length > 1,
    placeholderData: (before) => before,
  });
  const shown = asked.length > 1 ? found.data : undefined;
  return (
    <div className="journal-search">
      <label className="field">
        Look in the journals for
        <input type="search" value={words} onChange={(event) => setWords(event.target.value)} />
      </label>
      {shown && (
        <ul aria-label="Found in the journals">
          {shown.map((f, i) => (
            <li key={i}>
              <Link to={`/studies/${f.study}/keep`} state={{ tab: "journal" }}>
                <b>{f.title}</b> <small>{onDay(f.made)}</small>
                {f.what && <span>{f.what}</span>}
              </Link>
            </li>
          ))}
          {shown.length === 0 && <li>Nothing found.</li>}
        </ul>
      )}
    </div>
  );
}
