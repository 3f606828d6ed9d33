"""Families of colours and cures, over complexions, kits and media. All data here are invented but the ten tones."""

import time
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np
from scipy.optimize import Bounds, differential_evolution

from bench.core import fresh
from bench.table import Row
from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spaces import lab_from_hex
from caltin_core.colour.spectra import reflectance_from_lab
from caltin_core.colour.tables import Floats
from caltin_core.media.colourants import Ground, Swatch, solids_from_lab
from caltin_core.media.hand import PRESSURES
from caltin_core.media.layers import COAT, PRESSED, STROKE_INDEX, STROKES, Lay, Layer, Stroke
from caltin_core.media.predict import colours_of, predict
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.candidates import FastBench
from caltin_core.recipes.coverage import role_tones
from caltin_core.recipes.cure import INCURABLE, cures
from caltin_core.recipes.family import Family, Member, family
from caltin_core.recipes.match import all_matches, matches
from caltin_core.recipes.padded import NO_COLOUR
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.school_list import SCHOOLS
from caltin_core.recipes.schools import left_out, wanted_in, zones_of
from caltin_core.recipes.targets import Target
from demo.kits import MARKERS_36, PASTELS_30, WAX_24
from tests.core.builders import random_bench

# The ten-tone skin scale of Monk (2022), its hex values from memory.
TONES = ("f6ede4", "f3e7db", "f7ead0", "eadaba", "d7bd96", "a07e56", "825c43", "604134", "3a312a", "292420")
NEIGHBOURS = {i: tuple(j for j in (i - 1, i + 1) if 0 <= j < 6) for i in range(6)} | {6: ()}


def face(tone: str) -> list[Member]:
    """The seven roles of one complexion as targets on paper."""
    tones = role_tones(lab_from_hex(f"#{tone}"))
    return [Member(Target(role, lab), 1.0, NEIGHBOURS[at]) for at, (role, lab) in enumerate(tones.items())]


MADE_OF = {
    "pencil": ((95.0, 0.0, 3.0), "vellum", [(i, lab, "wax_pencil") for i, _, lab in WAX_24]),
    "marker": ((96.0, 0.0, 0.5), "card", [(i, lab, "alcohol_marker") for i, _, lab in MARKERS_36]),
    "pastel": ((62.0, 3.0, 12.0), "sanded", [(i, lab, medium) for i, _, medium, lab in PASTELS_30]),
}
MOST, NEAR, VALUE = 12, 2.0, 2.0
SPOILED, KITS = 100, 50


@lru_cache(maxsize=4)
def kit(name: str) -> Workbench:
    """One of the demo's three kits, not calibrated: pencils on vellum, markers on card, pastels on a toned ground."""
    paper, tooth, rows = MADE_OF[name]
    ground = Ground(reflectance_from_lab(np.array(paper)), tooth)
    solids = solids_from_lab([np.array(lab) for _, lab, _ in rows], [ground] * len(rows), [m for _, _, m in rows])
    return Workbench(tuple(Swatch(i, r, m, ground) for (i, _, m), r in zip(rows, solids, strict=True)), ground)


@dataclass(frozen=True)
class Faced:
    """One face on one kit: ΔE00, |ΔL*| and L* of its roles in reach, how many are not, steps the wrong way, colours, seconds."""

    away: Floats
    values: Floats
    lightness: Floats
    beyond: int
    wrong: int
    colours: int
    took: float


def faced(bench: Workbench, tone: str, rules: Rules) -> Faced:
    """Solve one face."""
    bench, members = fresh(bench), face(tone)
    begun = time.perf_counter()
    found = family(bench, members, rules)
    took = time.perf_counter() - begun
    there = [m for m in found.matches if m.reach.ok]
    seen = np.array([m.recipes[0].prediction.lab for m in found.matches])
    apart = np.array([m.target.lab for m in members])
    order = sum(
        (seen[i, 0] - seen[i + 1, 0]) * (apart[i, 0] - apart[i + 1, 0]) < 0 and abs(apart[i, 0] - apart[i + 1, 0]) > 1
        for i in range(5)
    )
    used = {x.colour for m in found.matches for x in m.recipes[0].layers}
    return Faced(
        np.array([m.recipes[0].difference.de00 for m in there]), np.array([abs(m.recipes[0].difference.dl) for m in there]),
        np.array([m.target[0] for m in there]), len(found.matches) - len(there), int(order), len(used), took,
    )  # fmt: skip


