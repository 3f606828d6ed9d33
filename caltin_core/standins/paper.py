"""A virtual sheet, grain by grain, that makes patches: a judge of the model that knows nothing of it.

Its physics are its own. The sheet is a field of some thousand grains with heights of their own, not a handful of
quantiles; every pass touches each grain with some chance; the hand is unsteady. Films are stacked by adding their
reflected and transmitted light (Kubelka 1948, or a law without interreflections, or a geometric mean of colours), light
spreads sideways in the paper between entering and leaving (after Clapper & Yule 1953), dye fills the paper as it pleases,
and what is measured has noise. `Nature` varies all of it; nothing here is tuned to the model, nor the model to it.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from scipy.ndimage import gaussian_filter

from caltin_core.colour.spectra import lab_from_reflectance
from caltin_core.colour.tables import WAVELENGTHS, Floats
from caltin_core.media.layers import Blend, Lay, Layer, Lift, Stroke
from caltin_core.standins.pigments import box, mixed

Law = Literal["adding", "plain", "geometric"]
Washing = Literal["flow", "drunk", "even"]
GRAINS = 40
_X = (WAVELENGTHS - 550) / 150
_TURNS = 4
# How much longer than a coat is deep the way of light through it and back is.
_TWICE = 1.8
# Of an index of 1.5 a surface throws back 0.04 of light from outside, and of diffuse light from inside so many times as much.
_INNER = 15
_SOLID, _SOLID_COAT = Stroke("burnish", 3), Stroke("coat", 1)
PRESSES = ("light", "medium", "firm", "burnish")
# What dries on top of all that is there, whatever the paper holds, and how much of it one coat lays.
LIES_ON_TOP = {"white_pen": 1.5, "ink_line": _TWICE / 2}
# Roughness of the sheet and how many passes a grain takes, by the name of its tooth.
_SHEETS = {"smooth": (0.45, 2.6), "vellum": (0.9, 3.8), "textured": (1.5, 5.0), "sanded": (1.3, 7.0), "card": (0.3, 2.2)}


@dataclass(frozen=True)
class Nature:
    """What may differ from sheet to sheet, hand to hand and brand to brand.

    `grain`: size of a grain in cells; `law`: how films add; `spread`: how far light wanders in the paper, in cells;
    `take`: how fast a grain that is half full refuses more; `cling`: scattering of the filler; `harder`, `deeper`: the hand;
    `unsteady`: its spread from patch to patch; `noise`: of the reading, in Lab; `wash`: what wet dye pushes away, and whether as
    much as `washing` says: by what is brought, by what the paper drinks of it, or always alike;
    `odd`: how far this maker's pigments stray from the usual; `slick`: how a burnish refuses the next layer; `bluer`: how much
    more of blue light than of red their fillers scatter; `gloss`: how much of the surface's own reflection is read with it.
    """

    grain: float = 1.2
    law: Law = "adding"
    spread: float = 2.0
    take: float = 1.0
    cling: float = 1.0
    harder: float = 1.0
    deeper: float = 1.0
    unsteady: float = 0.05
    noise: float = 0.15
    wash: float = 0.6
    washing: Washing = "flow"
    odd: float = 0.15
    slick: float = 0.7
    bluer: float = 0.25
    gloss: float = 0.0


@dataclass(frozen=True)
class Stick:
    """A stick or marker: absorption and scattering (31,) of one ordinary pass, and how freely it comes off."""

    absorbs: Floats
    scatters: Floats
    freely: float
    medium: str

    @property
    def slick(self) -> bool:
        """Whether a burnish closes its surface."""
        return "pastel" not in self.medium and self.medium != "charcoal"


@dataclass
class State:
    """One patch being drawn: films as (absorption, scattering, amount per grain), the first two one spectrum (31,) or one
    for each grain, how full each grain is, how polished, whether there is wax, and the dye."""

    films: list[tuple[Floats, Floats, Floats]] = field(default_factory=list)
    full: Floats = field(default_factory=lambda: np.zeros((GRAINS, GRAINS)))
    polished: float = 0.0
    waxy: bool = False
    dye: Floats = field(default_factory=lambda: np.zeros((GRAINS, GRAINS, WAVELENGTHS.size)))
    drunk: Floats = field(default_factory=lambda: np.zeros((GRAINS, GRAINS)))


class Sheet:
    """A sheet of one nature in one hand, with the sticks drawn on it. Everything follows from the seed."""

    def __init__(self, paper: Floats, tooth: str = "vellum", nature: Nature | None = None, seed: int = 0) -> None:
        self.nature = nature or Nature()
        self.rng = np.random.default_rng(seed)
        self.paper = self._under_gloss(paper)
        rough, self.room = _SHEETS[tooth]
        field_ = gaussian_filter(self.rng.normal(size=(GRAINS, GRAINS)), self.nature.grain, mode="wrap")
        rank = field_.ravel().argsort().argsort().reshape(field_.shape) / (field_.size - 1)
        self.valley = rough * rank**1.6
        self.thirst = np.exp(0.12 * gaussian_filter(self.rng.normal(size=(GRAINS, GRAINS)), 1.0) / 0.28)
        self.sticks: list[Stick] = []

    def add(self, lab: Floats, medium: str) -> int:
        """Make a stick whose solid is about this colour (3,), as far as pigments allow; `solid` measures what it came to."""
        pigments = box(self.rng, self.nature.odd)
        pastel, dye, ink = (
            "pastel" in medium or medium in ("charcoal", "white_pen"),
            medium == "alcohol_marker",
            medium == "ink_line",
        )
        thin, thick = (0.5, 1.6) if pastel else (0.045, 0.2)
        light = float(lab[0]) / 100
        scatters = self.nature.cling * (thin + (thick - thin) * light**2) * np.exp(self.rng.normal(0, 0.25))
        scatters = scatters * np.exp(-self.nature.bluer * _X) * (not (dye or ink))
        freely = float(np.exp(self.rng.normal(0, 0.15)))
        at, aim, liking = len(self.sticks), np.asarray(lab, dtype=float), self.rng.integers(2**32)

        def seen(absorbs: Floats) -> Floats:
            if dye or ink:
                return self._glossed(self._dyed(freely * absorbs) if dye else Sheet._dyed(self, absorbs))
            back, through = film_alone(absorbs, scatters, np.array(self.room))
            return self._glossed(back + through**2 * self.paper / (1 - back * self.paper))

        for _ in range(_TURNS):
            absorbs = mixed(np.random.default_rng(liking), pigments, seen, aim)
            self.sticks[at:] = [Stick(absorbs, scatters, freely, medium)]
            aim = aim + 0.9 * (lab - lab_from_reflectance(self.reflectance([Lay(at, self._alone(medium))], steady=True)))
        return at

    def _dyed(self, dye: Floats) -> Floats:
        """What the paper throws back with so much dye in it everywhere (…, 31)."""
        out: Floats = self.paper * np.exp(-_TWICE * dye)
        return out

    @staticmethod
    def _alone(medium: str) -> Stroke:
        """How the solid of a medium is laid."""
        return _SOLID_COAT if medium in ("alcohol_marker", "ink_line", "white_pen") else _SOLID

    def solid(self, stick: int) -> Floats:
        """What a careful swatch of a stick measures: three burnished passes or one dry coat, Lab (3,) without noise."""
        return lab_from_reflectance(self.solid_reflectance(stick))

    def solid_reflectance(self, stick: int) -> Floats:
        """The same as a spectral reader sees it (31,)."""
        stroke = self._alone(self.sticks[stick].medium)
        readings: Floats = np.mean([self.reflectance([Lay(stick, stroke)], steady=True) for _ in range(3)], axis=0)
        return readings

    def patch(self, layers: Sequence[Layer]) -> Floats:
        """Draw a patch and read it: Lab (3,)."""
        lab = lab_from_reflectance(self.reflectance(layers)) + self.rng.normal(0, self.nature.noise, 3)
        return np.array([min(max(float(lab[0]), 0.0), 100.0), lab[1], lab[2]])

    def reflectance(self, layers: Sequence[Layer], steady: bool = False) -> Floats:
        """What a patch reflects (31,)."""
        state = self._begun()
        shake = 0.0 if steady else self.nature.unsteady
        hard, deep = np.exp(self.rng.normal(0, shake, 2))
        for layer in layers:
            if isinstance(layer, Lay):
                self._lay(state, self.sticks[layer.colour], layer.stroke, hard, deep)
            elif isinstance(layer, Blend):
                self._blend(state, layer)
            elif isinstance(layer, Lift):
                share = {"kneaded": 0.15, "stick": 0.4, "knife": 0.7}[layer.kind]
                state.films = [(k, s, x * (1 - share)) for k, s, x in state.films]
                state.full = state.full * (1 - share)
        return self._glossed(self._seen(state))

    def _glossed(self, inside: Floats) -> Floats:
        """What is read of what lies under the surface, which throws back light from outside and more from inside (Saunderson
        1942)."""
        outer = self.nature.gloss
        inner = _INNER * outer
        out: Floats = outer + (1 - outer) * (1 - inner) * inside / (1 - inner * inside)
        return out

    def _under_gloss(self, read: Floats) -> Floats:
        """What lies under the surface where so much is read."""
        outer = self.nature.gloss
        inner = _INNER * outer
        out: Floats = (read - outer) / ((1 - outer) * (1 - inner) + inner * (read - outer))
        return out

    def _begun(self) -> State:
        """The bare sheet."""
        return State()

    def _lay(self, state: State, stick: Stick, stroke: Stroke, hard: float, deep: float) -> None:
        if stroke.pressure == "coat":
            # There is nothing wet to run into on bare paper.
            wet = stroke.wet and state.drunk.max() > 0
            for _ in range(stroke.passes):
                self._coat(state, stick, wet, hard)
            return
        burnish = stroke.pressure == "burnish"
        amount, met = self._deposit(state, stick, stroke, hard, deep)
        if burnish:
            amount = 0.65 * amount + 0.35 * gaussian_filter(amount, 2.0, mode="wrap")
        pulled = 0.45 if burnish else 0.18 if "pastel" in stick.medium else 0.0
        if pulled and state.films:
            # What the stroke meets is pulled along, and what it does not reach stays as it was.
            k, s, x = state.films.pop()
            moved = pulled * met * x
            state.films.append((k, s, x - moved))
            ours = (amount / np.maximum(amount + moved, 1e-9))[..., None]
            state.films.append((ours * stick.absorbs + (1 - ours) * k, ours * stick.scatters + (1 - ours) * s, amount + moved))
        else:
            state.films.append((stick.absorbs, stick.scatters, amount))
        state.full, state.waxy = state.full + amount, state.waxy or stick.slick

    def _deposit(self, state: State, stick: Stick, stroke: Stroke, hard: float, deep: float) -> tuple[Floats, Floats]:
        """What all passes of a stroke leave on each grain, and how surely the last of them met it."""
        n, at = self.nature, PRESSES.index(stroke.pressure)
        push = (0.3, 0.75, 1.5, 3.6)[at] * n.harder * hard * stick.freely
        depth = (0.22, 0.42, 0.8, 2.6)[at] * n.deeper * deep
        if stroke.point == "side":
            push, depth = push * 0.85, depth * 0.65
        if stroke.turned:
            depth *= 1.3
        amount = np.zeros_like(state.full)
        for _ in range(stroke.passes):
            # A grain is touched by chance, the less the deeper it lies.
            chance = 1 / (1 + np.exp(3.2 * (self.valley - depth) / max(depth, 0.2)))
            touched = self.rng.gamma(4.0, 0.25, size=state.full.shape) * chance
            left = np.clip(1 - (state.full + amount) / self.room, 0, 1) ** n.take
            amount = amount + push * touched * left / (1 + n.slick * 2.2 * state.polished)
            if at == 3 and stick.slick:
                state.polished = 1.0
        return amount, chance

    def _coat(self, state: State, stick: Stick, wet: bool, hard: float) -> None:
        if stick.medium in LIES_ON_TOP:
            state.films.append((stick.absorbs, stick.scatters, np.full_like(state.full, LIES_ON_TOP[stick.medium] * hard)))
            return
        room, n = 2.6, self.nature
        flows = hard * stick.freely * self.thirst

        def drinks() -> Floats:
            left: Floats = np.clip(1 - state.drunk / room, 0, 1) ** (0.8 * n.take)
            return flows * left

        if state.drunk.max() > 0:
            # Full paper takes no more, but what is brought still changes places with what is there.
            brought = {"flow": flows, "drunk": drinks(), "even": state.drunk}[n.washing]
            pushed = (n.wash if wet else 0.15 * n.wash) * brought / (brought + state.drunk)
            state.dye = state.dye * (1 - pushed)[..., None]
            state.drunk = state.drunk * (1 - pushed)
        new = drinks()
        state.dye = state.dye + new[..., None] * stick.absorbs
        state.drunk = state.drunk + new

    def _blend(self, state: State, layer: Blend) -> None:
        share = {"finger": 0.2, "stump": 0.35, "blender": 0.6, "solvent": 0.85}[layer.kind]
        if len(state.films) > 1:
            amounts: Floats = np.sum([x for _, _, x in state.films], axis=0)
            whole = max(float(amounts.sum()), 1e-9)
            k, s = (np.sum([(f[i] * f[2][..., None]).sum(axis=(0, 1)) for f in state.films], axis=0) / whole for i in (0, 1))
            state.films = [(f[0], f[1], f[2] * (1 - share)) for f in state.films]
            state.films.append((k, s, share * amounts))
        state.films = [(k, s, (1 - share / 2) * x + share / 2 * x.mean()) for k, s, x in state.films]
        if layer.kind == "blender" and state.waxy:
            state.polished = 1.0
        if layer.kind in ("blender", "solvent"):
            state.dye, state.drunk = state.dye * 0.8, state.drunk * 0.8

    def _seen(self, state: State) -> Floats:
        if self.nature.law == "geometric":
            colour = self._dyed(state.dye)
            for k, s, x in state.films:
                ratio = k / np.maximum(s, 1e-9)
                own = 1 + ratio - np.sqrt(ratio**2 + 2 * ratio)
                weight = 1 - np.exp(-1.6 * x[..., None] * (s + 0.35 * k))
                colour = np.exp((1 - weight) * np.log(colour) + weight * np.log(np.maximum(own, 1e-4)))
            power = 1.0 if self.nature.spread == 0 else 0.6
            mixed: Floats = (colour**power).mean(axis=(0, 1)) ** (1 / power)
            return mixed
        return self._over(state, self.paper, np.exp(-_TWICE / 2 * state.dye))

    def _film(self, k: Floats, s: Floats, x: Floats) -> tuple[Floats, Floats]:
        """What a film of so much at each grain (G, G) throws back and lets through (G, G, 31)."""
        return film_alone(k, s, x[..., None])

    def _over(self, state: State, paper: Floats, through: Floats) -> Floats:
        """What is seen (31,) of the films over paper of this reflectance, through whose dye so much light comes at each grain."""
        back = np.zeros((GRAINS, GRAINS, WAVELENGTHS.size))
        for k, s, x in state.films:
            r, t = self._film(k, s, x)
            between = 1 - r * back if self.nature.law == "adding" else 1.0
            back, through = r + t * t * back / between, t * through / between
        # Light goes in at one grain, wanders in the paper and comes out at another.
        out = gaussian_filter(through, (self.nature.spread, self.nature.spread, 0), mode="wrap") if self.nature.spread else through
        inner = back if self.nature.law == "adding" else 0.0
        seen = back + through * out * paper / (1 - inner * paper)
        whole: Floats = np.clip(seen.mean(axis=(0, 1)), 1e-4, 1.0)
        return whole


def film_alone(k: Floats, s: Floats, x: Floats) -> tuple[Floats, Floats]:
    """Reflected and transmitted shares of a film alone on black (Kubelka 1948)."""
    s = np.maximum(s, 1e-6)
    a = 1 + k / s
    b = np.sqrt(a * a - 1) + 1e-9
    bsx = np.minimum(b * s * x, 40)
    sinh, cosh = np.sinh(bsx), np.cosh(bsx)
    down = a * sinh + b * cosh
    back: Floats = sinh / down
    through: Floats = b / down
    return back, through
