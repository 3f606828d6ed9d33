/** The ways through a portrait, and what each is called. */
export const ROUTES = [
  ["sheet", "whole sheet together"],
  ["feature", "feature by feature"],
  ["colour", "colour in the hand"],
] as const;
