"""From recipes over areas to a plan: ordered steps, sittings, and what stands in the way."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise

import numpy as np

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.tables import Floats
from caltin_core.colour.value import munsell_value
from caltin_core.media.cautions import cautions, shuts
from caltin_core.media.layers import Lay, lays
from caltin_core.media.predict import courses_of
from caltin_core.media.workbench import Workbench
from caltin_core.plan.crossing import Crossing, crossing, told
from caltin_core.plan.finish import GRAINY, LIFTED, UnderDrawing, closed, finished, suits
from caltin_core.plan.order import Route, Sheet, ordered
from caltin_core.plan.runs import rounds_of, runs_of
from caltin_core.plan.safety import safety
from caltin_core.plan.steps import Area, Course, Step, laid_by, laid_in, steps_of
from caltin_core.plan.timing import LIFTS, sittings_of
from caltin_core.recipes.reasons import reason_at
from caltin_core.recipes.school_list import medium_of
from caltin_core.recipes.schools import School, stage_table, zones_of
from caltin_core.recipes.words import listed

# A paper with less room than this takes no further layer (common practice: it slides off); areas this alike (ΔE00) read as level.
_FULL, _LEVEL = 0.985, 3.0
# The darkest dark stands once it is so near to what it ends in, in L*.
_STANDS = 4.0
_ANCHOR = "The darkest dark stands early: everything else is judged beside it."


@dataclass(frozen=True)
class Conflict:
    """What cannot be as it was asked, on which areas, and the nearest that can."""

    areas: tuple[int, ...]
    what: str
    nearest: str


@dataclass(frozen=True)
class Plan:
    """Steps in order; first and last step of each sitting; changes of the colour in the hand; the share of the tooth used in
    every area; cautions; conflicts; and for steps that carry a layer over an edge, how."""

    steps: tuple[Step, ...]
    sittings: tuple[tuple[int, int], ...]
    colour_changes: int
    tooth_used: tuple[float, ...]
    cautions: tuple[str, ...]
    conflicts: tuple[Conflict, ...]
    edges: dict[int, tuple[str, ...]] = field(default_factory=dict)


def plan(
    bench: Workbench,
    areas: Sequence[Area],
    route: Route = "sheet",
    school: School | None = None,
    right_handed: bool = True,
    sitting_minutes: float | None = None,
    own: Sequence[Sequence[tuple[int, int]]] = (),
    pace: float = 1.0,
    under_drawing: UnderDrawing = "none",
) -> Plan:
    """Put the areas' layers in order: every area's own in their order, whole, once.

    Within that come markers before dry colours and the white pen last, the school's stages over the whole sheet, then the route:
    feature by feature, the whole sheet together (dark to light, markers light to dark), or with the fewest changes of colour.
    `own` is the artist's order in their place: for every step its areas, each with the number of its own layer. `pace` is how
    long this artist takes, against common practice.
    An area's finish adds what closes its grain at the end; an `under_drawing` that would grey the colours is lifted first.
    """
    areas = [_finished(bench, a) for a in areas]
    seen = _seen(bench, areas)
    last = [(labs[-1], float(used[-1])) for labs, used in seen]
    staged, strayed = _stages(bench, areas, school, np.array([lab[0] for lab, _ in last]))
    turns = [list(zip(rounds_of(bench, a.layers), stages, strict=True)) for a, stages in zip(areas, staged, strict=True)]
    runs = [runs_of(a.layers, mine) for a, mine in zip(areas, turns, strict=True)]
    drawn = [i for i, a in enumerate(areas) if a.layers]
    anchor = min(drawn, key=lambda i: (float(last[i][0][0]), i), default=0)
    used = sorted({x.colour for a in areas for x in a.layers if isinstance(x, Lay)})
    media = [bench.swatches[c].medium for c in used]
    dark_first = not media or medium_of(media) != "marker"
    side = _side(areas, right_handed)
    features = [anchor, *(i for i in sorted(drawn, key=side) if i != anchor)] if drawn else []
    tone = {c: float(bench.solids[c, 0]) for c in used}
    sheet = Sheet(runs, tone, anchor, features, dark_first)
    laid_so = laid_in(bench, areas, own) if own else laid_by(bench, areas, runs, ordered(sheet, route))
    steps = [*_lifted(areas, under_drawing), *(_sided(step, side) for step in steps_of(bench, areas, laid_so))]
    steps = _explained(bench, areas, steps, seen, -1 if own else anchor)
    steps = [s if s.does == "dry" else replace(s, minutes=pace * s.minutes) for s in steps]
    minutes = [s.minutes for s in steps]
    laid = [s.layer.colour for s in steps if isinstance(s.layer, Lay)]
    every = [x for a in areas for x in a.layers]
    warned = _warned({a.id: cautions(bench, a.layers, of_skin=a.of_skin) for a in areas})
    return Plan(
        tuple(steps), tuple(sittings_of(minutes, _stops(steps), sitting_minutes)),
        sum(a != b for a, b in pairwise(laid)), tuple(share for _, share in last),
        (*warned, *safety(media, every)), (*_conflicts(bench, areas, seen), *_unsuited(media, drawn, under_drawing), *strayed),
        _crossings(bench, areas, steps, [lab for lab, _ in last]),
    )  # fmt: skip


def _finished(bench: Workbench, area: Area) -> Area:
    """The area with the finish wanted; what was known to be seen of it is not known of other layers."""
    layers = finished(bench, area.layers, area.finish)
    return area if layers == area.layers else replace(area, layers=layers, seen=None)


Side = Callable[[int], tuple[float, float, int]]
Seen = list[Course]


def _seen(bench: Workbench, areas: Sequence[Area]) -> Seen:
    """Of every area what is seen, and how much of the tooth is used."""
    wanted = list(dict.fromkeys(a.layers for a in areas if a.seen is None))
    found = dict(zip(wanted, courses_of(bench, wanted), strict=True))
    return [a.seen or found[a.layers] for a in areas]


def _stages(
    bench: Workbench, areas: Sequence[Area], school: School | None, lightness: Floats
) -> tuple[list[list[int]], list[Conflict]]:
    """The school's stage of every layer of every area, never going back; and where a recipe does not follow it."""
    if school is None:
        return [[0] * len(a.layers) for a in areas], []
    zones = zones_of(lightness)
    tables = {zone: stage_table(school, bench, zone) for zone in set(zones)}
    out: list[list[int]] = []
    strayed: list[Conflict] = []
    for index, (area, zone) in enumerate(zip(areas, zones, strict=True)):
        stage, stages = 0, []
        for layer in area.layers:
            if isinstance(layer, Lay):
                there = int(tables[zone][stage, layer.colour, layer.stroke.index])
                if there < len(school.stages):
                    stage = there
                elif area.of_skin and not any(c.areas == (index,) for c in strayed):
                    name = bench.swatches[layer.colour].called
                    what = f"{name} on {area.id}, {layer.stroke.words()}, has no place here in the school {school.name.lower()}"
                    strayed.append(
                        Conflict((index,), what, "it is laid when the recipe has it; or find its recipe under this school")
                    )
            stages.append(stage)
        out.append(stages)
    return out, strayed


