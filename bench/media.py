"""How truly stacks are predicted, judged by the stand-in sheet, whose physics are its own; and how fast."""

import json
import resource
import subprocess
import sys
import time
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from bench.table import Row
from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spectra import lab_from_reflectance, reflectance_from_lab
from caltin_core.colour.tables import Floats
from caltin_core.contract.shapes import laid_shape
from caltin_core.media.calibrate import Patch, calibrate
from caltin_core.media.colourants import Ground, Swatch, solids_from_lab
from caltin_core.media.layers import Blend, Lay, Layer, Lift, Stroke
from caltin_core.media.predict import colours_of, predict
from caltin_core.media.teaching import teaching
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.match import all_matches
from caltin_core.recipes.proposed import proposed_of
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.targets import Target
from caltin_core.standins.crowded import Crowded
from caltin_core.standins.paper import Nature, Sheet
from caltin_core.standins.pressed import Pressed
from caltin_core.standins.rubbed import Rubbed
from caltin_core.standins.sheets import sheet_of
from tests.core.builders import demo_bench, random_stack

COLOURS, PAIRS, UNSEEN, SEEDS = 24, 12, 60, (17, 18)
# One sheet and kit is predicted twice as well as another.
MEDIA_SEEDS = range(17, 21)
DEPTH_SEEDS = range(17, 25)
# Targets of a kit, and how often each of their recipes is drawn.
SKIN, DRAWN = 12, 3
NATURES = {
    "as it comes": Nature(),
    "coarser grain": Nature(grain=2.2, spread=1.0), "another law": Nature(law="geometric", washing="even"),
    "other scattering": Nature(law="plain", cling=1.4, washing="drunk"),
    "heavy, quick to fill": Nature(harder=1.4, deeper=0.8, take=1.4),
    "read with its gloss": Nature(gloss=0.03),
    "another paper": Pressed(),
    "a third paper": Rubbed(),
    "a fourth paper": Crowded(),
}  # fmt: skip
# Medium, paper, tooth, single patches a colour, least L* of the kit; what the issue asks of median and 90th percentile.
CASES = {
    "pencil": ("wax_pencil", (95, 0, 2), "vellum", 3, 24, 1.3, 3.2),
    "pastel on tone": ("soft_pastel", (62, 3, 12), "sanded", 3, 24, 1.3, 3.2),
    "marker, wet and dry": ("alcohol_marker", (95, 0, 1), "card", 2, 45, 1.2, 2.8),
}
CURVE = (0, 6, 10, 20, 40, 80)
_SINGLE = (
    (("light", 2), ("medium", 3), ("firm", 2)),
    (("light", 4), ("firm", 1), ("burnish", 1)),
    (("medium", 1), ("medium", 4), ("burnish", 2)),
)
_PRESSURES = ("light", "medium", "firm", "burnish")
# Blends and lifts that artists use on a medium, a kneaded eraser oftenest.
_ACTS: dict[str, tuple[Blend | Lift, ...]] = {
    "wax_pencil": (*map(Blend, ("stump", "finger", "blender", "solvent")), *map(Lift, ("kneaded", "kneaded", "stick", "knife"))),
    "soft_pastel": (*map(Blend, ("stump", "finger")), *map(Lift, ("kneaded", "stick"))),
    "alcohol_marker": tuple(map(Blend, ("blender", "solvent"))),
}
Stack = tuple[Layer, ...]


@dataclass(frozen=True)
class World:
    """A sheet of one nature, the bench as typed in, patches as anyone may lay them and as many that Caltin would ask for, and
    stacks never seen with what they measured; and the sheet, to draw more."""

    bench: Workbench
    plain: list[Patch]
    patches: list[Patch]
    unseen: list[Stack]
    truth: Floats
    sheet: Sheet


def _kit(rng: np.random.Generator, low: float) -> list[Floats]:
    """A random kit: mostly warm, some of everything."""
    out: list[Floats] = []
    while len(out) < COLOURS:
        lightness = rng.uniform(low, 94)
        strength = rng.uniform(3, min(60, 1.1 * lightness, 1.6 * (110 - lightness)))
        hue = np.radians(rng.uniform(20, 90) if rng.random() < 0.6 else rng.uniform(0, 360))
        out.append(np.array([lightness, strength * np.cos(hue), strength * np.sin(hue)]))
    return out


