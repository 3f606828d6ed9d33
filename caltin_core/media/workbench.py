"""A kit on a sheet in a hand, ready to predict, as it is fitted and in every member of the ensemble that doubts it."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache
from zlib import crc32

import numpy as np

from caltin_core.colour.spectra import lab_from_reflectance, thinned
from caltin_core.colour.tables import Floats, Ints
from caltin_core.media.acts import blend, lift
from caltin_core.media.colourants import EXACT, Ground, Near, Swatch, colourants, colourants_of
from caltin_core.media.fits import COLOUR, SHEET, ColourFit, hand_spread, hand_with, manner_doubt, possible, sheet_doubt
from caltin_core.media.hand import MEMBERS, Hand
from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import LIFTS, Lay, Layer
from caltin_core.media.stack import Colourants, Drawn, Strokes, bare, lay, strokes_of
from caltin_core.media.tooth import FEW_QUANTILES, Tooth

# Of what the ensemble differs by, every third band tells enough.
THIRD = 3
# How much harder or softer a hand draws from patch to patch, one standard deviation; common practice.
UNSTEADY = 0.06
_SMALL_KIT = 48
# How truly a solid comes out on a bench that is quick, as a share.
_ROUGH = 1e-4

# One layer of B stacks: colours and strokes (B, 2), or the kind of a blend or a lift.
Act = Ints | str


@dataclass(frozen=True)
class Start:
    """Where the layers begin when not on bare paper: a reflectance (31,), the share of tooth used and the coats of dye; or, where
    they are known, the `layers` that were laid before, else of which `medium` it is. `made_up` where the reflectance was made up
    from a colour."""

    reflectance: Floats
    tooth_used: float
    uptake: float = 0.0
    layers: tuple[Layer, ...] = ()
    medium: str | None = None
    made_up: bool = False


@dataclass(frozen=True)
class Workbench:
    """A kit on a sheet in a hand, ready to predict. Build it once and use it for many stacks.

    A `quick` bench computes in single precision. `near` are K and S of almost the same kit, which helps to find its own; `solved`
    are these, where they were found before.
    """

    swatches: tuple[Swatch, ...]
    ground: Ground
    hand: Hand = field(default_factory=Hand)
    quick: bool = False
    near: Near | None = None
    solved: Colourants | None = None

    @cached_property
    def tooth(self) -> Tooth:
        """The sheet's tooth."""
        return self.ground.teeth

    @cached_property
    def colourants(self) -> Colourants:
        """K and S of the kit. The swatches were made by this hand."""
        found = self.solved or colourants(self.swatches, self.hand, _ROUGH if self.quick else EXACT, self.near)
        return found.single() if self.quick else found

    @cached_property
    def single(self) -> "Workbench":
        """The same bench in single precision, of the same K and S."""
        return replace(self, quick=True, solved=self.colourants)

    @cached_property
    def noises(self) -> Floats:
        """What patches of each colour miss by beside all that the ensemble knows, and by which each further layer adds to that, in
        ΔE00 (2, N); NaN where no patch told."""
        fits = [s.fit for s in self.swatches]
        told = [(f.noise, f.further) if f.noise is not None else (np.nan, np.nan) for f in fits]
        return np.array(told, dtype=float).reshape(-1, 2).T

    @cached_property
    def strokes(self) -> Strokes:
        """What every stroke brings."""
        return self._strokes(self.hand)

    @cached_property
    def shaken(self) -> Strokes:
        """The same when the hand draws a little harder than its usual self, which made the swatches."""
        return self._strokes(self.hand.pressed(1 + UNSTEADY))

    def _strokes(self, hand: Hand) -> Strokes:
        strokes = strokes_of(hand)
        return strokes.single() if self.quick else strokes

    @cached_property
    def solids(self) -> Floats:
        """D50 CIELAB (N, 3) of the solids as swatched."""
        return lab_from_reflectance(np.array([s.solid for s in self.swatches]))

    def doubts(self, colours: Sequence[int]) -> "Doubts":
        """The same bench in every member of the ensemble, spectra and depths thinned, and where each of `colours` lies in its kit.
        Of a large kit only these colours are solved again.
        """
        if len(self.swatches) <= _SMALL_KIT:
            return self._all_doubts, np.arange(len(self.swatches))
        place = np.zeros(len(self.swatches), dtype=np.intp)
        place[list(colours)] = np.arange(len(colours))
        return self._members(colours), place

    @cached_property
    def _all_doubts(self) -> "tuple[Workbench, ...]":
        return self._members(range(len(self.swatches)))

    def _members(self, colours: Sequence[int]) -> "tuple[Workbench, ...]":
        hands, kit = _hands(self.hand), [self.swatches[c] for c in colours]
        k, s = (thinned(v[list(colours)], THIRD) for v in (self.colourants.k, self.colourants.s))
        own = [_colour_members(s) for s in kit]
        # What patches told of a colour holds with its solid as it was swatched, on a sheet of which they told nothing.
        on = [(s.on, bool(s.fit.members) and s.on is not self.ground) for s in kit]
        grounds = {(id(g), sure): _grounds(g, sure) for g, sure in ((self.ground, False), *on)}
        lies = [grounds[id(g), sure] for g, sure in on]
        thin = [thinned(s.solid, THIRD) for s in kit]
        kits = [tuple(replace(s, solid=thin[i], on=lies[i][m], fit=own[i][m]) for i, s in enumerate(kit)) for m in range(MEMBERS)]
        near = np.tile(k, (MEMBERS, 1)), np.tile(s, (MEMBERS, 1))
        found = colourants_of(list(zip(kits, hands, strict=True)), _ROUGH, near)
        here = grounds[id(self.ground), False]
        return tuple(Workbench(kits[m], here[m], hands[m], quick=True, solved=found[m]) for m in range(MEMBERS))

    def start(self, count: int, start: Start | None = None) -> Drawn:
        """`count` stacks with nothing laid yet."""
        if start is None:
            return bare(self._exact(self.tooth.inside(self.ground.reflectance)), count, self.tooth)
        return bare(self._exact(self.tooth.inside(start.reflectance)), count, self.tooth, start.tooth_used, start.uptake)

    def _exact(self, reflectance: Floats) -> Floats:
        return reflectance.astype(np.float32) if self.quick else reflectance

    def step(self, drawn: Drawn, act: "Act", shaken: bool = False) -> Drawn:
        """Lay, blend or lift once on each of B stacks."""
        if isinstance(act, str):
            return lift(drawn, act, self.hand) if act in LIFTS else blend(drawn, act, self.hand)
        strokes = self.shaken if shaken else self.strokes
        return lay(drawn, self.colourants, strokes, self.tooth, act[:, 0], act[:, 1])

    def used(self, drawn: Drawn) -> Floats:
        """Mean share of the tooth's capacity that is used, or of what the paper takes up of dye where that is more (B,), 0-1."""
        tooth = drawn.fill.mean(axis=1) / self.tooth.capacity
        out: Floats = np.clip(np.maximum(tooth, drawn.uptake / self._holds), 0.0, 1.0)
        return out

    @cached_property
    def _holds(self) -> float:
        """Coats of dye this sheet takes of the kit's markers."""
        return float(self.colourants.uptake.max(initial=1.0))

    def seen(self, drawn: Drawn) -> Floats:
        """What is seen of each stack (B, bands)."""
        return self.tooth.seen(drawn.seen)

    def kinds(self, layers: Sequence[Layer]) -> tuple[str, ...]:
        """The kind of each layer, for grouping stacks that can be computed together."""
        return tuple([self._kinds[x.colour] if isinstance(x, Lay) else x.kind for x in layers])

    @cached_property
    def _kinds(self) -> tuple[str, ...]:
        return tuple(s.kind for s in self.swatches)


