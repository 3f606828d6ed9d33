"""Melanin and blood: a skin colour parted into its two pigments and the light that falls on it.

In the logarithm of linear RGB, shading moves a colour along (1, 1, 1), each pigment along its own density, so three
numbers give three amounts (Tsumura, Haneishi & Miyake 1999; Tsumura et al. 2003). The densities are working values
for skin seen in sRGB; their directions agree with those that independent component analysis finds (from memory).
"""

import numpy as np

from caltin_core.colour.spaces import XYZ50_TO_SRGB, xyz_from_lab
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


def pigments(lab: Floats, vectors: Floats | None = None) -> Floats:
    """Melanin, blood and shading (…, 3) of D50 CIELAB (…, 3), shading being free: the same in light and in shadow.

    `vectors` (2, 3) are the densities of melanin and blood, where the picture gave its own.
    """
    melanin, blood = (MELANIN, BLOOD) if vectors is None else vectors
    parts = np.linalg.inv(np.stack([melanin, blood, np.ones(3)]))
    out: Floats = density(lab) @ parts
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


def independent_vectors(lab: Floats) -> Floats | None:
    """Densities (2, 3) of melanin and blood found in one picture of skin (n, 3) by independent component analysis.

    Shading is taken out along (1, 1, 1) first; in the plane left the two directions are those along which the
    amounts are least Gaussian. None where what is found could not be these pigments, as under lights of two colours.

    Source: Tsumura, Haneishi & Miyake 1999, "Independent-component analysis of skin color image".
    """
    d = density(lab)
    plane = np.linalg.svd(np.ones((1, 3)))[2][1:]
    flat = (d - d.mean(axis=0)) @ plane.T
    values, axes = np.linalg.eigh(np.cov(flat.T))
    if values.min() < 1e-6:
        return None
    white = flat @ axes / np.sqrt(values)
    angles = np.linspace(0, np.pi, 180, endpoint=False)
    turned = white @ np.stack([np.cos(angles), np.sin(angles)])
    peaked = np.abs((turned**4).mean(axis=0) - 3)
    both = peaked + np.roll(peaked, 90)
    best = angles[int(both.argmax())]
    turn = np.array([[np.cos(best), np.sin(best)], [-np.sin(best), np.cos(best)]])
    # Columns of the mixing matrix, brought back into the plane.
    mixing = (turn * np.sqrt(values)) @ axes.T @ plane
    out = []
    for known in (MELANIN, BLOOD):
        aim = plane.T @ plane @ known
        along = mixing @ aim / (np.linalg.norm(mixing, axis=1) * np.linalg.norm(aim))
        row = int(np.abs(along).argmax())
        if abs(along[row]) < np.cos(np.radians(20)):
            return None
        found = mixing[row] * np.sign(along[row])
        # The plane leaves the share of shading open: it is taken from the known density.
        out.append(found * np.linalg.norm(aim) / np.linalg.norm(found) + (known - aim))
    return np.stack(out)
