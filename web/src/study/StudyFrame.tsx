import { useState, type ReactNode } from "react";
import { Outlet, useNavigate, useParams } from "react-router";
import { Help } from "../parts/Help";
import { Opening } from "../parts/Says";
import { SURROUNDS, useSettings } from "../parts/settings";
import { useKeys } from "../parts/useKeys";
import { Path, STAGES } from "./Path";
import { Tray } from "./Tray";
import { StudyContext, useStudyDoor } from "./useStudy";

/** Every stage of a study stands in this frame: path above, tray below; rail and margin belong to the stage. */
export function StudyFrame() {
  const { id = "", "*": rest = "" } = useParams();
  const { door, problem } = useStudyDoor(id);
  const [help, setHelp] = useState(false);
  const settings = useSettings();
  const go = useNavigate();
  const stage = window.location.pathname.split("/").pop() ?? rest;
  const drawing = stage === "draw";
  const digits = Object.fromEntries(
    STAGES.map((s, index) => [String(index + 1), () => void go(`/studies/${id}/${s.slug}`)]),
  );
  useKeys({
    ...(drawing ? {} : digits),
    s: () =>
      settings.set({ surround: SURROUNDS[(SURROUNDS.indexOf(settings.surround) + 1) % SURROUNDS.length]! }),
    "?": () => setHelp(true),
    "mod+z": () => door?.undo(),
    "shift+mod+z": () => door?.redo(),
    "mod+y": () => door?.redo(),
  });
  if (!door) return <Opening what="study" problem={problem} />;
  const paper = door.study.paper.tone.hex;
  return (
    <StudyContext.Provider value={door}>
      <div
        className={`frame ${settings.leftHanded ? "left-handed" : ""}`}
        style={{ "--paper": paper } as React.CSSProperties}
        data-surround={settings.surround}
      >
        <Path stage={stage} onHelp={() => setHelp(true)} />
        <Outlet />
        <Tray />
      </div>
      <Help stage={stage} show={help} onHide={() => setHelp(false)} />
    </StudyContext.Provider>
  );
}

/** The body of a stage: rail, work, margin. */
export function Stage({
  rail,
  children,
  margin,
  name,
}: {
  rail: ReactNode;
  children: ReactNode;
  margin: ReactNode;
  name: string;
}) {
  return (
    <div className={`stage stage-${name}`}>
      {rail}
      <main className="work" id="work">
        {children}
      </main>
      <aside className="margin" aria-label="What is selected">
        {margin}
      </aside>
    </div>
  );
}
