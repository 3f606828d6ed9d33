"""The recipes of a study: matched, kept beside it, proposed, chosen, predicted."""

import hashlib
import json
from collections.abc import Sequence
from typing import Any

import numpy as np
from django.db import transaction

from caltin_core.colour.spaces import hexes_from_lab
from caltin_core.colour.tables import Floats
from caltin_core.colour.value import munsell_value
from caltin_core.colour.words import Difference, difference
from caltin_core.contract.shapes import ActShape
from caltin_core.errors import BadRequest
from caltin_core.media.cautions import cautions
from caltin_core.media.layers import Lay, Layer, lays
from caltin_core.media.lights import LIGHTS, drift
from caltin_core.media.predict import Prediction, predict
from caltin_core.plan.finish import finished
from caltin_core.recipes.candidates import effort_of
from caltin_core.recipes.match import Match, equal
from caltin_core.recipes.offers import speckle
from caltin_core.recipes.proposed import Offer, is_warned, proposed, shared
from caltin_core.recipes.reasons import reason
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.schools import Zone, left_out, zones_of
from caltin_core.recipes.targets import Target
from caltin_core.recipes.words import act_words, recipe_words
from caltin_core.reference.roles import is_skin
from caltin_site.kits import services as kits
from caltin_site.kits.laid import layers_of, said
from caltin_site.shapes import Lab, Tone
from caltin_site.studies.aims import Aim, aim
from caltin_site.studies.came_out import looks_of, seen_in
from caltin_site.studies.models import Prediction as Kept
from caltin_site.studies.models import Study
from caltin_site.studies.recipe_schemas import AfterOut, DifferenceOut, GrainOut, InLightOut, PlaceInLight, ReachOut, RecipeOut
from caltin_site.studies.state import Place, Recipe, called

KEPT_MOST = 4000
# Part of every key: what was kept in an older shape, or of older predictions, is not found any more.
_SHAPE = 9


def core_rules(here: Aim) -> Rules:
    """The study's rules as the core takes them; what is not at hand now is left out like a banned colour."""
    rules = here.state.rules
    index = {s.id: i for i, s in enumerate(here.bench.swatches)}
    avoid = frozenset(index[c] for c in {*rules.avoid, *kits.not_at_hand(here.state.pins.kit)} if c in index)
    prefer = frozenset(index[c] for c in rules.prefer if c in index)
    spare = frozenset(index[c] for c in kits.sparing(here.state.pins.kit) if c in index)
    return Rules(rules.max_layers, rules.max_colours, rules.black, avoid, prefer, rules.goal, rules.taught(), spare)


def target_of(here: Aim, place: Place) -> Target:
    """What the core is asked to hit for a place."""
    return Target(called(place), here.targets[place.id], here.state.rules.black_by_role.get(place.role), skin=is_skin(place.role))


def key_of(here: Aim, place: Place) -> str:
    """What a match of this place depends on, hashed: the key under which it is kept."""
    target = target_of(here, place)
    rules = here.state.rules
    # Together, and in a school's zones, a place hangs on all the others.
    others = [(p.role, [round(float(v), 4) for v in here.targets[p.id]]) for p in here.state.places]
    facts = [
        others if rules.together or rules.taught() else [],
        _SHAPE, str(here.study.owner_id), *(str(v) for v in here.state.pins.model_dump().values()), target.role, target.black,
        target.skin, [round(float(v), 4) for v in target.lab], here.state.rules.model_dump(exclude={"black_by_role"}),
        sorted(kits.not_at_hand(here.state.pins.kit)), sorted(kits.sparing(here.state.pins.kit)),
    ]  # fmt: skip
    return hashlib.sha256(json.dumps(facts, sort_keys=True).encode()).hexdigest()


def keep(here: Aim, place: Place, found: Match) -> None:
    """Keep what was found for a place."""
    recipes = [recipe_out(here, place.id, r.layers, r.prediction, r.kind, r.equal).model_dump(mode="json") for r in found.recipes]
    nearest = Tone.of(found.reach.nearest) if found.reach.nearest is not None else None
    reach = ReachOut(ok=found.reach.ok, why=found.reach.why, would_help=found.reach.would_help, nearest=nearest)
    body = {"recipes": recipes, "reach": reach.model_dump(mode="json")}
    keep_body(here, key_of(here, place), body)


def keep_body(here: Aim, key: str, body: dict[str, Any]) -> None:
    """Keep an answer, and let the oldest go."""
    with transaction.atomic():
        Kept.objects.update_or_create(key=key, defaults={"owner": here.study.owner, "body": body})
        old = Kept.objects.filter(owner=here.study.owner).order_by("-made").values_list("key", flat=True)[KEPT_MOST:]
        Kept.objects.filter(key__in=list(old)).delete()


