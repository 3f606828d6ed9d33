"""What lies on a sheet, layer after layer: films in the tooth, dye in the paper, covers on top.

A pass of a dry medium deposits much on the peaks and little in the valleys. Each depth quantile of the tooth carries
its own stack of films, computed by finite-layer Kubelka-Munk over what lies below; what is seen is their Yule-Nielsen
mean. A burnish works a share of the film below into the new one, evens out the quantiles and leaves a surface that
takes hold only weakly. A marker's dye is a film that does not scatter: its densities add (Beer-Lambert).

Shapes: B stacks computed together, Q quantiles of the tooth, any number of bands.
"""

from collections.abc import Sequence
from dataclasses import dataclass, fields, replace
from typing import Any

import numpy as np

from caltin_core.colour.tables import Bools, Floats, Ints
from caltin_core.media.film import THINNEST, on_grounds, over
from caltin_core.media.hand import BURNISH, POINTS, Hand
from caltin_core.media.layers import COAT, HARDNESS, STROKES
from caltin_core.media.medium import KINDS, Medium
from caltin_core.media.tooth import Tooth, passed

FILM, DYE, COVER = (KINDS.index(kind) for kind in ("film", "dye", "cover"))
# What a dye scatters, against its absorption nothing; and how much wax under it keeps it out (common practice).
CLEAR_DYE, KEPT_OUT = 1e-3, 0.8


@dataclass(frozen=True)
class Drawn:
    """What lies on the paper, for B stacks at once.

    Attributes: `fill` (B, Q) deposit the tooth holds; `base` (2, B, Q, bands) reflectance under the top film, on this
    ground and as it were on black; `k`, `s` (B, 1 or Q, bands) absorption and scattering of the top film per unit deposit
    and `thick` (B, Q) its deposit; `seen` (2, B, Q, bands) reflectance of the whole; `burnished` (B,) bool; `dyed` (B,) whether
    the top film is a dye that can be dissolved; `uptake` (B,) coats of such dye the paper holds, `dried` (B,) those of permanent
    dye; `loose` (B,) how easily the top film comes off, 0 for dye and covers; `soak` and `specks` (B,) those of the top film's
    `Medium`;
    `below` the state that the top film was laid on, or None on bare ground.
    """

    fill: Floats
    base: Floats
    k: Floats
    s: Floats
    thick: Floats
    seen: Floats
    burnished: Bools
    dyed: Bools
    uptake: Floats
    dried: Floats
    loose: Floats
    soak: Floats
    specks: Floats
    below: "Drawn | None" = None

    def take(self, rows: Ints, depth: int = 1) -> "Drawn":
        """The stacks at `rows`, with `depth` states below remembered."""
        below = self.below.take(rows, depth - 1) if self.below is not None and depth > 0 else None
        here = {name: getattr(self, name)[rows] for name in _ARRAYS}
        return Drawn(**here, base=self.base[:, rows], seen=self.seen[:, rows], below=below)


_ARRAYS = tuple(f.name for f in fields(Drawn) if f.name not in ("base", "seen", "below"))
_ALL = 10**6


def in_one(parts: Sequence[Drawn], depth: int = 1, rows: Sequence[Ints] | None = None) -> Drawn:
    """The stacks of all parts, one part's after the other's or each part's at its `rows` of the whole, with `depth` states below
    remembered. What lies below bare ground is that ground."""
    if len(parts) == 1:
        return parts[0]

    def joined(arrays: list[Any], axis: int = 0) -> Any:
        if rows is None:
            return np.concatenate(arrays, axis=axis)
        shape = list(arrays[0].shape)
        shape[axis] = sum(len(here) for here in rows)
        out = np.empty(shape, dtype=np.result_type(*arrays))
        for here, array in zip(rows, arrays, strict=True):
            out[(slice(None),) * axis + (here,)] = array
        return out

    def one(name: str) -> Any:
        arrays = [getattr(p, name) for p in parts]
        if name in ("k", "s"):
            many = max(a.shape[1] for a in arrays)
            arrays = [np.broadcast_to(a, (len(a), many, a.shape[2])) for a in arrays]
        return joined(arrays)

    def both(name: str) -> Any:
        return joined([getattr(p, name) for p in parts], axis=1)

    under = [p if p.below is None else p.below for p in parts]
    known = depth > 0 and any(p.below is not None for p in parts)
    below = in_one(under, depth - 1, rows) if known else None
    return Drawn(**{name: one(name) for name in _ARRAYS}, base=both("base"), seen=both("seen"), below=below)


