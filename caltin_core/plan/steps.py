"""Runs over areas as steps: colours laid, blends and lifts, with what the paper and the hands need between them."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from caltin_core.colour.tables import Floats
from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import Blend, Lay, Layer
from caltin_core.media.workbench import Workbench
from caltin_core.plan.order import Act
from caltin_core.plan.runs import Run
from caltin_core.plan.timing import BLENDS, CLEAN, DRIES, DRY, LIFTS, MASK, RESERVE, WET_FOR, lay_minutes
from caltin_core.plan.using import takes
from caltin_core.reference.edges import EdgeKind
from caltin_core.reference.roles import Meets

Does = Literal["lay", "blend", "lift", "dry", "reserve", "mask", "clean"]
# Crumbs of a film darker than this (L*) show in one paler than that; common practice.
_DARK, _PALE = 45.0, 72.0


# What is seen (L + 1, 3), D50 Lab, and the share of the tooth used (L + 1,): of bare paper, and after each of L layers.
Course = tuple[Floats, Floats]


@dataclass(frozen=True)
class Area:
    """An area to draw: its layers, how many A4 sheets it covers, the areas it touches and how, where it lies (0-1), if known, the
    finish wanted, and how it meets what lies beside it."""

    id: str
    layers: tuple[Layer, ...]
    sheets: float
    neighbours: tuple[tuple[int, EdgeKind], ...] = ()
    at: tuple[float, float] | None = None
    # From grainy (0) to smooth (1), if one is wanted.
    finish: float | None = None
    meets: Meets = "tones"
    # How wide edges are on the paper, in mm, by the area beyond, where that was read.
    widths: Mapping[int, float] = field(default_factory=dict)
    # What is seen with these layers, where that is known.
    seen: Course | None = field(default=None, compare=False)

    @property
    def of_skin(self) -> bool:
        """Whether it is of skin: neither outlined nor drawn as strands."""
        return self.meets == "tones"


@dataclass(frozen=True)
class Step:
    """One thing to do: on which areas, each with the number of its own layer where one is laid, blended or lifted; `cm2` is the
    colour it takes, as `using.takes` counts."""

    does: Does
    areas: tuple[int, ...]
    minutes: float
    layer: Layer | None = None
    numbers: tuple[int, ...] = ()
    cm2: float = 0.0
    stop_when: str = ""
    why: str = ""


def steps_of(bench: Workbench, areas: Sequence[Area], laid: Iterable[Step]) -> list[Step]:
    """All steps in order: bare areas kept first, then what is laid, dye left to dry, crumbs taken off before pale colours."""
    out = _kept_bare(bench, areas)
    paper = _Paper(bench, areas)
    for step in laid:
        out += [*paper.before(step), step]
        paper.take(step)
    return out


def laid_by(bench: Workbench, areas: Sequence[Area], runs: Sequence[Sequence[Run]], acts: Sequence[Act]) -> Iterator[Step]:
    """What is laid, blended and lifted, run by run."""
    for act in acts:
        for part in _parts(bench, areas, runs, act):
            yield from _laid(bench, areas, runs, part)


def laid_in(bench: Workbench, areas: Sequence[Area], order: Sequence[Sequence[tuple[int, int]]]) -> Iterator[Step]:
    """The same in the artist's own order: for every step its areas, each with the number of its own layer, all alike."""
    for step in order:
        here, numbers = zip(*step, strict=True)
        yield _step(bench, areas, areas[here[0]].layers[numbers[0]], here, numbers)


def _parts(bench: Workbench, areas: Sequence[Area], runs: Sequence[Sequence[Run]], act: Act) -> list[Act]:
    """The act as it is, or area by area where what is laid wet would dry on one while another is laid."""
    if len(runs[act.areas[0]][act.runs[0]].chain) < 2:
        return [act]
    together = sum(
        lay_minutes(bench.swatches[x.colour].medium, x.stroke.passes, areas[a].sheets)
        for a, r in zip(act.areas, act.runs, strict=True)
        for i in runs[a][r].layers
        if isinstance(x := areas[a].layers[i], Lay)
    )
    if together <= WET_FOR:
        return [act]
    return [Act((a,), (r,)) for a, r in zip(act.areas, act.runs, strict=True)]


