import { queryOptions, useQuery } from "@tanstack/react-query";
import { client, got, type RulesState, type Schemas } from "../../api/client";

export type School = Schemas["SchoolOut"];
export type SchoolState = Schemas["SchoolState"];

export const schoolsQuery = queryOptions({
  queryKey: ["schools"],
  queryFn: () => got(client.GET("/api/schools")),
});

/** All schools, one's own last, and what their stages may name. */
export const useSchools = () => useQuery(schoolsQuery);

/** The school in force: of the list, or one's own as the study keeps it. */
export function taught(schools: School[], rules: RulesState): School | null {
  if (rules.own) {
    const saved = schools.find((s) => s.id && JSON.stringify(s.school) === JSON.stringify(rules.own));
    return saved ?? ({ ...rules.own, slug: "kept", order: [], school: rules.own } as School);
  }
  return schools.find((s) => s.slug === rules.school) ?? null;
}

/** The rules under another school. */
export function under(school: School | undefined): Pick<RulesState, "school" | "own"> {
  if (!school) return { school: "", own: null };
  return school.id ? { school: "", own: school.school } : { school: school.slug, own: null };
}