def random_of(rng: np.random.Generator, dye: bool, colours: Sequence[int]) -> Stack:
    """These colours laid in random strokes."""

    def stroke() -> Stroke:
        if dye:
            return Stroke("coat", int(rng.choice([1, 2, 3], p=[0.5, 0.35, 0.15])), wet=bool(rng.random() < 0.4))
        return Stroke(_PRESSURES[int(rng.choice(4, p=[0.3, 0.35, 0.25, 0.1]))], int(rng.integers(1, 5)))

    return tuple(Lay(int(c), stroke()) for c in colours)


def _acted(rng: np.random.Generator, medium: str, stack: Stack) -> Stack:
    """The stack with a blend or a lift after one of its layers."""
    at, acts = int(rng.integers(1, len(stack) + 1)), _ACTS[medium]
    return (*stack[:at], acts[int(rng.integers(len(acts)))], *stack[at:])


def world(case: str, nature: str, seed: int, acted: bool = False) -> World:
    """Make one; `acted`, with a blend or a lift in every pair and every unseen stack."""
    medium, paper, tooth, each, low, _, _ = CASES[case]
    rng = np.random.default_rng(seed)
    white = reflectance_from_lab(np.array(paper, dtype=float))
    sheet, ground = sheet_of(white, tooth, NATURES[nature], seed), Ground(white, tooth)
    solids = solids_from_lab(
        [sheet.solid(sheet.add(lab, medium)) for lab in _kit(rng, low)], [ground] * COLOURS, [medium] * COLOURS
    )
    bench = Workbench(tuple(Swatch(f"c{i}", s, medium, ground) for i, s in enumerate(solids)), ground)
    dye = medium == "alcohol_marker"
    stacks: list[Stack] = []
    for c in range(COLOURS):
        how = [Stroke("coat", n) for n in (1, 2 + c % 2)] if dye else [Stroke(*h) for h in _SINGLE[c % 3]]
        stacks += [(Lay(c, h),) for h in how[:each]]
    stacks += [random_of(rng, dye, rng.choice(COLOURS, 2, replace=False).tolist()) for _ in range(PAIRS)]
    unseen = [random_of(rng, dye, rng.integers(COLOURS, size=int(rng.integers(2, 5))).tolist()) for _ in range(UNSEEN)]
    if acted:
        stacks[-PAIRS:] = [_acted(rng, medium, s) for s in stacks[-PAIRS:]]
        unseen = [_acted(rng, medium, s) for s in unseen]
    plain = [Patch(s, sheet.patch(s)) for s in stacks]
    truth = np.array([sheet.patch(s) for s in unseen])
    singles = teaching(bench, each * COLOURS, layers=1, each=each)
    chosen = singles + teaching(bench, PAIRS, singles, layers=2)
    return World(bench, plain, [Patch(s, sheet.patch(s)) for s in chosen], unseen, truth, sheet)


def _misses(bench: Workbench, here: World) -> Floats:
    return delta_e_2000(here.truth, np.array([lab for lab, _ in colours_of(bench, here.unseen)]))


def _naive(here: World) -> Floats:
    """What multiplying the flat colours of the solids over the paper would miss by."""
    paper = here.bench.ground.reflectance
    out = []
    for stack in here.unseen:
        seen = paper.copy()
        for x in stack:
            if isinstance(x, Lay):
                seen = seen * here.bench.swatches[x.colour].solid / paper
        out.append(lab_from_reflectance(np.clip(seen, 1e-4, 1)))
    return delta_e_2000(here.truth, np.array(out))


def _share(bench: Workbench, here: World) -> Floats:
    seen = predict(bench, here.unseen)
    return delta_e_2000(here.truth, np.array([p.lab for p in seen])) / np.array([p.uncertainty for p in seen])


def media() -> list[Row]:
    """Predictions after calibration on stacks never seen, three media, nine natures of paper and hand."""
    rows = []
    for case, (*_, median, most) in CASES.items():
        for nature in NATURES:
            worlds = [world(case, nature, seed) for seed in MEDIA_SEEDS]
            found = [calibrate(w.bench, w.patches).bench for w in worlds]
            after = np.concatenate([_misses(b, w) for b, w in zip(found, worlds, strict=True)])
            others = [calibrate(w.bench, w.plain).bench for w in worlds]
            plain = np.concatenate([_misses(b, w) for b, w in zip(others, worlds, strict=True)])
            before = np.concatenate([_misses(w.bench, w) for w in worlds])
            said = f"{case}, {nature}"
            rows.append(Row(f"{said}: calibrated, median", float(np.median(after)), "ΔE00", median))
            rows.append(Row(f"{said}: calibrated, 90th percentile", float(np.quantile(after, 0.9)), "ΔE00", most))
            rows.append(Row(f"{said}: the same by patches chosen without Caltin, median", float(np.median(plain)), "ΔE00", median))
            rows.append(Row(f"{said}: the same, 90th percentile", float(np.quantile(plain, 0.9)), "ΔE00", most))
            rows.append(Row(f"{said}: calibrated against not, median", float(np.median(after) / np.median(before)), "x", 1.0))
            benches = {"uncalibrated": [w.bench for w in worlds], "calibrated": found, "by patches chosen without Caltin": others}
            rows += _honest(said, benches, worlds)
            if nature != "as it comes":
                continue
            naive = float(np.median(np.concatenate([_naive(w) for w in worlds])))
            rows.append(Row(f"{said}: against a naive overlay, median", float(np.median(after)) / naive, "x", 0.5))
    return rows


