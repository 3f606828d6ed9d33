"""Shapes several apps speak in."""

from typing import Annotated, Any

import numpy as np
from ninja import Schema
from pydantic import ConfigDict, Field

from caltin_core.colour.spaces import hex_from_lab
from caltin_core.colour.tables import Floats
from caltin_core.colour.value import munsell_value


class Strict(Schema):
    """Input: no unknown keys."""

    model_config = ConfigDict(extra="forbid")


class Lab(Strict):
    """A D50 CIELAB colour."""

    l: Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)]  # noqa: E741
    a: Annotated[float, Field(ge=-200, le=200, allow_inf_nan=False)]
    b: Annotated[float, Field(ge=-200, le=200, allow_inf_nan=False)]

    def array(self) -> Floats:
        """As (3,)."""
        return np.array([self.l, self.a, self.b])

    @classmethod
    def of(cls, lab: Floats) -> "Lab":
        """From (3,), to four decimals."""
        l, a, b = (round(float(v), 4) for v in lab)  # noqa: E741
        return cls(l=min(max(l, 0.0), 100.0), a=a, b=b)


class Tone(Schema):
    """A colour as the screen needs it: Lab, its nearest sRGB, whether that is true, and its Munsell value."""

    lab: Lab
    hex: str
    in_srgb: bool
    value: float

    @classmethod
    def of(cls, lab: Floats) -> "Tone":
        """From (3,)."""
        shown, inside = hex_from_lab(lab)
        return cls(lab=Lab.of(lab), hex=shown, in_srgb=inside, value=round(float(munsell_value(np.asarray(lab))), 3))


JSON = dict[str, Any]