def kept(here: Aim) -> dict[str, dict[str, Any]]:
    """What is kept for each place that has been matched."""
    keys = {key_of(here, p): p.id for p in here.state.places}
    return {keys[row.key]: row.body for row in Kept.objects.filter(owner=here.study.owner, key__in=keys)}


def _offer(recipe: dict[str, Any]) -> Offer:
    """What a kept recipe is weighed by."""
    return Offer(
        recipe["difference"]["de00"], recipe["uncertainty"], len({x["colour"] for x in recipe["layers"]}),
        recipe["work"], recipe["warned"], recipe.get("specks", 0.0), len(recipe.get("left_out", [])),
    )  # fmt: skip


def _recommended(here: Aim, bodies: dict[str, dict[str, Any]]) -> dict[str, dict[str, Any]]:
    """The recipe to propose for each place, of those kept for it; places of one role share one that suits each as well."""
    out = {}
    for place, body in bodies.items():
        at = proposed([_offer(r) for r in body["recipes"]])
        if at is not None:
            out[place] = body["recipes"][at]
    zones = _zones(here)
    alike: dict[tuple[str, Zone | None], list[str]] = {}
    for mine in here.state.places:
        if mine.id in out and mine.id not in here.state.recipes:
            alike.setdefault((mine.role, zones[mine.id]), []).append(mine.id)
    for places in alike.values():
        out.update(_shared(here, bodies, out, places))
    return out


def _zones(here: Aim) -> dict[str, Zone | None]:
    """Where every place lies for the study's school, if it follows one."""
    places = [p.id for p in here.state.places]
    found = zones_of(np.array([here.targets[p][0] for p in places])) if here.state.rules.taught() else [None] * len(places)
    return dict(zip(places, found, strict=True))


def _shared(
    here: Aim, bodies: dict[str, dict[str, Any]], proposed_: dict[str, dict[str, Any]], places: Sequence[str]
) -> dict[str, dict[str, Any]]:
    """One recipe for all these places, where there is one, as it is for each."""
    if len(places) < 2:
        return {}
    every = [[_as_of(here, r, place, bodies[place]) for place in places] for of in places for r in bodies[of]["recipes"]]
    at = shared([[_offer(r) for r in each] for each in every], [_offer(proposed_[p]) for p in places])
    return {} if at is None else dict(zip(places, every[at], strict=True))


def _as_of(here: Aim, recipe: dict[str, Any], place: str, body: dict[str, Any]) -> dict[str, Any]:
    """A kept recipe of one place as it is for another, whose own are in `body`."""
    apart = difference(Lab(**recipe["tone"]["lab"]).array(), here.targets[place])
    best = min(r["difference"]["de00"] for r in body["recipes"])
    return {
        **recipe, "difference": _difference_out(apart).model_dump(mode="json"), "kind": "shared",
        "equal": equal(apart.de00, best, recipe["uncertainty"]),
    }  # fmt: skip


def proposals(here: Aim) -> dict[str, Recipe]:
    """The proposed recipe of every place that has been matched and has none of its own."""
    out = {}
    for place, best in _recommended(here, kept(here)).items():
        if place not in here.state.recipes:
            out[place] = Recipe(layers=best["layers"], kind=best["kind"])
    return out


def effective(here: Aim) -> dict[str, Recipe]:
    """Every place's recipe, chosen or proposed, with the finish wanted there, in the order of the places."""
    both = {**proposals(here), **here.state.recipes}
    return {p.id: _finished(here, p, both[p.id]) for p in here.state.places if p.id in both}


def _finished(here: Aim, place: Place, recipe: Recipe) -> Recipe:
    """The recipe with what the finish wanted on its place adds."""
    wanted = here.state.finish.get(place.id)
    if wanted is None:
        return recipe
    layers = said(here.bench, finished(here.bench, layers_of(here.bench, recipe.layers), wanted))
    return recipe.model_copy(update={"layers": layers})


def grain_out(labs: Floats) -> list[GrainOut]:
    """The colours of every depth of the tooth (Q, 3) as the strip draws them."""
    return [GrainOut(share=1 / len(labs), hex=shown) for shown in hexes_from_lab(labs)[0]]


def _difference_out(apart: Difference) -> DifferenceOut:
    return DifferenceOut(**{k: round(getattr(apart, k), 3) for k in ("de00", "dl", "dc", "dh")}, words=apart.words)


