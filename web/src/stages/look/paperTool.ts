/** What a finger on the picture does while the paper is looked at. */
export type PaperTool = "none" | "crop" | "measure" | "unit";
