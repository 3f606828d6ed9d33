"""How deep, light, ruddy or olive a complexion a kit serves: complexions × roles, each in reach or not."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.tables import Floats
from caltin_core.colour.value import munsell_value
from caltin_core.colour.words import tone_words
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.reach import in_reach
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.search import Search

# Seven roles by simple factors: the light a role gets against the base's (linear, so Y), and what blood or sky adds to a* and b*.
# Invented to stand for a face in light from above; common practice orders them.
ROLE_FACTORS = {
    "highlight": (1.35, -2.0, -3.0), "light": (1.15, 0.0, 0.0), "base": (1.0, 0.0, 0.0), "half-tone": (0.72, 2.0, 1.0),
    "shadow": (0.42, 3.0, 0.0), "accent": (0.22, 4.0, 1.0), "flush": (0.85, 8.0, 1.0),
}  # fmt: skip
# A drawing's range of L*: a picture's is mapped onto it, as an artist does.
DRAWN_RANGE = (26.0, 92.0)
# Complexions looked at: L* of the base in the picture, hue angle from ruddy to olive, and how chroma runs with L* (working values
# that span measured skins).
DEPTHS = (92.0, 84.0, 76.0, 67.0, 57.0, 47.0, 36.0, 26.0, 17.0)
HUES = (("ruddy", 44.0), ("rosy", 52.0), ("neutral", 60.0), ("golden", 68.0), ("olive", 76.0))
_CHROMA = ((15.0, 28.0, 42.0, 58.0, 75.0, 92.0), (6.0, 13.0, 20.0, 24.0, 19.0, 8.0))
# Short stacks that miss by more than this (ΔE00) are not made right by longer ones, as a rule.
_LOOKED_AT, _HOPELESS = 1500, 5.0
# What every role is said to be missed by where no colour may be used at all.
_NOTHING = 99.0


@dataclass(frozen=True)
class Covered:
    """One complexion: its undertone's name, D50 Lab (3,) of every role as drawn, Munsell value of its base, what each role is
    missed by in ΔE00, and the roles out of reach."""

    undertone: str
    tones: dict[str, Floats]
    value: float
    missed: dict[str, float]
    beyond: frozenset[str]

    @property
    def base(self) -> Floats:
        """D50 Lab (3,) of the base as drawn."""
        return self.tones["base"]

    def reached(self) -> list[str]:
        """The roles in reach."""
        return [role for role in self.missed if role not in self.beyond]


@dataclass(frozen=True)
class Coverage:
    """Complexions, the lightest first and within a depth from ruddy to olive; and what they say, in sentences."""

    complexions: tuple[Covered, ...]
    words: tuple[str, ...]


def role_tones(base: Floats) -> dict[str, Floats]:
    """The seven roles, D50 Lab (3,) as drawn, of a complexion whose base in the picture is `base`, D50 Lab (3,)."""
    out = {}
    for role, (light, a, b) in ROLE_FACTORS.items():
        y = ((base[0] + 16) / 116) ** 3 * light
        lightness = min(116 * y ** (1 / 3) - 16, 99.0)
        lightness = DRAWN_RANGE[0] + max(lightness, 5.0) / 100 * (DRAWN_RANGE[1] - DRAWN_RANGE[0])
        share = min(lightness / max(float(base[0]), 20.0), 1.3)
        out[role] = np.array([lightness, base[1] * share + a, base[2] * share + b])
    return out


def complexions() -> list[tuple[str, Floats]]:
    """The complexions looked at, the lightest first and within a depth from ruddy to olive: undertone, D50 Lab (3,) of the base in
    the picture."""
    out = []
    for depth in DEPTHS:
        strength = float(np.interp(depth, *_CHROMA))
        for name, hue in HUES:
            angle = np.radians(hue)
            out.append((name, np.array([depth, strength * np.cos(angle), strength * np.sin(angle)])))
    return out


def coverage(bench: Workbench, rules: Rules) -> Coverage:
    """Look at every complexion's roles. Raises nothing: an empty box reaches none."""
    search = Search(bench, rules)
    found = []
    for name, base in complexions():
        tones = role_tones(base)
        near = {role: _nearest(search, lab) for role, lab in tones.items()}
        missed = {r: float(delta_e_2000(tones[r], lab)) if lab is not None else _NOTHING for r, lab in near.items()}
        beyond = frozenset(r for r, lab in near.items() if lab is None or not in_reach(lab, tones[r], search.rules))
        found.append(Covered(name, tones, float(munsell_value(tones["base"])), missed, beyond))
    return Coverage(tuple(found), tuple(_words(found)))


def _nearest(search: Search, lab: Floats) -> Floats | None:
    """The nearest colour (3,) this kit comes to, as closely as reach needs to know; None where nothing may be used."""
    short = search.short(lab).lab
    if not len(short):
        return None
    near = _first(short, lab)
    if in_reach(near, lab, search.rules) or delta_e_2000(lab, near) > _HOPELESS:
        return near
    return _first(np.concatenate([search.find(lab, _LOOKED_AT).lab, short]), lab)


def _first(labs: Floats, lab: Floats) -> Floats:
    out: Floats = labs[int(np.argmin(delta_e_2000(lab, labs)))]
    return out


def _words(found: list[Covered]) -> list[str]:
    """What the picture says: the span of whole faces, what fails most often and furthest, and the colour that would help there."""
    whole = [c for c in found if len(c.reached()) == len(ROLE_FACTORS)]
    if not whole:
        out = ["No complexion is wholly in reach."]
    elif len(whole) == len(found):
        return ["Every complexion looked at is wholly in reach, from the lightest to the deepest, ruddy to olive."]
    else:
        values = [c.value for c in whole]
        names = [name for name, _ in HUES if any(c.undertone == name for c in whole)]
        span = names[0] if len(names) == 1 else f"{names[0]} to {names[-1]}"
        bases = f"bases of value {min(values):.1f} to {max(values):.1f}, {span}"
        out = [f"{len(whole)} of {len(found)} complexions are wholly in reach: {bases}."]
    lost = {role: [c for c in found if role not in c.reached()] for role in ROLE_FACTORS}
    role = max(lost, key=lambda r: len(lost[r]))
    worst = max(lost[role], key=lambda c: c.missed[role])
    if worst.missed[role] == _NOTHING:
        return [*out, "No colour of this kit may be used."]
    side = _side([c.value for c in lost[role]], [c.value for c in found])
    missed = f"Missed most often is the {role}{side}, by up to ΔE00 {worst.missed[role]:.0f}"
    far, furthest = max(((r, max(c.missed[r] for c in found)) for r in ROLE_FACTORS), key=lambda pair: pair[1])
    if round(furthest) > round(worst.missed[role]):
        missed += f"; furthest off is the {far}, by ΔE00 {furthest:.0f}"
    return [*out, f"{missed}.", f"A colour near a {tone_words(worst.tones[role])} would open most there."]


def _side(lost: list[float], every: list[float]) -> Literal[" of deep complexions", " of light complexions", ""]:
    middle = float(np.median(every))
    if min(lost) > middle:
        return " of light complexions"
    return " of deep complexions" if max(lost) < middle else ""
