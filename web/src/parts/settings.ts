import { createContext, useContext } from "react";

export const SURROUNDS = ["paper", "white", "grey", "black"] as const;
export type Surround = (typeof SURROUNDS)[number];

export interface Settings {
  wall: "day" | "evening";
  surround: Surround;
  leftHanded: boolean;
  countDown: boolean;
  guessFirst: boolean;
  /** Each step is said aloud, by a voice that lies on this machine. */
  spoken: boolean;
  /** The light that swatches are photographed in, by its CIE name. */
  photoLight: string;
  /** How the screen is dimmed so that its white is the sheet's; null: as it is. */
  white: White | null;
}

/** Brightness, and shares of red, green and blue of it, 0–1, in linear light. */
export interface White {
  bright: number;
  red: number;
  green: number;
  blue: number;
}

export interface SettingsDoor extends Settings {
  set: (some: Partial<Settings>) => void;
}

export const DEFAULTS: Settings = {
  wall: "day",
  surround: "grey",
  leftHanded: false,
  countDown: false,
  guessFirst: false,
  spoken: false,
  photoLight: "D50",
  white: null,
};
export const SettingsContext = createContext<SettingsDoor>({ ...DEFAULTS, set: () => undefined });
export const useSettings = () => useContext(SettingsContext);

const KEY = "caltin.settings";

export function stored(): Settings {
  try {
    return { ...DEFAULTS, ...(JSON.parse(localStorage.getItem(KEY) ?? "{}") as Partial<Settings>) };
  } catch {
    return DEFAULTS;
  }
}

export function store(settings: Settings): void {
  localStorage.setItem(KEY, JSON.stringify(settings));
}
