import type { Act, KitColourOut, Laid } from "../api/client";

/** Whether a colour is laid, not something blended or lifted. */
export const isLaid = (act: Act): act is Laid => "colour" in act;

/** The different colours of a recipe. */
export const coloursOf = (acts: Act[]) => new Set(acts.filter(isLaid).map((l) => l.colour));

/** What each act takes in the hand: a colour's name, or a tool's work. */
export function namesOf(acts: Act[], colours: Pick<KitColourOut, "id" | "name">[]): string[] {
  const known = new Map(colours.map((c) => [c.id, c.name]));
  return acts.map((a) => (isLaid(a) ? (known.get(a.colour) ?? a.colour) : "blend" in a ? "Blend" : "Lift"));
}
