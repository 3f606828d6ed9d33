"""How a stick behaves, as far as its swatches show it. All limits are common practice.

Strength tells hard from soft and weak from ordinary; scattering tells a pale stick that goes chalky; uneven cells tell one that
crumbles. Whether it keeps a point, and a marker's nib, no swatch shows: those are set by touch.
"""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from caltin_core.media.colourants import Handling, Swatch
from caltin_core.media.fits import COLOUR

# The members of the ensemble agree on a strength (a logarithm) when they spread by less.
_AGREED = 0.1
# A pale stick whose scattering is raised by so much (a logarithm) whitens what it is laid over.
_CHALKY, _PALE = 0.5, 78.0
# A stick whose cells are this many times as uneven as the usual ones, in two cells or more.
_UNEVEN = 2.5
_STICKS = tuple(Handling(hardness=h, weak=w) for w in (False, True) for h in (3, 2, 4, 1, 5))


def learnt(swatch: Swatch, unevenness: Sequence[float] = (), usual: float = 0.0) -> Swatch:
    """The swatch with the handling its patches show; what it is predicted to look like stays as it was.

    `unevenness` are the spreads (ΔE00) of cells laid with it alone, `usual` the median of such cells on these sheets.
    Where nothing is shown, what was set by hand stays.
    """
    handling, fit = swatch.handling, swatch.fit
    members = np.array(fit.members).reshape(-1, COLOUR + len(fit.manner))
    if swatch.kind == "film" and len(members) and float(members[:, 0].std()) < _AGREED:
        laid = handling.deposit() * float(np.exp(fit.own[0]))
        near = min(_STICKS, key=lambda s: abs(np.log(s.deposit() / laid)))
        handling = replace(handling, hardness=near.hardness, weak=near.weak)
        if float(members[:, 1].std()) < 3 * _AGREED and float(swatch.lab[0]) > _PALE:
            handling = replace(handling, chalky=fit.own[1] > _CHALKY)
    if len(unevenness) > 1 and usual > 0 and swatch.kind == "film":
        handling = replace(handling, crumbles=float(np.median(unevenness)) > _UNEVEN * usual)
    moved = float(np.log(swatch.handling.deposit() / handling.deposit()))
    own = (fit.own[0] + moved, *fit.own[1:])
    rows = tuple((row[0] + moved, *row[1:]) for row in fit.members)
    return replace(swatch, handling=handling, fit=replace(fit, own=own, members=rows))


def learnt_words(before: Handling, after: Handling) -> str:
    """What was learnt, as a sentence; empty where nothing changed."""
    said = []
    if after.hardness != before.hardness or after.weak != before.weak:
        hard = {1: "very soft", 2: "soft", 3: "neither hard nor soft", 4: "hard", 5: "very hard"}[after.hardness]
        said.append(f"{hard}, and weak" if after.weak else hard)
    for name, yes, no in (("chalky", "goes chalky", "does not go chalky"), ("crumbles", "crumbles", "does not crumble")):
        if getattr(after, name) != getattr(before, name):
            said.append(yes if getattr(after, name) else no)
    return f"Its swatches show: {'; '.join(said)}." if said else ""
