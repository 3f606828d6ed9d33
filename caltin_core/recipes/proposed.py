"""Which of the recipes on offer to propose. All limits are common practice."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from caltin_core.media.cautions import cautions, shut_early
from caltin_core.media.layers import Layer
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.candidates import effort_of
from caltin_core.recipes.match import Recipe
from caltin_core.recipes.offers import COLOURS, burden, speckle
from caltin_core.recipes.schools import School, Zone, left_out

# A recipe that misses by so much more than another, in ΔE00, is still hard to tell from it on paper.
_HARD_TO_TELL = 1.5


@dataclass(frozen=True)
class Offer:
    """What a recipe is weighed by: what it misses by and within what it is sure (both ΔE00), its colours and its work in layers,
    whether it is warned of, its specks (L*), and how many stages it leaves out that its school wants there."""

    miss: float
    doubt: float
    colours: int
    work: float
    warned: bool = False
    specks: float = 0.0
    left_out: int = 0


def is_warned(bench: Workbench, layers: Sequence[Layer], *, of_skin: bool = True) -> bool:
    """Whether anything speaks against proposing layers: what they are warned of, or what a plan will say against them."""
    return bool(cautions(bench, layers, of_skin=of_skin)) or shut_early(bench, layers)


def proposed_of(
    bench: Workbench, recipes: Sequence[Recipe], *, of_skin: bool = True, school: School | None = None, zone: Zone | None = None
) -> Recipe | None:
    """The recipe to propose of those found for a target, of skin or not, in a zone of a study that follows a school; or None where
    there is none."""
    at = proposed(
        [
            Offer(
                r.difference.de00,
                r.prediction.uncertainty,
                len({x.colour for x in r.layers}),
                effort_of(r.layers),
                is_warned(bench, r.layers, of_skin=of_skin),
                speckle(r.prediction.grain_lab),
                len(left_out(bench, r.layers, school, zone)) if school and of_skin else 0,
            )
            for r in recipes
        ]
    )
    return None if at is None else recipes[at]


def _surest(offers: Sequence[Offer]) -> list[int]:
    """The recipes, in their order, of which one may expect about as much as of any: what they miss by and what they are in doubt
    by, together (in squares, as independent errors add). What is nearest but in great doubt is nothing to stake a drawing on."""
    likely = [_likely(o) for o in offers]
    return [i for i, miss in enumerate(likely) if miss <= min(likely) + _HARD_TO_TELL]


def proposed(offers: Sequence[Offer]) -> int | None:
    """The recipe to propose, or None where there is none: of those hard to tell from the first sure one, one that nothing warns of,
    that has what its school wants, of two colours at least, with few layers, colours and specks."""
    sure = _surest(offers)
    if not sure:
        return None
    alike = [i for i in sure if offers[i].miss <= offers[sure[0]].miss + _HARD_TO_TELL]
    return min(alike, key=lambda i: _order(offers[i]))


def shared(offers: Sequence[Sequence[Offer]], own: Sequence[Offer]) -> int | None:
    """The recipe that places of one kind, such as both eyes, can share: of several, each weighed for every place (recipes, places),
    the best of those hard to tell, everywhere, from what each place would be proposed by itself, and not warned of where that is
    not. None where each needs its own, or where laying one once does not save what it is worse by."""
    fit = [
        i
        for i, each in enumerate(offers)
        if all(_as_well(o, mine) for o, mine in zip(each, own, strict=True)) and _together(each) <= sum(map(_burden, own))
    ]
    return min(fit, key=lambda i: max(_order(o) for o in offers[i]), default=None)


def _together(each: Sequence[Offer]) -> float:
    """The burden of one recipe in several places, whose layers are laid there in one go."""
    return sum(map(_burden, each)) - (len(each) - 1) * each[0].work


def _as_well(offer: Offer, own: Offer) -> bool:
    """Whether a place is as well off with another's recipe as with its own."""
    near = offer.miss <= own.miss + _HARD_TO_TELL and _likely(offer) <= _likely(own) + _HARD_TO_TELL
    return near and offer.warned <= own.warned and offer.left_out <= own.left_out


def _likely(offer: Offer) -> float:
    """What a recipe may be expected to miss by, in ΔE00."""
    return float(np.hypot(offer.miss, offer.doubt))


def _order(offer: Offer) -> tuple[bool, int, bool, float]:
    return offer.warned, offer.left_out, offer.colours < COLOURS, _burden(offer)


def _burden(offer: Offer) -> float:
    """What a recipe costs, in layers of work."""
    of = (np.array(v) for v in (offer.work, offer.colours, offer.miss + offer.doubt, offer.specks))
    return float(burden(*of))
