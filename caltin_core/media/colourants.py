"""From a solid swatch to a colourant: its absorption and scattering per unit deposit."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, Literal

import numpy as np

from caltin_core.colour.spectra import lab_from_reflectance, reflectance_from_lab
from caltin_core.colour.tables import BAND_START, BAND_STOP, Bools, Floats, Ints
from caltin_core.errors import BadRequest
from caltin_core.media.film import DARKEST_FILM, film_over, on_grounds, over, seen_through
from caltin_core.media.fits import COLOUR, MANNER, ColourFit, colour_spread, medium_with, sheet_rows, tinted, tooth_with
from caltin_core.media.hand import MEMBERS, Hand
from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import COAT, STROKE_INDEX, Stroke
from caltin_core.media.medium import Medium
from caltin_core.media.stack import CLEAR_DYE, FILM, Colourants, bare, lay, manners, strokes_of
from caltin_core.media.tooth import QUANTILES, TEETH, Tooth

Rows = slice | Ints

# How a solid is laid: three burnished passes of a dry medium, one dry coat of any other.
SOLID, SOLID_COAT = Stroke("burnish", 3), Stroke(COAT, 1)
# Where a filler scatters as much as it does on the whole, in nm.
_MIDDLE = 550.0
_K_LEAST, _K_MOST, _S_MOST = 1e-5, 1e4, 60.0
# K and S are found on a scale that is even near nothing and logarithmic from about `_EVEN` on: a few halvings lead near, a first
# step and some secants there. What these do not meet is halved to the end.
_EVEN, _NEAR, _WHOLE, _FIRST, _SECANTS = 0.01, 6, 26, 0.05, 6
# How far a solid may come out from how it was swatched, as a share of what it reflects.
EXACT = 1e-6


def solid_of(kind: str) -> Stroke:
    """How the solid swatch of a film, dye or cover is laid."""
    return SOLID if kind == "film" else SOLID_COAT


# A black is a solid with L* < 28 and C* < 8.
BLACK_LIGHTNESS, BLACK_CHROMA = 28.0, 8.0


Nib = Literal["", "brush", "chisel"]
_NIBS: dict[Nib, float] = {"": 1.0, "brush": 1.15, "chisel": 0.9}


@dataclass(frozen=True)
class Handling:
    """How a stick behaves: hardness 1 (soft) to 5 (hard), the faults one plans around, and a marker's nib, where it was said."""

    hardness: int = 3
    weak: bool = False
    crumbles: bool = False
    chalky: bool = False
    keeps_point: bool = True
    nib: Nib = ""

    def deposit(self) -> float:
        """Deposit in one pass against an ordinary stick; common practice: hard and weak leads lay less, a brush nib lays wetter
        than a chisel, so that paper is full sooner."""
        return (1 + 0.1 * (3 - self.hardness)) * (0.75 if self.weak else 1.0) * _NIBS[self.nib]

    def burden(self) -> float:
        """What the search adds to a difference for using this stick, in ΔE00; common practice."""
        return 0.01 * (self.weak + self.crumbles + self.chalky + (not self.keeps_point))


@dataclass(frozen=True)
class Ground:
    """A sheet: its reflectance (bands,), the name of its tooth, and what calibration moved of it.

    `fit` (9,) are offsets of the named tooth, `members` (M, 9) those of every member of the ensemble; `quantiles` is into how
    many its depths are parted.
    """

    reflectance: Floats
    tooth: str
    fit: tuple[float, ...] = ()
    members: tuple[tuple[float, ...], ...] = ()
    quantiles: int = QUANTILES

    @cached_property
    def teeth(self) -> Tooth:
        """The tooth as measured, or as its name has it."""
        named = replace(TEETH[self.tooth], quantiles=self.quantiles)
        return tooth_with(named, np.array(self.fit)) if self.fit else named

    def fitted(self) -> dict[str, Any]:
        """What calibration found, as the command line carries it."""
        return {"tooth": list(self.fit), "members": [list(m) for m in self.members]}