@dataclass(frozen=True)
class Colourants:
    """The kit as arrays over its N colours: K, S (N, bands) per unit deposit and how each is laid (N,); see `Medium`."""

    k: Floats
    s: Floats
    kind: Ints
    deposit: Floats
    drag: Floats
    merge: Floats
    even: Floats
    grip_after: Floats
    grip_again: Floats
    slick: Bools
    permanent: Bools
    loose: Floats
    uptake: Floats
    refusal: Floats
    washes_wet: Floats
    washes_dry: Floats
    washes_share: Floats
    sinks: Floats
    crowds_wet: Floats
    crowds_dry: Floats
    soak: Floats
    specks: Floats
    heaps: Floats
    builds: Floats
    late: Floats

    def single(self) -> "Colourants":
        """The same in single precision."""
        every = {f.name: getattr(self, f.name) for f in fields(self)}
        return Colourants(**{name: v.astype(np.float32) if v.dtype == float else v for name, v in every.items()})


def manners(media: Sequence[Medium], deposit: Floats) -> dict[str, Any]:
    """How colours of these media are laid: all of `Colourants` but K and S; `deposit` (N,) is each stick's own."""
    names = (f.name for f in fields(Colourants) if f.name not in ("k", "s", "kind", "deposit", "slick", "permanent"))
    return {
        "kind": np.array([KINDS.index(m.kind) for m in media], dtype=np.intp), "deposit": deposit,
        "slick": np.array([m.slick for m in media], dtype=bool), "permanent": np.array([m.permanent for m in media], dtype=bool),
        **{name: np.array([getattr(m, name) for m in media], dtype=float) for name in names},
    }  # fmt: skip


@dataclass(frozen=True)
class Strokes:
    """Every stroke of `layers.STROKES` for one hand (S,): what a pass or coat brings, how deep a pass reaches, and facts."""

    brings: Floats
    reach: Floats
    burnish: Bools
    passes: Floats
    wet: Bools

    def single(self) -> "Strokes":
        """The same in single precision."""
        return replace(self, brings=self.brings.astype(np.float32), reach=self.reach.astype(np.float32))


def strokes_of(hand: Hand) -> Strokes:
    """What every stroke of a hand would bring to an endless fresh tooth, and how deep; a coat reaches everywhere."""
    brings = np.array(hand.deposit)[_PRESSURE] * np.where(_SIDE, hand.side_deposit, 1.0)
    reach = np.array(hand.reach)[_PRESSURE] * np.where(_SIDE, hand.side_reach, 1.0)
    reach = reach * np.where(_TURNED, hand.turned_reach, 1.0)
    return Strokes(np.where(_COAT, hand.coat, brings), reach, (_PRESSURE == BURNISH) & ~_COAT, _PASSES, _WET)


_PRESSURE = np.array(HARDNESS)
_SIDE = np.array([POINTS.index(s.point) == 1 for s in STROKES])
_TURNED, _WET = np.array([s.turned for s in STROKES]), np.array([s.wet for s in STROKES])
_PASSES = np.array([s.passes for s in STROKES], dtype=float)
_COAT = np.array([s.pressure == COAT for s in STROKES])


def bare(reflectance: Floats, count: int, tooth: Tooth, used: float = 0.0, uptake: float = 0.0) -> Drawn:
    """`count` stacks of nothing on a ground of one `reflectance` (bands,), its tooth `used` 0-1 and `uptake` coats of dye
    in it already."""
    ground = np.broadcast_to(on_grounds(reflectance[None]), (2, count, tooth.quantiles, reflectance.size))
    fill = np.full((count, tooth.quantiles), used * tooth.capacity, dtype=reflectance.dtype)
    clear = np.ones((count, 1, reflectance.size), dtype=reflectance.dtype)
    no = np.zeros(count, dtype=bool)
    one = np.ones(count, dtype=reflectance.dtype)
    return Drawn(fill, ground, clear, clear, np.zeros_like(fill), ground, no, no, uptake * one, 0 * one, one, 0 * one, 0 * one)


def lay(
    drawn: Drawn, colours: Colourants, strokes: Strokes, tooth: Tooth, colour: Ints, stroke: Ints, depth: int = _ALL
) -> Drawn:  # fmt: skip
    """Lay one layer on each of B stacks: `colour` (B,) into the kit, `stroke` (B,) into `STROKES`; at least `depth` states below
    are remembered, of which only what lifts and blends asks for more than one."""
    kind = colours.kind[colour]
    if (kind == FILM).all():
        return _film(drawn, colours, strokes, tooth, colour, stroke)
    parts, rows = [], []
    for which, laid in ((FILM, _film), (DYE, _coat), (COVER, _cover)):
        here = np.flatnonzero(kind == which)
        if len(here) == len(kind):
            return laid(drawn, colours, strokes, tooth, colour, stroke)
        if len(here):
            parts.append(laid(drawn.take(here, depth), colours, strokes, tooth, colour[here], stroke[here]))
            rows.append(here)
    return in_one(parts, depth, rows)


