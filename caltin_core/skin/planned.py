"""The tones of a head that nobody has seen: a complexion under a light one makes up.

Every role is a piece of a head with a direction it faces, lit in spectra by a key, by a fill from all around, and by what a
neighbouring thing throws back. Light enters skin and leaves it beside, so that red light goes round an edge; what lies in a
hollow is lit by skin; a highlight is the key itself, thrown back by the surface (Cook & Torrance 1982). The eye takes most of
the colour of the light on the base for white (incomplete adaptation, after CIE 159:2004). Where roles lie on a head, and how far
they are hollow or flushed, are working values that common practice orders.
"""

from dataclasses import dataclass

import numpy as np

from caltin_core.colour.spaces import WHITE_D50, adaptation, lab_from_xyz, xyz_from_lab
from caltin_core.colour.spectra import reflectance_from_lab
from caltin_core.colour.tables import CMFS, WAVELENGTHS, Bools, Floats
from caltin_core.errors import BadRequest
from caltin_core.skin.chromophores import with_blood

# The degree of adaptation in ordinary room light, CIE 159:2004.
_ADAPTED = 0.9
# What a glimpse of the key itself counts for beside the light on the base.
_KNOWN = 0.1
# How far light wanders in skin at these wavelengths, in millimetres (from memory, after Jensen et al. 2001), and what share of the
# cosine's range a millimetre makes on a head: a working value.
_WANDERS = ((460.0, 550.0, 620.0), (0.68, 1.37, 3.67))
_ROUND = 0.04
# Skin's surface: what it throws back head on, and how rough it is (both from memory, after Weyrich et al. 2006).
_FRONT, _ROUGH, _MOST_SHEEN = 0.028, 0.3, 0.6
# What a neighbouring thing as large as a sleeve or a wall beside gives at strength 1, against the key.
_BOUNCED = 0.6
# What share of the fill comes from above more than from below, as a sky or a ceiling gives it.
_FROM_ABOVE = 0.15
# A head's round: places evenly over the disc in which it is seen.
_RINGS = 24
# What share of the lit part of a head is less lit than its lights, its base, its half-tones.
_LIGHT, _BASE, _HALF = 0.92, 0.5, 0.12
# Where less than this share of a head lies beyond the key, its least lit parts stand for the shadow; where the key falls on less
# than this of it, the parts beside belong to its lit form.
_LEAST_SHADOW, _LEAST_FORM = 0.06, 0.4
# The sky of a hollow: what share of all directions a place sees.
_OPEN, _SHADED, _NOOK, _SOCKET, _NOSTRIL = 1.0, 0.85, 0.3, 0.55, 0.06
# More blood than the base has, in the units of `chromophores`.
_FLUSHED, _LIPS = 0.2, 0.6
_EYE_WHITE, _TOOTH = (80.0, 0.0, 4.0), (82.0, 0.0, 9.0)
# Above this luminance tones are drawn together, so that nothing ends at white.
_SHOULDER = 0.75


# Things that often stand beside a sitter, D50 CIELAB: common practice.
THINGS = {
    "white cloth": (94.0, 0.0, 1.0), "warm wood": (52.0, 14.0, 28.0), "red cloth": (42.0, 52.0, 30.0),
    "green leaves": (48.0, -30.0, 30.0), "blue cloth": (38.0, 2.0, -38.0),
}  # fmt: skip


@dataclass(frozen=True)
class Key:
    """The light that makes the form: its spectrum (31,), and where it comes from in degrees: `elevation` above the horizon,
    -90 to 90, and `azimuth` about the head, 0 from the viewer, 90 from the right of the picture, 180 from behind."""

    spectrum: Floats
    elevation: float
    azimuth: float

    @property
    def direction(self) -> float:
        """Where it comes from in the plane of the picture: degrees anticlockwise, 0 from the right, 90 from above."""
        return float(np.degrees(np.arctan2(self.way[1], self.way[0])) % 360)

    @property
    def way(self) -> Floats:
        """Towards the light (3,): to the right of the picture, up, and to the viewer."""
        up, about = np.radians([self.elevation, self.azimuth])
        return np.array([np.cos(up) * np.sin(about), np.sin(up), np.cos(up) * np.cos(about)])