def depths() -> list[Row]:
    """What deep results are missed by against light ones, on more sheets, for of either kind there are few on one."""
    rows = []
    for case in CASES:
        worlds = [world(case, "as it comes", seed) for seed in DEPTH_SEEDS]
        depth = np.concatenate([w.truth[:, 0] for w in worlds])
        after = np.concatenate([_misses(calibrate(w.bench, w.patches).bench, w) for w in worlds])
        # Either drawing strays from what the hand would lay on average.
        drawn = [np.array([w.sheet.patch(s) for s in w.unseen]) for w in worlds]
        again = np.concatenate([delta_e_2000(w.truth, lab) for w, lab in zip(worlds, drawn, strict=True)]) / np.sqrt(2)
        for said, away in (("calibrated", after), ("the hand and the reading by themselves", again)):
            ratio = float(np.median(away[depth < 48]) / np.median(away[depth > 65]))
            rows.append(Row(f"{case}, as it comes, {said}: below L* 48 against above 65", ratio, "x", 1.3))
    return rows


def acts() -> list[Row]:
    """The same where something is blended or lifted in every stack, and in the pairs it is learnt from."""
    rows = []
    for case, (*_, median, most) in CASES.items():
        for nature in ("as it comes", "another paper"):
            worlds = [world(case, nature, seed, acted=True) for seed in SEEDS]
            found = [calibrate(w.bench, w.plain).bench for w in worlds]
            misses = np.concatenate([_misses(b, w) for b, w in zip(found, worlds, strict=True)])
            said = f"{case}, blended and lifted, {nature}"
            rows.append(Row(f"{said}: calibrated, median", float(np.median(misses)), "ΔE00", median))
            rows.append(Row(f"{said}: calibrated, 90th percentile", float(np.quantile(misses, 0.9)), "ΔE00", most))
            rows += _honest(said, {"uncalibrated": [w.bench for w in worlds], "calibrated": found}, worlds)
    return rows


def recipes_drawn() -> list[Row]:
    """Recipes found for skin on calibrated kits, drawn by the stand-in: a search takes what looks nearest, errors with it."""
    rows = []
    for case in CASES:
        for nature in ("as it comes", "another paper"):
            away: dict[str, list[tuple[float, float]]] = {"closest": [], "proposed": []}
            for seed in SEEDS:
                here, rng = world(case, nature, seed), np.random.default_rng(seed)
                bench = calibrate(here.bench, here.plain).bench
                skin = [Target(f"{i}", rng.uniform((32, 8, 10), (84, 24, 30))) for i in range(SKIN)]
                for target, found in zip(skin, all_matches(bench, skin, Rules()), strict=True):
                    for kind, recipe in (("closest", found.recipes[0]), ("proposed", proposed_of(bench, found.recipes))):
                        if recipe is None:
                            continue
                        drawn = np.array([here.sheet.patch(recipe.layers) for _ in range(DRAWN)])
                        off = delta_e_2000(drawn, recipe.prediction.lab) / recipe.prediction.uncertainty
                        away[kind] += zip(delta_e_2000(drawn, target.lab).tolist(), off.tolist(), strict=True)
            for kind, both in away.items():
                miss, share = np.array(both).T
                said = f"{case}, {nature}: recipes drawn, {kind}"
                rows.append(Row(f"{said}, median off the target", float(np.median(miss)), "ΔE00", 2.0))
                rows.append(Row(f"{said}, error over uncertainty, 80th percentile", float(np.quantile(share, 0.8)), "", 1.3))
    return rows


