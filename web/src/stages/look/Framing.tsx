import { useRef, useState } from "react";
import { type Problem, sendFile, type PictureOut } from "../../api/client";
import { Fault } from "../../parts/Says";
import { Slider } from "../../parts/Slider";
import { useStudy } from "../../study/useStudy";
import type { PaperTool } from "./paperTool";

/** What is kept of the picture: cropped, straightened, or another in its place. */
export function Framing({ tool, onTool }: { tool: PaperTool; onTool: (tool: PaperTool) => void }) {
  const { study, change } = useStudy();
  const frame = study.state.frame ?? null;
  const angle = frame?.angle ?? 0;
  const file = useRef<HTMLInputElement>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  const replace = (picture: File) => {
    setProblem(null);
    sendFile<PictureOut>("/api/pictures", "picture", picture)
      .then((taken) => change({ do: "use_picture", picture: taken.id }))
      .catch((fault: Problem) => setProblem(fault));
  };
  const straighten = (turn: number) =>
    change({
      do: "set_frame",
      frame: {
        x: frame?.x ?? study.picture!.width / 2,
        y: frame?.y ?? study.picture!.height / 2,
        width: frame?.width ?? study.picture!.width,
        height: frame?.height ?? study.picture!.height,
        angle: turn,
      },
    });
  return (
    <>
      <h3>The picture</h3>
      <div className="tools">
        <button
          type="button"
          className="tool"
          aria-pressed={tool === "crop"}
          onClick={() => onTool(tool === "crop" ? "none" : "crop")}
        >
          Crop
        </button>
        {frame && (
          <button type="button" className="tool" onClick={() => change({ do: "set_frame", frame: null })}>
            Whole again
          </button>
        )}
        <button type="button" className="tool" onClick={() => file.current?.click()}>
          Replace it
        </button>
        <input
          ref={file}
          type="file"
          accept="image/*,.heic,.heif,.tif,.tiff"
          hidden
          aria-label="Another picture"
          onChange={(event) => {
            const chosen = event.target.files?.[0];
            if (chosen) replace(chosen);
            event.target.value = "";
          }}
        />
      </div>
      {tool === "crop" && (
        <p role="status">Draw a box round what you want to keep. Nothing is thrown away.</p>
      )}
      <Fault problem={problem} />
      <Slider
        label="Straighten"
        unit="°"
        least={-15}
        most={15}
        step={0.5}
        value={angle}
        onValue={straighten}
      />
    </>
  );
}
