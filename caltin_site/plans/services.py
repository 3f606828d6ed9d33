"""The one door to the plan: a study's recipes as steps, with what each does to the paper."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from caltin_core.contract.shapes import ActShape
from caltin_core.media.layers import Blend, Lay, Layer, lays
from caltin_core.plan.crossing import as_drawn
from caltin_core.plan.drawn import goes_on
from caltin_core.plan.make import Plan
from caltin_core.plan.make import plan as make_plan
from caltin_core.plan.presses import presses
from caltin_core.plan.safety import with_labels
from caltin_core.plan.steps import Area, Course, Step
from caltin_core.plan.using import needs
from caltin_core.recipes.words import act_words
from caltin_core.reference.edges import EdgeKind
from caltin_core.reference.roles import MEETS
from caltin_site.journal import services as journal
from caltin_site.journal.schemas import LaidOut, MarkOut
from caltin_site.kits import rack
from caltin_site.plans.schemas import ConflictOut, PlanOut, ServedOut, SittingOut, StepOut, TakesOut
from caltin_site.shapes import Tone
from caltin_site.studies import services as studies
from caltin_site.studies.models import Study
from caltin_site.studies.reading import areas_out, covers
from caltin_site.studies.recipe_schemas import AfterOut
from caltin_site.studies.services import Aim
from caltin_site.studies.state import Token

# So many of the last marks go with the plan, to be taken back.
_RECENT = 40
_DOES = {"dry": "Let it dry", "clean": "Crumbs off", "reserve": "Keep white", "mask": "Mask", "lift": "Lift the drawing"}


@dataclass(frozen=True)
class Sheet:
    """What is to be drawn: each place's layers, told both ways; how many lie there; what is seen after each, told both ways; names
    and numbers."""

    here: Aim
    shapes: dict[str, list[ActShape]]
    layers: dict[str, list[Layer]]
    there: dict[str, int]
    after: dict[str, list[AfterOut]]
    seen: dict[str, Course]
    untested: dict[str, str]
    names: dict[str, tuple[str, int]]


def plan(study: Study, left_handed: bool = False) -> PlanOut:
    """All steps in order. Where a recipe does not go on from what lies there, only that is shown of its place."""
    here = studies.aim(study)
    recipes, there = studies.effective(here), journal.there(study)
    astray = [p for p in journal.astray(here, there, recipes) if p in recipes]
    shapes = {p: list(r.layers) for p, r in recipes.items()} | {p: there[p] for p in astray}
    sheet = _sheet(here, {p: layers for p, layers in shapes.items() if all(studies.in_kit(here.bench, x) for x in layers)}, there)
    areas = _areas(study, sheet)
    found = _made(study, sheet, areas, left_handed)
    steps: list[StepOut] = []
    ids = list(sheet.layers)
    first: list[Step] = []
    for at, step in enumerate(found.steps):
        if step.layer is None:
            first.append(step)
            continue
        sitting = next(i for i, (_, last) in enumerate(found.sittings, 1) if at <= last)
        for part in _parts(step, areas, [sheet.there.get(p, 0) for p in ids]):
            before = [_first(s, [sheet.names[ids[a]][0] for a in s.areas], len(ids)) for s in first]
            drying = sum(s.minutes for s in first if s.does == "dry")
            out = _step_out(sheet, len(steps) + 1, part, [ids[a] for a in part.areas])
            edges = list(found.edges.get(at, ()))
            steps.append(out.model_copy(update={"first": before, "dry_minutes": drying, "edges": edges, "sitting": sitting}))
            first = []
    sittings = [
        SittingOut(
            steps=sum(s.sitting == i for s in steps), minutes=round(sum(s.minutes for s in found.steps[first_ : last + 1]), 1)
        )
        for i, (first_, last) in enumerate(found.sittings, 1)
    ]  # fmt: skip
    takes = _takes(study, here, steps)
    return PlanOut(
        revision=study.revision, steps=steps, own_order=bool(here.state.order),
        unplanned=[name for place, name in here.state.names().items() if place not in recipes],
        astray=[sheet.names[p][0] for p in astray],
        wanting=[sheet.names[p][0] for p in journal.wanting(here, there, recipes) if p not in astray],
        recent=[MarkOut.from_orm(row) for row in journal.held(study)[-_RECENT:]],
        changes=found.colour_changes, takes=takes, sittings=sittings,
        cautions=[*_labelled(here, found.cautions, steps), *(t.words for t in takes if t.words)],
        conflicts=[ConflictOut(what=c.what, nearest=c.nearest) for c in found.conflicts],
    )  # fmt: skip


def _labelled(here: Aim, cautions: Sequence[str], steps: Sequence[StepOut]) -> list[str]:
    """The plan's cautions with what the labels of its colours say."""
    harmful, fading = rack.labels(here.state.pins.kit)
    used = {s.colour: s.name for s in steps if s.colour}
    contain = {name: harmful[id] for id, name in used.items() if id in harmful}
    return with_labels(cautions, contain, [name for id, name in used.items() if id in fading])


