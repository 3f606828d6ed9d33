"""The tooth of a sheet: how deep its valleys lie, and how much it holds."""

from dataclasses import dataclass
from types import MappingProxyType

import numpy as np

from caltin_core.colour.tables import Floats

QUANTILES = 6
# Depth of each sixth of the sheet as a share of its deepest valleys; peaks are many, deep valleys few.
RELIEF: Floats = ((np.arange(QUANTILES) + 0.5) / QUANTILES) ** 1.2
RELIEF.setflags(write=False)


@dataclass(frozen=True)
class Tooth:
    """Depth of the valleys (in units of what a firm stroke reaches) and capacity (medium passes it holds)."""

    depth: float
    capacity: float

    def valleys(self) -> Floats:
        """Depth of each quantile (6,)."""
        return self.depth * RELIEF


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
