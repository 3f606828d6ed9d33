"""What calibration moves, as offsets from the defaults: of a hand, a sheet, a medium and a single colour.

Every offset is a plain number, 0 being the default, on a scale (logarithm or logit) on which nothing it gives is out of
bounds. Before anything is measured its spread is known from common practice only: the covariances here.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np

from caltin_core.colour.spectra import lab_from_reflectance, redder_than_once, share_of, usual_logits
from caltin_core.colour.tables import WAVELENGTHS, Floats
from caltin_core.errors import BadRequest
from caltin_core.media.hand import MEMBERS, Hand, four, table_from_fitted
from caltin_core.media.kinds import MEDIA
from caltin_core.media.medium import Medium
from caltin_core.media.tooth import Tooth

SHEET = 9
# Of these only the first so many are in doubt where nothing was measured.
_FEARED = 6
MANNER = (
    "scatter", "drag", "merge", "even", "grip_after", "grip_again", "uptake", "refusal", "washes_wet", "washes_dry",
    "washes_share", "soak", "bluer", "specks", "heaps", "sinks", "builds", "crowds_wet", "crowds_dry", "late",
)  # fmt: skip
TINTS = 7
COLOUR = 2 + TINTS
# How far a solid whose spectrum was measured strays from it, in each Legendre term of its logit.
_STRAY_MEASURED = 0.04
# How far the solid that was read is from the one that was laid, in Lab.
UNEVEN = 0.7
_LEAST_SHARE = 0.01
# No miss is told as more, in ΔE00: black and white are so far apart.
MOST_MISSED = 100.0
_MOST = 12.0
# What a surface throws back from outside and from inside for each step of its offset, at least and at most; a reader that takes
# more of it off than there is reads a little too little.
_OUTER, _INNER = (0.02, -0.01, 0.06), (0.15, -0.5, 0.8)
# How soft and how sharp the end of a stroke's reach may be, as logarithms.
_EDGE = (-1.5, 1.5)
# By how much the root of what a surface grows by differs for each step of its offset: it is little or none, and hardly ever much.
_GROWN = 0.18
# How early and how late a full paper begins to refuse, as logarithms.
_LATE = (-1.5, 1.5)
# How little and how much deeper a dye soaks in than usual, as logarithms: beyond these nothing changes.
_SOAK = (-7.0, 4.0)
_NUDGE = 1e-10


@dataclass(frozen=True)
class ColourFit:
    """Offsets of one colour: `own` (9,) log strength, log scattering, and seven of the shape of its solid's reflectance;
    `manner` (20,) those of its medium, alike for all colours of it. `members` (M, 29) are both in every member of the
    ensemble, and `noise` what patches of it still miss by, in ΔE00, by itself, and `further` what each layer more adds to that
    in squares; empty and None where nothing was measured."""

    own: tuple[float, ...] = (0.0,) * COLOUR
    manner: tuple[float, ...] = (0.0,) * len(MANNER)
    members: tuple[tuple[float, ...], ...] = ()
    noise: float | None = None
    further: float = 0.0

    def fitted(self) -> dict[str, Any]:
        """The offsets as the command line carries them."""
        return {
            "own": list(self.own),
            "manner": list(self.manner),
            "members": [list(m) for m in self.members],
            "noise": self.noise,
            "further": self.further,
            "usual": _USUAL,
        }


# What earlier fits held: of a colour's own and its medium's offsets first 7 and 10, then 9 and 11, 14, 15, 17, 19. What they
# did not move stays at 0; but they knew fillers that scatter all waves alike, dyes that lie on the fibres, do not sink and do
# not crowd, films without specks, none on a full tooth and none by which the surface grows, and a sheet every stroke of which
# was refused by what its pass had laid, and of whose surface nothing was read: the offsets that come to that.
_ONCE = ((7, 10), (9, 11), (9, 14), (9, 15), (9, 17), (9, 19))
_ONCE_MANNERS = dict(zip(MANNER, (*[0.0] * 11, -_MOST, -Medium.bluer, *[-_MOST] * 6, 0.0), strict=True))
# Those with 14 or 15 had, in place of how deep a dye soaks in, the logit of how unlike the ways of light through it are, of which
# this was usual; either comes to about the same where they are the same number.
_PATHS, _PATHS_UNTIL = 0.1, 15
_ONCE_SHEETS = {5: (6.0, 0.0, 0.0, 0.0), 6: (0.0, 0.0, 0.0)}
# Which usual numbers a fit was measured against; one that does not say was against the first, of which a burnish left so much of a
# pencil's grip. Until the third no made-up spectrum rose in the far red.
_USUAL, _UNTIL_REDDER = 3, 3
_FIRST_GRIPS = {"wax_pencil": 0.25, "oil_pencil": 0.35}


def colour_from_fitted(fitted: dict[str, Any], medium: str, made_up: Floats | None = None) -> ColourFit:
    """The fit of what `ColourFit.fitted` gave for a colour of this medium, now or once; `made_up` is its solid (31,), unless that
    was measured. Raises BadRequest when it is something else."""
    if set(fitted) - {"noise", "further", "usual"} != {"own", "manner", "members"}:
        raise BadRequest("fitted", "this is not a colour that Caltin fitted")
    for lengths in _ONCE:
        if all(
            isinstance(fitted[name], list) and len(fitted[name]) == n for name, n in zip(("own", "manner"), lengths, strict=True)
        ):
            fitted = _as_now(fitted, *lengths)
    (own,), (manner,) = table_from_fitted([fitted["own"]], COLOUR), table_from_fitted([fitted["manner"]], len(MANNER))
    members = table_from_fitted(fitted["members"], COLOUR + len(MANNER))
    noise, further, usual = fitted.get("noise"), fitted.get("further", 0.0), fitted.get("usual", 1)
    told = (noise is None or _is_miss(noise)) and _is_miss(further) and usual in range(1, _USUAL + 1)
    if len(members) not in (0, MEMBERS) or not told:
        raise BadRequest("fitted", "this is not a colour that Caltin fitted")
    fit = ColourFit(own, manner, members, noise, further)
    return _against_usual(fit, MEDIA[medium], usual, made_up)


def _against_usual(fit: ColourFit, medium: Medium, told: int, made_up: Floats | None) -> ColourFit:
    """A fit told against the first, second … usual numbers, against today's."""
    by = np.zeros(COLOUR + len(MANNER))
    if told == 1:
        grip = _FIRST_GRIPS.get(medium.slug, medium.grip_after)
        by[COLOUR + MANNER.index("grip_after")] = _logit(grip) - _logit(medium.grip_after)
    if told < _UNTIL_REDDER and made_up is not None:
        by[2:COLOUR] = -np.linalg.pinv(_shapes(WAVELENGTHS.size)) @ redder_than_once(made_up)
    if not by.any():
        return fit

    def moved(row: Sequence[float]) -> tuple[float, ...]:
        return tuple((np.array(row) + by).tolist())

    whole = moved((*fit.own, *fit.manner))
    return replace(fit, own=whole[:COLOUR], manner=whole[COLOUR:], members=tuple(moved(row) for row in fit.members))


