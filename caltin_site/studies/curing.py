"""What is asked about a place of a study beside its recipe: other ways, cures, under-colours, a ramp, edges."""

from caltin_core.errors import BadRequest
from caltin_core.media.layers import lays
from caltin_core.plan.crossing import as_drawn, crossing
from caltin_core.recipes.alternatives import Alternative, alternatives
from caltin_core.recipes.cure import Cure, cures
from caltin_core.recipes.ramp import ramp
from caltin_core.recipes.under import under_chart
from caltin_core.reference.edges import EdgeKind
from caltin_core.reference.roles import MEETS
from caltin_site.kits import services as kits
from caltin_site.kits.laid import layers_of, said
from caltin_site.shapes import Tone
from caltin_site.studies.aims import Aim, aim
from caltin_site.studies.came_out import looks_of, there
from caltin_site.studies.models import Study
from caltin_site.studies.onward import zone_of
from caltin_site.studies.reading import areas_out
from caltin_site.studies.recipe_schemas import CrossingOut, CureAsked, CureOut, CuresOut, RampOut, RecipeOut, UnderOut, WayOut
from caltin_site.studies.recipes import core_rules, effective, grain_out, recipe_out, target_of


def cures_out(study: Study, asked: CureAsked) -> CuresOut:
    """The smallest cures for a place; what stands around it is looked at first."""
    here = aim(study)
    if asked.place not in here.targets:
        raise BadRequest("place", "this place is no longer there")
    done = layers_of(here.bench, asked.done)
    planned = layers_of(here.bench, asked.planned)
    recipes = effective(here)
    around = {p: layers_of(here.bench, recipes[p].layers) for p in asked.beside if p in recipes and p != asked.place}
    beside = [seen.lab for seen in looks_of(here, around).values()]
    mine = target_of(here, next(p for p in here.state.places if p.id == asked.place))
    rules, looks = core_rules(here).for_role(mine.black, skin=mine.skin), asked.looks.array() if asked.looks else None
    found = cures(
        here.bench, done, mine.lab, asked.complaint or "", rules, beside, looks, believed=True, planned=planned,
        earlier=there(here, asked.place, done),
    )  # fmt: skip
    return CuresOut(
        now=Tone.of(found.looks), astray=round(found.astray, 2), cures=[_out(here, c) for c in found.cures],
        incurable=found.incurable,
    )  # fmt: skip


def _out(here: Aim, cure: Cure) -> CureOut:
    return CureOut(
        sentence=cure.words, tone=Tone.of(cure.prediction.lab), de00=round(cure.difference.de00, 2),
        tooth_used=round(cure.prediction.tooth_used, 4), last_resort=cure.last_resort,
        layers=said(here.bench, cure.layers),
    )  # fmt: skip


def ways_out(study: Study, place: str) -> list[WayOut]:
    """The ways to a place's tone that differ in kind."""
    here = aim(study)
    if place not in here.targets:
        raise BadRequest("place", "this place is no longer there")
    tins = kits.tins(here.state.pins.kit)
    mine = next(p for p in here.state.places if p.id == place)
    found = alternatives(here.bench, target_of(here, mine), core_rules(here), tins, zone_of(here, place))
    return [WayOut(way=a.way, tin=a.tin, why=a.why, recipe=_way(here, a, place)) for a in found]


def _way(here: Aim, found: Alternative, place: str) -> RecipeOut | None:
    r = found.recipe
    return recipe_out(here, place, r.layers, r.prediction, found.way) if r else None


def crossings_out(study: Study, place: str, to: str = "", kind: EdgeKind | None = None) -> list[CrossingOut]:
    """How the edges of a place are drawn, as they were read from the picture; or one edge, to a named place, of a named kind."""
    here = aim(study)
    recipes = effective(here)
    asked: list[tuple[str, EdgeKind, float | None]] = [(to, kind or "soft", None)]
    if not to:
        read = areas_out(study).edges if here.state.areas else []
        beside = [(e.other if e.one == place else e.one, e.kind, e.width_mm) for e in read if place in (e.one, e.other)]
        # What has no recipe yet is told once it has one.
        asked = [b for b in beside if place in recipes and b[0] in recipes]
    names = here.state.names()
    meets = {p.id: MEETS[p.role] for p in here.state.places}
    out = []
    for other, how, wide in asked:
        if place not in recipes or other not in recipes:
            raise BadRequest("place", "both sides of an edge need a recipe")
        sides = lays(layers_of(here.bench, recipes[place].layers)), lays(layers_of(here.bench, recipes[other].layers))
        both = meets[place], meets[other]
        # What the artist asks for is not overruled.
        found = crossing(here.bench, sides, (names[place], names[other]), kind or as_drawn(how, both), wide, meets=both)
        carried = None if found.side is None else (place, other)[found.side]
        out.append(
            CrossingOut(
                place=other, called=names[other], kind=found.kind, read=None if to else how, width_mm=wide,
                from_place=carried, layer=found.layer, far_mm=found.far_mm, words=found.words,
            )
        )  # fmt: skip
    return out


def under_out(study: Study, place: str) -> list[UnderOut]:
    """The under-colours that would help a place, nearest first."""
    here = aim(study)
    if place not in here.targets:
        raise BadRequest("place", "this place is no longer there")
    names = [s.called for s in here.bench.swatches]
    return [
        UnderOut(
            under=names[p.under],
            over=names[p.over],
            layers=said(here.bench, p.layers),
            strokes=[x.stroke.words() for x in p.layers],
            alone=Tone.of(p.alone),
            tone=Tone.of(p.lab),
            away=round(p.away, 2),
            uncertainty=round(p.uncertainty, 2),
            test_first=p.test_first,
            grain=grain_out(p.grain),
        )
        for p in under_chart(here.bench, here.targets[place], core_rules(here))
    ]


def ramp_out(study: Study, place: str, to: str, between: int) -> RampOut:
    """The ramp between two places that have recipes."""
    here = aim(study)
    recipes = effective(here)
    for name in (place, to):
        if name not in recipes:
            raise BadRequest("place", "both ends of a ramp need a recipe")
    ends = [lays(layers_of(here.bench, recipes[p].layers)) for p in (place, to)]
    found = ramp(here.bench, ends[0], ends[1], between, core_rules(here))
    steps = [recipe_out(here, place, r.layers, r.prediction, "own", target=m.target) for m in found.steps for r in m.recipes[:1]]
    return RampOut(steps=steps, missing=found.missing)
