"""Sheets of many natures with a kit, patches drawn on them and stacks nobody has seen. All data here are invented."""

from copy import deepcopy
from functools import lru_cache

import numpy as np

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spectra import reflectance_from_lab
from caltin_core.media.calibrate import Patch, calibrate
from caltin_core.media.colourants import Ground, Swatch, solids_from_lab
from caltin_core.media.layers import Lay, Stroke
from caltin_core.media.predict import colours_of
from caltin_core.media.workbench import Workbench
from caltin_core.standins.crowded import Crowded
from caltin_core.standins.paper import Nature
from caltin_core.standins.pressed import Pressed
from caltin_core.standins.rubbed import Rubbed
from caltin_core.standins.sheets import sheet_of

NATURES = {
    "even": Nature(),
    "other law": Nature(law="geometric"),
    "heavy": Nature(harder=1.3),
    "glossy": Nature(gloss=0.03),
    "pressed": Pressed(),
    "rubbed": Rubbed(),
    "crowded": Crowded(),
}
SEED = 3
MEDIA = {"wax_pencil": ((95, 0, 2), "vellum"), "soft_pastel": ((62, 3, 12), "sanded"), "alcohol_marker": ((95, 0, 1), "card")}
LABS = (
    (90, 4, 16), (78, 18, 16), (70, 12, 40), (62, 38, 22), (48, 34, 30), (36, 18, 20), (58, 2, -18), (60, -12, 20), (80, 8, 26), (44, 22, -16),
)  # fmt: skip


def strokes(medium):
    if medium == "alcohol_marker":
        return [Stroke("coat", 1), Stroke("coat", 2)]
    return [Stroke("light", 3), Stroke("medium", 2), Stroke("firm", 2)]


def world(medium="wax_pencil", nature="even", drawn_on=None, seed=SEED):
    """A sheet, the bench an artist would type in, single and paired patches, and stacks it has never seen with their truth; where it
    is `drawn_on` paper of another colour than it was swatched on, that sheet."""
    sheet, *rest = _world(medium, nature, drawn_on, seed)
    return deepcopy(sheet), *rest


@lru_cache(maxsize=32)
def _world(medium, nature, drawn_on, seed):
    lab, tooth = MEDIA[medium]
    paper = reflectance_from_lab(np.array(lab, dtype=float))
    sheet, ground = sheet_of(paper, tooth, NATURES[nature], seed), Ground(paper, tooth)
    solids = solids_from_lab(
        [sheet.solid(sheet.add(np.array(v, dtype=float), medium)) for v in LABS], [ground] * len(LABS), [medium] * len(LABS)
    )
    swatches, here = tuple(Swatch(f"c{i}", s, medium, ground) for i, s in enumerate(solids)), ground
    if drawn_on:
        here = Ground(reflectance_from_lab(np.array(drawn_on, dtype=float)), tooth)
        sheet, sticks = sheet_of(here.reflectance, tooth, NATURES[nature], seed), sheet.sticks
        sheet.sticks = sticks
    bench = Workbench(swatches, here)
    rng = np.random.default_rng(seed)
    how = strokes(medium)
    stacks = [(Lay(c, h),) for c in range(len(LABS)) for h in how]
    stacks += [(Lay(int(a), how[1]), Lay(int(b), how[0])) for a, b in rng.choice(len(LABS), (12, 2))]
    patches = tuple(Patch(s, sheet.patch(s)) for s in stacks)
    unseen = [tuple(Lay(int(c), how[int(rng.integers(len(how)))]) for c in rng.integers(len(LABS), size=n)) for n in (2, 3, 4) * 12]
    truth = np.array([sheet.patch(s) for s in unseen])
    return sheet, bench, patches, unseen, truth


def misses(bench, unseen, truth):
    return delta_e_2000(truth, np.array([lab for lab, _ in colours_of(bench, unseen)]))


def fitted(medium="wax_pencil", nature="even", many=None):
    """The world's bench calibrated by its patches, or by so many of them."""
    return _fitted(medium, nature, many)


@lru_cache(maxsize=32)
def _fitted(medium, nature, many):
    _, bench, patches, _, _ = world(medium, nature)
    some = patches if many is None else [patches[i] for i in np.linspace(0, len(patches) - 1, many).round().astype(int)]
    return calibrate(bench, some)