def _is_miss(value: Any) -> bool:
    return isinstance(value, int | float) and 0 <= value <= MOST_MISSED


def _as_now(fitted: dict[str, Any], colour: int, manners: int) -> dict[str, Any]:
    """An earlier fit, of so many offsets of a colour and its medium, in today's lengths."""
    own = table_from_fitted([fitted["own"]], colour)
    manner = table_from_fitted([fitted["manner"]], manners)
    members = table_from_fitted(fitted["members"], colour + manners)
    more_own, more_manner = (0.0,) * (COLOUR - colour), tuple(_ONCE_MANNERS[name] for name in MANNER[manners:])
    at = MANNER.index("soak")

    def now(row: tuple[float, ...]) -> tuple[float, ...]:
        if at < len(row) <= _PATHS_UNTIL:
            row = (*row[:at], float(np.log(_share_moved(_PATHS, row[at]) / MEDIA["alcohol_marker"].soak)), *row[at + 1 :])
        return row + more_manner

    rows = [row[:colour] + more_own + now(row[colour:]) for row in members]
    return {**fitted, "own": own[0] + more_own, "manner": now(manner[0]), "members": rows}


def sheet_rows(rows: Any) -> tuple[tuple[float, ...], ...]:
    """Offsets of a sheet (…, 9) as fitted now or once. Raises BadRequest when they are something else."""
    for length, more in _ONCE_SHEETS.items():
        if isinstance(rows, list) and all(isinstance(row, list) and len(row) == length for row in rows):
            return tuple((*row, *more) for row in table_from_fitted(rows, length))
    return table_from_fitted(rows, SHEET)