# So many of the nearest of all stacks are predicted in full.
_NEAREST = 400


def against_every_stack(kits: int = 3, targets: int = 6) -> list[Row]:
    """Against every stack of three layers there is: 8 colours, passes 1-3, sharp, unturned."""
    layers = np.array([(c, STROKE_INDEX[Stroke(p, n)]) for c in range(8) for p in PRESSURES for n in (1, 2, 3)])
    second, third = (g.ravel() for g in np.meshgrid(np.arange(len(layers)), np.arange(len(layers)), indexing="ij"))
    excess = []
    for seed in range(kits):
        rng, bench = np.random.default_rng(seed), random_bench(np.random.default_rng(seed), 8, 0)
        quick = FastBench(bench, None)
        every, laid = [], []
        for first in layers:
            rows = np.stack([np.broadcast_to(first, (len(second), 2)), layers[second], layers[third]], axis=1)
            states = quick.after_each(first[None, None, 0], first[None, None, 1])
            same = np.zeros(len(second), dtype=np.intp)
            every.append(quick.evaluate(rows[..., 0], rows[..., 1], states, same, same + 1).lab)
            laid.append(rows)
        labs, stacks = np.concatenate(every), np.concatenate(laid)
        for _ in range(targets):
            lab = labs[rng.integers(len(labs))] + rng.normal(0, 4, 3)
            (found,) = matches(bench, [Target("t", lab)], Rules(max_layers=3, max_colours=3))
            near = [[Lay(int(c), STROKES[s]) for c, s in stacks[i]] for i in np.argsort(delta_e_2000(lab, labs))[:_NEAREST]]
            best = delta_e_2000(lab, np.array([seen for seen, _ in colours_of(bench, near)])).min()
            excess.append(found.recipes[0].difference.de00 - float(best))
    return [Row("kits of 8: most above the best of every three-layer stack, ΔE00", max(excess), "", 0.1)]


def _evolved(asked: tuple[int, int]) -> float:
    """ΔE00 of a long differential evolution for one role of one random kit, over five layers of any colours but the black's."""
    seed, role = asked
    bench = random_bench(np.random.default_rng(seed), 24, 1)
    target = face(TONES[seed % len(TONES)])[role].target.lab
    many, none = len(bench.swatches), PRESSED
    quick = FastBench(bench, None)

    def objective(x: Any, /) -> Any:
        genes = x.reshape(_LAYERS, 2, -1)
        colour = np.minimum((genes[:, 0] * many).astype(np.intp), many - 1).T
        stroke = np.minimum((genes[:, 1] * (none + 12)).astype(np.intp), none + 11).T
        colour = np.where(stroke < none, colour, NO_COLOUR)
        order = np.argsort(colour == NO_COLOUR, axis=1, kind="stable")
        colour, stroke = np.take_along_axis(colour, order, axis=1), np.take_along_axis(np.minimum(stroke, none - 1), order, axis=1)
        there = colour[:, 0] != NO_COLOUR
        black = (colour[:, :-1] == 0) & (colour[:, 1:] != NO_COLOUR)
        start = np.zeros(len(colour), dtype=np.intp)
        lab = quick.evaluate(np.maximum(colour, -1), stroke, [quick.begin(len(colour))], np.arange(len(colour)), start).lab
        return np.where(there & ~black.any(axis=1), delta_e_2000(target, lab), 100.0)

    found = differential_evolution(
        objective,
        Bounds(np.zeros(2 * _LAYERS), np.ones(2 * _LAYERS)),
        rng=seed,
        vectorized=True,
        updating="deferred",
        popsize=30,
        maxiter=400,
        tol=0,
    )
    return float(found.fun)


_LAYERS, _HARDEST = 5, 8


