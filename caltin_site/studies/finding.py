"""The search for a study's recipes: each place by itself, or all together in one family of colours."""

import hashlib
from collections.abc import Iterator, Sequence
from dataclasses import replace
from itertools import pairwise
from typing import Any

import numpy as np

from caltin_core.media.layers import lays
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.choice import Change
from caltin_core.recipes.family import Family, Member, family, fewer
from caltin_core.recipes.match import matches
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.school_list import medium_of, proposed
from caltin_core.reference.roles import BASE, ROLES
from caltin_site.kits.laid import layers_of
from caltin_site.studies.aims import Aim, aim, bare_lab
from caltin_site.studies.models import Prediction as Kept
from caltin_site.studies.models import Study
from caltin_site.studies.recipe_schemas import ChangeOut, FamilyOut, ProposedOut
from caltin_site.studies.recipes import (
    colours_shown,
    core_rules,
    keep,
    keep_body,
    kept,
    key_of,
    matches_of,
    target_of,
)
from caltin_site.studies.schools import under_school
from caltin_site.studies.state import State

# Without a word of how long a sitting is there is time enough, in minutes.
_LONG = 240
_GROUP = {role.slug: role.group for role in ROLES}


def match_missing(study: Study, state: State | None = None) -> Iterator[tuple[int, int]]:
    """Match every place that is not matched yet, keeping each as it is found; tells how many are done, of how many.

    In another state than that in force, where one is given. Closing the iterator stops the work; what was found stays.
    """
    here = aim(study, state)
    there = kept(here)
    places = [p for p in here.state.places if p.id not in there]
    yield 0, len(places)
    if here.state.rules.together and places:
        _together(here)
        yield len(places), len(places)
        return
    found = matches(here.bench, [target_of(here, p) for p in places], core_rules(here))
    for index, (place, match) in enumerate(zip(places, found, strict=True), 1):
        keep(here, place, match)
        yield index, len(places)


def _together(here: Aim) -> None:
    """Solve all places within so many colours, around the recipes that were chosen, and keep every one."""
    rules = here.state.rules
    each = _rules(here)
    whole = family(here.bench, _members(here), each, each.prefer)
    for place, match in zip(here.state.places, whole.matches, strict=True):
        if place.id not in here.state.recipes:
            keep(here, place, match)
    mine = [p for p in here.state.places if p.id in here.state.recipes]
    if mine:
        # What was chosen stays; beside it stands what its place would be by itself.
        alone = matches(here.bench, [target_of(here, p) for p in mine], core_rules(here))
        for place, match in zip(mine, alone, strict=True):
            keep(here, place, match)
    keep_body(here, _key(here), _told(here.bench, whole, rules.together).model_dump(mode="json"))


def _rules(here: Aim) -> Rules:
    """The study's rules, for as many colours in all as asked, or as the chosen recipes and the preferred colours need."""
    rules = core_rules(here)
    fixed = {x.colour for r in here.state.recipes.values() for x in lays(layers_of(here.bench, r.layers))} | rules.prefer
    return replace(rules, max_colours=max(here.state.rules.together, len(fixed)))


def _members(here: Aim) -> list[Member]:
    """Every place as a member of the family; skin zones next to each other in value are neighbours."""
    places = here.state.places
    skin = [i for i, p in enumerate(places) if _GROUP[p.role] == "skin" and p.role != "flush"]
    skin.sort(key=lambda i: -float(here.targets[places[i].id][0]))
    beside: dict[int, list[int]] = {i: [] for i in range(len(places))}
    for one, other in pairwise(skin):
        beside[one].append(other)
        beside[other].append(one)
    chosen = here.state.recipes
    return [
        Member(
            target_of(here, p), 1.0, tuple(beside[i]),
            tuple(lays(layers_of(here.bench, chosen[p.id].layers))) if p.id in chosen else None,
        )
        for i, p in enumerate(places)
    ]  # fmt: skip


def _key(here: Aim) -> str:
    keys = "".join(sorted(key_of(here, p) for p in here.state.places))
    return hashlib.sha256(f"family {keys}".encode()).hexdigest()


def _told(bench: Workbench, found: Family, asked: int) -> FamilyOut:
    def change(one: Change | None) -> ChangeOut | None:
        return ChangeOut(name=bench.swatches[one.colour].called, mean=round(one.mean, 2)) if one else None

    return FamilyOut(
        asked=asked, used=len(found.colours), mean=round(found.mean, 2), one_more=change(found.one_more),
        one_less=change(found.one_less),
    )  # fmt: skip


def match_under(study: Study, school: str) -> Iterator[tuple[int, int]]:
    """Match every place as another school would have it; the study stays as it is."""
    return match_missing(study, under_school(study, school))


def matches_out(study: Study, state: State | None = None) -> dict[str, Any]:
    """What is known of every place's recipes now, with the family and the school to propose; in another state, if given."""
    here = aim(study, state)
    row = Kept.objects.filter(owner=study.owner, key=_key(here)).first() if here.state.rules.together else None
    medium = medium_of([s.medium for s in here.bench.swatches])
    base = next((here.targets[p.id] for p in here.state.places if p.role == BASE), np.array([60.0, 0.0, 0.0]))
    minutes = float(here.state.sitting_minutes or _LONG)
    school, why = proposed(medium, float(bare_lab(here)[0]), float(base[0]), minutes)
    told = ProposedOut(medium=medium, slug=school.slug, name=school.name, why=why).model_dump()
    found = matches_of(here)
    family = _as_shown(here, row.body, found["matches"]) if row else None
    chosen = colours_shown([m for m in found["matches"] if m["pinned"]])
    few = None if here.state.rules.together or found["missing"] else fewer(found["used"], len(chosen))
    return {**found, "family": family, "fewer": few, "proposed": told}


def _as_shown(here: Aim, told: dict[str, Any], found: Sequence[dict[str, Any]]) -> dict[str, Any]:
    """The family, whose changes are told of the closest recipes; a colour that the recipes shown do without is not told to be one
    that might be spared."""
    shown, less = colours_shown(found), told["one_less"]
    laid = {s.called for s in here.bench.swatches if s.id in shown}
    return told if less is None or less["name"] in laid else {**told, "one_less": None}
