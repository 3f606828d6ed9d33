import type { PlaceOut } from "../../api/client";

const SKIN_FIRST = [
  "base",
  "light",
  "shadow",
  "highlight",
  "half_tone",
  "deepest_accent",
  "flush",
  "reflected_light",
];

/** The role most likely wanted next: the first of the skin's roles that no place has yet. */
export const nextRole = (places: PlaceOut[]) =>
  SKIN_FIRST.find((r) => !places.some((p) => p.role === r)) ?? "light";
