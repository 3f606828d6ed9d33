import { useSettings } from "../parts/settings";
import { useUsual } from "./queries";

/** In what light swatches are photographed: a lamp shows reds and browns otherwise than day, and this much can be taken back. */
export function PhotoLight({ onLight }: { onLight?: (light: string) => void }) {
  const { photoLight, set } = useSettings();
  const lights = useUsual().data?.viewing ?? [];
  return (
    <label className="field">
      Photographed in
      <select
        value={photoLight}
        onChange={(event) => {
          set({ photoLight: event.target.value });
          onLight?.(event.target.value);
        }}
      >
        {lights.map((l) => (
          <option key={l.illuminant} value={l.illuminant}>
            {l.name}
          </option>
        ))}
      </select>
    </label>
  );
}