def _side(areas: Sequence[Area], right_handed: bool) -> Side:
    """Sorts areas from the clean side to the smeared one, top to bottom; where nothing is known of them they keep their order."""

    def key(index: int) -> tuple[float, float, int]:
        at = areas[index].at
        if at is None:
            return (0.0, 0.0, index)
        return (round(at[1], 1), at[0] if right_handed else -at[0], index)

    return key


def _sided(step: Step, side: Side) -> Step:
    """The step with its areas from the clean side on."""
    order = sorted(range(len(step.areas)), key=lambda i: side(step.areas[i]))
    numbers = tuple(step.numbers[i] for i in order) if step.numbers else ()
    return replace(step, areas=tuple(step.areas[i] for i in order), numbers=numbers)


def _explained(bench: Workbench, areas: Sequence[Area], steps: list[Step], seen: Seen, anchor: int) -> list[Step]:
    """The steps with their reasons and stop signals."""
    now: dict[int, Floats] = {}
    last = [labs[-1] for labs, _ in seen]
    reasons = [_reason(bench, a, lab) for a, lab in zip(areas, last, strict=True)]
    out, anchored = [], False
    for step in steps:
        if not isinstance(step.layer, Lay):
            out.append(step)
            continue
        for area, number in zip(step.areas, step.numbers, strict=True):
            now[area] = seen[area][0][number + 1]
        why = step.why
        if anchor in step.areas and not anchored and now[anchor][0] <= last[anchor][0] + _STANDS:
            anchored, why = True, _ANCHOR if len(out) < len(steps) / 3 else why
        if not why:
            spoken = (reasons[a] for a, n in zip(step.areas, step.numbers, strict=True) if reasons[a][1] == n)
            why = next((words for words, _ in spoken if words), "")
        out.append(replace(step, why=why, stop_when=_stop(areas, now, step.areas)))
    return out


def _warned(found: Mapping[str, Sequence[str]]) -> list[str]:
    """What areas are warned of, each warning once, and of which areas where it is not of all."""
    where: dict[str, list[str]] = {}
    for name, words in found.items():
        for said in words:
            where.setdefault(said, []).append(name)
    return [said if len(names) == len(found) else f"{listed(names)}: {said}" for said, names in where.items()]


def _reason(bench: Workbench, area: Area, lab: Floats) -> tuple[str, int]:
    """Why the layers of an area lie as they do, and the number of the layer that is told at."""
    numbers = [i for i, x in enumerate(area.layers) if isinstance(x, Lay)]
    words, at = reason_at(bench, lays(area.layers), lab, of_skin=area.of_skin)
    return words, numbers[at] if words else 0


