import { onDay } from "../../parts/words";
import type { KitColourOut, Schemas } from "../../api/client";

export type KitColour = Schemas["KitColour"];
export type State = KitColourOut["state"];

export const STATES: State[] = ["full", "low", "worn short", "dry", "lent", "lost"];
export const MEDIA: readonly [KitColour["medium"], string][] = [
  ["wax_pencil", "wax pencil"],
  ["oil_pencil", "oil pencil"],
  ["graphite", "graphite"],
  ["charcoal", "charcoal"],
  ["alcohol_marker", "alcohol marker"],
  ["ink_line", "ink line"],
  ["hard_pastel", "hard pastel"],
  ["soft_pastel", "soft pastel"],
  ["pastel_pencil", "pastel pencil"],
  ["oil_pastel", "oil pastel"],
  ["white_pen", "white pen"],
];
export const mediumWord = (medium: string) => MEDIA.find(([slug]) => slug === medium)?.[1] ?? medium;

/** A colour without what only the screen needs. */
export const plain = (c: KitColourOut): KitColour => ({
  id: c.id,
  name: c.name,
  medium: c.medium,
  tone: c.tone,
  source: c.source,
  handling: c.handling,
  retired: c.retired,
  line: c.line,
  lightfast: c.lightfast,
  harmful: c.harmful,
});

/** What makes this colour's tone worth trusting, in a word. */
export function trust(c: KitColourOut): string {
  if (c.measured) return `patches measured${c.paper && ` on ${c.paper}`}${c.when && `, ${onDay(c.when)}`}`;
  return {
    typed: "typed",
    photograph: "from a photograph",
    file: "from a file",
    reader: "read by the colour reader",
    demo: "made up",
  }[c.source ?? "typed"];
}

/** How a stick behaves before anything is known of it. */
export const ORDINARY: KitColour["handling"] = {
  hardness: 3,
  weak: false,
  crumbles: false,
  chalky: false,
  keeps_point: true,
  nib: "" as const,
};
