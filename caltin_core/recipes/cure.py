"""What to do about a place that has gone wrong: the smallest cure that the paper can still take.

Each way to begin (nothing, a lift, a blend, a pale coat laid wet) is drawn on what lies there; from there the search looks for
one to three layers. All ways and warnings are common practice.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from types import MappingProxyType

import numpy as np

from caltin_core.colour.difference import chroma, delta_e_2000, hue_angle, hue_apart
from caltin_core.colour.tables import Floats
from caltin_core.colour.words import SAME, Difference, difference
from caltin_core.media.cautions import fresh_cautions, holds
from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import COAT, Blend, Lay, Layer, Lift, Stroke, lays
from caltin_core.media.measured import LABS, Measured, as_laid, as_measured
from caltin_core.media.predict import Prediction, drawn_states, media_of
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.beginnings import PALE, beginnings, effort, last_resort
from caltin_core.recipes.faults import (
    comes_off,
    departure,
    evenly,
    finer,
    is_chalky,
    is_undone,
    looks_flat,
    repair,
    stands_alone,
    surface_of,
    surface_words,
    works,
)
from caltin_core.recipes.padded import NO_COLOUR
from caltin_core.recipes.reach import reach
from caltin_core.recipes.rules import Rules, usable
from caltin_core.recipes.search import Search
from caltin_core.recipes.words import recipe_words

DEFAULT_RULES = Rules()
# A place this near its target reads as right; one that a cure leaves farther than `INCURABLE` is told to be beyond it.
RIGHT, INCURABLE = 1.0, 3.0
# What a crowded paper must win in ΔE00. What is missed by less than reads as right counts by the last share only.
_FULL, _UNSEEN = 1.0, 0.25
_CROWDED, _ROOMY = 0.95, 0.8
_LAYERS, _AFTER_ACT = 3, 2
_BEGINNINGS, _LOOKED_AT, _OFFERED = 3, 14, 4
_LEAST_GAIN = 0.3
# What a surface that is made even may cost in colour.
_SPOILT = 2.0
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
# How often and how hard a surface is gone over to even it out.
_EVENING = (("light", 1), ("light", 2), ("light", 3), ("medium", 1), ("burnish", 1))
# Nothing dark stands beside the place yet where all is lighter than this much above it, in L*.
_ANCHOR = 4.0

_FLAT = "A face looks flat where its darks stop too early: take its deepest accents down first."
_WAYS = MappingProxyType(
    {
        "planned": "Go on as planned.",
        "knife": "Scrape it out with the tip of a knife, away from the hand, as the last resort.",
        "pen": "Set the light with the white pen, as the last resort.",
        "bleach": "A pale coat laid wet pushes some of the dye away.",
        "wet": "Laid wet into what lies there, it runs into it.",
        "lift": "Lift some of it; press and pull, do not rub.",
        "rub": "Rub some of it off in short strokes; tip the crumbs off, do not wipe.",
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


@dataclass(frozen=True)
class Cure:
    """What to do from here: layers; what is predicted after them, from what the place is said to look like now; how that differs
    from the target; and a sentence."""

    layers: tuple[Layer, ...]
    prediction: Prediction
    difference: Difference
    words: str
    last_resort: bool


@dataclass(frozen=True)
class Cures:
    """What a place looks like now, Lab (3,), and by how much (ΔE00) that is otherwise than its layers should show, by what is
    said or was measured of it; cures, best first; and why the place is beyond cure, or empty."""

    looks: Floats
    astray: float
    cures: tuple[Cure, ...]
    incurable: str


@dataclass(frozen=True)
class _Place:
    """A place as it is: what was laid, what that should look like, and how it `seems`, Lab (3,); what was meant, what is said, and
    the layers still to come. What comes next is laid on what is `there`."""

    bench: Workbench
    done: tuple[Layer, ...]
    now: Prediction
    there: Measured
    seems: Floats
    target: Floats
    complaint: str
    planned: tuple[Layer, ...] = ()

    @property
    def astray(self) -> float:
        """How far it looks from what its layers should show, ΔE00."""
        return float(delta_e_2000(self.now.lab, self.seems))

    def miss(self, lab: Floats) -> float:
        """How far a Lab (3,) is from what was meant, ΔE00."""
        return float(delta_e_2000(self.target, lab))


def cures(
    bench: Workbench, done: Sequence[Layer], target: Floats, complaint: str = "", rules: Rules = DEFAULT_RULES,
    beside: Sequence[Floats] = (), looks: Floats | None = None, *, believed: bool = False, planned: Sequence[Layer] = (),
    earlier: Measured | None = None,
) -> Cures:  # fmt: skip
    """Cures for a place where `done` was laid and the D50 Lab `target` (3,) was meant.

    `looks` is the Lab (3,) that it was measured to be. Without, what is complained of may be `believed`: taken to be so,
    noticeably, even where what was laid should not show it; but then leaving it comes first. Where layers are still `planned` no
    place is believed to look wrong, and going on by them is a way like others, of no effort. `beside` are the Lab (3,) of what
    is drawn around it: where nothing dark stands there yet, a place that seems too dark is left alone first. Rules are those of
    recipes; of their layers no more than three are used. `earlier` is what was laid as it was measured before, where it was
    and is not `looks`.
    """
    should = earlier if earlier and looks is None else as_laid(bench, done)
    (now,) = should.predict([()])
    said = departure(now, target, complaint) if believed and not planned else np.zeros(3)
    measured = looks is not None
    if looks is None and said.any():
        looks = np.clip(now.lab + said, *LABS)
    there = should if looks is None else as_measured(bench, done, looks)
    place = _Place(bench, tuple(done), now, there, now.lab if looks is None else looks, target, complaint, tuple(planned))
    away = place.miss(place.seems)
    offered = _offered(place, rules, away)
    surface = surface_of(complaint)
    # What cannot be drawn for certain is told all the same.
    worked = surface_words(bench, done, surface) if surface and not offered else ""
    apart, (as_it_is,) = difference(place.seems, target), there.predict([()])

    def told(*every: str) -> list[Cure]:
        return [Cure((), as_it_is, apart, words, False) for words in every if words]

    plain, deed = told(worked, _wait(place, away, beside, measured)), told(repair(bench, done, complaint))
    # Where the layers themselves do not show what was meant, colours come before what was done.
    out = [*deed, *plain, *offered] if planned or away <= RIGHT else [*plain, *offered, *deed]
    # What the eye alone says may be nothing; and a surface is worked at, not brought nearer.
    least = min([away if measured else place.miss(now.lab), *(c.difference.de00 for c in offered)])
    if surface or (least <= INCURABLE and (out or away <= INCURABLE)):
        why = ""
    else:
        nearest = min(offered, key=lambda c: c.difference.de00, default=None)
        why = _why(bench, now, nearest.prediction.lab if nearest else place.seems, target, rules)
    return Cures(place.seems, place.astray, tuple(out), why)


def _offered(place: _Place, rules: Rules, away: float) -> list[Cure]:
    """The best cures that differ in kind, for a place that looks `away` from what was meant; those that end nearest with least work
    come first."""
    bench, done, surface = place.bench, place.done, surface_of(place.complaint)
    tries = _worked(place, surface, rules) if surface else _tries(place, rules)
    # A surface is worked at before what is to come goes over it.
    rest = place.planned if surface else ()
    if not surface and not comes_off(place.complaint) and _only_lacks(place):
        tries = [t for t in tries if not any(isinstance(x, Lift) for x in t)]
    if is_chalky(place.complaint):
        white = max(PALE, float(place.target[0]))
        tries = [t for t in tries if not any(bench.solids[x.colour, 0] > white for x in lays(t))]
    if place.planned and not surface:
        tries = [place.planned, *tries]
    seen = place.there.colours([[*t, *rest] for t in tries]) if tries else []
    miss = np.array([place.miss(lab) for lab, _ in seen])
    cost = np.array(
        [
            _seen_miss(m) + (0.0 if t == place.planned else effort(bench, done, t, of_skin=rules.skin) + _strain(t, used, surface))
            for t, m, (_, used) in zip(tries, miss, seen, strict=True)
        ]
    )
    enough = miss <= miss.min(initial=np.inf) + _BESIDE
    better = enough & (miss < (away + _SPOILT if surface else away - _LEAST_GAIN))
    rows = [int(i) for i in np.argsort(cost, kind="stable") if better[i]]
    looks = dict(zip(rows, place.there.predict([tries[i] for i in rows]), strict=True)) if surface else {}
    unlike: dict[tuple[str, ...], int] = {}
    for i in rows:
        if not surface or finer(surface, place.now, looks[i]):
            unlike.setdefault(_worked_alike(place, tries[i]) if surface else _kind(place, tries[i]), i)
    picked = [tries[i] for i in list(unlike.values())[:_OFFERED]]
    after = place.there.predict([[*t, *rest] for t in picked])
    return [_told(place, t, rest, look, surface, rules.skin) for t, look in zip(picked, after, strict=True)]


def _told(
    place: _Place, layers: tuple[Layer, ...], rest: tuple[Layer, ...], after: Prediction, surface: str, of_skin: bool
) -> Cure:  # fmt: skip
    """One cure, after which the `rest` goes on, with its sentence."""
    bench, way = place.bench, _way(place, layers)
    # A surface is worked at by what is laid; an act says itself how.
    how = surface_words(bench, place.done, surface) if surface and lays(layers) else _WAYS[way]
    apart = difference(after.lab, place.target)
    then = " Then go on as planned." if rest else ""
    said = f"{how} {recipe_words(layers, [s.called for s in bench.swatches])}{then} It ends {_ended(apart)}."
    words = " ".join([said, *fresh_cautions(bench, place.done, layers, of_skin=of_skin)])
    return Cure((*layers, *rest), after, apart, words, way in ("knife", "pen"))


def _only_lacks(place: _Place) -> bool:
    """Whether a place only wants more of what is there, and has room for it: then nothing is lifted."""
    akin = chroma(place.seems) < _WHITISH or hue_apart(place.seems, place.target) < _AKIN
    return bool(place.seems[0] > place.target[0] + _LACKING and akin and place.now.tooth_used < _ROOMY)


def _ended(apart: Difference) -> str:
    return "as meant, to the eye" if apart.words == SAME else f"{apart.words} than meant"


def _wait(place: _Place, away: float, beside: Sequence[Floats], measured: bool) -> str:
    """Why to leave the place alone for now; empty where there is no reason."""
    darkest = min((float(lab[0]) for lab in beside), default=0.0)
    told = away if measured else place.miss(place.now.lab)
    if beside and darkest > float(place.target[0]) - _ANCHOR and stands_alone(place.complaint) and told <= INCURABLE:
        return "Wait: nothing dark stands beside it yet, and every tone looks wrong alone. Set the darkest dark first."
    if told <= RIGHT and not is_undone(place.complaint) and not surface_of(place.complaint):
        by = "it" if measured else "what lies there"
        still = " If it still looks wrong then, do the smallest of these." if not measured and place.astray else ""
        look = _FLAT if looks_flat(place.complaint) else "Look again when its neighbours are drawn."
        return f"Leave it: {by} is within {told:.1f} of what was meant. {look}{still}"
    return ""


def _worked(place: _Place, surface: str, rules: Rules) -> list[tuple[Layer, ...]]:
    """What works at a fault of the surface: acts, and single layers that may follow a blend, across what lies there."""
    bench, done = place.bench, place.done
    over = lays(done)
    dye = bool(over) and bench.swatches[over[-1].colour].kind == "dye"
    kind = "dye" if dye else "film"
    colours = [
        i for i in usable(bench, rules)
        if bench.swatches[i].kind == kind and all(holds(bench.swatches[x.colour].medium, bench.swatches[i].medium) for x in over)
    ]  # fmt: skip
    strokes = [Stroke(COAT, 1, wet=True)] if dye else [Stroke(p, n, turned=True) for p, n in _EVENING]
    single: list[tuple[Layer, ...]] = [(Lay(int(c), s),) for c in colours for s in strokes]
    acts = beginnings(bench, done, rules)
    blends = [t for t in acts if isinstance(t[0], Blend)]
    every = [*acts, *single, *((*b, *s) for b in blends for s in single)]
    return [t for t in every if works(bench, done, surface, t)]


def _tries(place: _Place, rules: Rules) -> list[tuple[Layer, ...]]:
    """Everything worth predicting: each beginning by itself, and with the layers the search finds on it."""
    bench, done, there = place.bench, place.done, place.there
    # What no colours explain stays whatever is laid.
    target = place.target - there.off
    begun = beginnings(bench, done, rules)
    seen = there.colours(begun) if begun else []
    order = np.argsort([place.miss(lab) for lab, _ in seen], kind="stable")
    # From a place that is a little too light all colours are open; from one too dark few.
    light = [int(i) for i in order if seen[i][0][0] > place.target[0] - 1]
    chosen = dict.fromkeys([*light[:_BEGINNINGS], *(int(i) for i in order[:_BEGINNINGS])])
    starts: list[tuple[Layer, ...]] = [(), *(begun[i] for i in chosen)]
    drawn = drawn_states(there.bench, [[*there.done, *s] for s in starts])
    out: list[tuple[Layer, ...]] = list(begun)
    for begin, state in zip(starts, drawn, strict=True):
        most = min(rules.max_layers, _AFTER_ACT if begin else _LAYERS)
        # What is already there has left its school.
        mine = replace(rules, max_layers=most, max_colours=min(rules.max_colours, most), school=None)
        search = Search(bench, mine, drawn=state, below=media_of(bench, done))
        found = search.find(target, 4000)
        lone = np.flatnonzero((found.colour != NO_COLOUR).sum(axis=1) == 1)[: _LOOKED_AT // 2]
        rows = dict.fromkeys([*range(min(_LOOKED_AT, len(found))), *lone.tolist()])
        out += [(*begin, *found.layers(int(r), search.fast.coats)) for r in rows]
    return out


def _seen_miss(miss: float) -> float:
    """What a miss in ΔE00 counts: below what reads as right hardly anything."""
    return miss - (1 - _UNSEEN) * min(miss, RIGHT)


def _strain(layers: Sequence[Layer], used: float, surface: str) -> float:
    """What speaks against a cure besides: a crowded paper; for it, work on a surface that has gone wrong."""
    return _FULL * (used > _CROWDED) - (1.0 if surface and evenly(layers) else 0.0)


def _kind(place: _Place, layers: Sequence[Layer]) -> tuple[str, ...]:
    """What makes two cures alike: the way; of glazes, the colour that does most too."""
    way = _way(place, layers)
    most = max((x for x in layers if isinstance(x, Lay)), key=lambda x: x.stroke.passes, default=None)
    return (way, str(most.colour)) if most is not None and way in ("glaze", "layer") else (way.split()[0],)


def _worked_alike(place: _Place, layers: Sequence[Layer]) -> tuple[str, ...]:
    """What makes two cures of a surface alike: the acts, and whether a colour that lies on top, or another, is laid how hard."""
    top = lays(place.done)[-1:]
    how = [(x.stroke.pressure == "burnish", [y.colour for y in top] == [x.colour]) for x in lays(layers)]
    return (*(x.kind for x in layers if not isinstance(x, Lay)), *map(str, how))


def _way(place: _Place, layers: Sequence[Layer]) -> str:
    """The way a cure goes, as one would name it."""
    bench, now, target = place.bench, place.seems, place.target
    if layers == place.planned:
        return "planned"
    if Lift("knife") in layers:
        return "knife"
    if last_resort(bench, layers):
        return "pen"
    laid = lays(layers)
    wet = [x for x in laid if x.stroke.wet]
    if any(bench.solids[x.colour, 0] > max(now[0], PALE) for x in wet):
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
    if solid[0] > PALE and (excess > 1 or now[0] < target[0]):
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
