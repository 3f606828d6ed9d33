"""A fourth virtual sheet: a tip that rides on what is near, films that hold each other less and less, and dye that competes.

A stroke rests on the land about it rather than on the whole sheet's hills, so that it finds every hollow that is broad. Of what
it would leave, the less sticks the more lies there. Dust falls in specks. Every layer is drawn a little harder or softer by
itself. Dye takes places in the fibres (Langmuir 1918): what is wet, and a part of what is dry, is dissolved again and competes for
them with what is brought, and what finds none is lost. Ways of light through dyed fibres are unlike, a little never meets the dye,
and the surface adds a haze to what is read, a burnished one less. Films are stacked as on the first sheet.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.ndimage import gaussian_filter

from caltin_core.colour.tables import WAVELENGTHS, Floats
from caltin_core.media.layers import Layer, Stroke
from caltin_core.standins.paper import GRAINS, LIES_ON_TOP, PRESSES, Nature, Sheet, State, Stick, film_alone

# How rough a sheet is, by the name of its tooth.
_ROUGH = {"smooth": 0.4, "vellum": 1.0, "textured": 1.7, "sanded": 1.5, "card": 0.35}
# How low a stroke comes and what it leaves of a film that sticks wholly, by pressure; what dust has more of either.
_COMES, _LEAVES, _DUSTY = (-0.35, 0.1, 0.55, 1.6), (0.22, 0.42, 0.8, 1.7), (0.25, 1.5)
_SIDE, _ABOUT, _GIVES, _GROWS, _FLATTENS = 0.15, 4.0, 0.18, 0.12, 0.1
# How much more of dust than of wax may lie there before as little sticks; scattering from which on a film is dust.
_LOOSER, _DUST = 1.8, 0.35
# Of dry dye, what is dissolved again; absorption of a coat's dye.
_DISSOLVED, _ABSORBS = 0.3, 2.6
# How much of its haze a burnish takes from a surface.
_BURNISHED = 0.8


@dataclass(frozen=True)
class Crowded(Nature):
    """What may differ besides: `jitter`, how unsteady each layer is by itself; `haze`, what the surface adds; `unlike`, the
    variance of the ways of light through dye; `past`, what of it never meets the dye; `sticks`, how much of a film lessens by half
    what sticks on it; `places`, how much dye the fibres hold, and `half`, how much is brought where half of them are taken;
    `specks`, how much dust is one speck. `grain`, `wash`, `washing` and `law` say nothing here."""

    spread: float = 1.2
    noise: float = 0.2
    jitter: float = 0.04
    haze: float = 0.015
    unlike: float = 0.35
    past: float = 0.012
    sticks: float = 2.2
    places: float = 3.4
    half: float = 2.6
    specks: float = 0.35


@dataclass(kw_only=True)
class _Land(State):
    """A patch being drawn, with how high each grain stands (G, G)."""

    height: Floats


class CrowdedSheet(Sheet):
    """A sheet on which films and dyes crowd one another. Everything follows from the seed."""

    def __init__(self, paper: Floats, tooth: str = "vellum", nature: Crowded | None = None, seed: int = 0) -> None:
        self.crowded = nature or Crowded()
        self._jitter = 0.0
        super().__init__(paper, tooth, self.crowded, seed)
        self.rough = _ROUGH[tooth]
        fine, fibres, broad = self._waves(1.0), self._waves((3.0, 0.6)), self._waves(3.5)
        self.land: Floats = 0.45 * self.rough * (0.7 * fine + 0.5 * fibres + 0.4 * broad)

    def _waves(self, wide: float | tuple[float, float]) -> Floats:
        waves = gaussian_filter(self.rng.normal(size=(GRAINS, GRAINS)), wide, mode="wrap")
        out: Floats = waves / waves.std()
        return out

    def _begun(self) -> State:
        return _Land(height=self.land)

    def reflectance(self, layers: Sequence[Layer], steady: bool = False) -> Floats:
        """What a patch reflects (31,)."""
        self._jitter = 0.0 if steady else self.crowded.jitter
        return super().reflectance(layers, steady)

    def _lay(self, state: State, stick: Stick, stroke: Stroke, hard: float, deep: float) -> None:
        super()._lay(state, stick, stroke, hard * float(np.exp(self.rng.normal(0, self._jitter))), deep)

    def _deposit(self, state: State, stick: Stick, stroke: Stroke, hard: float, deep: float) -> tuple[Floats, Floats]:
        assert isinstance(state, _Land)
        n, at = self.crowded, PRESSES.index(stroke.pressure)
        lower, more = (0.0, 1.0) if stick.slick else _DUSTY
        leaves = _LEAVES[at] * n.harder * hard * stick.freely * more
        comes = _COMES[at] * n.deeper * deep + lower - (_SIDE if stroke.point == "side" else 0.0)
        enough = n.sticks * (1.0 if stick.slick else _LOOSER)
        amount, met = np.zeros_like(state.full), np.zeros_like(state.full)
        for _ in range(stroke.passes):
            rides = gaussian_filter(state.height, _ABOUT, mode="wrap") + 0.25 * self.rough
            met = 1 / (1 + np.exp(-(state.height - rides + 0.45 * comes * max(self.rough, 0.3)) / _GIVES))
            sticks = 1 / (1 + ((state.full + amount) / enough) ** 1.5) / (1 + 1.6 * n.slick * state.polished)
            laid = leaves * met * sticks * self._hatched() * self.rng.gamma(5.0, 0.2, size=met.shape)
            amount = amount + laid
            state.height = state.height + _GROWS * laid
            if at == 3 and stick.slick:
                state.polished, state.height = 1.0, state.height * (1 - _FLATTENS)
        return amount, met

    def _hatched(self) -> Floats:
        """How much each grain gets of a pass, 1 on average."""
        along, often, where = np.arange(GRAINS), self.rng.uniform(0.7, 1.3), self.rng.uniform(0, 2 * np.pi)
        out: Floats = 1 + 0.25 * np.sin(often * np.add.outer(along, self.rng.choice([-1, 1]) * along) + where)
        return out

    def _coat(self, state: State, stick: Stick, wet: bool, hard: float) -> None:
        if stick.medium in LIES_ON_TOP:
            super()._coat(state, stick, wet, hard)
            return
        n, brought, there = self.crowded, hard * stick.freely * self.thirst, state.drunk
        fast = 0.0 if wet else 1 - _DISSOLVED
        free = (1 - fast) * there + brought
        # One coat on bare fibres is held about wholly.
        takes = np.maximum(n.places - fast * there, 0.05) * free / (free + n.half) * 0.8 * (1 + n.half / n.places)
        held = np.minimum(takes / free, 1.0)
        stays = fast + (1 - fast) * held
        state.dye = state.dye * stays[..., None] + (brought * held)[..., None] * stick.absorbs
        state.drunk = there * stays + brought * held

    def _dyed(self, dye: Floats) -> Floats:
        n = self.crowded
        out: Floats = n.past + (self.paper - n.past) * (1 + n.unlike * _ABSORBS * dye) ** (-1 / n.unlike)
        return out

    def _film(self, k: Floats, s: Floats, x: Floats) -> tuple[Floats, Floats]:
        if float(s.mean()) <= _DUST:
            return super()._film(k, s, x)
        hides = np.maximum(-np.expm1(-x / self.crowded.specks), 1e-9)[..., None]
        back, through = film_alone(k, s, x[..., None] / hides)
        return hides * back, 1 - hides + hides * through

    def _seen(self, state: State) -> Floats:
        wide = (0.8, 0.8, 0)
        paper = gaussian_filter(self._dyed(state.dye), wide, mode="wrap") if state.drunk.any() else self.paper
        haze = self.crowded.haze * (1 - _BURNISHED * state.polished if state.films else 0.5)
        return haze + (1 - haze) * self._over(state, paper, np.ones((GRAINS, GRAINS, WAVELENGTHS.size)))