def _honest(said: str, benches: dict[str, list[Workbench]], worlds: Sequence[World]) -> list[Row]:
    """Whether the doubts of these benches, one for each world, are as large as their misses."""
    rows = []
    for name, each in benches.items():
        share = float(np.quantile(np.concatenate([_share(b, w) for b, w in zip(each, worlds, strict=True)]), 0.8))
        rows.append(Row(f"{said}: error over uncertainty, 80th percentile, {name}, at most", share, "", 1.3))
        rows.append(Row(f"{said}: the same, at least", share, "", 0.77, True))
    return rows


def curve() -> list[Row]:
    """How the error falls with the number of patches."""
    worlds = [world("pencil", "as it comes", seed) for seed in (*SEEDS, 19, 20)]
    before = float(np.median(np.concatenate([_misses(w.bench, w) for w in worlds])))
    rows = []
    for many in CURVE:
        misses = []
        for here in worlds:
            some = [here.plain[i] for i in np.linspace(0, len(here.plain) - 1, many).round().astype(int)] if many else []
            misses.append(_misses(calibrate(here.bench, some).bench if some else here.bench, here))
        rows.append(Row(f"pencil, {many} patches, median", float(np.median(np.concatenate(misses))), "ΔE00", before))
    return rows


def _drawn(case: str, seed: int, stacks: Sequence[Sequence[Layer]]) -> list[Patch]:
    """Patches of other stacks on the same sheet with the same sticks."""
    medium, paper, tooth, _, low, _, _ = CASES[case]
    sheet = sheet_of(reflectance_from_lab(np.array(paper, dtype=float)), tooth, NATURES["as it comes"], seed)
    for lab in _kit(np.random.default_rng(seed), low):
        sheet.solid(sheet.add(lab, medium))
    return [Patch(tuple(s), sheet.patch(s)) for s in stacks]


def sheets() -> list[Row]:
    """The error of unseen stacks against the number of patches: sheets chosen by information against chosen at random."""
    rows = []
    for case in ("pencil", "marker, wet and dry"):
        for many in CURVE[2:]:
            misses = {}
            for random in (False, True):
                each = []
                for seed in SEEDS:
                    here = world(case, "as it comes", seed)
                    found = calibrate(here.bench, _drawn(case, seed, teaching(here.bench, many, random=random)))
                    each.append(_misses(found.bench, here))
                misses[random] = float(np.median(np.concatenate(each)))
            rows.append(Row(f"{case}, {many} patches chosen by information, median", misses[False], "ΔE00", misses[True]))
    return rows


def _asked(bench: Workbench, stacks: Sequence[Sequence[Lay]]) -> dict[str, Any]:
    """The stacks as the command line takes them."""
    paper = {"name": "sheet", "lab": lab_from_reflectance(bench.ground.reflectance).tolist(), "tooth": bench.ground.tooth}
    colours = [{"id": s.id, "lab": s.lab.tolist(), "medium": s.medium} for s in bench.swatches]
    ids = [s.id for s in bench.swatches]
    laid = [{"id": str(i), "layers": [laid_shape(ids[x.colour], x.stroke).model_dump() for x in s]} for i, s in enumerate(stacks)]
    return {"surface": paper, "colours": colours, "stacks": laid}


def pace() -> list[Row]:
    """How long calibration and many predictions take."""
    here = world("pencil", "as it comes", SEEDS[0])
    begun = time.perf_counter()
    calibrate(here.bench, here.patches)
    fitting = time.perf_counter() - begun
    bench, rng = demo_bench(), np.random.default_rng(0)
    stacks = [random_stack(rng, bench, 5) for _ in range(10_000)]
    begun = time.perf_counter()
    colours_of(bench, stacks)
    plain = time.perf_counter() - begun
    begun = time.perf_counter()
    predict(bench, stacks, quick=True)
    whole = time.perf_counter() - begun
    request = json.dumps(_asked(bench, stacks)).encode()
    begun = time.perf_counter()
    subprocess.run([sys.executable, "-m", "caltin_core", "predict"], input=request, capture_output=True, check=True)
    line = time.perf_counter() - begun
    return [
        Row("24 colours calibrated", fitting, "s", 10),
        Row("10,000 stacks of 5 layers predicted, colour and tooth", plain, "s", 2),
        Row("the same with every layer, the grain and the uncertainty, in single precision", whole, "s", 2),
        Row("the same by the command line, start and JSON with it, in as many processes as there are cores", line, "s", 2),
        Row("that against in one process without", line / whole, "x", 1.5),
        Row("memory at most, all of this bench", resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024, "MB", 400),
    ]