# The members of an ensemble, and where each colour of the kit lies in theirs.
Doubts = tuple[tuple[Workbench, ...], Ints]


def _hands(hand: Hand) -> list[Hand]:
    """A hand in every member of the ensemble: as calibration found them, or about itself; what was not among it then, about the
    usual."""
    about = possible(1, hand_spread())
    if hand.members:
        return [hand_with(Hand(), np.array([*row, *usual[len(row) :]])) for row, usual in zip(hand.members, about, strict=True)]
    return [hand_with(hand, row) for row in about]


def _colour_members(swatch: Swatch) -> list[ColourFit]:
    """What a colour may be in every member of the ensemble; where it was not measured, about its default."""
    if swatch.fit.members:
        return [ColourFit(row[:COLOUR], row[COLOUR:]) for row in swatch.fit.members]
    own = swatch.fit.own + possible(crc32(swatch.id.encode()), swatch.spread)
    manner = swatch.fit.manner + _possible_manners(swatch.medium)
    return [ColourFit(tuple(o), tuple(m)) for o, m in zip(own.tolist(), manner.tolist(), strict=True)]


@lru_cache
def _possible_manners(medium: str) -> Floats:
    """How far the manner of a medium that was not measured may be off its usual (M, 20)."""
    return possible(crc32(medium.encode()), manner_doubt(MEDIA[medium]))


def _grounds(ground: Ground, sure: bool) -> list[Ground]:
    """A sheet in every member of the ensemble; one that was not measured is the same in all where it is `sure`."""
    about = np.zeros((MEMBERS, SHEET)) if sure else possible(2, sheet_doubt())
    rows = np.array(ground.members) if ground.members else np.array(ground.fit or (0.0,) * SHEET) + about
    thin = thinned(ground.reflectance, THIRD)
    return [Ground(thin, ground.tooth, tuple(row), quantiles=FEW_QUANTILES) for row in rows.tolist()]
