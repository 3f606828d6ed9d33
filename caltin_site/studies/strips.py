"""What a scrap strip came out as: kept to calibrate by, and the recipe refitted to what it told."""

from collections.abc import Iterator
from typing import Any

from caltin_core.colour.words import difference
from caltin_core.errors import BadRequest
from caltin_core.media.predict import predict
from caltin_core.recipes.match import matches
from caltin_site.kits import calibrating, charts
from caltin_site.kits.laid import layers_of, said
from caltin_site.studies import history
from caltin_site.studies.aims import aim
from caltin_site.studies.models import Study
from caltin_site.studies.recipe_schemas import StripAsked
from caltin_site.studies.recipes import core_rules, target_of
from caltin_site.studies.state import Recipe, State, called


def told(study: Study, asked: StripAsked) -> str:
    """How the strip differs from what was predicted, in words. Raises BadRequest where its layers cannot be."""
    here = aim(study)
    if asked.place not in here.targets:
        raise BadRequest("place", "this place is no longer there")
    seen = predict(here.bench, [layers_of(here.bench, asked.layers)])[0]
    apart = difference(asked.tone.array(), seen.lab)
    within = "within" if apart.de00 <= seen.uncertainty else "beyond"
    return f"Against the prediction: {apart.words} (ΔE00 {apart.de00:.1f}), {within} what this hand was thought to be unsure of."


def learn_drawing(study: Study, asked: dict[str, Any]) -> Iterator[tuple[int, int]]:
    """Keep what places of a drawing came out as, and calibrate kit, paper and hand by them; the drawn recipes stay as they are.

    The study takes the new versions, as one step that can be undone.
    """
    kit, paper = study.kit_version.thing, study.paper_version.thing
    for one in asked["places"]:
        strip = StripAsked.model_validate(one)
        charts.keep_strip(kit, paper, strip.layers, strip.tone)
    yield from calibrating.calibrated(kit, {"paper": str(paper.pk)})
    study.refresh_from_db()
    history.write(
        study.owner, study.pk, study.revision, lambda study, state: (_newest(study, state), "took the hand over from the drawing")
    )  # fmt: skip


def _newest(study: Study, state: State) -> State:
    """The state on the newest versions of its kit and paper, and of the hand measured with the one on the other."""
    kit, paper = study.kit_version.thing, study.paper_version.thing
    hand = calibrating.hand_on(kit, paper) or study.hand_version.thing
    pins = {"kit": kit.newest_bare.pk, "paper": paper.newest.pk, "hand": hand.newest.pk}
    return state.model_copy(update={"pins": state.pins.model_copy(update=pins)})


def learn_strip(study: Study, asked: dict[str, Any]) -> Iterator[tuple[int, int]]:
    """Keep the strip, calibrate kit, paper and hand by all that was read on this paper, and refit the place's recipe.

    The study takes the new versions, as one step that can be undone.
    """
    strip = StripAsked.model_validate(asked)
    kit, paper = study.kit_version.thing, study.paper_version.thing
    charts.keep_strip(kit, paper, strip.layers, strip.tone)
    yield from calibrating.calibrated(kit, {"paper": str(paper.pk)})
    study.refresh_from_db()

    def refitted(study: Study, state: State) -> tuple[State, str]:
        after = _newest(study, state)
        here = aim(study, after)
        place = after.place(strip.place)
        if place is None:
            return after, "learnt from a scrap strip"
        found = next(matches(here.bench, [target_of(here, place)], core_rules(here)))
        best = next(iter(found.recipes), None)
        recipes = dict(after.recipes)
        if best is not None:
            recipes[place.id] = Recipe(layers=said(here.bench, best.layers), kind="closest")
        return after.model_copy(update={"recipes": recipes}), f"refitted {called(place)} to a scrap strip"

    history.write(study.owner, study.pk, study.revision, refitted)
