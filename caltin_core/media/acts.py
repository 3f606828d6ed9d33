"""Blends and lifts: acts on what lies there already, which lay nothing of their own.

A blend works films into one another, an eraser or a knife takes some of them off; how hard is the hand's. Dye is pushed away by
what dissolves it and stays under an eraser. All shares are common practice. Shapes as in `stack`.
"""

from dataclasses import replace
from types import MappingProxyType

import numpy as np

from caltin_core.colour.tables import Floats
from caltin_core.media.film import THINNEST, over
from caltin_core.media.hand import Hand
from caltin_core.media.medium import DUST
from caltin_core.media.stack import Drawn, work_in
from caltin_core.media.tooth import relief

# (share of the film below worked in, of wax and of dust for each unit that is loose; evening of the quantiles; whether it leaves a
# burnished surface). A finger hardly moves wax, and makes one tone of two layers of soft pastel.
BLENDINGS = MappingProxyType(
    {
        "finger": (0.15, 0.375, 0.15, False), "stump": (0.3, 0.47, 0.25, False), "blender": (0.6, 0.6, 0.4, True),
        "solvent": (0.9, 0.9, 0.7, False),
    }
)  # fmt: skip
# The share of a dye that a colourless blender or solvent pushes away.
WASHINGS = MappingProxyType({"finger": 0.0, "stump": 0.0, "blender": 0.25, "solvent": 0.25})
# No blend works in more of a film in an ordinary hand, however loose that is.
_MOST_RUBBED = 0.95
# The share of all that lies there which is taken off, of wax.
LIFTINGS = MappingProxyType({"kneaded": 0.15, "stick": 0.4, "knife": 0.7})


def even_out(drawn: Drawn, share: Floats) -> Drawn:
    """Spread `share` (B,) of each quantile's top film over all of them; every amount is kept."""
    x, by = drawn.thick[:, :, None], share[:, None, None]
    kx, sx = drawn.k * x, drawn.s * x
    kx = kx + by * (kx.mean(axis=1, keepdims=True) - kx)
    sx = sx + by * (sx.mean(axis=1, keepdims=True) - sx)
    thick = drawn.thick + share[:, None] * (drawn.thick.mean(axis=1, keepdims=True) - drawn.thick)
    unit = np.maximum(thick, THINNEST)[:, :, None]
    k, s = kx / unit, np.maximum(sx / unit, THINNEST)
    fill = drawn.fill + thick - drawn.thick
    seen = over(drawn.base, k, s, thick, drawn.soak, drawn.specks)
    return replace(drawn, fill=fill, k=k, s=s, thick=thick, seen=seen)


def blend(drawn: Drawn, kind: str, hand: Hand) -> Drawn:
    """Blend what lies there by stump, finger, colourless blender or solvent; loose media blend more easily.

    Films are worked into themselves, the less the deeper they lie, and nothing is lost. Of a dye the blender and solvent push a
    share away.
    """
    if drawn.below is None:
        return drawn
    _, _, even, polish = BLENDINGS[kind]
    worked = even_out(_worked_through(drawn, kind, hand), _rubbed(even * drawn.loose, hand))
    kept = np.where(drawn.dyed, 1 - _rubbed(np.array(WASHINGS[kind]), hand), 1.0).astype(drawn.fill.dtype)
    if drawn.dyed.any():
        thick = worked.thick * kept[:, None]
        seen = over(worked.base, worked.k, worked.s, thick, worked.soak, worked.specks)
        worked = replace(worked, thick=thick, seen=seen, uptake=worked.uptake * kept)
    return replace(worked, burnished=drawn.burnished | (polish & (drawn.loose > 0)))


def _rubbed(share: Floats, hand: Hand) -> Floats:
    """A share that blending works in, by how hard this hand rubs."""
    usual = np.clip(share, 0, _MOST_RUBBED)
    out: Floats = (usual * hand.rubs / (1 - usual + usual * hand.rubs)).astype(share.dtype)
    return out


def _worked_through(drawn: Drawn, kind: str, hand: Hand) -> Drawn:
    """Each film worked into the one over it, from the lowest upwards, so that of deeper ones less and less comes to the top."""
    under = drawn.below
    if under is None:
        return drawn
    if under.below is not None:
        under = _worked_through(under, kind, hand)
        drawn = replace(drawn, base=under.seen, below=under)
    wax, dust, _, _ = BLENDINGS[kind]
    merge = np.where(drawn.loose > DUST, dust, wax).astype(drawn.loose.dtype)
    return work_in(drawn, (_rubbed(merge * drawn.loose, hand) * (under.loose > 0))[:, None])


def lift(drawn: Drawn, kind: str, hand: Hand) -> Drawn:
    """Take off a share of what lies there, most from the peaks and most from the top, e^(−topmost·depth); dye stays."""
    share = LIFTINGS[kind] * hand.lifts * (1 - 0.6 * relief(drawn.fill.shape[1])) / -np.expm1(-hand.topmost)
    whole = np.maximum(drawn.fill, THINNEST)
    return _without(drawn, (whole * share).astype(whole.dtype), hand.topmost / whole, np.ones_like(whole))


def _without(drawn: Drawn, most: Floats, falls: Floats, at: Floats) -> Drawn:
    """The same stacks less a share of what lies there: `most` (B, Q) deposit times what `at` (B, Q) falls by over each film, which
    it does by `falls` (B, Q) for every unit of deposit; more where that is loose."""
    if drawn.below is None:
        return drawn
    loose = drawn.loose[:, None]
    deeper = at * np.exp(-falls * drawn.thick)
    here = np.minimum(most * (at - deeper) * loose, drawn.thick)
    # Dye and covers stay, and keep what is under them.
    under = _without(drawn.below, np.where(loose > 0, most, 0), falls, deeper)
    thick = drawn.thick - here
    fill = np.maximum(drawn.fill - here - (drawn.below.fill - under.fill), 0)
    seen = over(under.seen, drawn.k, drawn.s, thick, drawn.soak, drawn.specks)
    return replace(drawn, fill=fill, base=under.seen, thick=thick, seen=seen, below=under)