def _laid(bench: Workbench, areas: Sequence[Area], runs: Sequence[Sequence[Run]], act: Act) -> list[Step]:
    """The layers of an act, colour by colour, those that are alike on several areas as one step."""
    waiting = {a: list(runs[a][r].layers) for a, r in zip(act.areas, act.runs, strict=True)}
    out: list[Step] = []
    for colour in runs[act.areas[0]][act.runs[0]].chain or (-1,):
        while True:
            due: dict[Layer, list[int]] = {}
            for area, left in waiting.items():
                if left and (not isinstance(x := areas[area].layers[left[0]], Lay) or x.colour == colour):
                    due.setdefault(x, []).append(area)
            if not due:
                break
            # Pressed softly before hard, tools after colours: what is softest is taken up first.
            layer = min(due, key=_weight)
            here = due[layer]
            numbers = tuple(waiting[a].pop(0) for a in here)
            out.append(_step(bench, areas, layer, tuple(here), numbers))
    return out


def _weight(layer: Layer) -> tuple[int, int, str]:
    if not isinstance(layer, Lay):
        return (9, 0, layer.kind)
    hard = ("light", "coat", "medium", "firm", "burnish").index(layer.stroke.pressure)
    return (hard, layer.stroke.passes, f"{layer.stroke.point} {layer.stroke.turned}")


def _step(bench: Workbench, areas: Sequence[Area], layer: Layer, here: tuple[int, ...], numbers: tuple[int, ...]) -> Step:
    sheets = sum(areas[a].sheets for a in here)
    if isinstance(layer, Lay):
        medium = bench.swatches[layer.colour].medium
        return Step("lay", here, lay_minutes(medium, layer.stroke.passes, sheets), layer, numbers, takes(bench, layer, sheets))
    if isinstance(layer, Blend):
        return Step("blend", here, 0.5 + BLENDS * sheets, layer, numbers)
    return Step("lift", here, 0.5 + LIFTS * sheets, layer, numbers)


def _kept_bare(bench: Workbench, areas: Sequence[Area]) -> list[Step]:
    """Areas without layers, kept white before their neighbours are laid; masked where dye would creep in over a hard edge."""
    bare = [i for i, a in enumerate(areas) if not a.layers]

    def dyed(index: int) -> bool:
        return any(isinstance(x, Lay) and MEDIA[bench.swatches[x.colour].medium].kind == "dye" for x in areas[index].layers)

    masked = [i for i in bare if any(kind == "hard" and dyed(j) for j, kind in areas[i].neighbours)]
    kept = [i for i in bare if i not in masked]
    out = []
    if kept:
        out.append(Step("reserve", tuple(kept), RESERVE, why="Bare paper does not come back: draw round it, and keep it clean."))
    if masked:
        why = "Dye creeps over a hard edge: mask what must stay white before anything wet lies beside it."
        out.append(Step("mask", tuple(masked), MASK, why=why))
    return out


@dataclass
class _Paper:
    """What lies on the sheet while it is drawn: where dye is still wet, and whether dark crumbs lie about."""

    bench: Workbench
    areas: Sequence[Area]
    clock: float = 0.0
    wet: dict[int, float] = field(default_factory=dict)
    crumbs: bool = False

    def before(self, step: Step) -> list[Step]:
        """What must be done before a step."""
        layer = step.layer
        if not isinstance(layer, Lay):
            return []
        out = []
        swatch = self.bench.swatches[layer.colour]
        lightness = float(self.bench.solids[layer.colour, 0])
        if swatch.kind != "film" and not layer.stroke.wet and (damp := self._damp(step.areas)):
            out.append(Step("dry", tuple(damp), DRY, why="Dry over dry stays put; wet over wet would run."))
            self.clock += DRY
        if swatch.kind == "film" and self.crumbs and lightness >= _PALE:
            out.append(Step("clean", step.areas, CLEAN, why="Crumbs of the dark off, and clean fingers, before a pale colour."))
            self.clock += CLEAN
            self.crumbs = False
        return out

    def _damp(self, here: Sequence[int]) -> list[int]:
        """Areas of a step, or across a hard edge from it, on which dye is still wet."""
        touching = {j for i in here for j, kind in self.areas[i].neighbours if kind == "hard"}
        return sorted(a for a in {*here, *touching} if self.clock - self.wet.get(a, -DRIES) < DRIES)

    def take(self, step: Step) -> None:
        """The step is done."""
        self.clock += step.minutes
        if not isinstance(step.layer, Lay):
            return
        swatch = self.bench.swatches[step.layer.colour]
        if swatch.kind == "dye":
            self.wet.update(dict.fromkeys(step.areas, self.clock))
        if swatch.kind == "film" and float(self.bench.solids[step.layer.colour, 0]) < _DARK:
            self.crumbs = True
