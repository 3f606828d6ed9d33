"""A place's recipe from what already lies on the paper on."""

from collections.abc import Sequence

import numpy as np

from caltin_core.contract.shapes import ActShape
from caltin_core.errors import BadRequest
from caltin_core.media.layers import lays
from caltin_core.recipes.onward import onward
from caltin_core.recipes.rules import usable
from caltin_core.recipes.schools import Zone, zones_of
from caltin_core.recipes.words import recipe_words
from caltin_site.kits.laid import layers_of, said
from caltin_site.studies.aims import Aim
from caltin_site.studies.came_out import there
from caltin_site.studies.recipes import core_rules, target_of
from caltin_site.studies.state import Recipe


def at_hand(here: Aim) -> set[str]:
    """The colours that the rules and the box leave."""
    return {here.bench.swatches[i].id for i in usable(here.bench, core_rules(here))}


def gone_on(here: Aim, place: str, laid: Sequence[ActShape]) -> tuple[Recipe | None, str]:
    """A place's recipe from what lies there on, and a sentence; no recipe where nothing is to be done or the kit lacks a colour."""
    mine, name = next(p for p in here.state.places if p.id == place), here.state.names()[place]
    try:
        done = layers_of(here.bench, laid)
    except BadRequest:
        return None, f"{name}: something lies there that this kit does not have."
    target = target_of(here, mine)
    rules = core_rules(here).for_role(target.black, skin=target.skin)
    found = onward(here.bench, done, target.lab, rules, zone_of(here, place), there(here, place, done))
    names = [s.called for s in here.bench.swatches]
    goes = recipe_words(found.layers, names) if found.layers else "nothing more is needed."
    words = f"{name}: {goes[0].lower() + goes[1:] if not lays(found.layers[:1]) else goes} ΔE00 {found.de00:.1f}."
    layers = [*laid, *said(here.bench, found.layers)]
    return (Recipe(layers=layers) if layers else None), words


def zone_of(here: Aim, place: str) -> Zone | None:
    """Where a place lies among the others: in the lights, the middle or the shades."""
    zones = zones_of(np.array([here.targets[p.id][0] for p in here.state.places]))
    return zones[[p.id for p in here.state.places].index(place)]