def _stop(areas: Sequence[Area], now: dict[int, Floats], here: Sequence[int]) -> str:
    """The signal to stop at: level with an area that stands already, or a value."""
    mine = now[here[0]]
    others = [i for i in now if i not in here]
    away = delta_e_2000(mine, np.array([now[i] for i in others]).reshape(-1, 3))
    if away.min(initial=_LEVEL + 1) <= _LEVEL:
        return f"stop when {areas[here[0]].id} is level with {areas[others[int(np.argmin(away))]].id}"
    return f"stop when {areas[here[0]].id} reads as value {float(munsell_value(mine)):.1f}"


def _stops(steps: Sequence[Step]) -> list[bool]:
    """After which steps one can stop: not before what goes wet into what was just laid, nor between white kept and its drawing."""
    out = []
    for index, step in enumerate(steps):
        after = steps[index + 1] if index + 1 < len(steps) else None
        wet = after is not None and isinstance(after.layer, Lay) and after.layer.stroke.wet
        out.append(not wet and step.does not in ("reserve", "mask", "clean", "dry"))
    return out


def _lifted(areas: Sequence[Area], drawing: UnderDrawing) -> list[Step]:
    """The under-drawing taken back, before anything is laid over it."""
    under = tuple(i for i, a in enumerate(areas) if a.layers)
    if drawing not in LIFTED or not under:
        return []
    return [Step("lift", under, 0.5 + LIFTS * sum(areas[i].sheets for i in under), why=LIFTED[drawing])]


def _unsuited(media: Sequence[str], drawn: Sequence[int], drawing: UnderDrawing) -> list[Conflict]:
    """An under-drawing that would spoil the colours."""
    instead = suits(medium_of(media), drawing) if media else ""
    if not instead:
        return []
    return [Conflict(tuple(drawn), f"an under-drawing in {drawing.replace('_', ' ')} spoils these colours", f"draw with {instead}")]


def _conflicts(bench: Workbench, areas: Sequence[Area], seen: Seen) -> list[Conflict]:
    """What the recipes themselves ask against the paper: a burnish too early, a cover that is not last, paper too full."""
    out = []
    for index, area in enumerate(areas):
        if area.finish is not None and area.finish <= GRAINY and closed(area.layers):
            out.append(
                Conflict((index,), f"on {area.id}, a burnish or a blend closes the grain that is wanted", "press firmly instead")
            )
        lays = [(i, x) for i, x in enumerate(area.layers) if isinstance(x, Lay)]
        for (i, x), (_, after) in pairwise(lays):
            swatch, next_ = bench.swatches[x.colour], bench.swatches[after.colour].called
            if shuts(bench, x):
                what = f"on {area.id}, {swatch.called} is burnished before {next_}, which takes hold only weakly"
                out.append(Conflict((index,), what, f"press {swatch.called} firmly instead, and burnish last"))
            if swatch.kind == "cover":
                what = f"on {area.id}, {next_} comes over {swatch.called}, on which little holds"
                out.append(Conflict((index,), what, f"lay {swatch.called} last"))
            if swatch.kind == "film" and seen[index][1][i + 1] >= _FULL:
                what = f"on {area.id}, the paper is full before {next_}"
                out.append(Conflict((index,), what, f"lay {swatch.called} with less pressure, or leave {next_} out"))
    return out


def _crossings(
    bench: Workbench, areas: Sequence[Area], steps: Sequence[Step], labs: Sequence[Floats]
) -> dict[int, tuple[str, ...]]:
    """For steps whose layer is carried over a soft or lost edge, how; hard edges are told where the second side is begun."""
    places = {(a, n): at for at, s in enumerate(steps) for a, n in zip(s.areas, s.numbers, strict=False)}
    out: dict[int, list[Crossing]] = {}
    lays = [[(i, x) for i, x in enumerate(a.layers) if isinstance(x, Lay)] for a in areas]
    for one, area in enumerate(areas):
        for other, kind in area.neighbours:
            if other < one and any(n == one for n, _ in areas[other].neighbours):
                continue
            if not lays[one] or not lays[other]:
                continue
            sides = [x for _, x in lays[one]], [x for _, x in lays[other]]
            seen, meets = [labs[one], labs[other]], (area.meets, areas[other].meets)
            width = area.widths.get(other)
            found = crossing(bench, sides, (area.id, areas[other].id), kind, width, seen, meets)
            if found.side is not None and found.layer is not None:
                mine = (one, other)[found.side]
                at = places[mine, lays[mine][found.layer][0]]
            else:
                at = max(places[one, lays[one][0][0]], places[other, lays[other][0][0]])
            out.setdefault(at, []).append(found)
    return {at: told(every) for at, every in out.items()}