def hand_with(hand: Hand, offsets: Floats) -> Hand:
    """A hand moved by offsets (15,): four deposits, four reaches, side deposit, side reach, turned reach, coat, rubs, lifts,
    topmost."""
    by = np.exp(np.clip(offsets, -_MOST, _MOST))
    deposit, reach = (four(np.array(row) * by[at : at + 4]) for at, row in ((0, hand.deposit), (4, hand.reach)))
    return replace(
        hand, deposit=deposit, reach=reach, side_deposit=hand.side_deposit * float(by[8]),
        side_reach=hand.side_reach * float(by[9]), turned_reach=hand.turned_reach * float(by[10]), coat=hand.coat * float(by[11]),
        rubs=hand.rubs * float(by[12]), lifts=hand.lifts * float(by[13]), topmost=hand.topmost * float(by[14]),
    )  # fmt: skip


def tooth_with(tooth: Tooth, offsets: Floats) -> Tooth:
    """A tooth moved by offsets (9,): depth, capacity, relief, spread, refusal, own, outer, inner, edge."""
    depth, capacity, relief, spread, refusal = (float(v) for v in np.exp(np.clip(offsets[:5], -_MOST, _MOST)))
    return replace(
        tooth, depth=tooth.depth * depth, capacity=tooth.capacity * capacity, relief=tooth.relief * relief,
        spread=1 + (tooth.spread - 1) * spread, refusal=tooth.refusal * refusal, own=_share_moved(tooth.own, float(offsets[5])),
        outer=_stepped(tooth.outer, offsets[6], *_OUTER), inner=_stepped(tooth.inner, offsets[7], *_INNER),
        edge=tooth.edge * float(np.exp(np.clip(offsets[8], *_EDGE))),
    )  # fmt: skip


def sheet_bounds(tooth: Tooth) -> tuple[Floats, Floats]:
    """The offsets of a sheet (9,) below and above which nothing changes any more."""
    bounds = np.tile([[-_MOST], [_MOST]], SHEET)
    for at, value, (step, least, most) in ((6, tooth.outer, _OUTER), (7, tooth.inner, _INNER)):
        bounds[:, at] = (least - value) / step, (most - value) / step
    bounds[:, 8] = _EDGE
    return bounds[0], bounds[1]


def manner_bounds(medium: Medium) -> tuple[Floats, Floats]:
    """The same of a medium's offsets (20,)."""
    bounds = np.tile([[-_MOST], [_MOST]], len(MANNER))
    bounds[:, MANNER.index("soak")] = _SOAK
    bounds[:, MANNER.index("late")] = _LATE
    bounds[0, MANNER.index("builds")] = -float(np.sqrt(medium.builds)) / _GROWN
    return bounds[0], bounds[1]


def _stepped(value: float, offset: float, step: float, least: float, most: float) -> float:
    """A number moved by so many steps, within its bounds."""
    return float(np.clip(value + step * offset, least, most))


def medium_with(medium: Medium, manner: Sequence[float]) -> Medium:
    """A medium moved by the offsets of `MANNER`; scattering is left to the colours."""
    if not any(manner):
        return medium
    by = dict(zip(MANNER, manner, strict=True))

    def share(name: str) -> float:
        return _share_moved(getattr(medium, name), by[name])

    return replace(
        medium, drag=share("drag"), merge=share("merge"), even=share("even"), grip_after=share("grip_after"),
        grip_again=share("grip_again"), washes_wet=share("washes_wet"), washes_dry=share("washes_dry"),
        uptake=medium.uptake * float(np.exp(by["uptake"])), refusal=medium.refusal * float(np.exp(by["refusal"])),
        late=medium.late * float(np.exp(np.clip(by["late"], *_LATE))),
        washes_share=medium.washes_share * float(np.exp(by["washes_share"])), bluer=medium.bluer + by["bluer"],
        soak=medium.soak * float(np.exp(np.clip(by["soak"], *_SOAK))),
        sinks=share("sinks") if medium.soak else 0.0, crowds_wet=share("crowds_wet") if medium.soak else 0.0,
        crowds_dry=share("crowds_dry") if medium.soak else 0.0,
        specks=medium.specks * float(np.exp(np.clip(by["specks"], -_MOST, _MOST))),
        heaps=medium.heaps * float(np.exp(np.clip(by["heaps"], -_MOST, _MOST))),
        builds=max(float(np.sqrt(medium.builds)) + _GROWN * by["builds"], 0.0) ** 2,
    )  # fmt: skip


def _share_moved(share: float, offset: float) -> float:
    """A share with its logit moved."""
    return float(1 / (1 + np.exp(-np.clip(_logit(share) + offset, -_MOST, _MOST))))


