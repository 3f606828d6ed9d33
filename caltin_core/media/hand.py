"""The hand: what light, medium, firm and burnish mean to the one who holds the pencil."""

from collections.abc import Iterable
from dataclasses import asdict, dataclass, field, replace
from types import MappingProxyType
from typing import Any

from caltin_core.errors import BadRequest

PRESSURES = ("light", "medium", "firm", "burnish")
POINTS = ("sharp", "side")
BURNISH = PRESSURES.index("burnish")


# The plain numbers of a hand, and the possible truths of every ensemble: by their spread a prediction says how unsure it is.
HAND, MEMBERS = 15, 8
# So many it had before blends and lifts were among them.
_ONCE = 12
_MOST = 1e4
Four = tuple[float, float, float, float]


def four(row: Iterable[float]) -> Four:
    """One number for each pressure."""
    light, medium, firm, burnish = (float(v) for v in row)
    return (light, medium, firm, burnish)


@dataclass(frozen=True)
class Hand:
    """What each pressure deposits in one pass (in medium passes of an even hand) and how deep it reaches.

    `coat` is what one coat of a marker lays against an ordinary one: a brush nib and a chisel nib differ. `rubs` is how much a
    blend works in and `lifts` how much an eraser takes, both against the usual, the first as odds; `topmost` is how often what it
    takes falls to 1/e from the top of all that lies there to the paper. `members` (M, 15) are logarithms of these numbers against
    the usual ones, for every member of the ensemble of a hand that was measured, see `fits`; (M, 12) where it was measured before
    blends and lifts were.
    """

    deposit: Four = (0.35, 0.8, 1.6, 5.0)
    reach: Four = (0.28, 0.5, 0.9, 3.0)
    side_deposit: float = 0.8
    side_reach: float = 0.6
    turned_reach: float = 1.35
    coat: float = 1.0
    rubs: float = 1.0
    lifts: float = 1.0
    topmost: float = 1.0
    members: tuple[tuple[float, ...], ...] = ()

    def pressed(self, harder: float, deeper: float = 1.0) -> "Hand":
        """A hand that lays `harder` times as much and reaches `deeper` times as deep."""
        return replace(
            self,
            coat=self.coat * harder,
            deposit=four(v * harder for v in self.deposit),
            reach=four(v * deeper for v in self.reach),
        )

    def fitted(self) -> dict[str, Any]:
        """The hand as the command line carries it."""
        out = {key: list(value) if isinstance(value, tuple) else value for key, value in asdict(self).items()}
        return out if self.members else {key: value for key, value in out.items() if key != "members"}


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
        # A hand measured with dry media only, or once, says nothing of coats, or of blends and lifts.
        single.update({key: float(fitted.get(key, 1.0)) for key in ("coat", "rubs", "lifts", "topmost")})
    except (KeyError, TypeError, ValueError):
        raise BadRequest("fitted", "this is not a hand that Caltin fitted") from None
    numbers = [*rows["deposit"], *rows["reach"], *single.values()]
    if any(len(row) != len(PRESSURES) for row in rows.values()) or not all(0 < v < _MOST for v in numbers):
        raise BadRequest("fitted", "a hand has four deposits and four reaches, all above 0 and of ordinary size")
    rows_of = fitted.get("members", [])
    once = isinstance(rows_of, list | tuple) and all(isinstance(row, list | tuple) and len(row) == _ONCE for row in rows_of)
    members = table_from_fitted(rows_of, _ONCE if once else HAND)
    if len(members) not in (0, MEMBERS):
        raise BadRequest("fitted.members", "this is not a hand that Caltin fitted")
    return Hand(deposit=rows["deposit"], reach=rows["reach"], **single, members=members)  # type: ignore[arg-type]


def table_from_fitted(rows: Any, width: int) -> tuple[tuple[float, ...], ...]:
    """Rows of `width` plain numbers, as every ensemble is carried. Raises BadRequest for anything else."""
    try:
        out = tuple(tuple(float(v) for v in row) for row in rows)
    except (TypeError, ValueError):
        raise BadRequest("fitted.members", "this is not what Caltin fitted") from None
    if any(len(row) != width or not all(abs(v) < 50 for v in row) for row in out):
        raise BadRequest("fitted.members", f"every row has {width} plain numbers")
    return out
