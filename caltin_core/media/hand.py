"""The hand: what light, medium, firm and burnish mean to the one who holds the pencil."""

from dataclasses import asdict, dataclass, field, replace
from types import MappingProxyType
from typing import Any

from caltin_core.errors import BadRequest

PRESSURES = ("light", "medium", "firm", "burnish")
POINTS = ("sharp", "side")
BURNISH = PRESSURES.index("burnish")


Four = tuple[float, float, float, float]


def _times(row: Four, by: float) -> Four:
    return (row[0] * by, row[1] * by, row[2] * by, row[3] * by)


@dataclass(frozen=True)
class Hand:
    """What each pressure deposits in one pass (in medium passes of an even hand) and how deep it reaches."""

    deposit: Four = (0.35, 0.8, 1.6, 5.0)
    reach: Four = (0.28, 0.5, 0.9, 3.0)
    side_deposit: float = 0.8
    side_reach: float = 0.6
    turned_reach: float = 1.35

    def pressed(self, harder: float, deeper: float = 1.0) -> "Hand":
        """A hand that lays `harder` times as much and reaches `deeper` times as deep."""
        return replace(self, deposit=_times(self.deposit, harder), reach=_times(self.reach, deeper))

    def fitted(self) -> dict[str, Any]:
        """The hand as the command line carries it."""
        return {key: list(value) if isinstance(value, tuple) else value for key, value in asdict(self).items()}


@dataclass(frozen=True)
class NamedHand:
    """A hand one can start from before anything has been measured."""

    name: str
    hand: Hand = field(default_factory=Hand)


HANDS = MappingProxyType(
    {
        "even": NamedHand("Even hand"),
        "light": NamedHand("Light hand", Hand().pressed(0.72, 0.9)),
        "heavy": NamedHand("Heavy hand", Hand().pressed(1.35, 1.12)),
    }
)


def hand_from_fitted(fitted: dict[str, Any]) -> Hand:
    """The hand of what `Hand.fitted` gave. Raises BadRequest when it is something else."""
    try:
        rows = {key: tuple(float(v) for v in fitted[key]) for key in ("deposit", "reach")}
        single = {key: float(fitted[key]) for key in ("side_deposit", "side_reach", "turned_reach")}
    except (KeyError, TypeError, ValueError):
        raise BadRequest("fitted", "this is not a hand that Caltin fitted") from None
    numbers = [*rows["deposit"], *rows["reach"], *single.values()]
    if any(len(row) != len(PRESSURES) for row in rows.values()) or not all(0 < v < 100 for v in numbers):
        raise BadRequest("fitted", "a hand has four deposits and four reaches, all above 0 and below 100")
    return Hand(deposit=rows["deposit"], reach=rows["reach"], **single)  # type: ignore[arg-type]
