"""Conversions between CIE XYZ, CIELAB and sRGB.

XYZ is scaled so that white has Y = 1. Lab is CIELAB, 2° observer, D50 unless a function says otherwise.
Arrays have their three components on the last axis.
"""

import re

import numpy as np

from caltin_core.colour.tables import Bools, Floats

# White points by ICC.1:2022 (D50) and IEC 61966-2-1 (D65).
WHITE_D50: Floats = np.array([0.96422, 1.0, 0.82521])
WHITE_D65: Floats = np.array([0.95047, 1.0, 1.08883])

# Lam 1985, "Metamerism and colour constancy" (the Bradford cone responses).
BRADFORD: Floats = np.array([[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]])

# IEC 61966-2-1:1999, linear sRGB to XYZ under D65, from the primaries so that white is exact.
_PRIMARIES: Floats = np.array([[0.64, 0.30, 0.15], [0.33, 0.60, 0.06], [0.03, 0.10, 0.79]])
SRGB_TO_XYZ: Floats = _PRIMARIES * np.linalg.solve(_PRIMARIES, WHITE_D65)

_EPSILON, _KAPPA = 216 / 24389, 24389 / 27
HEX = re.compile(r"#?([0-9a-fA-F]{6})")


def adaptation(source: Floats, target: Floats) -> Floats:
    """The 3×3 Bradford matrix that carries XYZ seen under white `source` to white `target` (Lam 1985)."""
    gain = (BRADFORD @ target) / (BRADFORD @ source)
    matrix: Floats = np.linalg.solve(BRADFORD, gain[:, None] * BRADFORD)
    return matrix


_D65_TO_D50 = adaptation(WHITE_D65, WHITE_D50)
# Linear sRGB to XYZ under D50, by Bradford, and back.
SRGB_TO_XYZ50: Floats = _D65_TO_D50 @ SRGB_TO_XYZ
XYZ50_TO_SRGB: Floats = np.linalg.inv(SRGB_TO_XYZ50)


def lab_from_xyz(xyz: Floats, white: Floats = WHITE_D50) -> Floats:
    """CIELAB (…, 3) of XYZ (…, 3) relative to `white`. Source: CIE 015:2018, 8.2.1."""
    t = xyz / white
    f = np.where(t > _EPSILON, np.cbrt(np.maximum(t, 0.0)), (_KAPPA * t + 16) / 116)
    return np.stack([116 * f[..., 1] - 16, 500 * (f[..., 0] - f[..., 1]), 200 * (f[..., 1] - f[..., 2])], axis=-1)


def xyz_from_lab(lab: Floats, white: Floats = WHITE_D50) -> Floats:
    """XYZ (…, 3) of CIELAB (…, 3) relative to `white`. Source: CIE 015:2018, annex C."""
    fy = (lab[..., 0] + 16) / 116
    f = np.stack([fy + lab[..., 1] / 500, fy, fy - lab[..., 2] / 200], axis=-1)
    cube = f * f * f
    t = np.where(cube > _EPSILON, cube, (116 * f - 16) / _KAPPA)
    out: Floats = t * white.astype(t.dtype)
    return out


def encode_srgb(linear: Floats) -> Floats:
    """Non-linear sRGB, 0-1, of linear sRGB (IEC 61966-2-1); values outside 0-1 keep their sign."""
    size = np.abs(linear)
    return np.sign(linear) * np.where(size <= 0.0031308, 12.92 * size, 1.055 * np.maximum(size, 1e-12) ** (1 / 2.4) - 0.055)


def decode_srgb(encoded: Floats) -> Floats:
    """Linear sRGB of non-linear sRGB, both 0-1 (IEC 61966-2-1)."""
    return np.where(encoded <= 0.04045, encoded / 12.92, ((np.maximum(encoded, 0) + 0.055) / 1.055) ** 2.4)


def xyz50_from_srgb(encoded: Floats) -> Floats:
    """XYZ under D50, by Bradford, of non-linear sRGB 0-1."""
    out: Floats = decode_srgb(encoded) @ SRGB_TO_XYZ50.T
    return out


def lab_from_srgb(encoded: Floats) -> Floats:
    """D50 CIELAB (…, 3) of non-linear sRGB 0-1 (…, 3)."""
    return lab_from_xyz(xyz50_from_srgb(encoded))


def srgb_from_lab(lab: Floats) -> tuple[Floats, Bools]:
    """Non-linear sRGB clipped to 0-1 (…, 3) and whether the colour was inside sRGB (…) of D50 CIELAB."""
    linear = xyz_from_lab(np.asarray(lab, dtype=float)) @ XYZ50_TO_SRGB.T
    encoded = encode_srgb(linear)
    inside: Bools = np.all((encoded >= -5e-4) & (encoded <= 1 + 5e-4), axis=-1)
    return np.clip(encoded, 0.0, 1.0), inside


def hex_from_lab(lab: Floats) -> tuple[str, bool]:
    """``#rrggbb`` of one D50 CIELAB colour, clipped for each channel, and whether it was inside sRGB."""
    shown, inside = hexes_from_lab(np.asarray(lab)[None])
    return shown[0], bool(inside[0])


def hexes_from_lab(labs: Floats) -> tuple[list[str], Bools]:
    """The same of many colours (n, 3) at once: n texts, and whether each was inside (n,)."""
    encoded, inside = srgb_from_lab(labs)
    whole = np.rint(encoded * 255).astype(int) @ (1 << 16, 1 << 8, 1)
    return [f"#{v:06x}" for v in whole.tolist()], inside


def lab_from_hex(text: str) -> Floats:
    """D50 CIELAB of ``#rrggbb``. Raises ValueError when the text is not six hexadecimal digits."""
    found = HEX.fullmatch(text.strip())
    if found is None:
        raise ValueError(f"“{text}” is not a colour like #a1b2c3")
    digits = found[1]
    return lab_from_srgb(np.array([int(digits[i : i + 2], 16) / 255 for i in (0, 2, 4)]))


def lab_d65_from_lab_d50(lab: Floats) -> Floats:
    """CIELAB relative to D65 of CIELAB relative to D50, by Bradford (ITA° is defined under D65)."""
    return lab_from_xyz(xyz_from_lab(lab) @ np.linalg.inv(_D65_TO_D50).T, WHITE_D65)