def sheet_from_fitted(ground: Ground, fitted: dict[str, Any]) -> Ground:
    """The sheet with what `Ground.fitted` gave. Raises BadRequest when it is something else."""
    if set(fitted) != {"tooth", "members"}:
        raise BadRequest("fitted", "this is not a sheet that Caltin fitted")
    (fit,), members = sheet_rows([fitted["tooth"]]), sheet_rows(fitted["members"])
    if len(members) not in (0, MEMBERS):
        raise BadRequest("fitted.members", "this is not a sheet that Caltin fitted")
    return replace(ground, fit=fit, members=members)


@dataclass(frozen=True)
class Swatch:
    """One colour of a kit: its solid as reflectance (bands,), on the ground it was laid, and what calibration moved.

    `measured` tells a measured spectrum from one made up from a colour.
    """

    id: str
    solid: Floats
    medium: str
    on: Ground
    handling: Handling = field(default_factory=Handling)
    name: str = ""
    measured: bool = False
    fit: ColourFit = field(default_factory=ColourFit)

    @property
    def kind(self) -> str:
        """Film, dye or cover."""
        return MEDIA[self.medium].kind

    @property
    def called(self) -> str:
        """The name to say it by."""
        return self.name or self.id

    @property
    def spread(self) -> Floats:
        """Covariance (9, 9) of its own offsets before a patch of it was measured."""
        return colour_spread(self.solid, self.measured)

    @cached_property
    def lab(self) -> Floats:
        """D50 CIELAB (3,) of the solid."""
        return lab_from_reflectance(self.solid)

    @cached_property
    def is_black(self) -> bool:
        """Whether it counts as a black."""
        lightness, a, b = (float(v) for v in self.lab)
        return lightness < BLACK_LIGHTNESS and float(np.hypot(a, b)) < BLACK_CHROMA


def solids_from_lab(labs: Sequence[Floats], grounds: Sequence[Ground], media: Sequence[str]) -> list[Floats]:
    """Smooth reflectances (31,) of solids known by their D50 Lab (3,) only, each on its ground, each of its medium.

    Colour can only take from what its medium would throw back without any: of a dye the bare sheet, of a film what its
    filler makes of that, so that a pastel may be lighter than its paper and a pencil hardly.
    """
    if not labs:
        return []
    tones = np.array(labs)
    # Not swatched yet: all of an ordinary stick's manner is known but how it looks.
    plain = [Swatch("", g.reflectance, m, g) for m, g in zip(media, grounds, strict=True)]
    kinds = [MEDIA[m] for m in media]
    light = ((tones[:, 0] + 16) / 116) ** 3
    teeth = [g.teeth for g in grounds]
    below = on_grounds(_inside(teeth, np.array([g.reflectance for g in grounds])))
    s = _scattering(kinds, light, below.shape[-1])[:, None, :]
    deposit = _solid_deposits(plain, manners(kinds, _laid(plain, kinds)), Hand())
    films = film_over(below, np.zeros((1, 1, below.shape[-1])), s, deposit)
    inside = seen_through(films, np.array([[t.spread] for t in teeth]))
    return list(reflectance_from_lab(tones, np.array([t.shown(most) for t, most in zip(teeth, inside, strict=True)])))


def _scattering(media: Sequence[Medium], lightness: Floats, bands: int) -> Floats:
    """Scattering per unit deposit (N, bands) of sticks whose solids reflect `lightness` (N,) on the whole; pale ones carry filler,
    and a dye is clear."""
    dark, light, bluer = (np.array([getattr(m, n) for m in media], dtype=float) for n in ("scatter_dark", "scatter_light", "bluer"))
    whole = dark + (light - dark) * np.clip(lightness, 0, 1)
    out: Floats = whole[:, None] * (np.linspace(BAND_START, BAND_STOP, bands) / _MIDDLE) ** -bluer[:, None]
    out[np.array([m.kind == "dye" for m in media], dtype=bool)] = CLEAR_DYE
    return out


def _manners(swatches: Sequence[Swatch]) -> list[Medium]:
    """The medium of each swatch as its fit has it; few different ones in a whole kit."""
    known = {key: medium_with(MEDIA[key[0]], key[1]) for key in {(s.medium, s.fit.manner) for s in swatches}}
    return [known[s.medium, s.fit.manner] for s in swatches]


