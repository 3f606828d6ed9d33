import type { StepOut } from "../../api/client";

/** What a step is known by, whatever its number. */
export const keyOf = (step: StepOut) => step.laid.map((x) => `${x.place}:${x.number}`).join("|");
