import { Framing } from "./Framing";
import type { Flip } from "./geometry";
import { Guides } from "./Guides";
import { Measuring, type Measures } from "./Measuring";
import { Print } from "./Print";
import { SheetPlace } from "./SheetPlace";

interface Props extends Measures {
  flip: Flip;
  onFlip: (flip: Flip) => void;
  lineArt: boolean;
}

/** The paper and the picture on it: crop, size, grid, measuring, and a page printed at true size. */
export function PaperPanel(props: Props) {
  const { flip, onFlip, lineArt, ...measures } = props;
  return (
    <section aria-label="Paper and drawing">
      <SheetPlace />
      <Guides />
      <label className="field">
        Seen
        <select value={flip} onChange={(event) => onFlip(event.target.value as Flip)}>
          <option value="none">as it is</option>
          <option value="mirrored">mirrored</option>
          <option value="upside down">upside down</option>
        </select>
      </label>
      <Measuring {...measures} />
      <Framing tool={measures.tool} onTool={measures.onTool} />
      <Print lineArt={lineArt} />
    </section>
  );
}
