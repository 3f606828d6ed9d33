import { MEDIA, type KitColour } from "./rack";

interface Props {
  label: string;
  medium: KitColour["medium"];
  onMedium: (medium: KitColour["medium"]) => void;
}

export function MediumSelect({ label, medium, onMedium }: Props) {
  return (
    <label className="field">
      {label}
      <select value={medium} onChange={(event) => onMedium(event.target.value as KitColour["medium"])}>
        {MEDIA.map(([slug, words]) => (
          <option key={slug} value={slug}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}