def _film(drawn: Drawn, colours: Colourants, strokes: Strokes, tooth: Tooth, colour: Ints, stroke: Ints) -> Drawn:
    burnish = strokes.burnish[stroke]
    # A burnished surface grips weakly; the later passes of one burnish meet a surface burnished already.
    weak, more = colours.grip_after[colour], colours.grip_again[colour]
    first = np.where(drawn.burnished, np.where(burnish, more, weak), 1.0)
    again = np.where(burnish, more, first)
    brings = strokes.brings[stroke] * colours.deposit[colour] * np.stack([first, again])
    held, over_full, meets = passed(
        drawn.fill, brings, strokes.reach[stroke], colours.builds[colour], strokes.passes[stroke], tooth
    )
    dtype = drawn.fill.dtype
    held, heaped = (x.astype(dtype, copy=False) for x in (held, colours.heaps[colour][:, None] * over_full))
    if burnish.any():
        spread = np.where(burnish, colours.even[colour], 0.0).astype(dtype)[:, None]
        held, heaped = (x + spread * (x.mean(axis=1, keepdims=True) - x) for x in (held, heaped))
    thick = held + heaped
    k, s = colours.k[colour][:, None, :], colours.s[colour][:, None, :]
    closed = (drawn.burnished | burnish) & colours.slick[colour]
    film = replace(
        drawn, fill=drawn.fill + held, base=drawn.seen, k=k, s=s, thick=thick, burnished=closed, dyed=np.zeros_like(drawn.dyed),
        loose=colours.loose[colour], soak=colours.soak[colour], specks=colours.specks[colour], below=drawn,
    )  # fmt: skip
    share = np.where(burnish, colours.merge[colour], colours.drag[colour]) * (drawn.loose > 0)
    # What the stroke does not meet stays as it was, and on the bare sheet there is nothing to work in.
    worked = (share[:, None] * meets).astype(dtype, copy=False)
    rows = np.flatnonzero(share if drawn.below is not None else [])
    if len(rows) == len(share):
        return work_in(film, worked)
    laid = replace(film, seen=over(drawn.seen, k, s, thick, film.soak, film.specks))
    return laid if not len(rows) else _put(laid, rows, work_in(laid.take(rows), worked[rows]))


def _coat(drawn: Drawn, colours: Colourants, strokes: Strokes, tooth: Tooth, colour: Ints, stroke: Ints) -> Drawn:
    """A marker's dye: it joins the dye below, pushes some of that away, and the paper takes less the fuller it is. A part of what
    is pushed away only sinks: it is not seen any more, but still takes room. What finds no room crowds out some of what has it. A
    permanent one dries on all that, and is only refused by what has dried so before."""
    wet, permanent = strokes.wet[stroke] & (drawn.uptake > 0), colours.permanent[colour]
    washes, crowds = (
        np.where(permanent, 0.0, np.where(wet, where_wet[colour], where_dry[colour]))
        for where_wet, where_dry in ((colours.washes_wet, colours.washes_dry), (colours.crowds_wet, colours.crowds_dry))
    )
    there = np.where(permanent, drawn.dried, drawn.uptake)
    passes = strokes.passes[stroke]
    holds, strength = colours.uptake[colour], colours.deposit[colour] * strokes.brings[stroke]
    strength = strength * (1 - KEPT_OUT * np.clip(drawn.fill.mean(axis=1) / tooth.capacity, 0, 1))
    refusal, late = colours.refusal[colour], colours.late[colour]

    def drinks(held: Floats) -> Floats:
        room = np.maximum(1 - (held / holds) ** late, 0) ** refusal
        out: Floats = np.minimum(strength * room, np.maximum(holds - held, 0))
        return out

    kept, new, below, ours = np.ones_like(washes), np.zeros_like(washes), there, np.zeros_like(washes)
    for turn in range(int(passes.max())):
        on, held = passes > turn, below + ours
        # A marker's solvent pushes the more, the more of it the paper still drinks.
        drunk = drinks(held)
        pushed = washes * (2 * drunk / np.maximum(drunk + held, THINNEST)) ** colours.washes_share[colour]
        away = np.where(on, np.minimum(pushed, 1), 0.0)
        gone = away * (1 - colours.sinks[colour])
        # Dye that lies under a film is out of reach.
        kept, below = (np.where(drawn.dyed, x * (1 - by), x) for x, by in ((kept, away), (below, gone)))
        new, ours = new * (1 - away), ours * (1 - gone)
        drunk = drinks(below + ours)
        # All that would lie there then has its part of the places that are fought for.
        crowded = np.where(on, crowds * (strength - drunk) / np.maximum(below + ours + strength, THINNEST), 0.0)
        won = crowded * (np.where(drawn.dyed, below, 0.0) + ours)
        kept, below = (np.where(drawn.dyed, x * (1 - crowded), x) for x in (kept, below))
        new, ours = (np.where(on, x * (1 - crowded) + drunk + won, x) for x in (new, ours))
    k, s = colours.k[colour][:, None, :], colours.s[colour][:, None, :]
    dtype = drawn.fill.dtype
    thick = np.repeat(new.astype(dtype)[:, None], tooth.quantiles, axis=1)
    kept = kept.astype(dtype)
    film = replace(
        drawn, base=drawn.seen, k=k, s=s, thick=thick, dyed=~permanent, loose=np.zeros_like(drawn.loose),
        soak=colours.soak[colour].astype(dtype), specks=colours.specks[colour].astype(dtype),
        uptake=np.where(permanent, drawn.uptake, below + ours).astype(dtype),
        dried=(drawn.dried + np.where(permanent, new, 0.0)).astype(dtype),
        below=replace(drawn, thick=drawn.thick * kept[:, None]),
    )  # fmt: skip
    return work_in(film, (drawn.dyed & ~permanent).astype(dtype)[:, None])


