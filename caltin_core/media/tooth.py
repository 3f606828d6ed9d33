"""The tooth of a sheet: how deep its valleys lie, and how much it holds."""

from dataclasses import dataclass
from types import MappingProxyType

import numpy as np

from caltin_core.colour.tables import Floats

QUANTILES = 6
DEEPER: Floats = (np.arange(QUANTILES) + 0.5) / QUANTILES
# Depth of each sixth of an ordinary sheet as a share of its deepest valleys; peaks are many, deep valleys few.
RELIEF: Floats = DEEPER**1.2
DEEPER.setflags(write=False)
RELIEF.setflags(write=False)


@dataclass(frozen=True)
class Tooth:
    """A tooth: `depth` of its valleys (in units of what a firm stroke reaches) and `capacity` (medium passes it holds).

    `relief` is the shape of its depths, 1 being as many valleys as peaks; `spread` is the Yule-Nielsen n of the sheet,
    1 where no light spreads in it and 2 where all does; `refusal` is the power of the room left by which a valley takes
    less as it fills; `own` is how far a pass is refused by what it lays itself, 0 where only earlier passes refuse it and 1
    where its first stroke does as they do.
    """

    depth: float
    capacity: float
    relief: float = 1.2
    spread: float = 2.0
    refusal: float = 1.0
    own: float = 0.5

    def valleys(self) -> Floats:
        """Depth of each quantile (6,)."""
        out: Floats = self.depth * DEEPER**self.relief
        return out


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
