import type { Act, KitColourOut, Laid } from "../api/client";

/** Whether a colour is laid, not something blended or lifted. */
export const isLaid = (act: Act): act is Laid => "colour" in act;

/** The different colours of a recipe. */
export const coloursOf = (acts: Act[]) => new Set(acts.filter(isLaid).map((l) => l.colour));

/** Whether two rows of acts are the same. */
export const same = (a: Act[], b: Act[]) => JSON.stringify(a) === JSON.stringify(b);

/** Whether all that is laid are coats: dye fills the paper, not its tooth. */
export const allDye = (acts: Act[]) => acts.every((act) => !("pressure" in act));

/** What each act takes in the hand: a colour's name, or a tool's work. */
export function namesOf(acts: Act[], colours: Pick<KitColourOut, "id" | "name">[]): string[] {
  const known = new Map(colours.map((c) => [c.id, c.name]));
  return acts.map((a) => (isLaid(a) ? (known.get(a.colour) ?? a.colour) : "blend" in a ? "Blend" : "Lift"));
}

/** The same layer with another colour: pressed or in coats, as that one is laid. */
export function recoloured(act: Act, colour: Pick<KitColourOut, "id" | "coats">): Act {
  const passes = isLaid(act) ? act.passes : 1;
  if (colour.coats)
    return { colour: colour.id, passes: Math.min(passes, 3), wet: isLaid(act) && "wet" in act && act.wet };
  if (isLaid(act) && "pressure" in act) return { ...act, colour: colour.id };
  return { colour: colour.id, pressure: "medium", passes, point: "sharp", turned: false };
}