def _solid_deposits(swatches: Sequence[Swatch], laid: dict[str, Any], hand: Hand) -> Floats:
    """Deposit (N, Q) of every solid, `laid` as its stick is, on its own ground by the hand that swatched it; all grounds are parted
    alike."""
    clear = np.ones((len(swatches), 1))
    colours = Colourants(clear, clear, **laid)
    how = np.where(laid["kind"] == FILM, STROKE_INDEX[SOLID], STROKE_INDEX[SOLID_COAT])
    known = _teeth(swatches)
    teeth = [known[id(s.on)] for s in swatches]
    out = np.zeros((len(swatches), teeth[0].quantiles if teeth else QUANTILES))
    for tooth in dict.fromkeys(teeth):
        rows = np.array([i for i, t in enumerate(teeth) if t == tooth], dtype=np.intp)
        blank = bare(np.array([0.5]), len(rows), tooth)
        out[rows] = lay(blank, colours, strokes_of(hand), tooth, rows, how[rows]).thick
    return out


def _teeth(swatches: Sequence[Swatch]) -> dict[int, Tooth]:
    """The tooth of each ground, by its identity; few different ones in a whole kit."""
    return {key: ground.teeth for key, ground in {id(s.on): s.on for s in swatches}.items()}


def _inside(teeth: Sequence[Tooth], measured: Floats) -> Floats:
    """What lies under the surfaces of sheets (N, bands) of what is measured on them."""
    out = measured.copy()
    for tooth in dict.fromkeys(teeth):
        rows = np.array([i for i, t in enumerate(teeth) if t == tooth], dtype=np.intp)
        out[rows] = tooth.inside(measured[rows])
    return out


def _laid(swatches: Sequence[Swatch], media: Sequence[Medium]) -> Floats:
    """Deposit in one pass, or dye in one coat (N,), of these sticks; what the fit says of their strength with it."""
    own = np.exp([s.fit.own[0] for s in swatches])
    out: Floats = own * [m.deposit * s.handling.deposit() for s, m in zip(swatches, media, strict=True)]
    return out


# K and S (N, bands) of almost the same kit.
Near = tuple[Floats, Floats]


def colourants(swatches: Sequence[Swatch], hand: Hand, within: float = EXACT, near: Near | None = None) -> Colourants:
    """K and S (N, bands) of every swatch of a kit that this hand swatched, see `colourants_of`."""
    (found,) = colourants_of([(swatches, hand)], within, near)
    return found