def _logit(share: float) -> float:
    """Of a share, kept within what a share may be."""
    value = min(max(share, _LEAST_SHARE), 1 - _LEAST_SHARE)
    return float(np.log(value / (1 - value)))


def tinted(solid: Floats, offsets: Floats) -> Floats:
    """A reflectance (…, bands) with its logit moved by Legendre polynomials of wavelength, `offsets` (…, 7)."""
    logit = np.log(solid / (1 - solid)) + offsets @ _shapes(solid.shape[-1]).T
    return share_of(np.clip(logit, -_MOST, _MOST))


def _shapes(bands: int) -> Floats:
    """Legendre polynomials of wavelength (bands, 7)."""
    return np.polynomial.legendre.legvander(np.linspace(-1, 1, bands), TINTS - 1)


@lru_cache(maxsize=1)
def _stray() -> Floats:
    """Covariance (7, 7) of the Legendre terms of a surface's logit."""
    terms = np.linalg.pinv(_shapes(WAVELENGTHS.size))
    out: Floats = terms @ usual_logits() @ terms.T
    out.setflags(write=False)
    return out


def hand_spread() -> Floats:
    """Covariance (15, 15) of a hand not measured: how hard and how deep it is as a whole, and each pressure by itself."""
    out = np.diag(np.array([0.15] * 8 + [0.25, 0.25, 0.15, 0.08, 0.5, 0.4, 1.0]) ** 2)
    out[:4, :4] += 0.22**2
    out[4:8, 4:8] += 0.2**2
    return out


def sheet_spread() -> Floats:
    """Covariance (9, 9) of a sheet not measured."""
    return np.diag(np.array([0.25, 0.25, 0.2, 1.2, 0.5, 1.5, 1.0, 1.0, 0.4]) ** 2)


def sheet_doubt() -> Floats:
    """The same of a sheet that has no patch yet: what its patches may still show of its surface and of the end of a stroke's reach
    need not be feared before there are any."""
    out = sheet_spread()
    out[_FEARED:, _FEARED:] = 0.0
    return out


def manner_spread() -> Floats:
    """Covariance (20, 20) of how far patches may move a medium, in the order of `MANNER`."""
    return np.diag(
        np.array([0.4, 0.8, 0.6, 0.6, 0.6, 0.6, 0.15, 0.25, 0.6, 0.6, 1.0, 1.5, 0.4, 1.0, 1.0, 1.5, 1.0, 1.5, 1.5, 0.15]) ** 2
    )


def manner_doubt(medium: Medium) -> Floats:
    """Covariance (20, 20) of a medium not measured. Dyes differ less from one another than a fit leaves them room for: one that
    is unlike most must be let go where its patches say, but need not be feared before there are any. What is loose covers at
    any rate; how far a lead covers differs more from one line to the next."""
    scatter = 0.4 if medium.covers else 0.7
    return np.diag(
        np.array([scatter, 0.8, 0.6, 0.6, 0.6, 0.6, 0.1, 0.2, 0.45, 0.45, 1.0, 1.5, 0.4, 1.0, 1.0, 1.5, 1.0, 1.5, 1.5, 0.15]) ** 2
    )


def colour_spread(solid: Floats, measured: bool) -> Floats:
    """Covariance (9, 9) of a colour of which only the solid (31,) is known; of a measured one its spectrum too.

    The shape of its reflectance may be any that looks like the solid: what is usual of spectra, less what the solid's
    colour, read once, says against it.
    """
    out = np.diag(np.array([0.16, 0.35] + [0.0] * TINTS) ** 2)
    stray = _STRAY_MEASURED**2 * np.eye(TINTS) if measured else _stray()
    step = 1e-3
    moved = tinted(solid, step * np.eye(TINTS))
    slope = (lab_from_reflectance(moved) - lab_from_reflectance(solid)).T / step
    told = stray @ slope.T
    out[2:, 2:] = stray - told @ np.linalg.solve(slope @ told + UNEVEN**2 * np.eye(3), told.T)
    return out


_BALANCED = np.repeat([-1.0, 1.0], MEMBERS // 2)


def possible(seed: int, spread: Floats) -> Floats:
    """`MEMBERS` possible truths (M, n): evenly balanced ±, the same for one seed, with this covariance (n, n)."""
    rng = np.random.default_rng(seed)
    signs = np.stack([rng.permutation(_BALANCED) for _ in range(len(spread))], axis=1)
    out: Floats = signs @ np.linalg.cholesky(spread + _NUDGE * np.eye(len(spread))).T
    return out
