import { useRef, useState } from "react";
import type { Lab, PictureOut } from "../../api/client";
import { placeMark } from "../../parts/marks";
import { newId } from "../../parts/newId";
import { useSettings } from "../../parts/settings";
import { useKeys } from "../../parts/useKeys";
import { ValueRail } from "../../parts/ValueRail";
import { useRoles } from "../../study/queries";
import { useAreas, useOverview } from "../../study/reading";
import { Stage } from "../../study/StudyFrame";
import { useStudy } from "../../study/useStudy";
import { cropOf, thinned, type Spot } from "./drawn";
import { LightPanel, type Picking } from "./LightPanel";
import { nextRole } from "./nextRole";
import { Over } from "./Over";
import { PaperPanel } from "./PaperPanel";
import type { PaperTool } from "./paperTool";
import { PictureBoard, type Disc, type Tool, type Zoom } from "./PictureBoard";
import { PlaceMargin } from "./PlaceMargin";
import { RangePanel } from "./RangePanel";
import { SkinPanel } from "./SkinPanel";
import { Tabs, type Panel } from "./Tabs";
import { TouchMargin } from "./TouchMargin";
import { labelAt, useAreaMap, useOutlines } from "./useAreaMap";
import { useSpan } from "./useSpan";
import { useTouched } from "./useTouched";
import { useViewing } from "./useViewing";
import { VIEWS } from "./views";
import { ViewBar } from "./ViewBar";
import { useZoneReview } from "./useZoneReview";
import { ZonesPanel, type ZoneTool } from "./ZonesPanel";
import { CLOSER, FURTHER, WHOLE, ZoomBar } from "./ZoomBar";

const PANEL_KEYS: Record<string, Panel> = {
  t: "places",
  z: "zones",
  l: "light",
  k: "skin",
  g: "range",
  p: "paper",
};
const ZONE_TOOLS: Record<ZoneTool, Tool> = {
  choose: "touch",
  skin: "touch",
  closed: "touch",
  brush: "brush",
  eraser: "brush",
  lasso: "lasso",
  new: "lasso",
};