def against_evolution() -> list[Row]:
    """The roles that came out worst on the random kits, beside a long differential evolution of each by itself."""
    with ProcessPoolExecutor(2) as pool:
        found = list(pool.map(_first_misses, range(KITS)))
        worst = sorted(((miss, seed, role) for seed, all_ in enumerate(found) for role, miss in enumerate(all_)), reverse=True)
        evolved = list(pool.map(_evolved, [(seed, role) for _, seed, role in worst[:_HARDEST]]))
    excess = [miss - best for (miss, _, _), best in zip(worst, evolved, strict=False)]
    kits = [float(np.mean(all_)) for all_ in found]
    return [
        Row(
            f"the {_HARDEST} worst roles of {KITS} random kits, above a long evolution of each alone: mean",
            float(np.mean(excess)),
            "",
            0.3,
        ),
        Row("the same: most", max(excess), "", 0.3),
        Row(f"mean ΔE00 of all roles, the worst of {KITS} random kits", max(kits), "", 1.0),
    ]


def _first_misses(seed: int) -> list[float]:
    bench = random_bench(np.random.default_rng(seed), 24, 1)
    found = family(bench, face(TONES[seed % len(TONES)]), Rules(max_colours=MOST))
    return [m.recipes[0].difference.de00 for m in found.matches]


def _ten(name: str) -> list[Faced]:
    return [faced(kit(name), tone, Rules(max_colours=MOST)) for tone in TONES]


def _random(seed: int) -> Faced:
    """A face of the scale on a random kit."""
    rng = np.random.default_rng(seed)
    return faced(random_bench(rng, 24, 1), TONES[seed % len(TONES)], Rules(max_colours=MOST))


def schools() -> list[Row]:
    """How often recipes have what their school is chosen for, against the same schools that want no more than their order."""
    left, away = {}, {}
    for asked in ("its order alone", "what it is chosen for"):
        found, wanted, apart = 0, 0, []
        for school in SCHOOLS.values():
            bare = replace(school, stages=tuple(replace(s, wanted=()) for s in school.stages))
            rules = Rules(school=bare if asked == "its order alone" else school, black="allowed")
            for tone in (TONES[1], TONES[5], TONES[8]):
                targets = [m.target for m in face(tone)]
                zones = zones_of(np.array([t.lab[0] for t in targets]))
                for match, zone in zip(all_matches(kit(school.medium), targets, rules), zones, strict=True):
                    wanted += len(wanted_in(school, zone))
                    for recipe in match.recipes[:1]:
                        found += len(left_out(kit(school.medium), recipe.layers, school, zone))
                        apart.append(recipe.difference.de00)
        left[asked], away[asked] = found / wanted, float(np.mean(apart))
    by, before = "what it is chosen for", "its order alone"
    return [
        Row(f"stages left out that {len(SCHOOLS)} schools want, three faces each", left[by], "", left[before] / 2),
        Row("that costs of ΔE00, mean of the closest recipes", away[by] - away[before], "", 0.3),
    ]


def faces() -> list[Row]:
    """The ten tones in seven roles with the demo's kits, and on random kits."""
    rows = []
    with ProcessPoolExecutor(2) as pool:
        every = dict(zip(MADE_OF, pool.map(_ten, MADE_OF), strict=True))
        random = list(pool.map(_random, range(KITS)))
    for name, found in every.items():
        away, values = (np.concatenate([getattr(f, n) for f in found]) for n in ("away", "values"))
        rows += [
            Row(f"{name}: of 70 roles of ten tones, in reach", 70 - sum(f.beyond for f in found), "", 60, True),
            Row(f"{name}: of those, within ΔE00 2 in at most {MOST} colours", 100 * float((away < NEAR).mean()), "%", 90, True),
            Row(f"{name}: of those, within 2 L*", 100 * float((values < VALUE).mean()), "%", 100, True),
            Row(f"{name}: neighbours out of order", sum(f.wrong for f in found), "", 0),
        ]
    away, lightness = (np.concatenate([getattr(f, n) for f in random]) for n in ("away", "lightness"))
    ratio = float(away[lightness < 48].mean() / max(away[lightness > 65].mean(), 1e-6))
    rows.append(Row(f"{KITS} random kits: mean ΔE00 of roles in reach", float(away.mean()), "", 1.0))
    rows.append(Row("their deep roles against light ones", ratio, "x", 1.2))
    return rows


