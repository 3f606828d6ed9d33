"""The one door to the plan: a study's recipes as presses, with what each does to the paper."""

from caltin_core.contract.shapes import CoatShape
from caltin_core.media.predict import predict
from caltin_core.plan.presses import Press, presses
from caltin_site.journal import services as journal
from caltin_site.plans.schemas import PlanOut, ServedOut, StepOut
from caltin_site.shapes import Tone
from caltin_site.studies import services as studies
from caltin_site.studies.changes import called
from caltin_site.studies.models import Study
from caltin_site.studies.schemas import AfterOut
from caltin_site.studies.services import Aim
from caltin_site.studies.state import Recipe, Token


def token_key(place: str, layer: int, recipe: Recipe) -> str:
    """How the log names a layer: the place, its number, and what is laid there."""
    x = recipe.layers[layer]
    if isinstance(x, CoatShape):
        return f"{place}:{layer}:{x.colour}:coat:{x.passes}:{'wet' if x.wet else 'dry'}"
    return f"{place}:{layer}:{x.colour}:{x.pressure}:{x.passes}:{x.point}:{'turned' if x.turned else 'along'}"


def plan(study: Study) -> PlanOut:
    """All presses in order, with each served place before and after."""
    here = studies.aim(study)
    recipes = studies.effective(here)
    lays = {place: studies.layers_of(here.bench, recipe.layers) for place, recipe in recipes.items()}
    order = [(t.place, t.layer) for t in here.state.order]
    listed = presses(lays, [float(v) for v in here.bench.solids[:, 0]], order)
    seen = dict(zip(lays, predict(here.bench, list(lays.values())), strict=True))
    after = {
        place: [
            AfterOut(tone=Tone.of(lab), tooth_used=round(float(used), 4))
            for lab, used in zip(p.after_lab, p.after_used, strict=True)
        ]
        for place, p in seen.items()
    }
    done = journal.done(study)
    steps = [_step_out(here, number, press, recipes, after, done) for number, press in enumerate(listed, 1)]
    unplanned = [called(p) for p in here.state.places if p.id not in recipes]
    off_plan = sorted(done - {t for step in steps for t in step.tokens})
    return PlanOut(revision=study.revision, steps=steps, own_order=bool(order), unplanned=unplanned, off_plan=len(off_plan))


def _step_out(
    here: Aim, number: int, press: Press, recipes: dict[str, Recipe], after: dict[str, list[AfterOut]], done: set[str]
) -> StepOut:
    swatch = here.bench.swatches[press.layer.colour]
    tokens = [token_key(place, layer, recipes[place]) for place, layer in press.tokens]
    bare = AfterOut(tone=Tone.of(studies.bare_lab(here)), tooth_used=0.0)
    names = {p.id: (called(p), index) for index, p in enumerate(here.state.places, 1)}
    served = [
        ServedOut(
            place=place, called=names[place][0], number=names[place][1], layer=layer, layers=len(after[place]),
            before=after[place][layer - 1] if layer else bare, after=after[place][layer], target=Tone.of(here.targets[place]),
        )
        for place, layer in press.tokens
    ]  # fmt: skip
    return StepOut(
        number=number, colour=swatch.id, name=swatch.called, solid=Tone.of(swatch.lab), medium=swatch.medium,
        words=press.layer.stroke.words(), pressure=press.layer.stroke.pressure, passes=press.layer.stroke.passes,
        places=[Token(place=place, layer=layer) for place, layer in press.tokens], tokens=tokens, served=served,
        done=all(t in done for t in tokens),
    )  # fmt: skip
