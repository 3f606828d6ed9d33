"""What a rack tells of itself, and kits carried in and out of files."""

import uuid
from functools import lru_cache
from typing import Any

import numpy as np

from caltin_core.colour.spaces import hex_from_lab
from caltin_core.colour.words import tone_words
from caltin_core.contract.shapes import Medium
from caltin_core.errors import BadRequest
from caltin_core.media.hand import Hand
from caltin_core.media.workbench import Workbench
from caltin_core.rack.alike import barrels, pairs
from caltin_core.rack.entries import Entry, Format, Row
from caltin_core.rack.exchange import mended, read, write
from caltin_core.rack.order import gaps, near, ordered
from caltin_core.rack.replace import replacement
from caltin_core.recipes.coverage import HUES, ROLE_FACTORS, coverage
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.words import recipe_words
from caltin_site.kits import services
from caltin_site.kits.models import Kit, KitVersion
from caltin_site.kits.schemas import (
    CoverageOut,
    CoveredOut,
    FileOut,
    GapOut,
    KitColour,
    NearOut,
    PairOut,
    RackTold,
    ReplacementOut,
    RowOut,
)
from caltin_site.ownership import mine
from caltin_site.shapes import Lab, Tone

_ORDERS = ("value", "warmth", "hue", "strength")


@lru_cache(maxsize=64)
def told(kit_version: uuid.UUID) -> RackTold:
    """Orders, pairs to beware of, and gaps of the colours in use; versions never change, so this is kept."""
    swatches = services.swatches(kit_version)
    out = services.retired(kit_version)
    used = [s for s in swatches if s.id not in out]
    labs = np.array([s.lab for s in swatches]).reshape(-1, 3)
    free = np.array([s.lab for s in used]).reshape(-1, 3)
    return RackTold(
        orders={by: [swatches[i].id for i in ordered(labs, by)] for by in _ORDERS},  # type: ignore[arg-type]
        pairs=[
            PairOut(one=used[p.one].id, other=used[p.other].id, why=p.why, says=p.says(used[p.one].called, used[p.other].called))
            for p in pairs(used)
        ],
        gaps=[GapOut(tone=Tone.of(lab), words=tone_words(lab), away=round(de, 1)) for lab, de in gaps(free)],
    )


@lru_cache(maxsize=64)
def beware(kit_version: uuid.UUID) -> dict[str, str]:
    """What to look for on the barrel when a colour in use is picked up, by its id."""
    out = services.retired(kit_version)
    used = [s for s in services.swatches(kit_version) if s.id not in out]
    return {used[i].id: words for i, words in barrels(used).items()}


@lru_cache(maxsize=64)
def labels(kit_version: uuid.UUID) -> tuple[dict[str, str], frozenset[str]]:
    """What the labels of a kit's colours say, by their ids: what some contain that is harmful, and which fade soon."""
    colours = services.kit_data(kit_version).colours
    return {c.id: c.harmful for c in colours if c.harmful}, frozenset(c.id for c in colours if c.lightfast == "poor")


def without(owner: Any, id: uuid.UUID, colour: str) -> ReplacementOut:
    """How to do without a colour of the kit, from what is at hand now."""
    version: KitVersion = mine(Kit, owner, id).newest
    swatches = services.swatches(version.pk)
    place = {s.id: i for i, s in enumerate(swatches)}
    if colour not in place:
        raise BadRequest("colour", "this colour is not in the kit")
    away = frozenset(place[c] for c in services.not_at_hand(version.pk) if c in place)
    found = replacement(Workbench(swatches, swatches[0].on, Hand()), place[colour], away)
    layers = found.layers
    sentence = recipe_words(layers.layers, [s.called for s in swatches]) if layers else ""
    return ReplacementOut(
        nearest=swatches[found.nearest].id if found.nearest is not None else None,
        away=round(found.away, 1) if found.nearest is not None else None,
        sentence=sentence, tone=Tone.of(layers.prediction.lab) if layers else None,
        misses=round(layers.difference.de00, 1) if layers else None,
    )  # fmt: skip


