"""What is read of a study's picture as a whole: complexion, light, cast, ways of seeing, edges, spans."""

from functools import lru_cache
from typing import Any
from uuid import UUID

from django.http import Http404

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.words import difference, tone_words
from caltin_core.errors import BadRequest
from caltin_core.plan.using import A4
from caltin_core.reference import areas
from caltin_core.reference.edges import Edge, edges
from caltin_core.reference.seeing import VIEWS, Sight
from caltin_core.reference.sheet import span
from caltin_core.skin.undertone import strength_word, undertone
from caltin_site.ownership import mine
from caltin_site.references import looking
from caltin_site.references import services as references
from caltin_site.references.api import ReadOut, evenness
from caltin_site.references.models import AreaMap
from caltin_site.shapes import Lab, Tone
from caltin_site.studies import history
from caltin_site.studies.aims import Aim
from caltin_site.studies.found import look_of
from caltin_site.studies.models import Study
from caltin_site.studies.reading_schemas import (
    ApartOut,
    AreaOut,
    AreasOut,
    CastOut,
    ComplexionOut,
    EdgeOut,
    EndOut,
    FlushOut,
    LightOut,
    OverviewOut,
    PlaceAsked,
    ShareOut,
    SightOut,
    SpanAsked,
    SpanOut,
    WordOut,
)
from caltin_site.studies.services import sheet_out
from caltin_site.studies.state import Place, State

# What a place that was only touched is taken to cover, as a share of the sheet.
_TOUCHED = 0.05


def _opened(study: Study) -> tuple[State, looking.Look]:
    state = history.state_of(study)
    if study.picture is None:
        raise Http404
    return state, look_of(study.picture, state)


def overview_out(study: Study) -> OverviewOut:
    """The whole, read."""
    _, look = _opened(study)
    seen, extent = looking.overview(look), looking.extent(look)
    scale = look.frame.width / seen.skin.mask.shape[1]
    measures = None
    if (c := seen.complexion) is not None:
        measures = ComplexionOut(
            base=Tone.of(c.base), shadow=Tone.of(c.shadow), undertone=c.undertone.word, hue=round(c.undertone.hue, 1),
            ita=round(c.undertone.ita, 1), ita_class=c.ita_class, chroma=round(c.chroma, 1), strength=strength_word(c.strength),
            melanin=round(c.melanin, 3), blood=round(c.blood, 3), shadow_word=c.shadow_word, shadow_degrees=round(c.degrees, 1),
            flush=[FlushOut(x=f.x * scale, y=f.y * scale, strength=round(f.strength, 3)) for f in c.flush],
        )  # fmt: skip
    clipped = []
    if seen.clipped_light:
        clipped.append(f"{seen.clipped_light:.0%} is burnt out to white: no colour can be read there")
    if seen.clipped_dark:
        clipped.append(f"{seen.clipped_dark:.0%} is lost in black: no colour can be read there")
    neutral = Lab(l=100, a=0, b=0).array()
    cast = CastOut(
        tone=Tone.of(seen.cast.lab * [0.7, 0.7, 0.7]), de00=round(seen.cast.de00, 1), confidence=round(seen.cast.confidence, 2),
        clear=seen.cast.clear, words=difference(seen.cast.lab, neutral).words,
    )  # fmt: skip
    return OverviewOut(
        histogram=list(extent.histogram), darkest=_end(extent.darkest), lightest=_end(extent.lightest), clipped=clipped,
        doubt=areas.doubt(seen.skin), complexion=measures, cast=cast, line_art=seen.line_art,
        lights=[LightOut(direction=round(v.direction, 1), confidence=round(v.confidence, 2), tint=v.tint) for v in seen.lights],
    )  # fmt: skip


def _end(end: tuple[float, float, float]) -> EndOut:
    return EndOut(x=end[0], y=end[1], l=round(end[2], 2))


def sight_of(study: Study, view: str, steps: int | None, value: float | None) -> Sight:
    """A way of seeing; `steps` counts the values, `value` is the one lifted out or where light and dark part."""
    if view not in VIEWS:
        raise Http404
    _, look = _opened(study)
    more: dict[str, float | int] = {}
    if view == "values":
        more["steps"] = 5 if steps is None else steps
        if not 2 <= more["steps"] <= 10:
            raise BadRequest("steps", "values are counted in 2 to 10 steps")
    if view == "one_value":
        more["value"] = 5.0 if value is None else value
    if view == "notan" and value is not None:
        more["at"] = value
    return looking.sight(look, view, tuple(sorted(more.items())))


