import type { Problem, SpanOut } from "../../api/client";
import { Fault } from "../../parts/Says";
import type { PaperTool } from "./paperTool";

export interface Measures {
  tool: PaperTool;
  onTool: (tool: PaperTool) => void;
  span: SpanOut | null;
  spanProblem: Problem | null;
  unit: number | null;
  onNoUnit: () => void;
}

/** Spans measured on the picture, in millimetres and in a unit of one's own. */
export function Measuring({ tool, onTool, span, spanProblem, unit, onNoUnit }: Measures) {
  return (
    <>
      <h3>Measure</h3>
      <div className="tools">
        <button
          type="button"
          className="tool"
          aria-pressed={tool === "unit"}
          onClick={() => onTool(tool === "unit" ? "none" : "unit")}
        >
          {unit ? "Another unit" : "Pick a unit"}
        </button>
        <button
          type="button"
          className="tool"
          aria-pressed={tool === "measure"}
          onClick={() => onTool(tool === "measure" ? "none" : "measure")}
        >
          Measure
        </button>
        {unit && (
          <button type="button" className="tool" onClick={onNoUnit}>
            No unit
          </button>
        )}
      </div>
      <p role="status" data-testid="span">
        {tool === "unit" && "Draw over what shall count as one: an eye’s width, say."}
        {tool === "measure" && !span && "Draw from one place to another."}
        {span && tool !== "unit" && (
          <>
            <b>{span.mm.toFixed(1)} mm</b> on the paper
            {span.units !== null && (
              <>
                , <b>{span.units.toFixed(2)}</b> units
              </>
            )}
            , {Math.abs(span.plumb).toFixed(0)}°{" "}
            {span.plumb > 0.5 ? "right of" : span.plumb < -0.5 ? "left of" : "from"} plumb
          </>
        )}
      </p>
      <Fault problem={spanProblem} />
    </>
  );
}