def _sheet(here: Aim, shapes: dict[str, list[ActShape]], there: dict[str, list[ActShape]]) -> Sheet:
    layers = {place: studies.layers_of(here.bench, given) for place, given in shapes.items()}
    seen = studies.looks_of(here, layers)
    after = {
        place: [
            AfterOut(tone=Tone.of(lab), tooth_used=round(float(used), 4))
            for lab, used in zip(p.after_lab, p.after_used, strict=True)
        ]
        for place, p in seen.items()
    }
    names = {place: (name, index) for index, (place, name) in enumerate(here.state.names().items(), 1)}
    # A recipe in which a colour was never measured on this paper.
    untested = {
        place: names[place][0] for place, given in layers.items()
        if not all(here.bench.swatches[x.colour].fit.members for x in lays(given))
    }  # fmt: skip
    count = {p: len(x) for p, x in there.items() if p in shapes and goes_on(shapes[p], x)}
    bare = studies.bare_lab(here)
    courses = {p: (np.vstack([bare, s.after_lab]), np.append(0.0, s.after_used)) for p, s in seen.items()}
    return Sheet(here, shapes, layers, count, after, courses, untested, names)


def _takes(study: Study, here: Aim, steps: list[StepOut]) -> list[TakesOut]:
    """What is still to be laid of every colour, against what is left of its stick by the log."""
    at = {s.id: i for i, s in enumerate(here.bench.swatches)}
    to_come: dict[int, float] = {}
    for step in steps:
        if step.does == "lay" and not step.done:
            to_come[at[step.colour]] = to_come.get(at[step.colour], 0.0) + step.cm2
    out = []
    for need in needs(here.bench, to_come, *journal.sticks(study, here.bench)):
        swatch = here.bench.swatches[need.colour]
        words = f"{swatch.called} may run dry before the end: have another at hand." if need.short else ""
        amount = {"cm2": round(need.cm2, 1), "share": round(need.share, 4)}
        out.append(TakesOut(colour=swatch.id, name=swatch.called, solid=Tone.of(swatch.lab), words=words, **amount))
    return out


def _areas(study: Study, sheet: Sheet) -> list[Area]:
    """The study's places as areas."""
    here, layers = sheet.here, sheet.layers
    read = areas_out(study) if here.state.areas else None
    sheets = covers(study, here)
    at = {place: index for index, place in enumerate(layers)}
    known = {p.id: p for p in here.state.places}
    meets = {place: MEETS[known[place].role] for place in layers}
    beside: dict[str, list[tuple[int, EdgeKind]]] = {place: [] for place in layers}
    widths: dict[str, dict[int, float]] = {place: {} for place in layers}
    for e in read.edges if read else []:
        for one, other in ((e.one, e.other), (e.other, e.one)):
            if one in at and other in at:
                beside[one].append((at[other], as_drawn(e.kind, (meets[one], meets[other]))))
                widths[one][at[other]] = e.width_mm
    size = (study.picture.width, study.picture.height) if study.picture else (1, 1)
    areas = []
    for place, given in layers.items():
        p = known[place]
        spot = (p.x / size[0], p.y / size[1]) if p.x is not None and p.y is not None and study.picture else None
        areas.append(
            Area(
                sheet.names[place][0], tuple(given), sheets[place], tuple(beside[place]), spot, here.state.finish.get(place),
                meets[place], widths[place], sheet.seen[place],
            )
        )  # fmt: skip
    return areas


