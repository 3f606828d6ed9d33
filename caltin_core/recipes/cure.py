"""What to do about a place that has gone wrong: the smallest cure that the paper can still take.

Each way to begin (nothing, a lift, a blend, a pale coat laid wet) is drawn on what lies there; from there the search looks for
one to three layers. All ways and warnings are common practice.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from types import MappingProxyType

import numpy as np

from caltin_core.colour.difference import chroma, delta_e_2000, hue_angle, hue_apart
from caltin_core.colour.tables import Floats
from caltin_core.colour.words import SAME, Difference, difference
from caltin_core.media.cautions import WAXY, fresh_cautions, holds
from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import COAT, Blend, Lay, Layer, Lift, Stroke, lays
from caltin_core.media.predict import Prediction, colours_of, drawn_states, media_of, predict
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.reach import reach
from caltin_core.recipes.rules import NO_COLOUR, Rules, usable
from caltin_core.recipes.search import Search
from caltin_core.recipes.words import recipe_words

DEFAULT_RULES = Rules()
# A place this near its target reads as right; one that a cure leaves farther than `INCURABLE` is told to be beyond it.
RIGHT, INCURABLE = 1.0, 3.0
# What each layer, each act with another tool, each pass, a last resort and each warning must win, in ΔE00: the smallest cure is the
# best. What is missed by less than reads as right counts by the last share only.
_LAYER, _ACT, _PASS, _RESORT, _WARNED, _FULL, _UNSEEN = 0.25, 0.5, 0.06, 2.0, 1.0, 1.0, 0.25
_CROWDED, _ROOMY = 0.95, 0.8
_LAYERS, _AFTER_ACT = 3, 2
_BEGINNINGS, _LOOKED_AT, _OFFERED = 3, 14, 4
_PALE, _LEAST_GAIN = 76.0, 0.3
# So many light passes, or coats, are a whisper; and from this far off (ΔE00) full layers cover rather than turn.
_WHISPER, _COVERED = 2, 8.0
# A complement lies so far round the hues, in degrees.
_OPPOSITE = 130.0
# A place so much too light (L*) lacks depth before anything else; one with less of its chroma than this share has gone grey.
_SHALLOW, _GREY = 12.0, 0.6
# A place so much too light (L*), of a hue within so many degrees of what was meant or of hardly any C*, has nothing on it that must
# come off.
_LACKING, _AKIN, _WHITISH = 2.0, 30.0, 4.0
# A cure is offered beside the best one where it ends at most this much farther from the target, in ΔE00.
_BESIDE = 4.0
# Nothing dark stands beside the place yet where all is lighter than this much above it, in L*.
_ANCHOR = 4.0

COLOURS = ("too light", "too dark", "too yellow", "too red", "too grey", "too green", "dead", "chalky", "flat")
SURFACE = ("patchy", "streaks", "grain left", "wax lifting off")
DEEDS = ("laid the wrong one", "went over the edge", "highlight lost")
COMPLAINTS = (*COLOURS, *SURFACE, *DEEDS)
# What beginners say of a tone that only stands alone.
_ALONE = ("too dark", "flat")
_LOOSENED = "wax lifting off"
# Where this is said there is something that must come off.
_LIFTED = (*DEEDS, "chalky")

_WAYS = MappingProxyType(
    {
        "knife": "Scrape it out with the tip of a knife, away from the hand, as the last resort.",
        "pen": "Set the light with the white pen, as the last resort.",
        "bleach": "A pale coat laid wet pushes some of the dye away.",
        "wet": "Laid wet into what lies there, it runs into it.",
        "lift": "Lift some of it first; press and pull, do not rub.",
        "rub": "Rub some of it off first, in short strokes; tip the crumbs off, do not wipe.",
        "blend": "Work what lies there into itself; nothing has to be added.",
        "blend first": "Work what lies there into itself first.",
        "complement": "Its complement, in a whisper, calms it.",
        "violet": "A dull violet over it calms what is too strong.",
        "pale": "A pale colour over it lightens and calms.",
        "brown": "A warm brown or red brings the grey back to life.",
        "over": "Go over it anew; here the new layers cover what went wrong.",
        "deepen": "It needs more depth.",
        "glaze": "A thin glaze turns it.",
        "layer": "A layer over it turns it.",
    }
)
_SURFACES = MappingProxyType(
    {
        "patchy": "Turn the sheet and go over it sharp and light, or blend it.",
        "streaks": "Turn the sheet, or lay a transition over the streaks while they can still be worked.",
        "grain left": "A needle point, lightly, reaches the valleys; burnish only where nothing else comes.",
        "wax lifting off": "Lift the loose wax and lay no more wax here.",
    }
)


@dataclass(frozen=True)
class Cure:
    """What to do from here: layers, what is seen after them, how that differs from the target, and a sentence."""

    layers: tuple[Layer, ...]
    prediction: Prediction
    difference: Difference
    words: str
    last_resort: bool


@dataclass(frozen=True)
class Cures:
    """What lies there now; cures, best first; and why the place is beyond cure, or empty."""

    now: Prediction
    cures: tuple[Cure, ...]
    incurable: str


def cures(
    bench: Workbench, done: Sequence[Layer], target: Floats, complaint: str = "", rules: Rules = DEFAULT_RULES,
    beside: Sequence[Floats] = (),
) -> Cures:  # fmt: skip
    """Cures for a place where `done` was laid and the D50 Lab `target` (3,) was meant.

    `beside` are the Lab (3,) of what is drawn around it: where nothing dark stands there yet, a place that seems too dark is
    left alone first. Rules are those of recipes; of their layers no more than three are used.
    """
    (now,) = predict(bench, [done])
    away = float(delta_e_2000(target, now.lab))
    surface = next((s for s in SURFACE if s in complaint), "")
    wait = _wait(now.lab, target, away, complaint, beside)
    tries = [t for t in _tries(bench, done, target, surface, rules) if t]
    if not surface and not any(word in complaint for word in _LIFTED) and _only_lacks(now, target):
        tries = [t for t in tries if not any(isinstance(x, Lift) for x in t)]
    seen = colours_of(bench, [[*done, *t] for t in tries]) if tries else []
    miss = np.array([float(delta_e_2000(target, lab)) for lab, _ in seen])
    cost = np.array(
        [
            _seen_miss(m) + effort(bench, done, t) + _strain(t, used, surface)
            for t, m, (_, used) in zip(tries, miss, seen, strict=True)
        ]
    )
    enough = miss <= miss.min(initial=np.inf) + _BESIDE
    better = enough & (miss < (away - _LEAST_GAIN if not surface else max(away + 0.5, RIGHT)))
    rows = [int(i) for i in np.argsort(cost, kind="stable") if better[i]]
    unlike: dict[tuple[str, ...], int] = {}
    for i in rows:
        unlike.setdefault(_kind(bench, tries[i], now.lab, target), i)
    picked = list(unlike.values())[:_OFFERED]
    looks = predict(bench, [[*done, *tries[i]] for i in picked])
    names = [s.called for s in bench.swatches]
    out = [] if wait is None else [Cure((), now, difference(now.lab, target), wait, False)]
    for i, look in zip(picked, looks, strict=True):
        way = _way(bench, tries[i], now.lab, target)
        apart = difference(look.lab, target)
        words = f"{_SURFACES[surface]} " if surface else ""
        said = f"{words}{_WAYS[way]} {recipe_words(tries[i], names)} It ends {_ended(apart)}."
        said = " ".join([said, *fresh_cautions(bench, done, tries[i])])
        out.append(Cure(tries[i], look, apart, said, way in ("knife", "pen")))
    nearest = min(out, key=lambda c: c.difference.de00, default=None)
    least = nearest.difference.de00 if nearest else away
    if min(least, away) <= INCURABLE and (out or away <= INCURABLE):
        return Cures(now, tuple(out), "")
    return Cures(now, tuple(out), _why(bench, now, nearest.prediction.lab if nearest else now.lab, target, rules))


def _only_lacks(now: Prediction, target: Floats) -> bool:
    """Whether a place only wants more of what is there, and has room for it: then nothing is lifted."""
    akin = chroma(now.lab) < _WHITISH or hue_apart(now.lab, target) < _AKIN
    return bool(now.lab[0] > target[0] + _LACKING and akin and now.tooth_used < _ROOMY)


def _ended(apart: Difference) -> str:
    return "as meant, to the eye" if apart.words == SAME else f"{apart.words} than meant"


def _wait(now: Floats, target: Floats, away: float, complaint: str, beside: Sequence[Floats]) -> str | None:
    """Why to leave the place alone for now; None where there is no reason."""
    darkest = min((float(lab[0]) for lab in beside), default=0.0)
    alone = not complaint or any(word in complaint for word in _ALONE)
    if beside and darkest > float(target[0]) - _ANCHOR and alone and away <= INCURABLE:
        return "Wait: nothing dark stands beside it yet, and every tone looks wrong alone. Set the darkest dark first."
    if away <= RIGHT and not any(s in complaint for s in (*SURFACE, *DEEDS)):
        return f"Leave it: it is within {away:.1f} of what was meant. Look again when its neighbours are drawn."
    return None


def _tries(bench: Workbench, done: Sequence[Layer], target: Floats, surface: str, rules: Rules) -> list[tuple[Layer, ...]]:
    """Everything worth predicting: each beginning by itself, and with the layers the search finds on it."""
    begun = beginnings(bench, done, rules)
    seen = colours_of(bench, [[*done, *b] for b in begun]) if begun else []
    order = np.argsort([float(delta_e_2000(target, lab)) for lab, _ in seen], kind="stable")
    # From a place that is a little too light all colours are open; from one too dark few.
    light = [int(i) for i in order if seen[i][0][0] > target[0] - 1]
    chosen = dict.fromkeys([*light[:_BEGINNINGS], *(int(i) for i in order[:_BEGINNINGS])])
    starts: list[tuple[Layer, ...]] = [(), *(begun[i] for i in chosen)]
    drawn = drawn_states(bench, [[*done, *s] for s in starts])
    out: list[tuple[Layer, ...]] = list(begun)
    for begin, state in zip(starts, drawn, strict=True):
        most = min(rules.max_layers, _AFTER_ACT if begin else _LAYERS)
        mine = Rules(most, min(rules.max_colours, most), rules.black, rules.avoid, rules.prefer, rules.goal, spare=rules.spare)
        search = Search(bench, mine, drawn=state, below=media_of(bench, done))
        found = search.find(target, 4000)
        lone = np.flatnonzero((found.colour != NO_COLOUR).sum(axis=1) == 1)[: _LOOKED_AT // 2]
        rows = dict.fromkeys([*range(min(_LOOKED_AT, len(found))), *lone.tolist()])
        out += [(*begin, *found.layers(int(r), search.fast.coats)) for r in rows]
    last = next((x for x in reversed(done) if isinstance(x, Lay)), None)
    if surface and last is not None and last.stroke.pressure != COAT:
        out += [(Lay(last.colour, Stroke("light", n, turned=True)),) for n in (1, 2)]
    if surface == _LOOSENED:
        # Where wax comes off, more wax does not hold.
        out = [t for t in out if not any(isinstance(x, Lay) and bench.swatches[x.colour].medium in WAXY for x in t)]
    return out


def beginnings(bench: Workbench, done: Sequence[Layer], rules: Rules) -> list[tuple[Layer, ...]]:
    """Acts that change what lies there before anything is laid: lifts, blends, a pale coat laid wet."""
    laid = [bench.swatches[x.colour] for x in lays(done)]
    out: list[tuple[Layer, ...]] = []
    films = [s for s in laid if s.kind == "film"]
    if films:
        out += [(Lift(kind),) for kind in ("kneaded", "stick", "knife")] + [(Lift("kneaded"), Lift("kneaded"))]
        out += [(Blend(kind),) for kind in (("blender",) if films[-1].medium in WAXY else ("stump", "finger"))]
    if any(s.kind == "dye" for s in laid):
        dyes = [
            i for i in usable(bench, rules)
            if bench.swatches[i].kind == "dye" and bench.solids[i, 0] > _PALE
            and all(holds(s.medium, bench.swatches[i].medium) for s in laid)
        ]  # fmt: skip
        pale = sorted(dyes, key=lambda i: -float(bench.solids[i, 0]))[:4]
        out += [(Lay(int(i), Stroke(COAT, n, wet=True)),) for i in pale for n in (1, 2, 4, 6)]
        out.append((Blend("blender"),))
    return out


def effort(bench: Workbench, done: Sequence[Layer], layers: Sequence[Layer]) -> float:
    """What these acts must win in ΔE00 to be worth their while where `done` was laid."""
    passes = sum(x.stroke.passes for x in lays(layers))
    warned = len(fresh_cautions(bench, done, layers))
    acts = len(layers) - len(lays(layers))
    return _LAYER * len(lays(layers)) + _ACT * acts + _PASS * passes + _RESORT * last_resort(bench, layers) + _WARNED * warned


def _seen_miss(miss: float) -> float:
    """What a miss in ΔE00 counts: below what reads as right hardly anything."""
    return miss - (1 - _UNSEEN) * min(miss, RIGHT)


def _strain(layers: Sequence[Layer], used: float, surface: str) -> float:
    """What speaks against a cure besides: a crowded paper; for it, work on a surface that has gone wrong."""
    worked = any(isinstance(x, Blend) or (isinstance(x, Lay) and x.stroke.turned) for x in layers)
    return _FULL * (used > _CROWDED) - (1.0 if surface and worked else 0.0)


def last_resort(bench: Workbench, layers: Sequence[Layer]) -> bool:
    """Whether a knife or a cover such as the white pen is among the layers."""
    return Lift("knife") in layers or any(bench.swatches[x.colour].kind == "cover" for x in lays(layers))


def _kind(bench: Workbench, layers: Sequence[Layer], now: Floats, target: Floats) -> tuple[str, ...]:
    """What makes two cures alike: the way; of glazes, the colour that does most too."""
    way = _way(bench, layers, now, target)
    most = max((x for x in layers if isinstance(x, Lay)), key=lambda x: x.stroke.passes, default=None)
    return (way, str(most.colour)) if most is not None and way in ("glaze", "layer") else (way.split()[0],)


def _way(bench: Workbench, layers: Sequence[Layer], now: Floats, target: Floats) -> str:
    """The way a cure goes, as one would name it."""
    if Lift("knife") in layers:
        return "knife"
    if last_resort(bench, layers):
        return "pen"
    laid = lays(layers)
    wet = [x for x in laid if x.stroke.wet]
    if any(bench.solids[x.colour, 0] > max(now[0], _PALE) for x in wet):
        return "bleach"
    if any(isinstance(x, Lift) for x in layers):
        return "rub" if Lift("stick") in layers else "lift"
    if any(isinstance(x, Blend) for x in layers):
        return "blend first" if laid else "blend"
    if wet:
        return "wet"
    cover = all(MEDIA[bench.swatches[x.colour].medium].covers for x in laid)
    if cover and len(laid) > 1 and float(delta_e_2000(now, target)) > _COVERED:
        return "over"
    thin = all(_whispered(x) for x in laid)
    kinds = {_turn(bench.solids[x.colour], now, target, thin) for x in laid}
    return next((way for way in ("violet", "complement", "pale", "brown", "deepen") if way in kinds), "glaze" if thin else "layer")


def _turn(solid: Floats, now: Floats, target: Floats, whispered: bool) -> str:
    """How one colour turns a place: by its solid's Lab (3,), from `now` towards `target`."""
    hue, strength = float(hue_angle(solid)), float(chroma(solid))
    excess = float(chroma(now)) - float(chroma(target))
    shallow = now[0] - target[0]
    if shallow > _SHALLOW:
        return "deepen" if solid[0] < now[0] - 8 else "glaze"
    if excess > 1 and strength > 8 and 295 <= hue <= 345:
        return "violet"
    if excess > 1 and strength > 12 and hue_apart(solid, now) > _OPPOSITE and whispered:
        return "complement"
    if solid[0] > _PALE and (excess > 1 or now[0] < target[0]):
        return "pale"
    if excess < -1 and chroma(now) < _GREY * chroma(target) and 20 <= hue <= 80 and strength > 12:
        return "brown"
    if shallow > 2 and solid[0] < now[0] - 8:
        return "deepen"
    return "glaze"


def _whispered(layer: Layer) -> bool:
    """Whether a layer is laid so lightly that what lies below still shows."""
    return isinstance(layer, Lay) and layer.stroke.pressure in ("light", COAT) and layer.stroke.passes <= _WHISPER


def _why(bench: Workbench, now: Prediction, nearest: Floats, target: Floats, rules: Rules) -> str:
    """Why a place is beyond cure."""
    if now.tooth_used > _CROWDED:
        return f"the paper is {100 * now.tooth_used:.0f} % full here and takes hardly anything more; nearest is L* {nearest[0]:.0f}"
    if nearest[0] < target[0] - 1:
        return (
            f"what lies here does not come off far enough: L* {target[0]:.0f} was meant, and no lift, pale layer or pale coat "
            f"brings back more than L* {nearest[0]:.0f}"
        )
    if usable(bench, rules).size == 0:
        return "the rules leave no colour to draw with"
    return reach(bench, Search(bench, rules), "this place", target, nearest, rules).why or "nothing within these rules comes nearer"
