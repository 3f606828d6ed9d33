"""From a solid swatch to a colourant: its absorption and scattering per unit deposit."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from caltin_core.colour.spectra import lab_from_reflectance
from caltin_core.colour.tables import BANDS, Floats
from caltin_core.media.film import film_over, seen_together
from caltin_core.media.hand import Hand
from caltin_core.media.layers import STROKE_INDEX, Stroke
from caltin_core.media.pencil import BINDERS, Colourants, bare, lay, strokes_on
from caltin_core.media.tooth import QUANTILES, TEETH

Rows = slice | NDArray[np.intp]

SOLID = Stroke("burnish", 3)
_K_LEAST, _K_MOST, _S_MOST = 1e-5, 1e4, 60.0
# A black is a solid with L* < 28 and C* < 8.
BLACK_LIGHTNESS, BLACK_CHROMA = 28.0, 8.0


@dataclass(frozen=True)
class Handling:
    """How a stick behaves: hardness 1 (soft) to 5 (hard) and the faults one plans around."""

    hardness: int = 3
    weak: bool = False
    crumbles: bool = False
    chalky: bool = False
    keeps_point: bool = True

    def deposit(self) -> float:
        """Deposit in one pass against an ordinary stick; common practice: hard and weak leads lay less."""
        return (1 + 0.1 * (3 - self.hardness)) * (0.75 if self.weak else 1.0)

    def burden(self) -> float:
        """What the search adds to a difference for using this stick, in ΔE00; common practice."""
        return 0.01 * (self.weak + self.crumbles + self.chalky + (not self.keeps_point))


@dataclass(frozen=True)
class Ground:
    """A sheet: its reflectance (31,) and the name of its tooth."""

    reflectance: Floats
    tooth: str


@dataclass(frozen=True)
class Swatch:
    """One colour of a kit: its solid (three burnished passes) as reflectance (31,), on the ground it was laid."""

    id: str
    solid: Floats
    medium: str
    on: Ground
    handling: Handling = field(default_factory=Handling)
    name: str = ""
    measured: bool = False

    @property
    def called(self) -> str:
        """The name to say it by."""
        return self.name or self.id

    @property
    def lab(self) -> Floats:
        """D50 CIELAB (3,) of the solid."""
        return lab_from_reflectance(self.solid)

    @property
    def is_black(self) -> bool:
        """Whether it counts as a black."""
        lightness, a, b = (float(v) for v in self.lab)
        return lightness < BLACK_LIGHTNESS and float(np.hypot(a, b)) < BLACK_CHROMA


def solid_deposit(swatch: Swatch, hand: Hand) -> Floats:
    """Deposit (Q,) of the solid on its own ground: three burnished passes of the hand that swatched it."""
    tooth, binder = TEETH[swatch.on.tooth], BINDERS[swatch.medium]
    one = Colourants(
        k=np.ones((1, 1)), s=np.ones((1, 1)), deposit=np.array([binder.deposit * swatch.handling.deposit()]),
        merge=np.array([binder.merge]), even=np.array([binder.even]),
    )  # fmt: skip
    first = np.zeros(1, dtype=np.intp)
    drawn = lay(bare(np.array([0.5]), 1), one, strokes_on(tooth, hand), tooth, first, first + STROKE_INDEX[SOLID])
    out: Floats = drawn.thick[0]
    return out


def colourants(swatches: Sequence[Swatch], hand: Hand, scattering: float = 1.0) -> Colourants:
    """Solve K and S (N, 31) of every swatch so that its solid comes out as it was swatched.

    S is assumed from the binder and the solid's own lightness (pale pencils carry more filler), times
    `scattering`; K is then solved for each band. Where a solid is lighter than its ground, S is raised
    to what that needs.
    """
    binders = [BINDERS[s.medium] for s in swatches]
    solid = np.array([s.solid for s in swatches]).reshape(-1, BANDS)
    ground = np.array([s.on.reflectance for s in swatches]).reshape(-1, BANDS)
    deposit = np.array([solid_deposit(s, hand) for s in swatches]).reshape(-1, QUANTILES)
    light = (lab_from_reflectance(solid)[:, 0] / 100) ** 2
    dark_s = np.array([b.scatter_dark for b in binders])
    light_s = np.array([b.scatter_light for b in binders])
    s = np.repeat((scattering * (dark_s + (light_s - dark_s) * light))[:, None], solid.shape[1], axis=1)

    def seen(k: Floats, s: Floats, rows: Rows = slice(None)) -> Floats:
        return seen_together(film_over(ground[rows, None, :], k[:, None, :], s[:, None, :], deposit[rows]))

    clear = np.full_like(s, _K_LEAST)
    short = seen(clear, s) < solid
    pale = np.flatnonzero(short.any(axis=1))
    if pale.size:
        most = np.full_like(s[pale], _S_MOST)
        needed = _bisect(lambda trial: seen(clear[pale], trial, pale), solid[pale], s[pale], most, rising=True)
        s[pale] = np.where(short[pale], needed, s[pale])
    k = _bisect(lambda trial: seen(trial, s), solid, clear, np.full_like(s, _K_MOST), rising=False)
    return Colourants(
        k=k, s=s, deposit=np.array([b.deposit * w.handling.deposit() for b, w in zip(binders, swatches, strict=True)]),
        merge=np.array([b.merge for b in binders]), even=np.array([b.even for b in binders]),
    )  # fmt: skip


def _bisect(f: Callable[[Floats], Floats], goal: Floats, low: Floats, high: Floats, *, rising: bool, steps: int = 26) -> Floats:
    """Where monotone `f` meets `goal`, element by element, on a logarithmic scale."""
    low, high = np.log(low), np.log(high)
    for _ in range(steps):
        middle = (low + high) / 2
        past = (f(np.exp(middle)) > goal) == rising
        low, high = np.where(past, low, middle), np.where(past, middle, high)
    out: Floats = np.exp((low + high) / 2)
    return out