def colourants_of(
    kits: Sequence[tuple[Sequence[Swatch], Hand]], within: float = EXACT, near: Near | None = None
) -> list[Colourants]:  # fmt: skip
    """Solve K and S (N, bands) of every swatch of kits, each swatched by its hand, so that its solid comes out as it was swatched;
    many kits at once take little longer than one.

    S is assumed from the medium and the solid's own lightness (pale sticks carry more filler), moved by the fit; K is
    then solved for each band until the solid is met `within` such a share, more quickly from K and S of almost the same kits,
    `near`, one kit's after the other's. Where a solid is lighter than its ground, S is raised to what that needs; a dye is clear.
    """
    swatches = [s for kit, _ in kits for s in kit]
    ends = np.cumsum([len(kit) for kit, _ in kits]).tolist()
    parts = [slice(end - len(kit), end) for end, (kit, _) in zip(ends, kits, strict=True)]
    media = _manners(swatches)
    bands = swatches[0].solid.shape[-1] if swatches else 1
    own = np.array([s.fit.own for s in swatches]).reshape(len(swatches), COLOUR)
    solid = np.array([s.solid for s in swatches]).reshape(-1, bands)
    lightness = solid.mean(axis=1)
    if own.any():
        solid = tinted(solid, own[:, 2:])
    laid = manners(media, _laid(swatches, media))
    each = [{name: v[part] for name, v in laid.items()} for part in parts]
    deposit = np.concatenate([_solid_deposits(kit, of, hand) for (kit, hand), of in zip(kits, each, strict=True)])
    known = _teeth(swatches)
    teeth = [known[id(s.on)] for s in swatches]
    ground = on_grounds(_inside(teeth, np.array([s.on.reflectance for s in swatches]).reshape(-1, bands)))
    solid = _inside(teeth, solid)
    spread = np.array([t.spread for t in teeth]).reshape(-1, 1)
    more = np.exp([s.fit.own[1] + s.fit.manner[MANNER.index("scatter")] for s in swatches])
    dye = np.array([m.kind == "dye" for m in media], dtype=bool)
    s = _scattering(media, lightness, bands) * np.where(dye, 1.0, more)[:, None]
    soak, specks = laid["soak"], laid["specks"]

    def seen(k: Floats, s: Floats, rows: Rows = slice(None)) -> Floats:
        films = over(ground[:, rows], k[:, None, :], s[:, None, :], deposit[rows], soak[rows], specks[rows])
        return seen_through(films, spread[rows])

    clear = np.full_like(s, _K_LEAST)
    short = (seen(clear, s) < solid) & ~dye[:, None]
    pale = np.flatnonzero(short.any(axis=1))
    if pale.size:
        found = _Met(lambda trial, rows: seen(clear[pale[rows]], trial, pale[rows]), solid[pale], s[pale], _S_MOST, True)
        s[pale] = np.where(short[pale], found.within(within, near[1][pale] if near else None), s[pale])
    k = _Met(lambda trial, rows: seen(trial, s[rows], rows), solid, clear, _K_MOST, False).within(within, near[0] if near else None)
    return [Colourants(k[part], s[part], **of) for part, of in zip(parts, each, strict=True)]


@dataclass(frozen=True)
class _Met:
    """Where monotone `f` of values at some rows meets `goal`, element by element, from `least` to `most`."""

    f: Callable[[Floats, Rows], Floats]
    goal: Floats
    least: Floats
    most: float
    rising: bool

    def within(self, share: float, near: Floats | None) -> Floats:
        """Found so that `f` misses by such a share at most, beginning `near` where that is known."""
        every = np.arange(len(self.goal))
        out, met = self._beside(self._halved(every, _NEAR) if near is None else near, share)
        rows = np.flatnonzero(~met.all(axis=1))
        if rows.size:
            out[rows] = self._halved(rows, _WHOLE)
        return out

    def _halved(self, rows: Ints, steps: int) -> Floats:
        low, high, goal = _scaled(self.least[rows]), _scaled(self.most), self.goal[rows]
        for _ in range(steps):
            middle = (low + high) / 2
            past = (self.f(_unscaled(middle), rows) > goal) == self.rising
            low, high = np.where(past, low, middle), np.where(past, middle, high)
        return _unscaled((low + high) / 2)

    def _beside(self, near: Floats, share: float) -> tuple[Floats, Bools]:
        """By secants, each element by itself, and which of them are met."""
        low, high, goal = _scaled(self.least), _scaled(self.most), np.log(np.maximum(self.goal, DARKEST_FILM))

        def misses(at: Floats) -> Floats:
            return np.log(self.f(_unscaled(at), slice(None))) - goal

        before = np.clip(_scaled(near), low, high)
        at = np.where(before + _FIRST > high, before - _FIRST, before + _FIRST)
        was, here = misses(before), misses(at)
        for turn in range(_SECANTS + 1):
            # What lies beyond an end is as near as can be.
            down = (here > 0) == self.rising
            met = (np.abs(here) <= share) | np.where(down, at <= low, at >= high)
            if turn == _SECANTS or met.all():
                break
            level = here == was
            then = np.clip(at - here * (at - before) / np.where(level, 1, here - was), low, high)
            then = np.where(met, at, np.where(level, np.where(down, low, high), then))
            before, was, at, here = np.where(met, before, at), np.where(met, was, here), then, misses(then)
        return _unscaled(at), met


def _scaled(value: float | Floats) -> Floats:
    return np.asarray(np.log(np.add(value, _EVEN)))


def _unscaled(at: Floats) -> Floats:
    return np.asarray(np.exp(at) - _EVEN)
