"""A study opened for the core: its bench, its range map, and the tones to aim at."""

from dataclasses import dataclass

from caltin_core.colour.spectra import lab_from_reflectance
from caltin_core.colour.tables import Floats
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.reach import reach_of_kit
from caltin_core.reference.range_map import IDENTITY, RangeMap, propose
from caltin_core.reference.roles import BASE
from caltin_site.kits import services as kits
from caltin_site.ownership import mine
from caltin_site.references import looking
from caltin_site.references.models import Picture
from caltin_site.shapes import Lab
from caltin_site.studies import history
from caltin_site.studies.found import look_of
from caltin_site.studies.models import Study
from caltin_site.studies.state import State


@dataclass(frozen=True)
class Aim:
    """A study opened for the core: its bench, its range map, and the tones to aim at by place."""

    study: Study
    state: State
    bench: Workbench
    map: RangeMap
    targets: dict[str, Floats]


def aim(study: Study, state: State | None = None) -> Aim:
    """Open a study (in another state than that in force, where one is given)."""
    state = state or history.state_of(study)
    bench = kits.bench(study.owner, state.pins.kit, state.pins.paper, state.pins.hand)
    chart = _range(study, state, bench)
    shown = chart if state.range_on else IDENTITY
    return Aim(study, state, bench, chart, {p.id: shown(p.tone.array()) for p in state.places})


def _range(study: Study, state: State, bench: Workbench) -> RangeMap:
    """From the picture's two ends (and every place's tone) to the kit's and paper's, holding the base."""
    tones = [p.tone.l for p in state.places]
    picture = picture_of(study, state)
    if picture is not None:
        seen = looking.extent(look_of(picture, state))
        tones += [seen.darkest[2], seen.lightest[2]]
    if not tones:
        return IDENTITY
    shown = reach_of_kit(bench)
    held = next((p.tone.l for p in state.places if p.role == BASE), (shown[0] + shown[1]) / 2)
    return propose((min(tones), max(tones)), shown, held, state.range_hold, state.range_middle)


def picture_of(study: Study, state: State) -> Picture | None:
    """The picture of a state, which may be another than the one in force."""
    if state.picture is None or state.picture == study.picture_id:
        return study.picture if state.picture else None
    return mine(Picture, study.owner, state.picture)


def bare_lab(here: Aim) -> Floats:
    """The bare paper's Lab."""
    return lab_from_reflectance(here.bench.ground.reflectance)


def lab_of_lightness(lightness: float) -> Floats:
    """The neutral of an L*."""
    return Lab(l=min(max(lightness, 0.0), 100.0), a=0, b=0).array()
