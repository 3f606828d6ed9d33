"""How much colour a layer takes, and how long a stick lasts. Common practice, from memory; the artist's log knows better."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from statistics import median

from caltin_core.media.hand import PRESSURES
from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import COAT, Lay, Layer, lays
from caltin_core.media.workbench import Workbench

# The sheet that times and colour are reckoned by, in square centimetres.
A4 = 21.0 * 29.7
# So many sticks of a medium must have run dry before they tell more than common practice.
_ENOUGH = 2


def takes(bench: Workbench, layer: Layer, sheets: float) -> float:
    """Colour that a layer takes over so many A4 sheets: square centimetres of one even medium pass, or of one coat."""
    if not isinstance(layer, Lay):
        return 0.0
    stroke, hand = layer.stroke, bench.hand
    each = hand.coat if stroke.pressure == COAT else hand.deposit[PRESSURES.index(stroke.pressure)]
    side = hand.side_deposit if stroke.point == "side" else 1.0
    return A4 * sheets * stroke.passes * each * side


def taken(bench: Workbench, laid: Iterable[tuple[Layer, float]]) -> dict[int, float]:
    """The same for every colour of layers, each with the A4 sheets it covers."""
    out: dict[int, float] = {}
    for layer, sheets in laid:
        for x in lays([layer]):
            out[x.colour] = out.get(x.colour, 0.0) + takes(bench, x, sheets)
    return out


def lasts(medium: str, ran_dry: Sequence[float]) -> float:
    """What a new stick of a medium covers, from what its sticks covered that ran dry (both as `takes` counts)."""
    return median(ran_dry) if len(ran_dry) >= _ENOUGH else MEDIA[medium].lasts


@dataclass(frozen=True)
class Need:
    """A colour: what is still to be laid of it (as `takes` counts), what share of a new stick that is, and whether it may run
    out before."""

    colour: int
    cm2: float
    share: float
    short: bool


def needs(
    bench: Workbench, to_come: Mapping[int, float], laid: Mapping[int, float], ran_dry: Mapping[str, Sequence[float]]
) -> list[Need]:
    """What a plan still needs of every colour, the most first.

    `laid` is what was laid of the sticks in hand, by colour; `ran_dry` what sticks covered before they ran dry, by medium.
    """
    out = []
    for colour, cm2 in to_come.items():
        medium = bench.swatches[colour].medium
        whole = lasts(medium, ran_dry.get(medium, ()))
        out.append(Need(colour, cm2, cm2 / whole, laid.get(colour, 0.0) + cm2 > whole))
    return sorted(out, key=lambda n: (-n.share, n.colour))
