"""Wax and oil pencil on toothed paper.

A pass deposits much on the peaks and little in the valleys. Each depth quantile of the tooth carries its
own stack of films, computed by finite-layer Kubelka-Munk over what lies below; what is seen is their
Yule-Nielsen mean. Burnishing works a share of the film below into the new one, evens out the quantiles
and leaves a surface that takes hold only weakly.

Shapes: B stacks computed together, Q = 6 quantiles, 31 bands.
"""

from dataclasses import dataclass, replace
from types import MappingProxyType

import numpy as np
from numpy.typing import NDArray

from caltin_core.colour.tables import Floats
from caltin_core.media.film import THINNEST, film_over
from caltin_core.media.hand import BURNISH, POINTS, PRESSURES, Hand
from caltin_core.media.layers import STROKES
from caltin_core.media.tooth import RELIEF, Tooth

Ints = NDArray[np.intp]
Bools = NDArray[np.bool_]

# Share of a fresh surface's take-up that is left after burnishing (common practice: "only weakly").
GRIP_AFTER_BURNISH, GRIP_BURNISH_AGAIN = 0.25, 0.5


@dataclass(frozen=True)
class Binder:
    """What the binder does: deposit against wax, share of the film below a burnish moves, how it evens."""

    deposit: float
    merge: float
    even: float
    scatter_dark: float
    scatter_light: float


BINDERS = MappingProxyType(
    {
        "wax_pencil": Binder(deposit=1.0, merge=0.6, even=0.35, scatter_dark=0.03, scatter_light=0.13),
        "oil_pencil": Binder(deposit=0.8, merge=0.4, even=0.25, scatter_dark=0.035, scatter_light=0.14),
    }
)
# (share of the film below worked in, evening of the quantiles, leaves a burnished surface)
BLENDINGS = MappingProxyType(
    {"finger": (0.15, 0.15, False), "stump": (0.3, 0.25, False), "blender": (0.6, 0.4, True), "solvent": (0.9, 0.7, False)}
)
LIFTINGS = MappingProxyType({"kneaded": 0.15, "stick": 0.4, "knife": 0.7})


@dataclass(frozen=True)
class Drawn:
    """What lies on the paper, for B stacks at once.

    Attributes: `fill` (B, Q) deposit held; `base` (B, Q, 31) reflectance under the top film; `k`, `s`
    (B, 1 or Q, 31) absorption and scattering of the top film per unit deposit and `thick` (B, Q) its
    deposit; `seen` (B, Q, 31) reflectance of the whole; `burnished` (B,) bool; `below` the state that
    the top film was laid on, or None on bare ground.
    """

    fill: Floats
    base: Floats
    k: Floats
    s: Floats
    thick: Floats
    seen: Floats
    burnished: Bools
    below: "Drawn | None" = None

    def take(self, rows: Ints, depth: int = 1) -> "Drawn":
        """The stacks at `rows`, with `depth` states below remembered."""
        below = self.below.take(rows, depth - 1) if self.below is not None and depth > 0 else None
        return Drawn(
            self.fill[rows], self.base[rows], self.k[rows], self.s[rows], self.thick[rows], self.seen[rows],
            self.burnished[rows], below,
        )  # fmt: skip


@dataclass(frozen=True)
class Colourants:
    """The kit as arrays over its N colours: K, S (N, 31) per unit deposit and how each is laid (N,)."""

    k: Floats
    s: Floats
    deposit: Floats
    merge: Floats
    even: Floats


@dataclass(frozen=True)
class Strokes:
    """Every stroke of `layers.STROKES` for one hand on one tooth: rates (96, Q) and burnish facts (96,)."""

    rate: Floats
    again: Floats
    burnish: Bools


def strokes_on(tooth: Tooth, hand: Hand) -> Strokes:
    """What every stroke would deposit on each quantile (96, Q) of an endless fresh tooth."""
    pressure = np.array([PRESSURES.index(s.pressure) for s in STROKES])
    side = np.array([POINTS.index(s.point) for s in STROKES]).astype(bool)
    turned = np.array([s.turned for s in STROKES])
    passes = np.array([s.passes for s in STROKES], dtype=float)
    burnish = pressure == BURNISH
    deposit = np.array(hand.deposit)[pressure] * np.where(side, hand.side_deposit, 1.0)
    reach = np.array(hand.reach)[pressure] * np.where(side, hand.side_reach, 1.0)
    reach = reach * np.where(turned, hand.turned_reach, 1.0)
    one = deposit[:, None] * np.exp(-tooth.valleys() / reach[:, None])
    return Strokes(one * passes[:, None], np.where(burnish, passes - 1, 0.0) / passes, burnish)


def bare(reflectance: Floats, count: int, used: float = 0.0, tooth: Tooth | None = None) -> Drawn:
    """`count` stacks of nothing on a ground of one `reflectance` (31,), its tooth `used` 0-1 already."""
    shape = (count, RELIEF.size, reflectance.size)
    ground = np.broadcast_to(reflectance, shape)
    fill = np.full(shape[:2], used * tooth.capacity if tooth else 0.0, dtype=reflectance.dtype)
    clear = np.ones((count, 1, reflectance.size), dtype=reflectance.dtype)
    return Drawn(fill, ground, clear, clear, np.zeros_like(fill), ground, np.zeros(count, dtype=bool))


