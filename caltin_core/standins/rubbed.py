"""A third virtual sheet: a plateau with pits, off which flakes are rubbed, and dye that is met at every depth.

A stroke finds each place by how far it lies below the highest, and rubs off the less there, the smoother what was laid has made
it. Flakes fall by chance and are broader than a grain; laid lightly they hold air, which scatters. Dye enters the paper from above
and lies at some depth, further down with every coat: what is seen is a pile of thin dyed layers of fibres (Kubelka 1948). What a
later coat pushes away lies deeper afterwards, or is gone. Films are stacked as on the first sheet.
"""

from dataclasses import dataclass

import numpy as np
from scipy.ndimage import gaussian_filter

from caltin_core.colour.tables import WAVELENGTHS, Floats
from caltin_core.media.film import film_over
from caltin_core.media.layers import Stroke
from caltin_core.standins.paper import GRAINS, LIES_ON_TOP, PRESSES, Nature, Sheet, State, Stick

# How deep the pits of a sheet are, by the name of its tooth.
_PITS = {"smooth": 0.5, "vellum": 1.0, "textured": 1.7, "sanded": 1.9, "card": 0.35}
# How far below the highest a stroke still touches, and what it rubs off, by pressure; what dust has more of either.
_TOUCHES, _RUBS, _DUSTY = (0.16, 0.34, 0.75, 2.2), (0.15, 0.33, 0.63, 1.43), (1.25, 1.3)
_SIDE, _TURNED = (0.6, 0.8), 1.2
# How much higher a place stands by what lies there, in how much of its room it is smooth, and how many flakes a pass leaves there.
_RISES, _SMOOTH, _FLAKES = 0.3, 0.55, 6
# The air in a film by pressure, as a share of the most.
_AIR = (1.0, 0.7, 0.35, 0.0)
# Layers of dyed paper, what one of them scatters, and absorption of a coat's dye in all of them.
_DEPTHS, _SCATTERS, _ABSORBS = 12, 0.9, 1.9
# How deep the first coat goes, and how much deeper for each coat that is there; how many the paper holds about.
_ENTERS, _DEEPER, _HOLDS = 2.2, 2.0, 2.8
# Of what is pushed away, what lies so many layers deeper afterwards, when it is wet and when it is dry.
_PUSHED_DOWN, _BY, _DRY = (0.35, 0.15), 2, 0.18


@dataclass(frozen=True)
class Rubbed(Nature):
    """What may differ besides: `air`, how much more than a burnished film one laid lightly scatters. `grain`, `washing` and a
    geometric `law` say nothing here."""

    spread: float = 1.5
    noise: float = 0.2
    air: float = 0.5


@dataclass(kw_only=True)
class _Soaked(State):
    """A patch being drawn, with the dye in each layer of the paper (D, 31)."""

    depths: Floats


class RubbedSheet(Sheet):
    """A sheet off which flakes are rubbed. Everything follows from the seed."""

    def __init__(self, paper: Floats, tooth: str = "vellum", nature: Rubbed | None = None, seed: int = 0) -> None:
        self.rubbed = nature or Rubbed()
        super().__init__(paper, tooth, self.rubbed, seed)
        fine, broad = (gaussian_filter(self.rng.normal(size=(GRAINS, GRAINS)), size, mode="wrap") for size in (0.7, 2.5))
        land = 0.6 * fine / fine.std() + 0.8 * broad / broad.std()
        self.height = -0.8 * _PITS[tooth] * np.logaddexp(0, -1.2 * land)

    def _begun(self) -> State:
        return _Soaked(depths=np.zeros((_DEPTHS, WAVELENGTHS.size)))

    def _lay(self, state: State, stick: Stick, stroke: Stroke, hard: float, deep: float) -> None:
        super()._lay(state, stick, stroke, hard, deep)
        if stroke.pressure == "coat":
            return
        k, s, x = state.films[-1]
        air = self.rubbed.air * _AIR[PRESSES.index(stroke.pressure)] * (1.0 if stick.slick else 0.4)
        state.films[-1] = (k, s * (1 + air), x)

    def _deposit(self, state: State, stick: Stick, stroke: Stroke, hard: float, deep: float) -> tuple[Floats, Floats]:
        n, at = self.rubbed, PRESSES.index(stroke.pressure)
        wide, rich = (1.0, 1.0) if stick.slick else _DUSTY
        touches, rubs = _TOUCHES[at] * n.deeper * deep * wide, _RUBS[at] * n.harder * hard * stick.freely * rich
        if stroke.point == "side":
            touches, rubs = touches * _SIDE[0], rubs * _SIDE[1]
        touches *= _TURNED if stroke.turned else 1.0
        amount, met = np.zeros_like(state.full), np.zeros_like(state.full)
        for _ in range(stroke.passes):
            height = self.height + _RISES * (state.full + amount)
            met = np.exp(-((np.maximum(np.quantile(height, 0.985) - height, 0) / touches) ** 1.5))
            rough = 1 / (1 + ((state.full + amount) / (_SMOOTH * self.room)) ** 2.5) ** n.take
            flakes = self.rng.poisson(_FLAKES * met) / _FLAKES
            amount = amount + rubs * flakes * rough / (1 + 2.5 * n.slick * state.polished)
            if at == 3 and stick.slick:
                state.polished = 1.0
        return gaussian_filter(amount, 0.5, mode="wrap"), met

    def _coat(self, state: State, stick: Stick, wet: bool, hard: float) -> None:
        assert isinstance(state, _Soaked)
        if stick.medium in LIES_ON_TOP:
            super()._coat(state, stick, wet, hard)
            return
        n, flow, there = self.rubbed, hard * stick.freely, float(state.drunk.mean())
        drinks = flow * np.exp(-1.1 * n.take * (there / _HOLDS) ** 1.5)
        pushed = n.wash * (1.0 if wet else _DRY) * flow / (flow + there) * (there > 0)
        down = np.zeros_like(state.depths)
        down[_BY:] = _PUSHED_DOWN[0 if wet else 1] * pushed * state.depths[:-_BY]
        entered = drinks * self._course(there)[:, None] * stick.absorbs
        state.depths = state.depths * (1 - pushed) + down + entered
        state.drunk = state.drunk * (1 - 0.6 * pushed) + drinks

    @staticmethod
    def _course(there: float) -> Floats:
        """How a coat's dye is parted over the layers (D,) of paper that holds so many."""
        falls = np.exp(-((np.arange(_DEPTHS) / (_ENTERS + _DEEPER * there)) ** 1.3))
        out: Floats = falls / falls.sum()
        return out

    def _dyed(self, dye: Floats) -> Floats:
        """What the paper throws back (…, 31) with one coat of so much dye in it."""
        return self._pile(dye[..., None, :] * self._course(0.0)[:, None])

    def _pile(self, depths: Floats) -> Floats:
        """What a pile of layers of paper with such dye in them (…, D, 31) throws back (…, 31)."""
        own = _SCATTERS * (1 - self.paper) ** 2 / (2 * self.paper)
        out = np.broadcast_to(self.paper, (*depths.shape[:-2], self.paper.size)).copy()
        for layer in range(_DEPTHS - 1, -1, -1):
            k = own + _ABSORBS * depths[..., layer, :]
            out = film_over(out[..., None, :], k[..., None, :], np.array([[_SCATTERS]]), np.ones(1))[..., 0, :]
        return out

    def _seen(self, state: State) -> Floats:
        assert isinstance(state, _Soaked)
        return self._over(state, self._pile(state.depths), np.ones((GRAINS, GRAINS, WAVELENGTHS.size)))