def recipe_out(
    here: Aim, place: str, layers: Sequence[Layer], seen: Prediction, kind: str, equal: bool = False, target: Floats | None = None
) -> RecipeOut:  # fmt: skip
    """A recipe for a place with all that the strip draws; its `target` (3,) may be another than the place's."""
    apart = difference(seen.lab, here.targets[place] if target is None else target)
    skin = is_skin(next(p.role for p in here.state.places if p.id == place))
    school = here.state.rules.taught() if skin else None
    without = left_out(here.bench, lays(layers), school, _zones(here)[place]) if school else []
    rows = zip(seen.after_lab, seen.after_used, strict=True)
    grain = [grain_out(step) for step in seen.after_grain]
    return RecipeOut(
        kind=kind, layers=said(here.bench, layers), sentence=recipe_words(layers, [s.called for s in here.bench.swatches]),  # type: ignore[arg-type]
        reason=reason(here.bench, lays(layers), seen.lab, of_skin=skin), cautions=cautions(here.bench, layers, of_skin=skin),
        warned=is_warned(here.bench, layers, of_skin=skin), left_out=[stage.named() for stage in without],
        strokes=[x.stroke.words() if isinstance(x, Lay) else act_words(x) for x in layers], tone=Tone.of(seen.lab),
        difference=_difference_out(apart),
        uncertainty=round(seen.uncertainty, 2), value_low=_value(seen, -1), value_high=_value(seen, 1), equal=equal,
        measured=all(here.bench.swatches[x.colour].fit.members for x in lays(layers)),
        tooth_used=round(seen.tooth_used, 4), specks=round(speckle(seen.grain_lab), 2), work=round(effort_of(lays(layers)), 2),
        after=[AfterOut(tone=Tone.of(lab), tooth_used=round(float(used), 4)) for lab, used in rows], grain=grain,
    )  # fmt: skip


def _value(seen: Prediction, end: int) -> float:
    """The Munsell value at one end of what the hand may come to."""
    lightness = np.clip(seen.lab[0] + end * seen.uncertainty, 0, 100)
    return round(float(munsell_value(np.array([lightness, 0.0, 0.0]))), 3)


def predicted(here: Aim, place: str, layers: Sequence[ActShape], kind: str) -> RecipeOut:
    """Predict layers for a place of the study."""
    if place not in here.targets:
        raise BadRequest("place", "this place is no longer there")
    lays = layers_of(here.bench, layers)
    return _from_there(here, place, lays, looks_of(here, {place: lays})[place], kind)


def _from_there(here: Aim, place: str, layers: Sequence[Layer], seen: Prediction, kind: str) -> RecipeOut:
    """A recipe predicted from what was measured at its place, where something was."""
    measured = seen_in(here, place, layers)
    return recipe_out(here, place, layers, seen, kind).model_copy(update={"seen_after": measured.after if measured else None})


def in_light(study: Study, illuminant: str) -> InLightOut:
    """Every place's recipe in another light, as far as that is known."""
    here = aim(study)
    recipes = {place: layers_of(here.bench, r.layers) for place, r in effective(here).items()}
    seen = predict(here.bench, list(recipes.values()))
    places = []
    for (place, layers), prediction in zip(recipes.items(), seen, strict=True):
        there = drift(here.bench, layers, prediction, illuminant)
        tone = Tone.of(there.lab) if there.lab is not None else None
        places.append(
            PlaceInLight(place=place, tone=tone, de00=round(there.de00, 2) if there.de00 is not None else None, words=there.words)
        )
    return InLightOut(illuminant=illuminant, name=LIGHTS[illuminant], known=all(p.tone is not None for p in places), places=places)


def matches_of(here: Aim) -> dict[str, Any]:
    """What is known of every place's recipes now, in the shape of `MatchesOut`; what is kept has that shape already."""
    bodies = kept(here)
    best = _recommended(here, bodies)
    chosen = {p: r for p, r in here.state.recipes.items() if p in here.targets}
    laid = {place: layers_of(here.bench, r.layers) for place, r in chosen.items()}
    mine = {place: _from_there(here, place, laid[place], seen, chosen[place].kind) for place, seen in looks_of(here, laid).items()}
    out: list[dict[str, Any]] = []
    for place in here.state.places:
        body = bodies.get(place.id) or {"recipes": [], "reach": {"ok": True}}
        shown = mine[place.id].model_dump(mode="json") if place.id in mine else best.get(place.id)
        if shown and shown["kind"] == "shared" and all(r["layers"] != shown["layers"] for r in body["recipes"]):
            body = {**body, "recipes": [shown, *body["recipes"]]}
        facts = {"place": place.id, "found": place.id in bodies, "pinned": place.id in mine}
        out.append({**facts, "chosen": shown, **body})
    away = [m["chosen"]["difference"]["de00"] for m in out if m["chosen"]]
    return {
        "revision": here.study.revision, "matches": out, "missing": [m["place"] for m in out if not m["found"]],
        "mean": round(float(np.mean(away)), 2) if away else None, "used": len(colours_shown(out)),
    }  # fmt: skip


def colours_shown(matches: Sequence[dict[str, Any]]) -> set[str]:
    """The ids of the colours in the recipes shown, of matches as `matches_of` gives them."""
    return {x["colour"] for m in matches if m["chosen"] for x in m["chosen"]["layers"] if "colour" in x}
