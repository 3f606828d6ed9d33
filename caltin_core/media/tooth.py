"""The tooth of a sheet: how deep its valleys lie, and how much it holds."""

from dataclasses import dataclass
from types import MappingProxyType

import numpy as np

from caltin_core.colour.tables import Floats
from caltin_core.media.film import DARKEST_FILM, seen_through, surface_put_on, surface_taken_off

# Into how many alike shares of the sheet its depths are parted; into few where doubts are told, or where a search only begins.
QUANTILES, FEW_QUANTILES = 6, 3
# The shape of an ordinary sheet's depths: peaks are many, deep valleys few.
_ORDINARY = 1.2


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
