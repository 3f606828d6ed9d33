"""Melanin and blood: a skin colour parted into its two pigments and the light that falls on it.

In the logarithm of linear RGB, shading moves a colour along (1, 1, 1), each pigment along its own density, so three
numbers give three amounts (Tsumura, Haneishi & Miyake 1999; Tsumura et al. 2003). The densities are working values
for skin seen in sRGB; their directions agree with those that independent component analysis finds (from memory).
"""

import numpy as np

from caltin_core.colour.spaces import SRGB_TO_XYZ50, XYZ50_TO_SRGB, lab_from_xyz, xyz_from_lab
from caltin_core.colour.tables import Floats

MELANIN: Floats = np.array([0.80, 1.06, 1.32])
BLOOD: Floats = np.array([0.07, 0.78, 0.62])
# Linear sRGB of skin without either pigment, under a light that shows white as 1.
BARE: Floats = np.array([0.86, 0.745, 0.62])
_DARKEST = 1e-4
# What is known of a face before it is read, as standard deviations: exposure, and the light's own colour.
_EXPOSURE, _LIGHT = 0.35, 0.2
_USUAL, _SPREAD = np.array([0.9, 0.32]), np.array([0.7, 0.3])
# A face in its light shows white a little below 1.
_AROUND = 0.25
_LUMINANCE = np.array([0.2126, 0.7152, 0.0722])


def density(lab: Floats) -> Floats:
    """−log of linear sRGB (…, 3) of D50 CIELAB (…, 3), against bare skin."""
    linear = xyz_from_lab(np.asarray(lab, dtype=float)) @ XYZ50_TO_SRGB.T
    out: Floats = np.log(BARE) - np.log(np.maximum(linear, _DARKEST))
    return out


def pigments(lab: Floats) -> Floats:
    """Melanin, blood and shading (…, 3) of D50 CIELAB (…, 3), shading being free: the same in light and in shadow."""
    parts = np.linalg.inv(np.stack([MELANIN, BLOOD, np.ones(3)]))
    out: Floats = density(lab) @ parts
    return out


def with_blood(lab: Floats, more: float) -> Floats:
    """D50 CIELAB (3,) of skin that is `lab`, D50 CIELAB (3,), but has so much more blood."""
    linear = BARE * np.exp(-density(lab) - more * BLOOD)
    out: Floats = lab_from_xyz(linear @ SRGB_TO_XYZ50.T)
    return out


def lit_and_highlight(lab: Floats) -> tuple[Floats, Floats]:
    """The skin (n, 3) where the light falls on it, and its highlights: D50 CIELAB (3,) each."""
    luminance = xyz_from_lab(lab.astype(float))[:, 1]
    low, high, top = np.quantile(luminance, [0.7, 0.92, 0.99])
    lit = lab[(luminance >= low) & (luminance <= high)]
    return np.median(lit, axis=0), np.median(lab[luminance >= top], axis=0)


def amounts(lit: Floats, highlight: Floats | None = None) -> tuple[float, float]:
    """Melanin and blood (relative, one scale for all pictures) of skin in the light, D50 CIELAB (3,).

    The most likely amounts when exposure and the light's colour are not known but are about ordinary: a linear
    Gaussian estimate (maximum a posteriori), so that lightness and hue both speak. A `highlight` that is less red
    than the skin shows the light's own colour, as far as it is one (Shafer 1985, the dichromatic model).
    """
    aim = density(lit) - _AROUND
    if highlight is not None:
        shine, skin = (np.log(BARE) - density(c) for c in (highlight, lit))
        share = float(np.clip(((skin[0] - skin[1]) - (shine[0] - shine[1])) / 0.3, 0.0, 1.0))
        aim = aim + share * (shine - np.log(np.exp(shine) @ _LUMINANCE))
    spread = np.full((3, 3), _EXPOSURE**2) + np.eye(3) * _LIGHT**2
    vectors = np.stack([MELANIN, BLOOD], axis=1)
    inverse = np.linalg.inv(spread)
    normal = vectors.T @ inverse @ vectors + np.diag(1 / _SPREAD**2)
    found = np.linalg.solve(normal, vectors.T @ inverse @ aim + _USUAL / _SPREAD**2)
    return float(found[0]), float(found[1])