@dataclass(frozen=True)
class Bounce:
    """A thing beside the head that throws the key back: its reflectance (31,), and how much of it there is, 0-1."""

    reflectance: Floats
    strength: float


@dataclass(frozen=True)
class _Piece:
    """A piece of a head: what it reflects (31,), the way it faces (…, 3), what share of all directions it sees, and how much
    of the key reaches it."""

    reflects: Floats
    faces: Floats
    open: float
    lit: float = 1.0


class Head:
    """A complexion whose base is `base`, D50 CIELAB (3,), as it looks where plain light falls on it, under a key; `fill` (31,) is
    the spectrum of what comes from all around, `stops_below` the key.

    The base keeps its lightness, as an artist or a camera would expose it. Raises BadRequest for a base that is too dark to be lit.
    """

    def __init__(self, base: Floats, key: Key, fill: Floats, stops_below: float, bounce: Bounce | None = None) -> None:
        if base[0] < 2:
            raise BadRequest("base", "this is too dark to be lit")
        self.way = key.way
        stuffs = (base, with_blood(base, _FLUSHED), with_blood(base, _LIPS), np.array(_TOOTH), np.array(_EYE_WHITE))
        self.skin, *self.others = reflectance_from_lab(np.array(stuffs))
        self.key, around = (light / (light @ CMFS[:, 1]) for light in (key.spectrum, fill))
        self.fill = around * 2.0**-stops_below
        self.thrown = np.zeros_like(self.key) if bounce is None else _BOUNCED * bounce.strength * bounce.reflectance * self.key
        # What throws light back stands where the key falls on it: across from the key, and lower.
        self.back = _unit(np.array([-self.way[0], -0.35 - 0.3 * abs(self.way[1]), 0.25]))
        half = self.way + np.array([0.0, 0.0, 1.0])
        self.shining = _unit(half) if np.abs(half).max() > 1e-6 else np.array([0.0, 1.0, 0.0])
        self.round = _ROUND * np.interp(WAVELENGTHS, *_WANDERS)
        self.pieces = self._pieces()
        # Where hardly any light falls on the base it is still the key that the eye knows.
        white = (self._falls(self.pieces["base"]) + _KNOWN * self.key) @ CMFS
        self.adapted = adaptation(_ADAPTED * white / white[1] + (1 - _ADAPTED) * WHITE_D50, WHITE_D50)
        self.exposure = _wanted(float(xyz_from_lab(base)[1])) / (self.adapted @ self._seen(self.pieces["base"]))[1]

    def tones(self) -> dict[str, Floats]:
        """D50 CIELAB (3,) of every role, in the order an artist goes through them."""
        shine = self._seen(_Piece(self.skin, self.shining, _OPEN)) + self._sheen(self.shining)
        return {"highlight": self._shown(shine), **{role: self._shown(self._seen(piece)) for role, piece in self.pieces.items()}}

    def ball(self, size: int) -> tuple[Floats, Bools]:
        """The complexion as a ball in this light: D50 CIELAB (size, size, 3), and where the ball is."""
        at = (np.arange(size) + 0.5) / size * 2 - 1
        x, y = np.meshgrid(at, -at)
        inside = x**2 + y**2 < 1
        faces = np.stack([x, y, np.sqrt(np.maximum(1 - x**2 - y**2, 0))], axis=-1)[inside]
        out = np.zeros((size, size, 3))
        out[inside] = self._shown(self._seen(_Piece(self.skin, faces, _OPEN)) + self._sheen(faces))
        return out, inside

    def _falls(self, piece: _Piece) -> Floats:
        """The light (…, 31) that falls on a piece."""
        keyed = np.maximum((piece.faces @ self.way)[..., None] + self.round, 0) / (1 + self.round) * piece.lit
        thrown = self.thrown * np.maximum(piece.faces @ self.back, 0)[..., None]
        around = self.fill * (1 - _FROM_ABOVE + _FROM_ABOVE * piece.faces[..., 1:2])
        out: Floats = self.key * keyed + (around + thrown) * piece.open
        return out

    def _seen(self, piece: _Piece) -> Floats:
        """XYZ (…, 3) of a piece. In a hollow, skin lights skin: what it does not see of the light comes from its walls."""
        walls = (1 - piece.open) * self.skin
        out: Floats = (piece.reflects * self._falls(piece) / (1 - walls)) @ CMFS
        return out

    def _sheen(self, faces: Floats) -> Floats:
        """XYZ (…, 3) that the surface throws back of the key, over that of the key on white (Beckmann's slopes)."""
        lean = np.clip(faces @ self.shining, 0.05, 1.0)
        cosine = max(float(self.shining @ self.way), 0.05)
        fresnel = _FRONT + (1 - _FRONT) * (1 - cosine) ** 5
        most = min(fresnel / (4 * _ROUGH**2 * max(float(self.shining[2]), 0.05)), _MOST_SHEEN)
        share = most * np.exp((1 - 1 / lean**2) / _ROUGH**2) / lean**4
        out: Floats = share[..., None] * (self.key @ CMFS)
        return out

    def _shown(self, xyz: Floats) -> Floats:
        """D50 CIELAB (…, 3) of XYZ (…, 3) to an eye that has taken this light in."""
        return lab_from_xyz(_drawn_together(xyz @ self.adapted.T * self.exposure))

    def _pieces(self) -> dict[str, _Piece]:
        """Every role's piece, but the highlight's."""
        base, (flushed, lips, tooth, eye) = self.skin, self.others
        turns = _disc()
        cosines = turns @ self.way
        order = np.argsort(cosines, kind="stable")
        beyond, many = int((cosines <= 0).sum()), len(order)
        shadow = order[: max(beyond, round(_LEAST_SHADOW * many))]
        form = order[min(beyond, round((1 - _LEAST_FORM) * many)) :]
        light, usual, half = (turns[form[int(q * (len(form) - 1))]] for q in (_LIGHT, _BASE, _HALF))
        dark, towards = turns[shadow[len(shadow) // 2]], turns[shadow[int(np.argmax(turns[shadow] @ self.back))]]
        return {
            "light": _Piece(base, light, _OPEN),
            "base": _Piece(base, usual, _OPEN),
            "half_tone": _Piece(base, half, _OPEN),
            "shadow": _Piece(base, dark, _SHADED, 0.0),
            "deepest_accent": _Piece(base, dark, _NOOK, 0.0),
            "reflected_light": _Piece(base, towards, _OPEN, 0.0),
            "flush": _Piece(flushed, usual, _OPEN),
            "upper_lip": _Piece(lips, _facing(-0.45), _SHADED),
            "lower_lip": _Piece(lips, _facing(0.4), _OPEN),
            "teeth": _Piece(tooth, _facing(0.0), _SOCKET, 0.5),
            "eye_white": _Piece(eye, _facing(0.0), _SOCKET, 0.6),
            "nostril": _Piece(base, _facing(-0.9), _NOSTRIL, 0.0),
        }


def _drawn_together(xyz: Floats) -> Floats:
    """XYZ (…, 3) whose luminance, where it lies above the shoulder, comes near white but not to it, and whose colour goes as much
    of it goes: what is far too light bleaches."""
    room, over = 1 - _SHOULDER, np.maximum(xyz[..., 1:2] - _SHOULDER, 0.0)
    less = (over + room * np.expm1(-over / room)) / np.maximum(xyz[..., 1:2], 1e-9)
    out: Floats = (1 - less) * ((1 - less) * xyz + less * xyz[..., 1:2] * WHITE_D50)
    return out


def _wanted(luminance: float) -> float:
    """The luminance that is drawn together to this one."""
    room = 1 - _SHOULDER
    over = min(max(luminance - _SHOULDER, 0.0), 0.99 * room)
    return min(luminance, _SHOULDER) - room * float(np.log1p(-over / room))


def _unit(vector: Floats) -> Floats:
    out: Floats = vector / np.linalg.norm(vector)
    return out


def _facing(up: float) -> Floats:
    """The unit vector (3,) towards the viewer that goes so far up."""
    return np.array([0.0, up, np.sqrt(1 - up**2)])


def _disc() -> Floats:
    """Ways (n, 3) in which a round head faces, evenly over the disc that is seen of it."""
    radius = np.sqrt((np.arange(_RINGS) + 0.5) / _RINGS)
    angle = 2 * np.pi * (np.arange(4 * _RINGS) + 0.5) / (4 * _RINGS)
    r, a = (m.ravel() for m in np.meshgrid(radius, angle, indexing="ij"))
    return np.column_stack([r * np.cos(a), r * np.sin(a), np.sqrt(1 - r * r)])
