import type { View } from "../../api/client";

/** The ways of seeing, each with its key and its words. */
export const VIEWS: { view: View; key: string; name: string; says: string }[] = [
  { view: "picture", key: "i", name: "As it is", says: "The picture as it is developed." },
  { view: "squint", key: "q", name: "Squint", says: "Half-closed eyes: the great masses, their edges kept." },
  { view: "values", key: "v", name: "Values", says: "Equal steps of value. Count how much each one covers." },
  {
    view: "notan",
    key: "n",
    name: "Two masses",
    says: "Light and dark alone. Touch the rail to part them elsewhere.",
  },
  { view: "extremes", key: "x", name: "Ends", says: "Only the darkest dark and the lightest light." },
  { view: "hue", key: "h", name: "Hue", says: "Every value held at one grey: what colour does alone." },
  { view: "warmth", key: "w", name: "Warm, cool", says: "Warmer or cooler than this skin’s own base." },
  {
    view: "hidden",
    key: "c",
    name: "Hidden",
    says: "What differs from the skin’s mean, lifted until it shows.",
  },
  {
    view: "one_value",
    key: "o",
    name: "One value",
    says: "One value lifted out. Touch the rail to choose it.",
  },
  {
    view: "undertone",
    key: "u",
    name: "Undertone",
    says: "Where the skin leans pink, orange, yellow or olive.",
  },
  {
    view: "melanin",
    key: "m",
    name: "Melanin",
    says: "The brown pigment, shading taken out; darker is more.",
  },
  { view: "blood", key: "b", name: "Blood", says: "The red beneath the skin; darker is more." },
];

export const viewHref = (id: string, look: string, view: View, steps: number, value: number | null) => {
  const more =
    view === "values"
      ? `?steps=${steps}`
      : value !== null && (view === "one_value" || view === "notan")
        ? `?value=${value}`
        : "";
  return `/api/studies/${id}/views/${look}/${view}.jpg${more}`;
};
