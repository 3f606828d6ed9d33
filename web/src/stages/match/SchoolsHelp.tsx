import { useSchools } from "./useSchools";

/** All schools by medium: what each is good for, and its danger. */
export function SchoolsHelp() {
  const schools = useSchools().data?.schools ?? [];
  return (
    <details className="schools-help">
      <summary>Schools: what each is good for</summary>
      {["pencil", "marker", "pastel"].map((medium) => (
        <section key={medium}>
          <h3>{medium}</h3>
          <dl>
            {schools
              .filter((s) => s.medium === medium)
              .map((s) => (
                <div key={s.slug}>
                  <dt>{s.name}</dt>
                  <dd>
                    Good for {s.good_for}. Danger: {s.danger}. First {s.order.join("; then ")}.
                  </dd>
                </div>
              ))}
          </dl>
        </section>
      ))}
    </details>
  );
}