def lay(drawn: Drawn, colours: Colourants, strokes: Strokes, tooth: Tooth, colour: Ints, stroke: Ints) -> Drawn:
    """Lay one layer on each of B stacks: `colour` (B,) into the kit, `stroke` (B,) into `STROKES`."""
    burnish = strokes.burnish[stroke]
    # A burnished surface grips weakly; the later passes of one burnish meet a surface burnished already.
    first = np.where(drawn.burnished, np.where(burnish, GRIP_BURNISH_AGAIN, GRIP_AFTER_BURNISH), 1.0)
    again = strokes.again[stroke]
    grip = first * (1 - again) + GRIP_BURNISH_AGAIN * again
    rate = strokes.rate[stroke] * (grip * colours.deposit[colour])[:, None]
    # Evening out may have filled a valley to the brim.
    room = np.maximum(tooth.capacity - drawn.fill, 0)
    thick = (room * -np.expm1(-rate / tooth.capacity)).astype(drawn.fill.dtype, copy=False)
    if burnish.any():
        spread = np.where(burnish, colours.even[colour], 0.0).astype(thick.dtype)[:, None]
        thick = thick + spread * (thick.mean(axis=1, keepdims=True) - thick)
    k, s = colours.k[colour][:, None, :], colours.s[colour][:, None, :]
    fill, held = drawn.fill + thick, drawn.burnished | burnish
    if burnish.all():
        film = Drawn(fill, drawn.seen, k, s, thick, drawn.seen, held, drawn)
        return work_in(film, colours.merge[colour])
    laid = Drawn(fill, drawn.seen, k, s, thick, film_over(drawn.seen, k, s, thick), held, drawn)
    if not burnish.any():
        return laid
    rows = np.flatnonzero(burnish)
    return _put(laid, rows, work_in(laid.take(rows), colours.merge[colour[rows]]))


def _put(drawn: Drawn, rows: Ints, part: Drawn) -> Drawn:
    """`drawn` with the stacks at `rows` replaced by `part`, `below` too."""

    def put(whole: Floats, piece: Floats) -> Floats:
        shape = np.broadcast_shapes(whole.shape[1:], piece.shape[1:])
        out = np.broadcast_to(whole, (len(whole), *shape)).copy()
        out[rows] = piece
        return out

    below = drawn.below
    if below is not None and part.below is not None:
        under = part.below
        below = replace(
            below, fill=put(below.fill, under.fill), thick=put(below.thick, under.thick), seen=put(below.seen, under.seen)
        )
    return Drawn(
        put(drawn.fill, part.fill), put(drawn.base, part.base), put(drawn.k, part.k), put(drawn.s, part.s),
        put(drawn.thick, part.thick), put(drawn.seen, part.seen), drawn.burnished, below,
    )  # fmt: skip


def work_in(drawn: Drawn, merge: Floats) -> Drawn:
    """Mix the share `merge` (B,) of the film below into the top film. K and S add by amount; none is lost."""
    under = drawn.below
    if under is None:
        return drawn
    moved = merge[:, None] * under.thick
    left = under.thick - moved
    base = film_over(under.base, under.k, under.s, left)
    thick = drawn.thick + moved
    ours = np.divide(drawn.thick, thick, out=np.ones_like(thick), where=thick > THINNEST)[:, :, None]
    k = under.k + ours * (drawn.k - under.k)
    s = under.s + ours * (drawn.s - under.s)
    below = replace(under, thick=left, fill=under.fill - moved, seen=base)
    return replace(drawn, base=base, k=k, s=s, thick=thick, seen=film_over(base, k, s, thick), below=below)


def even_out(drawn: Drawn, share: float) -> Drawn:
    """Spread `share` of each quantile's top film over all of them; every amount is kept."""
    x = drawn.thick[:, :, None]
    kx, sx = drawn.k * x, drawn.s * x
    kx = kx + share * (kx.mean(axis=1, keepdims=True) - kx)
    sx = sx + share * (sx.mean(axis=1, keepdims=True) - sx)
    thick = drawn.thick + share * (drawn.thick.mean(axis=1, keepdims=True) - drawn.thick)
    unit = np.maximum(thick, THINNEST)[:, :, None]
    k, s = kx / unit, np.maximum(sx / unit, THINNEST)
    fill = drawn.fill + thick - drawn.thick
    return replace(drawn, fill=fill, k=k, s=s, thick=thick, seen=film_over(drawn.base, k, s, thick))


def blend(drawn: Drawn, kind: str) -> Drawn:
    """Blend what lies there by stump, finger, colourless blender or solvent."""
    if drawn.below is None:
        return drawn
    merge, even, polish = BLENDINGS[kind]
    worked = even_out(work_in(drawn, np.full(drawn.fill.shape[0], merge)), even)
    return replace(worked, burnished=drawn.burnished | polish)


def lift(drawn: Drawn, kind: str) -> Drawn:
    """Take off a share of what lies there, most from the peaks, from the top film downwards."""
    return _without(drawn, drawn.fill * LIFTINGS[kind] * (1 - 0.6 * RELIEF))


def _without(drawn: Drawn, amount: Floats) -> Drawn:
    """The same stacks with `amount` (B, Q) of deposit off the top."""
    if drawn.below is None:
        return drawn
    here = np.minimum(amount, drawn.thick)
    under = _without(drawn.below, amount - here)
    thick = drawn.thick - here
    seen = film_over(under.seen, drawn.k, drawn.s, thick)
    return replace(drawn, fill=under.fill + thick, base=under.seen, thick=thick, seen=seen, below=under)