def family_pace() -> list[Row]:
    """A family for 24 and 120 colours, solved again after a ban, and against roles solved alone."""
    rules = Rules(max_colours=MOST)
    rows, excess, took, again = [], [], [], []
    for seed in range(6):
        bench = fresh(random_bench(np.random.default_rng(seed), 24, 1))
        members = face(TONES[seed])
        alone = list(matches(bench, [m.target for m in members], Rules(max_colours=5)))
        wanted = len({x.colour for m in alone for x in m.recipes[0].layers})
        begun = time.perf_counter()
        found = family(fresh(bench), members, replace(rules, max_colours=max(wanted // 2, 2)))
        took.append(time.perf_counter() - begun)
        excess.append(found.mean - float(np.mean([m.recipes[0].difference.de00 for m in alone])))
        gone = found.colours[-1][0]
        begun = time.perf_counter()
        family(bench, _around(members, found, gone), replace(rules, avoid=frozenset({gone})))
        again.append(time.perf_counter() - begun)
    large = [faced(random_bench(np.random.default_rng(s), 120, 2), TONES[4], rules).took for s in range(3)]
    rows.append(Row("one face's family, 24 colours", float(np.median(took)), "s", 3))
    rows.append(Row("one face's family, 120 colours", float(np.median(large)), "s", 6))
    rows.append(Row("solved again around what stays, after a ban", float(np.median(again)), "s", 1))
    rows.append(Row("half the colours against roles alone: mean ΔE00 more, worst of 6", max(excess), "", 0.5))
    return rows


def _around(members: list[Member], found: Family, gone: int) -> list[Member]:
    """The members with every recipe pinned that does not need the colour that is gone."""
    firsts = [m.recipes[0].layers for m in found.matches]
    return [
        m if any(x.colour == gone for x in layers) else replace(m, pinned=layers) for m, layers in zip(members, firsts, strict=True)
    ]


def spoiled(name: str, seed: int) -> tuple[Workbench, list[Layer], Floats]:
    """A place that was going well until something wrong was laid on it: bench, what is done, what was meant."""
    rng, bench = np.random.default_rng(seed), kit(name)
    fine: list[Layer] = []
    for colour in rng.choice(len(bench.swatches), int(rng.integers(1, 4))):
        fine.append(_lay(bench, int(colour), rng))
    target = predict(bench, [fine])[0].lab
    if seed % 5 == 0:
        # A highlight lost: a dark laid hard where the paper, or the palest colour, should show.
        pale = int(np.argmax(bench.solids[:, 0]))
        fine = [Lay(pale, Stroke("light", 1) if bench.swatches[pale].kind == "film" else Stroke(COAT, 1))]
        dark = int(rng.choice(np.argsort(bench.solids[:, 0])[:8]))
        film = bench.swatches[dark].kind == "film"
        return bench, [*fine, Lay(dark, Stroke("firm", 3) if film else Stroke(COAT, 3))], predict(bench, [fine])[0].lab
    wrong = [_lay(bench, int(c), rng) for c in rng.choice(len(bench.swatches), int(rng.integers(1, 3)))]
    return bench, [*fine, *wrong], target


def _lay(bench: Workbench, colour: int, rng: np.random.Generator) -> Lay:
    passes = int(rng.integers(1, 3))
    film = bench.swatches[colour].kind == "film"
    return Lay(colour, Stroke(str(rng.choice(["light", "medium"])), passes) if film else Stroke(COAT, passes))


def _cured(asked: tuple[str, int]) -> tuple[float, float, bool]:
    """ΔE00 before and after the first cure, and whether it was called incurable."""
    bench, done, target = spoiled(*asked)
    found = cures(bench, done, target)
    before = float(delta_e_2000(target, predict(bench, [done])[0].lab))
    return before, found.cures[0].difference.de00 if found.cures else before, bool(found.incurable)


def cured() -> list[Row]:
    """Spoiled states in the three media, cured."""
    rows = []
    with ProcessPoolExecutor(2) as pool:
        for name in MADE_OF:
            seen = list(pool.map(_cured, [(name, seed) for seed in range(SPOILED)]))
            ended = float(np.mean([after < INCURABLE or told for _, after, told in seen]))
            rows.append(
                Row(f"{name}: of {SPOILED} spoiled states, cured below ΔE00 3 or told incurable", 100 * ended, "%", 90, True)
            )
            rows.append(
                Row(
                    f"{name}: their median ΔE00, {np.median([b for b, *_ in seen]):.1f} before",
                    float(np.median([a for _, a, _ in seen])),
                    "",
                    3,
                )
            )
    return rows