def covered(owner: Any, kit: uuid.UUID, paper: uuid.UUID, hand: uuid.UUID) -> CoverageOut:
    """What complexions a kit serves on a paper in a hand, in their newest versions, with the sticks that are at hand now."""
    pins = [services.newest_of(kind, owner, id).pk for kind, id in (("kit", kit), ("paper", paper), ("hand", hand))]
    return _covered(owner, *pins, services.not_at_hand(pins[0]))


@lru_cache(maxsize=16)
def _covered(owner: Any, kit: uuid.UUID, paper: uuid.UUID, hand: uuid.UUID, gone: frozenset[str]) -> CoverageOut:
    """The same of versions, which never change, so that it may be kept."""
    bench = services.bench(owner, kit, paper, hand)
    found = coverage(bench, Rules(avoid=frozenset(i for i, s in enumerate(bench.swatches) if s.id in gone)))
    return CoverageOut(
        undertones=[name for name, _ in HUES], roles=list(ROLE_FACTORS), words=list(found.words),
        complexions=[
            CoveredOut(
                undertone=c.undertone, base=Tone.of(c.base),
                missed={role: round(miss, 1) for role, miss in c.missed.items() if role not in c.reached()},
            )
            for c in found.complexions
        ],
    )  # fmt: skip


def near_tone(kit_version: uuid.UUID, tone: Lab) -> list[NearOut]:
    """The colours of a kit nearest a tone, nearest first."""
    swatches = services.swatches(kit_version)
    labs = np.array([s.lab for s in swatches]).reshape(-1, 3)
    return [NearOut(colour=swatches[i].id, away=round(away, 1)) for i, away in near(labs, tone.array(), len(swatches))]


def looked_at(content: bytes, medium: Medium) -> FileOut:
    """What a file would become; nothing is kept."""
    found = read(content, medium)
    return FileOut(name=found.name, format=found.format, rows=[_row_out(r) for r in found.rows])


def looked_at_again(number: int, cells: dict[str, str], medium: Medium) -> RowOut:
    """One row, after it was mended by hand."""
    return _row_out(mended(cells, number, medium))


def _row_out(row: Row) -> RowOut:
    e = row.entry
    if e is None:
        return RowOut(number=row.number, cells=row.cells, colour=None, spectrum=[], hex="", wrong=row.wrong)
    lab = np.array(e.lab)
    colour = KitColour(
        id=e.id, name=e.name, medium=e.medium, tone=Lab.of(lab), source="file", handling=e.handling, retired=e.retired, line=e.line,
        lightfast=e.lightfast, harmful=e.harmful,
    )  # fmt: skip
    return RowOut(number=row.number, cells=row.cells, colour=colour, spectrum=e.spectrum, hex=hex_from_lab(lab)[0], wrong="")


def carried_out(owner: Any, id: uuid.UUID, format: Format) -> tuple[str, bytes]:
    """The kit's name and a file of it."""
    version: KitVersion = mine(Kit, owner, id).newest
    return version.thing.name, written(version.thing.name, version.pk, format)


def written(name: str, kit_version: uuid.UUID, format: Format, only: set[str] | None = None) -> bytes:
    """A file of a kit's version, of all its colours or `only` these ids."""
    data = services.kit_data(kit_version)
    entries = [
        Entry(
            id=c.id, name=c.name, line=c.line, medium=c.medium, lab=(c.tone.l, c.tone.a, c.tone.b),
            spectrum=data.measured[c.id].spectrum if c.id in data.measured else [], handling=c.handling, lightfast=c.lightfast,
            harmful=c.harmful, retired=c.retired,
        )
        for c in data.colours
        if only is None or c.id in only
    ]  # fmt: skip
    return write(name, entries, format)
