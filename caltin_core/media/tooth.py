"""The tooth of a sheet: how deep its valleys lie, how much it holds, and what it takes of a pass."""

from dataclasses import dataclass
from types import MappingProxyType

import numpy as np

from caltin_core.colour.tables import Floats
from caltin_core.media.film import DARKEST_FILM, THINNEST, seen_through, surface_put_on, surface_taken_off

# Into how many alike shares of the sheet its depths are parted; into few where doubts are told, or where a search only begins.
QUANTILES, FEW_QUANTILES = 6, 3
# The shape of an ordinary sheet's depths: peaks are many, deep valleys few.
_ORDINARY = 1.2
# A refusal so near 1 is taken for 1, whose law has a form of its own.
_PLAIN = 1e-3


def _kept(reflectance: Floats, was: Floats) -> Floats:
    """Within what a film may reflect, and as precise as it `was`."""
    return np.clip(reflectance, DARKEST_FILM, 1 - DARKEST_FILM).astype(was.dtype, copy=False)


def relief(quantiles: int, shape: float = _ORDINARY) -> Floats:
    """Depth of each quantile (Q,) as a share of the sheet's deepest valleys."""
    out: Floats = ((np.arange(quantiles) + 0.5) / quantiles) ** shape
    return out


@dataclass(frozen=True)
class Tooth:
    """A tooth: `depth` of its valleys (in units of what a firm stroke reaches) and `capacity` (medium passes it holds).

    `relief` is the shape of its depths, 1 being as many valleys as peaks; `spread` is the Yule-Nielsen n of the sheet,
    1 where no light spreads in it and 2 where all does; `refusal` is the power of the room left by which a valley takes
    less as it fills; `own` is how far a pass is refused by what it lays itself, 0 where only earlier passes refuse it and 1
    where its first stroke does as they do; `edge` is how sharply a stroke's reach ends: at 1 it dies away, above that it rests on
    the hills and leaves deep valleys alone; `outer` and `inner` are what the surface throws back of light from outside and from
    inside, as far as that is read with it (see `surface_put_on`); `quantiles` is into how many the depths are parted.
    """

    depth: float
    capacity: float
    relief: float = _ORDINARY
    spread: float = 2.0
    refusal: float = 1.0
    own: float = 0.5
    edge: float = 1.0
    outer: float = 0.0
    inner: float = 0.0
    quantiles: int = QUANTILES

    def valleys(self) -> Floats:
        """Depth of each quantile (Q,)."""
        return self.depth * relief(self.quantiles, self.relief)

    def inside(self, measured: Floats) -> Floats:
        """What lies under the surface (…, bands) of what is measured."""
        if not (self.outer or self.inner):
            return measured
        return _kept(surface_taken_off(measured, self.outer, self.inner), measured)

    def seen(self, films: Floats) -> Floats:
        """What is measured (…, bands) of films over ground and over black (2, …, Q, bands)."""
        return self.shown(seen_through(films, self.spread))

    def shown(self, inside: Floats) -> Floats:
        """What is measured of what lies under the surface (…, bands)."""
        if not (self.outer or self.inner):
            return inside
        return _kept(surface_put_on(inside, self.outer, self.inner), inside)


# Defaults before any patch has been measured; common practice orders them, calibration will move them.
TEETH = MappingProxyType(
    {
        "smooth": Tooth(0.45, 3.4),
        "vellum": Tooth(1.0, 5.0),
        "textured": Tooth(1.7, 6.5),
        "sanded": Tooth(1.4, 9.0),
        "card": Tooth(0.3, 2.8),
    }
)


def passed(
    fill: Floats, brings: Floats, reach: Floats, builds: Floats, passes: Floats, tooth: Tooth
) -> tuple[Floats, Floats, Floats]:  # fmt: skip
    """What valleys (B, Q) that hold `fill` take of `passes` (B,), one at least: the first brings `brings[0]` (B,) to what lies
    highest, each later one `brings[1]`. Also how much of all that was brought met what was full already, and how surely the last
    pass met each valley, 0-1; all (B, Q).

    A pass rests on what lies highest, and finds valleys so much less as they lie deeper than it `reach`es (B,). Where much lies
    the surface has grown, by `builds` (B,) depths for each unit: what strokes build up on the hills leaves the valleys deeper.
    """
    # Those with the most passes come first, so that each turn is of the first so many; valleys by rows, which are few.
    order = np.argsort(-passes, kind="stable")
    going = len(passes) - np.searchsorted(passes[order[::-1]], np.arange(int(passes.max(initial=0))), side="right")
    valleys = tooth.valleys().astype(fill.dtype, copy=False)[:, None]
    now, brings, reach, builds = np.ascontiguousarray(fill[order].T), brings[:, order], reach[order], builds[order]
    out = np.zeros((3, *now.shape), dtype=np.result_type(now, brings))
    for turn, many in enumerate(going.tolist()):
        here = now[:, :many]
        deep = valleys - builds[:many] * here
        deep -= deep.min(axis=0) - valleys[0]
        deep /= reach[:many]
        if tooth.edge != 1:
            deep **= tooth.edge
        out[2, :, :many] = np.exp(np.negative(deep, out=deep), out=deep)
        more, refused = taken(here, brings[min(turn, 1), :many] * deep, tooth)
        here += more
        out[0, :, :many] += more
        out[1, :, :many] += refused
    held, over_full, meets = out[:, :, np.argsort(order)].transpose(0, 2, 1)
    return held, over_full, meets


def taken(fill: Floats, rate: Floats, tooth: Tooth) -> tuple[Floats, Floats]:
    """What valleys that hold `fill` take of one pass that would lay `rate` on empty ones, and how much of it met what was full
    already; arrays of one shape.

    They take x less and less: dx/dt = rate · (1 − (fill + own · x)/capacity)^refusal. What it laid refuses the next one wholly.
    """
    room = np.maximum(1 - fill / tooth.capacity, 0)
    filled = rate * (-tooth.own / tooth.capacity)
    if abs(tooth.refusal - 1.0) < _PLAIN:
        # It takes a share of the room that is left.
        np.expm1(filled, out=filled)
        filled *= room
    else:
        power = 1 - tooth.refusal
        np.maximum(room, THINNEST, out=room)
        filled *= power
        filled += room**power
        np.maximum(filled, THINNEST, out=filled)
        filled **= 1 / power
        filled -= room
        np.minimum(filled, 0, out=filled)
    filled /= -tooth.own
    return tooth.capacity * filled, rate * (1 - room + filled / 2)