def sight_out(view: Any, sight: Sight) -> SightOut:
    """What it says."""
    high, wide = sight.pixels.shape[:2]
    return SightOut(
        view=view, shares=[ShareOut(value=s.value, words=s.words, share=round(s.share, 4)) for s in sight.shares],
        words=[WordOut(x=w.x / wide, y=w.y / high, words=w.words) for w in sight.words],
    )  # fmt: skip


@lru_cache(maxsize=32)
def _map_read(
    owner: Any, map: UUID, path: str, develop: tuple[float, ...], wide: float
) -> tuple[tuple[areas.Measured, ...], tuple[Edge, ...]]:
    """What a map's areas and their edges are on a picture so developed, `wide` millimetres on the paper; maps never change."""
    labels = references.labels_of(owner, map)
    lab = looking.map_lab(path, develop)
    return tuple(areas.measure(labels, lab)), tuple(edges(labels, lab, wide / labels.shape[1]))


def _zones_read(study: Study) -> tuple[list[tuple[Place, areas.Measured]], list[tuple[Place, Place, Edge]], float]:
    """The zones with what is read of them, the edges between two of them, and how large the picture lies on the paper, in mm²."""
    state, look = _opened(study)
    if state.areas is None or study.picture is None:
        return [], [], 0.0
    zones = {p.area: p for p in state.places if p.area is not None}
    wide = sheet_out(study, state).mm_per_pixel * study.picture.width
    measured, met = _map_read(study.owner, state.areas, look.path, look.develop, wide)
    read = [(zones[m.label], m) for m in measured if m.label in zones]
    borders = [(zones[e.one], zones[e.other], e) for e in met if e.one in zones and e.other in zones]
    return read, borders, wide**2 * study.picture.height / study.picture.width


def areas_out(study: Study) -> AreasOut:
    """Zones with what they touch and how."""
    read, borders, _ = _zones_read(study)
    called = history.state_of(study).names()
    names = {p.area: called[p.id] for p, _ in read}
    return AreasOut(
        areas=[
            AreaOut(
                place=place.id, share=round(m.share, 4), parts=m.parts,
                neighbours=[names[n] for n in sorted(m.neighbours, key=lambda n: -m.neighbours[n]) if n in names],
            )
            for place, m in read
        ],
        edges=[
            EdgeOut(
                one=one.id, other=other.id, one_called=called[one.id], other_called=called[other.id],
                kind=e.kind, width_mm=round(e.width_mm, 1), step=round(e.step, 1),
            )
            for one, other, e in borders
        ],
    )  # fmt: skip


def span_out(study: Study, asked: SpanAsked) -> SpanOut:
    """Measure between two places."""
    state, _ = _opened(study)
    one, other = (asked.x1, asked.y1), (asked.x2, asked.y2)
    found = span(one, other, sheet_out(study, state).mm_per_pixel, asked.unit)
    pixels = float(((one[0] - other[0]) ** 2 + (one[1] - other[1]) ** 2) ** 0.5)
    units = None if found.units is None else round(found.units, 2)
    return SpanOut(mm=round(found.mm, 1), units=units, plumb=round(found.plumb, 1), pixels=pixels)


def read_place(study: Study, asked: PlaceAsked) -> ReadOut:
    """The tone of a disc, as the study develops its picture."""
    state, _ = _opened(study)
    assert study.picture is not None
    found = references.read_tone(study.picture, asked.x, asked.y, asked.radius, state.develop.develop())
    against = difference(found.lab, asked.against.array()).words if asked.against else ""
    return ReadOut(
        tone=Tone.of(found.lab), words=tone_words(found.lab), against_words=against, undertone=undertone(found.lab).word,
        spread=round(found.spread, 3), evenness=evenness(found.spread),
    )  # fmt: skip


def compared(one: Study, other: Study) -> ApartOut | None:
    """The base of one study's skin against another's; None where either has none."""
    bases = []
    for study in (one, other):
        _, look = _opened(study)
        found = looking.overview(look).complexion
        if found is None:
            return None
        bases.append(found.base)
    return ApartOut(de00=round(float(delta_e_2000(bases[0], bases[1])), 2), words=difference(bases[1], bases[0]).words)


def map_png(owner: Any, id: UUID) -> bytes:
    """A map of areas as PNG."""
    return bytes(mine(AreaMap, owner, id).png)


def covers(study: Study, here: Aim) -> dict[str, float]:
    """How many A4 sheets every place covers: its zone, or a guess where it was only touched."""
    sheet = here.state.sheet
    zones: dict[str, float] = {}
    if here.state.areas:
        read, _, mm2 = _zones_read(study)
        zones = {place.id: m.covers * mm2 / (100 * A4) for place, m in read}
    touched = _TOUCHED * sheet.width * sheet.height / (100 * A4)
    return {p.id: zones.get(p.id, touched) for p in here.state.places}