def _made(study: Study, sheet: Sheet, areas: list[Area], left_handed: bool) -> Plan:
    """Put in order by the study's route, its school, or the artist."""
    here, layers = sheet.here, sheet.layers
    at = {place: index for index, place in enumerate(layers)}
    order = [(t.place, t.layer) for t in here.state.order if t.place in layers]
    own = [[(at[place], layer) for place, layer in press] for press in presses(layers, order)] if order else []
    state = here.state
    return make_plan(
        here.bench, areas, state.route, state.rules.taught(), not left_handed, state.sitting_minutes, own,
        journal.pace(study.owner), state.under_drawing,
    )  # fmt: skip


def _first(step: Step, names: list[str], all_: int) -> str:
    """What is done before a press, in a line."""
    where = "everywhere" if len(names) == all_ > 1 else ", ".join(names)
    return f"{_DOES.get(step.does, step.does)}: {where}. {step.why}"


def _parts(step: Step, areas: list[Area], there: list[int]) -> Iterator[Step]:
    """The step on the areas where it lies already, and on those where it does not: what is drawn is never asked for again."""
    pairs = list(zip(step.areas, step.numbers, strict=True))
    whole = sum(areas[a].sheets for a in step.areas)
    for drawn in (True, False):
        here = [(a, n) for a, n in pairs if (n < there[a]) == drawn]
        if here:
            mine, numbers = zip(*here, strict=True)
            part = sum(areas[a].sheets for a in mine) / whole if whole else 1.0
            yield replace(step, areas=mine, numbers=numbers, minutes=step.minutes * part, cm2=step.cm2 * part)


def _named(here: Aim, layer: Layer, seen: Tone) -> dict[str, Any]:
    """What a step takes in the hand."""
    if not isinstance(layer, Lay):
        does = "blend" if isinstance(layer, Blend) else "lift"
        words = act_words(layer).removeprefix(f"{does} ")
        return {
            "does": does, "colour": "", "name": does.capitalize(), "solid": seen, "medium": "", "words": words, "pressure": "",
            "passes": 1,
        }  # fmt: skip
    swatch, stroke = here.bench.swatches[layer.colour], layer.stroke
    return {
        "does": "lay", "colour": swatch.id, "name": swatch.called, "solid": Tone.of(swatch.lab), "medium": swatch.medium,
        "words": stroke.words(), "pressure": stroke.pressure, "passes": stroke.passes,
    }  # fmt: skip


def _step_out(sheet: Sheet, number: int, step: Step, places: list[str]) -> StepOut:
    here, layer = sheet.here, step.layer
    assert layer is not None
    laid = list(zip(places, step.numbers, strict=True))
    bare = AfterOut(tone=Tone.of(studies.bare_lab(here)), tooth_used=0.0)
    served = [
        ServedOut(
            place=place, called=sheet.names[place][0], number=sheet.names[place][1], layer=at, layers=len(sheet.after[place]),
            before=sheet.after[place][at - 1] if at else bare, after=sheet.after[place][at], target=Tone.of(here.targets[place]),
        )
        for place, at in laid
    ]  # fmt: skip
    begun = [sheet.untested[place] for place, at in laid if at == 0 and place in sheet.untested]
    return StepOut(
        number=number, **_named(here, layer, served[0].after.tone), places=[Token(place=place, layer=at) for place, at in laid],
        laid=[LaidOut(place=place, number=at, layer=sheet.shapes[place][at]) for place, at in laid], served=served,
        done=all(at < sheet.there.get(place, 0) for place, at in laid), minutes=round(step.minutes, 1),
        cm2=round(step.cm2, 1), first=[], dry_minutes=0.0, untested=", ".join(begun),
        beware=rack.beware(here.state.pins.kit).get(here.bench.swatches[layer.colour].id, "") if isinstance(layer, Lay) else "",
        stop_when=step.stop_when, why=step.why, edges=[], sitting=1,
    )  # fmt: skip
