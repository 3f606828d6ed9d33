"""The one door to the plan: a study's recipes as presses, with what each does to the paper."""

from dataclasses import dataclass

from caltin_core.contract.shapes import CoatShape
from caltin_core.media.layers import Lay
from caltin_core.media.predict import predict
from caltin_core.plan.make import Plan
from caltin_core.plan.make import plan as make_plan
from caltin_core.plan.presses import presses
from caltin_core.plan.steps import Area, Step
from caltin_core.reference.edges import EdgeKind
from caltin_site.journal import services as journal
from caltin_site.plans.schemas import ConflictOut, PlanOut, ServedOut, SittingOut, StepOut
from caltin_site.shapes import Tone
from caltin_site.studies import services as studies
from caltin_site.studies.changes import called
from caltin_site.studies.models import Study
from caltin_site.studies.reading import areas_out
from caltin_site.studies.schemas import AfterOut
from caltin_site.studies.services import Aim
from caltin_site.studies.state import Recipe, Token


def token_key(place: str, layer: int, recipe: Recipe) -> str:
    """How the log names a layer: the place, its number, and what is laid there."""
    x = recipe.layers[layer]
    if isinstance(x, CoatShape):
        return f"{place}:{layer}:{x.colour}:coat:{x.passes}:{'wet' if x.wet else 'dry'}"
    return f"{place}:{layer}:{x.colour}:{x.pressure}:{x.passes}:{x.point}:{'turned' if x.turned else 'along'}"


def plan(study: Study, left_handed: bool = False) -> PlanOut:
    """All presses in order, with each served place before and after."""
    here = studies.aim(study)
    recipes = studies.effective(here)
    lays = {place: studies.layers_of(here.bench, recipe.layers) for place, recipe in recipes.items()}
    found = _made(study, here, lays, left_handed)
    seen = dict(zip(lays, predict(here.bench, list(lays.values())), strict=True))
    after = {
        place: [
            AfterOut(tone=Tone.of(lab), tooth_used=round(float(used), 4))
            for lab, used in zip(p.after_lab, p.after_used, strict=True)
        ]
        for place, p in seen.items()
    }
    done = journal.done(study)
    ids = list(lays)
    steps: list[StepOut] = []
    first: list[str] = []
    for at, step in enumerate(found.steps):
        if isinstance(step.layer, Lay):
            tokens = [(ids[a], n) for a, n in zip(step.areas, step.numbers, strict=True)]
            sitting = next(i for i, (_, last) in enumerate(found.sittings, 1) if at <= last)
            facts = StepFacts(first, sitting, list(found.edges.get(at, ())))
            steps.append(_step_out(here, len(steps) + 1, step, tokens, facts, recipes, after, done))
            first = []
        else:
            first.append(_first(step, [called(p) for p in here.state.places if p.id in {ids[a] for a in step.areas}]))
    sittings = [
        SittingOut(
            steps=sum(s.sitting == i for s in steps), minutes=round(sum(s.minutes for s in found.steps[first_ : last + 1]), 1)
        )
        for i, (first_, last) in enumerate(found.sittings, 1)
    ]  # fmt: skip
    unplanned = [called(p) for p in here.state.places if p.id not in recipes]
    off_plan = sorted(done - {t for step in steps for t in step.tokens})
    return PlanOut(
        revision=study.revision, steps=steps, own_order=bool(here.state.order), unplanned=unplanned, off_plan=len(off_plan),
        changes=found.colour_changes, sittings=sittings, cautions=list(found.cautions),
        conflicts=[ConflictOut(what=c.what, nearest=c.nearest) for c in found.conflicts],
    )  # fmt: skip


# What a place that was only touched is taken to cover, as a share of the sheet; all zones together cover most of it.
_TOUCHED, _ZONES = 0.05, 0.8
_DOES = {"dry": "Let it dry", "clean": "Crumbs off", "reserve": "Keep white", "mask": "Mask"}


def _made(study: Study, here: Aim, lays: dict[str, list[Lay]], left_handed: bool) -> Plan:
    """The study's places as areas, put in order by its route, its school, or the artist."""
    read = areas_out(study) if here.state.areas else None
    share = {a.place: _ZONES * a.share for a in read.areas} if read else {}
    at = {place: index for index, place in enumerate(lays)}
    beside: dict[str, list[tuple[int, EdgeKind]]] = {place: [] for place in lays}
    for e in read.edges if read else []:
        for one, other in ((e.one, e.other), (e.other, e.one)):
            if one in at and other in at:
                beside[one].append((at[other], e.kind))
    size = (study.picture.width, study.picture.height) if study.picture else (1, 1)
    known = {p.id: p for p in here.state.places}
    areas = []
    for place, layers in lays.items():
        p = known[place]
        spot = (p.x / size[0], p.y / size[1]) if p.x is not None and p.y is not None and study.picture else None
        areas.append(Area(called(p), tuple(layers), share.get(place, _TOUCHED), tuple(beside[place]), spot))
    order = [(t.place, t.layer) for t in here.state.order]
    own = presses(lays, [float(v) for v in here.bench.solids[:, 0]], order) if order else []
    rows = [[(at[place], layer) for place, layer in press.tokens] for press in own]
    rules = here.state.rules
    return make_plan(here.bench, areas, here.state.route, rules.taught(), not left_handed, here.state.sitting_minutes, rows)


def _first(step: Step, names: list[str]) -> str:
    """What is done before a press, in a line."""
    return f"{_DOES.get(step.does, step.does)}: {', '.join(names)}. {step.why}"


@dataclass(frozen=True)
class StepFacts:
    """What is known of a step beside its layer: what comes first, its sitting, and how it is carried over edges."""

    first: list[str]
    sitting: int
    edges: list[str]


def _step_out(
    here: Aim, number: int, step: Step, laid: list[tuple[str, int]], facts: StepFacts, recipes: dict[str, Recipe],
    after: dict[str, list[AfterOut]], done: set[str],
) -> StepOut:  # fmt: skip
    layer = step.layer
    assert isinstance(layer, Lay)
    swatch = here.bench.swatches[layer.colour]
    tokens = [token_key(place, layer_, recipes[place]) for place, layer_ in laid]
    bare = AfterOut(tone=Tone.of(studies.bare_lab(here)), tooth_used=0.0)
    names = {p.id: (called(p), index) for index, p in enumerate(here.state.places, 1)}
    served = [
        ServedOut(
            place=place, called=names[place][0], number=names[place][1], layer=at, layers=len(after[place]),
            before=after[place][at - 1] if at else bare, after=after[place][at], target=Tone.of(here.targets[place]),
        )
        for place, at in laid
    ]  # fmt: skip
    return StepOut(
        number=number, colour=swatch.id, name=swatch.called, solid=Tone.of(swatch.lab), medium=swatch.medium,
        words=layer.stroke.words(), pressure=layer.stroke.pressure, passes=layer.stroke.passes,
        places=[Token(place=place, layer=at) for place, at in laid], tokens=tokens, served=served,
        done=all(t in done for t in tokens), minutes=round(step.minutes, 1), first=facts.first, stop_when=step.stop_when,
        why=step.why, edges=facts.edges, sitting=facts.sitting,
    )  # fmt: skip
