"""Pictures whose truth is known: shaded spheres of skin, colour charts under lights, line drawings. All made up here."""

import io
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

import numpy as np
from PIL import Image

from caltin_core.colour.spaces import SRGB_TO_XYZ, encode_srgb
from caltin_core.colour.tables import CMFS, ILLUMINANTS, WAVELENGTHS
from caltin_core.reference import areas
from caltin_core.reference.develop import PLAIN
from caltin_core.reference.picture import open_picture
from caltin_core.reference.points import proxy

PORTRAITS = Path(__file__).resolve().parents[2] / "demo" / "pictures"
# Skin before light, linear sRGB, as the demo's portraits are shaded: base and densities (demo/pictures/README.md).
# demo/pictures/README.md: amounts of melanin, and the key's direction, atan2(sin elevation, cos elevation · sin azimuth).
MELANINS = {"pilot": 2.0, "deckhand": 1.35, "cook": 1.05, "engineer": 0.62, "lamp-trimmer": 0.26, "purser": 0.17}
KEYS = {"pilot": 151.3, "deckhand": 104.1, "engineer": 235.0, "lamp-trimmer": 25.0, "purser": 163.2}
_BASE, _MELANIN, _BLOOD = np.array([0.86, 0.745, 0.62]), np.array([0.80, 1.06, 1.32]), np.array([0.07, 0.78, 0.62])


def bytes_of(linear, noise=0.0, seed=0):
    """sRGB bytes of linear sRGB, with noise of a camera (in codes)."""
    codes = 255 * encode_srgb(np.clip(linear, 0, 1))
    codes = codes + np.random.default_rng(seed).normal(0, noise, codes.shape) if noise else codes
    return np.clip(np.rint(codes), 0, 255).astype(np.uint8)


@dataclass
class Sphere:
    """A lit sphere of skin: bytes, the same without noise, its linear sRGB before both, and where it is."""

    pixels: np.ndarray
    clean: np.ndarray
    linear: np.ndarray
    mask: np.ndarray
    spot: np.ndarray


def sphere(
    melanin=0.8, blood=0.3, direction=120.0, frontal=0.6, exposure=1.0, flush=0.0, size=400, noise=1.5, seed=0, ambient=0.22
):
    """A Lambertian sphere before a plain grey ground; `direction` as `analyse` counts it; `flush` is more blood in a spot."""
    y, x = np.mgrid[0:size, 0:size]
    u, v = (x - size / 2) / (0.33 * size), (y - 0.47 * size) / (0.33 * size)
    r = np.hypot(u, v)
    mask = r < 1
    z = np.sqrt(np.clip(1 - r**2, 0, 1))
    turn = np.radians(direction)
    key = np.array([np.cos(turn) * np.sqrt(1 - frontal**2), -np.sin(turn) * np.sqrt(1 - frontal**2), frontal])
    shade = ambient + (1 - ambient) * np.clip(u * key[0] + v * key[1] + z * key[2], 0, 1)
    spot = (np.hypot(u + 0.25, v - 0.2) < 0.22) & mask
    more = blood + flush * spot
    skin = _BASE * np.exp(-melanin * _MELANIN - more[..., None] * _BLOOD)
    linear = np.where(mask[..., None], skin * shade[..., None] * exposure * 1.05, 0.18 * exposure)
    return Sphere(bytes_of(linear, noise, seed), bytes_of(linear), np.clip(linear, 0, 1), mask, spot)


def lab_of(pixels):
    return PLAIN.of_pixels(pixels)


def portrait(name, longest=640):
    return proxy(open_picture(PORTRAITS / f"{name}.jpg"), longest)


@lru_cache(maxsize=len(MELANINS))
def read(name):
    """A portrait's Lab, its skin, its zones as proposed and what is measured of them, by label."""
    lab = lab_of(portrait(name))
    skin = areas.skin_of(lab)
    proposal = areas.propose(lab, skin=skin)
    return lab, skin, proposal, {m.label: m for m in areas.measure(proposal.labels, lab)}


def chart(illuminant, exposure=0.5):
    """A ColorChecker seen by a camera balanced for D65 under another light: bytes, the white's XYZ, patch middles.

    Reflectances: colour-science's "BabelColor Average".
    """
    import colour

    sds = colour.SDS_COLOURCHECKERS["BabelColor Average"].values()
    reflectance = np.array([[sd[w] for w in WAVELENGTHS] for sd in sds])
    weights = CMFS * ILLUMINANTS[illuminant][:, None]
    weights = weights / weights[:, 1].sum()
    linear = reflectance @ weights * exposure @ np.linalg.inv(SRGB_TO_XYZ).T
    out = np.full((260, 380, 3), 0.03)
    middles = []
    for index, patch in enumerate(linear):
        row, column = divmod(index, 6)
        top, left = 10 + 60 * row, 10 + 60 * column
        out[top + 4 : top + 56, left + 4 : left + 56] = patch
        middles.append((left + 30, top + 30))
    return bytes_of(out), weights.sum(axis=0), middles


def line_drawing(size=(500, 600), gap=0):
    """Two nested closed shapes and one open line; `gap` opens the outer shape by so many pixels."""
    from PIL import ImageDraw

    image = Image.new("L", size, 255)
    draw = ImageDraw.Draw(image)
    draw.ellipse((100, 80, 400, 500), outline=0, width=4)
    draw.ellipse((180, 220, 240, 260), outline=0, width=3)
    draw.line((20, 20, 60, 580), fill=0, width=3)
    if gap:
        draw.rectangle((250 - gap // 2, 70, 250 + gap // 2, 95), fill=255)
    return np.repeat(np.array(image)[..., None], 3, axis=2)


def encoded(pixels, form="PNG", **more):
    out = io.BytesIO()
    (pixels if isinstance(pixels, Image.Image) else Image.fromarray(pixels)).save(out, form, **more)
    return out.getvalue()