/** Look at a picture: see what is there, touch the places that matter, say what they are, find the zones, lay the paper out. */
export function PictureLook({ picture }: { picture: PictureOut }) {
  const { study, change, saving } = useStudy();
  const { guessFirst } = useSettings();
  const roles = useRoles().data ?? [];
  const lineTone = (slug: string) => roles.find((r) => r.slug === slug)?.line_tone ?? null;
  const { view, setView, steps, setSteps, value, setValue, flip, setFlip, before, setBefore, ...seen } =
    useViewing(study);
  const { sight, geometry, developed, href } = seen;
  const [panel, setPanel] = useState<Panel>("places");
  const [selected, setSelected] = useState<string | null>(null);
  const [role, setRole] = useState("base");
  const [zoneTool, setZoneTool] = useState<ZoneTool>("choose");
  const [paperTool, setPaperTool] = useState<PaperTool>("none");
  const [picking, setPicking] = useState<{ what: Picking; known: Lab | null }>({ what: null, known: null });
  const zoom = useRef<Zoom | null>(null);
  const [radius, setRadius] = useState(() => Math.max(4, Math.round(picture.width / 90)));
  const { look } = study;
  const overview = useOverview(study.id, look, true).data;
  const lineArt = overview?.line_art ?? false;
  const place = study.places.find((p) => p.id === selected) ?? null;
  const zones = study.places.filter((p) => p.area !== null);
  const review = useZoneReview(selected, setSelected);
  const base = study.places.find((p) => p.role === "base")?.tone.lab ?? null;
  const mapId = study.state.areas ?? null;
  const map = useAreaMap(mapId);
  const { data: areas, isPlaceholderData: areasOld } = useAreas(study.id, look, mapId);
  const outlines = useOutlines(map, place?.area ?? null);
  const { touched, read, problem, touch: readThere, drop } = useTouched(study.id, base);
  const spans = useSpan(study.id);
  const touch = (disc: Disc) => {
    setSelected(null);
    if (!touched) setRole(nextRole(study.places));
    readThere(disc);
  };
  const letGo = () => {
    drop();
    setSelected(null);
    setPicking({ what: null, known: null });
    setZoneTool("choose");
    setPaperTool("none");
  };
  const choose = (id: string | null) => {
    letGo();
    setSelected(id);
    const chosen = study.places.find((p) => p.id === id);
    if (chosen && panel !== "zones" && chosen.area !== null) setPanel("zones");
    if (chosen && panel !== "places" && chosen.area === null) setPanel("places");
  };
  const addArea = (path: Spot[], tone: Lab | null) => {
    const id = newId();
    change({ do: "add_area", id, role, name: "", path, radius: null, tone });
    setSelected(id);
  };
  const onTouch = (disc: Disc) => {
    if (picking.what) {
      change({
        do: "set_develop",
        develop: {
          ...study.state.develop!,
          kind: picking.what,
          x: disc.x,
          y: disc.y,
          known: picking.known,
          matrix: null,
        },
      });
      setPicking({ what: null, known: null });
      return;
    }
    if (panel !== "zones") {
      if (panel !== "places") setPanel("places");
      return touch(disc);
    }
    if (zoneTool === "skin") {
      change({ do: "propose_areas", touched: { x: disc.x, y: disc.y } });
      setZoneTool("choose");
      return;
    }
    const label = map ? labelAt(map, disc.x, disc.y, picture.width) : 0;
    const there = label ? study.places.find((p) => p.area === label) : undefined;
    if (there) return setSelected(there.id);
    if (zoneTool === "closed" || lineArt) addArea([{ x: disc.x, y: disc.y }], lineTone(role));
    else setSelected(null);
  };
  const onPath = (path: Spot[]) => {
    const thin = thinned(path);
    if (panel === "zones" && zoneTool === "new") {
      if (thin.length < 3) return;
      addArea(thin, lineArt ? lineTone(role) : null);
      return setZoneTool("choose");
    }
    if (panel === "zones" && place?.area && (zoneTool !== "lasso" || thin.length > 2))
      return change({
        do: "paint_area",
        id: place.id,
        path: thin,
        radius: zoneTool === "lasso" ? null : radius,
        add: zoneTool !== "eraser",
      });
    const [from, to] = [path[0]!, path.at(-1)!];
    if (paperTool === "crop") {
      const frame = cropOf(from, to, study.state.frame?.angle ?? 0);
      if (frame) change({ do: "set_frame", frame });
      zoom.current?.by(WHOLE);
      return setPaperTool("none");
    }
    void spans.measure(from, to, paperTool === "unit", () => setPaperTool("measure"));
  };
  const keep = () => {
    if (!touched) return;
    const id = newId();
    change({
      do: "add_place",
      id,
      role,
      name: "",
      x: touched.x,
      y: touched.y,
      radius: touched.radius,
      tone: null,
    });
    drop();
    setSelected(id);
  };
  const moveBy = (dx: number, dy: number) => {
    const clamp = (v: number, most: number) => Math.min(most - 1, Math.max(0, v));
    const held = place && place.x !== null && place.area === null ? (place as Disc) : null;
    const from = touched ?? held ?? { x: picture.width / 2, y: picture.height / 2, radius };
    const disc = {
      x: clamp(from.x + dx, picture.width),
      y: clamp(from.y + dy, picture.height),
      radius: from.radius,
    };
    zoom.current?.show(disc);
    if (held && !touched) change({ do: "edit_place", id: place!.id, ...disc });
    else touch(disc);
  };
  const resize = (by: number) => {
    const next = (r: number) =>
      Math.min(picture.width / 4, Math.max(1, Math.round(r * by + (by > 1 ? 1 : -1))));
    if (touched) touch({ ...touched, radius: next(touched.radius) });
    else if (place?.radius && place.area === null)
      change({ do: "edit_place", id: place.id, radius: next(place.radius) });
    setRadius(next);
  };
  const arrow = (event: KeyboardEvent, dx: number, dy: number) => {
    if (panel === "zones" && !touched) return step(dx + dy);
    const far = (event.shiftKey ? 5 : 1) * Math.max(1, Math.round(picture.width / 200));
    moveBy(dx * far, dy * far);
  };
  const step = (by: number) => {
    if (!zones.length) return;
    const at = zones.findIndex((p) => p.id === selected);
    setSelected(zones[(at + by + zones.length) % zones.length]!.id);
  };
  const enter = () => {
    if (panel === "zones" && !touched) {
      if (place?.flagged) review.agree(place);
      else if (zones.length) setSelected(review.next?.id ?? selected);
      else if (!lineArt) review.propose();
      return;
    }
    if (touched) keep();
    else moveBy(0, 0);
  };
  const open = (wanted: Panel) => {
    letGo();
    setPanel(wanted);
  };
  const views = Object.fromEntries(
    VIEWS.map((v) => [v.key, () => setView((now) => (now === v.view ? "picture" : v.view))]),
  );
  useKeys({
    ...views,
    t: () => open("places"),
    z: () => open("zones"),
    l: () => open("light"),
    k: () => open("skin"),
    g: () => open("range"),
    p: () => open("paper"),
    ArrowLeft: (event) => arrow(event, -1, 0),
    ArrowRight: (event) => arrow(event, 1, 0),
    ArrowUp: (event) => arrow(event, 0, -1),
    ArrowDown: (event) => arrow(event, 0, 1),
    Enter: enter,
    Escape: letGo,
    Delete: () => place && change({ do: "remove_place", id: place.id }),
    "[": () => resize(1 / 1.15),
    "]": () => resize(1.15),
    "+": () => zoom.current?.by(CLOSER),
    "=": () => zoom.current?.by(CLOSER),
    "-": () => zoom.current?.by(FURTHER),
    "0": () => zoom.current?.by(WHOLE),
    f: () => setFlip((now) => (now === "none" ? "mirrored" : now === "mirrored" ? "upside down" : "none")),
    r: () =>
      change({
        do: "set_range",
        on: !study.range.on,
        hold: study.range.hold,
        middle: study.state.range_middle,
      }),
  });

  const marks = study.places.map(placeMark);
  // A mark on the rail would give the answer away before it is guessed.
  if (read && touched && panel === "places" && !guessFirst)
    marks.push({ id: "touched", value: read.tone.value, hex: read.tone.hex, label: "The place touched" });

  const tool: Tool =
    panel === "zones"
      ? ZONE_TOOLS[zoneTool]
      : panel !== "paper" || paperTool === "none"
        ? "touch"
        : paperTool === "crop"
          ? "box"
          : "line";
  const body =
    panel === "zones" ? (
      <ZonesPanel
        place={place}
        roles={roles}
        areas={areas}
        areasOld={areasOld}
        doubt={overview?.doubt ?? ""}
        tool={zoneTool}
        onTool={setZoneTool}
        onSelect={setSelected}
        review={review}
        newRole={role}
        onNewRole={setRole}
        lineArt={lineArt}
        busy={saving.state === "saving"}
      />
    ) : panel === "light" ? (
      <LightPanel
        overview={overview}
        picking={picking.what}
        onPicking={(what, known) => setPicking({ what, known })}
        before={before}
        onBefore={setBefore}
      />
    ) : panel === "skin" ? (
      <SkinPanel overview={overview} />
    ) : panel === "range" ? (
      <RangePanel />
    ) : panel === "paper" ? (
      <PaperPanel
        tool={paperTool}
        onTool={setPaperTool}
        span={spans.measured?.span ?? null}
        spanProblem={spans.problem}
        unit={spans.unit}
        onNoUnit={spans.noUnit}
        flip={flip}
        onFlip={setFlip}
        lineArt={lineArt}
      />
    ) : touched ? (
      <TouchMargin
        disc={touched}
        href={developed}
        geometry={geometry}
        read={read}
        base={base !== null}
        problem={problem}
        roles={roles}
        role={role}
        onRole={setRole}
        onKeep={keep}
        onLetGo={letGo}
        onResize={resize}
      />
    ) : (
      <PlaceMargin
        place={place}
        roles={roles}
        onSelect={choose}
        onRemove={() => place && change({ do: "remove_place", id: place.id })}
        onResize={resize}
        onPropose={lineArt ? undefined : () => (open("zones"), review.propose())}
      />
    );
  const loose = () => study.places.filter((p) => p.area === null || p.id === selected);
  const places = panel === "zones" ? zones : panel === "places" ? study.places : loose();
  return (
    <Stage
      name="look"
      margin={
        <div className="look-margin">
          <Tabs panel={panel} onPanel={open} keys={PANEL_KEYS} />
          {body}
        </div>
      }
      rail={
        <ValueRail
          marks={marks}
          selected={touched ? "touched" : selected}
          onSelect={choose}
          histogram={view === "values" ? undefined : overview?.histogram}
          shares={view === "values" && sight?.view === "values" ? sight.shares : undefined}
          onValue={
            view === "one_value" || view === "notan" ? (v) => setValue(Math.round(v * 10) / 10) : undefined
          }
          band={view === "one_value" ? (value ?? 5) : view === "notan" && value !== null ? value : null}
          range={study.range.on ? { from: study.range.picture_values, to: study.range.shown_values } : null}
        />
      }
    >
      <PictureBoard
        picture={picture}
        geometry={geometry}
        href={href}
        places={panel === "paper" ? [] : places}
        selected={selected}
        pending={panel === "places" ? touched : null}
        tool={tool}
        onTouch={onTouch}
        onSelect={choose}
        byNumber={panel === "places" || (panel === "zones" && zoneTool === "choose")}
        onMove={(id, disc) => {
          setSelected(id);
          change({ do: "edit_place", id, ...disc });
        }}
        onPath={onPath}
        zoom={zoom}
        radius={radius}
        overlay={panel === "zones" ? outlines : null}
        words={sight?.view === view ? sight.words : undefined}
      >
        {(panel === "paper" || panel === "places") && (
          <Over measured={panel === "paper" ? spans.measured : null} geometry={geometry} />
        )}
      </PictureBoard>
      <ZoomBar by={(times) => zoom.current?.by(times)} />
      <ViewBar
        view={view}
        onView={setView}
        steps={steps}
        onSteps={setSteps}
        sight={sight}
        disabled={before}
      />
    </Stage>
  );
}
