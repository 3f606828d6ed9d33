import type { Problem, SpanOut } from "../../api/client";
import { Framing } from "./Framing";
import type { Flip } from "./geometry";
import { Guides } from "./Guides";
import { Measuring } from "./Measuring";
import type { PaperTool } from "./paperTool";
import { Print } from "./Print";
import { SheetPlace } from "./SheetPlace";

interface Props {
  tool: PaperTool;
  onTool: (tool: PaperTool) => void;
  span: SpanOut | null;
  spanProblem: Problem | null;
  unit: number | null;
  onNoUnit: () => void;
  flip: Flip;
  onFlip: (flip: Flip) => void;
  lineArt: boolean;
}

/** The paper and the picture on it: crop, size, grid, measuring, and a page printed at true size. */
export function PaperPanel(props: Props) {
  const { tool, onTool, span, spanProblem, unit, onNoUnit, flip, onFlip, lineArt } = props;
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
      <Measuring
        tool={tool}
        onTool={onTool}
        span={span}
        spanProblem={spanProblem}
        unit={unit}
        onNoUnit={onNoUnit}
      />
      <Framing tool={tool} onTool={onTool} />
      <Print lineArt={lineArt} />
    </section>
  );
}
