"""How a picture is developed before it is read: balance, exposure, contrast. One place for every reader of pixels."""

from dataclasses import dataclass, field

import numpy as np

from caltin_core.colour.sources import planckian_white
from caltin_core.colour.spaces import (
    SRGB_TO_XYZ50,
    WHITE_D50,
    XYZ50_TO_SRGB,
    adaptation,
    decode_srgb,
    encode_srgb,
    lab_from_xyz,
    xyz50_from_srgb,
    xyz_from_lab,
)
from caltin_core.colour.tables import Floats
from caltin_core.errors import BadRequest
from caltin_core.reference.picture import Pixels

# Kelvins of the lights one usually meets; common practice.
USUAL_LIGHTS = ((2700, "lamp"), (3600, "low sun"), (5500, "noon sun"), (6500, "overcast"), (8000, "open shade"))
# The lightness that contrast leaves where it is: a mid grey.
PIVOT = 50.0
_LINEAR: Floats = decode_srgb(np.arange(256) / 255.0).astype(np.float32)
_CODES = 8192
_ENCODED = np.rint(255 * encode_srgb(np.linspace(0.0, 1.0, _CODES + 1))).astype(np.uint8)


def _identity() -> Floats:
    return np.eye(3)


@dataclass(frozen=True, eq=False)
class Develop:
    """How pixels become tones.

    Attributes: `matrix` (3, 3) on D50 XYZ, from a balance; `stops` of exposure; `contrast`, the slope of L* about
    `PIVOT` (1 leaves it; below 1 takes back a boosted photograph).
    """

    matrix: Floats = field(default_factory=_identity)
    stops: float = 0.0
    contrast: float = 1.0

    def lab(self, srgb: Floats) -> Floats:
        """D50 CIELAB (…, 3) of non-linear sRGB 0-1 (…, 3)."""
        return self.of_xyz(xyz50_from_srgb(srgb))

    def of_xyz(self, xyz: Floats) -> Floats:
        """D50 CIELAB (…, 3) of XYZ (…, 3) as the picture has it."""
        lab = lab_from_xyz(xyz @ (self.matrix.T * 2.0**self.stops))
        if self.contrast != 1.0:
            lab[..., 0] = PIVOT + (lab[..., 0] - PIVOT) * self.contrast
        lab[..., 0] = np.clip(lab[..., 0], 0.0, 100.0)
        return lab

    def of_pixels(self, pixels: Pixels) -> Floats:
        """D50 CIELAB (…, 3), single precision, of sRGB bytes (…, 3): for whole pictures, where speed counts."""
        gain = (SRGB_TO_XYZ50.T @ self.matrix.T * 2.0**self.stops / WHITE_D50).astype(np.float32)
        relative = _LINEAR[pixels] @ gain
        lab: Floats = lab_from_xyz(relative, np.ones(3, dtype=np.float32))
        if self.contrast != 1.0:
            lab[..., 0] = PIVOT + (lab[..., 0] - PIVOT) * self.contrast
        np.clip(lab[..., 0], 0.0, 100.0, out=lab[..., 0])
        return lab


PLAIN = Develop()


def balanced_by(xyz: Floats) -> Floats:
    """The matrix (3, 3) on D50 XYZ that makes `xyz` (3,) neutral by Bradford, its Y kept.

    Raises BadRequest where the colour is too dark to tell.
    """
    if float(np.min(xyz)) <= 1e-4:
        raise BadRequest("white", "this place is too dark to balance by; choose something white or grey")
    return adaptation(xyz, WHITE_D50 * xyz[1])


def balanced_to(found: Floats, known: Floats) -> Floats:
    """The matrix that carries the D50 Lab `found` (3,) to the hue and strength of `known` (3,), lightness kept.

    For a skin one knows: the same Bradford gains that turn one into the other.
    """
    xyz = xyz_from_lab(found)
    aim = np.array([found[0], known[1] * found[0] / max(known[0], 1.0), known[2] * found[0] / max(known[0], 1.0)])
    if float(found[0]) < 5 or float(known[0]) < 5:
        raise BadRequest("known", "this place is too dark to balance by a known skin")
    return adaptation(xyz, xyz_from_lab(aim))


def balanced_for(kelvin: float, taken_for: float = 6500.0) -> Floats:
    """The matrix that takes back a light of `kelvin` in a picture whose white is daylight of `taken_for`."""
    gain = adaptation(planckian_white(kelvin), planckian_white(taken_for))
    to50 = adaptation(planckian_white(taken_for), WHITE_D50)
    out: Floats = to50 @ gain @ np.linalg.inv(to50)
    return out


def shown(lab: Floats) -> Pixels:
    """sRGB bytes (…, 3) of D50 CIELAB (…, 3), clipped for each channel."""
    linear = xyz_from_lab(lab) @ XYZ50_TO_SRGB.T.astype(lab.dtype)
    out: Pixels = _ENCODED[(np.clip(linear, 0.0, 1.0) * _CODES + 0.5).astype(np.int32)]
    return out
