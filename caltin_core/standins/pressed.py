"""A second virtual sheet, whose physics are neither the model's nor the first one's.

The paper is a landscape of hills upon hills. A stroke is a load that comes to rest on it: what it presses into takes colour
and grows by it, so that later strokes meet another landscape. Dye colours the paper's own fibres, so that what the sheet
throws back follows from its K/S (Kubelka & Munk 1931), and every further coat carries dye deeper, where it shows less. There is
no capacity, no reach and no law by which densities add. Films are stacked as on the first sheet.
"""

from dataclasses import dataclass

import numpy as np
from scipy.ndimage import gaussian_filter
from scipy.optimize import brentq

from caltin_core.colour.tables import Floats
from caltin_core.media.film import reflectance_infinite
from caltin_core.media.layers import Stroke
from caltin_core.standins.paper import GRAINS, LIES_ON_TOP, PRESSES, Nature, Sheet, State, Stick

# How high the hills of a sheet stand, by the name of its tooth, in units of what a firm stroke presses in.
_HILLS = {"smooth": 0.5, "vellum": 1.0, "textured": 1.6, "sanded": 1.8, "card": 0.4}
_LOADS = (0.10, 0.24, 0.5, 1.3)
# What wax and what dust leave where they are pressed in by one unit, the more the harder, and how much of either gives way.
_BRINGS, _HARDER, _GIVES_WAY = (1.0, 1.375), 0.31, (3.2, 5.0)
# A dusty stick bears on the sheet more lightly, and so does the side of a point.
_DUSTY, _SIDE = 0.55, 0.75
# How much of what is laid the surface grows by, and how much a burnishing pass flattens it.
_GROWS, _FLATTENS = 0.22, 0.15
# Coats of dye the paper holds about.
_HOLDS = 2.4
# K/S of the paper's fibres by as much dye as a coat brings.
_DYED = 0.55


@dataclass(frozen=True)
class Pressed(Nature):
    """What may differ besides: `hilly`, by which power hills grow with their width; `soft`, how far a tip gives way into a valley;
    `streaked`, how uneven hatching is; `sinks`, how much deeper every further coat carries dye; `fills`, how soon the paper
    refuses more. `grain`, `washing` and a geometric `law` say nothing here."""

    spread: float = 1.6
    slick: float = 1.0
    wash: float = 0.5
    bluer: float = 0.35
    hilly: float = 1.3
    soft: float = 0.22
    streaked: float = 0.35
    sinks: float = 0.15
    fills: float = 0.4


@dataclass(kw_only=True)
class _Land(State):
    """A patch being drawn, with how high each grain stands (G, G) and how many coats of dye were brought."""

    height: Floats
    coats: int = 0


class PressedSheet(Sheet):
    """A sheet on which strokes rest as loads. Everything follows from the seed."""

    def __init__(self, paper: Floats, tooth: str = "vellum", nature: Pressed | None = None, seed: int = 0) -> None:
        self.pressed = nature or Pressed()
        super().__init__(paper, tooth, self.pressed, seed)
        self.hills = 0.42 * _HILLS[tooth] * self._rough(self.pressed.hilly)
        self.bears = float(np.sqrt(_HILLS[tooth]))
        self.thirst = np.exp(0.15 * self._rough(0.6))

    def _rough(self, power: float) -> Floats:
        """A landscape (G, G) of mean 0 and standard deviation 1 whose hills grow with their width to this power."""
        each = np.fft.fftfreq(GRAINS)
        often = np.hypot(each[:, None], each)
        often[0, 0] = 1.0
        waves = np.fft.fft2(self.rng.normal(size=(GRAINS, GRAINS))) * often**-power * (often > 1.5 / GRAINS)
        land = np.fft.ifft2(waves).real
        out: Floats = (land - land.mean()) / land.std()
        return out

    def _begun(self) -> State:
        return _Land(height=self.hills)

    def _deposit(self, state: State, stick: Stick, stroke: Stroke, hard: float, deep: float) -> tuple[Floats, Floats]:
        assert isinstance(state, _Land)
        n, at, loose = self.pressed, PRESSES.index(stroke.pressure), not stick.slick
        load = _LOADS[at] * n.harder * hard * self.bears * (_DUSTY if loose else 1.0) * (_SIDE if stroke.point == "side" else 1.0)
        gives = n.soft * (1 + 0.5 * at) * n.deeper * deep
        amount, pressed = np.zeros_like(state.full), np.zeros_like(state.full)
        for _ in range(stroke.passes):
            pressed = self._rests(state.height, load, gives)
            way = self.rng.uniform(0, np.pi) if stroke.turned else self.rng.normal(0.6, 0.1)
            # What lies thick and soft already gives way.
            thick = (state.full + amount) / _GIVES_WAY[loose]
            brings = _BRINGS[loose] * (1 + _HARDER * at) * stick.freely / (1 + n.slick * state.polished)
            laid = brings * pressed**0.75 * self._hatched(way) * self.rng.gamma(6.0, 1 / 6, size=pressed.shape)
            laid = laid / (1 + n.take * thick**2)
            amount = amount + laid
            state.height = state.height + _GROWS * (laid - laid.mean())
            if at == 3 and stick.slick:
                state.polished, state.height = 1.0, state.height * (1 - _FLATTENS)
        return amount, pressed / (pressed + gives)

    @staticmethod
    def _rests(height: Floats, load: float, gives: float) -> Floats:
        """How far each grain is pressed in (G, G) once the stroke's load is borne."""

        def pressed(at: float) -> Floats:
            out: Floats = gives * np.logaddexp(0, (height - at) / gives)
            return out

        top = float(height.max())
        rest = brentq(lambda at: float(pressed(at).mean()) - load, top - 10 - 2 * load - np.ptp(height), top + 10, xtol=1e-6)
        return pressed(rest)

    def _hatched(self, way: float) -> Floats:
        """How much each grain gets of a pass hatched this way (radians), 1 on average."""
        x, y = np.meshgrid(np.arange(GRAINS), np.arange(GRAINS))
        often, where = self.rng.uniform(0.8, 1.2), self.rng.uniform(0, 2 * np.pi)
        out: Floats = 1 + self.pressed.streaked * np.sin(often * (np.cos(way) * x + np.sin(way) * y) + where)
        return out

    def _coat(self, state: State, stick: Stick, wet: bool, hard: float) -> None:
        assert isinstance(state, _Land)
        if stick.medium in LIES_ON_TOP:
            super()._coat(state, stick, wet, hard)
            return
        n, flows = self.pressed, stick.freely * hard * self.thirst
        drinks = np.minimum(flows, _HOLDS * -np.expm1(-flows / _HOLDS)) * np.exp(-n.fills * n.take * (state.drunk / _HOLDS) ** 2)
        pushed = n.wash * (1.0 if wet else 0.12) * flows / (flows + state.drunk) * (state.coats > 0)
        state.dye = state.dye * (1 - pushed)[..., None] + drinks[..., None] * stick.absorbs
        state.drunk = state.drunk * (1 - pushed) + drinks
        state.coats += 1

    def _dyed(self, dye: Floats) -> Floats:
        return reflectance_infinite((1 - self.paper) ** 2 / (2 * self.paper) + _DYED * dye)

    def _seen(self, state: State) -> Floats:
        assert isinstance(state, _Land)
        shows = state.dye / (1 + self.pressed.sinks * max(state.coats - 1, 0))
        wide = self.pressed.spread / 2
        paper = gaussian_filter(self._dyed(shows), (wide, wide, 0), mode="wrap")
        return self._over(state, paper, np.ones_like(state.dye))