def _cover(drawn: Drawn, colours: Colourants, strokes: Strokes, tooth: Tooth, colour: Ints, stroke: Ints) -> Drawn:
    """An opaque cover: the same on peaks and in valleys, and none of the tooth used."""
    k, s = colours.k[colour][:, None, :], colours.s[colour][:, None, :]
    amount = (strokes.brings[stroke] * strokes.passes[stroke] * colours.deposit[colour]).astype(drawn.fill.dtype)
    thick = np.repeat(amount[:, None], tooth.quantiles, axis=1)
    no, soak, specks = np.zeros_like(drawn.dyed), colours.soak[colour], colours.specks[colour]
    return replace(
        drawn, base=drawn.seen, k=k, s=s, thick=thick, seen=over(drawn.seen, k, s, thick, soak, specks), burnished=no, dyed=no,
        loose=colours.loose[colour], soak=soak, specks=specks, below=drawn,
    )  # fmt: skip


def _put(drawn: Drawn, rows: Ints, part: Drawn) -> Drawn:
    """`drawn` with the stacks at `rows` replaced by `part`, `below` too."""

    def put(whole: Floats, piece: Floats) -> Floats:
        shape = np.broadcast_shapes(whole.shape[1:], piece.shape[1:])
        out = np.broadcast_to(whole, (len(whole), *shape)).copy()
        out[rows] = piece
        return out

    def both(whole: Floats, piece: Floats) -> Floats:
        out = whole.copy()
        out[:, rows] = piece
        return out

    below = drawn.below
    if below is not None and part.below is not None:
        under = part.below
        below = replace(below, thick=put(below.thick, under.thick), seen=both(below.seen, under.seen))
    return replace(
        drawn, base=both(drawn.base, part.base), k=put(drawn.k, part.k), s=put(drawn.s, part.s),
        thick=put(drawn.thick, part.thick), seen=both(drawn.seen, part.seen), below=below,
    )  # fmt: skip


def work_in(drawn: Drawn, merge: Floats) -> Drawn:
    """Mix the share `merge` (B, Q or 1) of the film below into the top film. K and S add by amount; none is lost."""
    under = drawn.below
    if under is None:
        return drawn
    moved = (merge * under.thick).astype(drawn.thick.dtype, copy=False)
    left = under.thick - moved
    base = over(under.base, under.k, under.s, left, under.soak, under.specks)
    thick = drawn.thick + moved
    # Both shares by themselves: what is left of 1 would say too little of a very strong film.
    there = thick > THINNEST
    ours = np.divide(drawn.thick, thick, out=np.ones_like(thick), where=there)[:, :, None]
    theirs = np.divide(moved, thick, out=np.zeros_like(thick), where=there)[:, :, None]
    k = ours * drawn.k + theirs * under.k
    s = ours * drawn.s + theirs * under.s
    below = replace(under, thick=left, seen=base)
    seen = over(base, k, s, thick, drawn.soak, drawn.specks)
    return replace(drawn, base=base, k=k, s=s, thick=thick, seen=seen, below=below)
