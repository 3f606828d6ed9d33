"""The one door to kits, papers, hands: versions made and read, and benches built from them."""

import uuid
from dataclasses import replace
from functools import lru_cache
from typing import Any

import numpy as np
from django.db import transaction
from django.http import Http404

from caltin_core.colour.spectra import reflectance_from_lab
from caltin_core.colour.words import tone_words
from caltin_core.errors import BadRequest
from caltin_core.media import hand as core
from caltin_core.media.colourants import Ground, Handling, Swatch, sheet_from_fitted, solids_from_lab
from caltin_core.media.fits import ColourFit, colour_from_fitted
from caltin_core.media.hand import HANDS, hand_from_fitted
from caltin_core.media.workbench import Workbench
from caltin_core.rack.states import OUT, SPARING, State
from caltin_site.kits.models import Hand, HandVersion, Kit, KitVersion, Paper, PaperVersion
from caltin_site.kits.schemas import (
    HandData,
    HandOut,
    KitColour,
    KitColourOut,
    KitData,
    KitOut,
    Measured,
    PaperData,
    PaperOut,
    RackOut,
)
from caltin_site.ownership import mine
from caltin_site.problems import Late
from caltin_site.shapes import Lab, Tone

VERSIONS: dict[str, Any] = {"kit": KitVersion, "paper": PaperVersion, "hand": HandVersion}


def rack(owner: Any) -> RackOut:
    """All kits, papers and hands of an artist, the oldest first."""
    return RackOut(
        kits=[kit_out(k.newest_bare) for k in Kit.objects.of(owner).order_by("made")],
        papers=[paper_out(p.newest) for p in Paper.objects.of(owner).order_by("made")],
        # A hand that was measured comes before those one can only start from.
        hands=sorted((hand_out(h.newest) for h in Hand.objects.of(owner).order_by("made")), key=lambda h: not h.measured),
    )


def kit_out(version: KitVersion) -> KitOut:
    """A kit in one version, its sticks as full as they are now."""
    states = version.thing.states
    colours = [
        c.model_copy(update={"state": states[c.id], "out": c.out or states[c.id] in OUT}) if c.id in states else c
        for c in _colours_out(version.pk)
    ]  # fmt: skip
    # Made of what was validated already: of a thousand colours that would take a quarter of a second again.
    return KitOut.model_construct(
        id=version.thing_id, name=version.thing.name, version=version.pk, number=version.number,
        newest=version.thing.newest_number, colours=list(colours),
    )  # fmt: skip


def kit_shown(kit_version: uuid.UUID) -> KitOut:
    """The same, by its id; what was measured stays in the database."""
    return kit_out(KitVersion.objects.defer("data").select_related("thing").get(pk=kit_version))


@lru_cache(maxsize=64)
def _colours_out(kit_version: uuid.UUID) -> tuple[KitColourOut, ...]:
    """A kit version's colours as the screen needs them; versions never change, so this may be kept."""
    data = kit_data(kit_version)
    return tuple(
        KitColourOut(
            **c.model_dump(), shown=Tone.of(c.tone.array()), is_black=s.is_black, words=tone_words(c.tone.array()),
            measured=c.id in data.measured and bool(data.measured[c.id].fitted),
            coats=s.kind != "film", out=c.retired,
            paper=data.measured[c.id].paper if c.id in data.measured else "",
            when=data.measured[c.id].when if c.id in data.measured else "",
            learnt=data.measured[c.id].learnt if c.id in data.measured else "",
        )
        for c, s in zip(data.colours, swatches(kit_version), strict=True)
    )  # fmt: skip


@lru_cache(maxsize=64)
def kit_data(kit_version: uuid.UUID) -> KitData:
    """All that a kit version holds; versions never change, so this may be kept."""
    return KitData.model_validate(KitVersion.objects.get(pk=kit_version).data)


def paper_out(version: PaperVersion) -> PaperOut:
    """A paper in one version."""
    data = PaperData.model_validate(version.data)
    return PaperOut(
        id=version.thing_id, name=version.thing.name, version=version.pk, number=version.number,
        newest=version.thing.newest_number, tone=Tone.of(data.tone.array()), tooth=data.tooth,
    )  # fmt: skip


def hand_out(version: HandVersion) -> HandOut:
    """A hand in one version."""
    thing = version.thing
    measured = bool(HandData.model_validate(version.data).fitted.get("members"))
    return HandOut(
        id=thing.pk, name=thing.name, version=version.pk, number=version.number, newest=thing.newest_number, measured=measured
    )  # fmt: skip


def version_of(kind: str, owner: Any, id: uuid.UUID) -> Any:
    """One version of this owner's, or 404."""
    return mine(VERSIONS[kind], owner, id)


def begin(model: Any, owner: Any, name: str, data: dict[str, Any], **of: Any) -> Any:
    """A new kit, paper or hand with its first version; gives that version."""
    with transaction.atomic():
        thing = model.objects.create(owner=owner, name=name, **of)
        return thing.versions.create(owner=owner, number=1, data=data)


def begin_kit(
    owner: Any, name: str, colours: list[KitColour], measured: KitData | None = None, spectra: dict[str, list[float]] | None = None
) -> KitVersion:
    """A new kit, with what was `measured` of it where that is known, or only the `spectra` of its solids."""
    _checked(colours)
    known = {id: Measured(spectrum=s) for id, s in (spectra or {}).items()}
    data = KitData(colours=colours, measured=known) if measured is None else measured.model_copy(update={"colours": colours})
    return begin(Kit, owner, name, data.model_dump(mode="json"))


def begin_hand(owner: Any, name: str, hand: core.Hand, kit: Kit | None = None, paper: Paper | None = None) -> HandVersion:
    """A hand that was measured, with a kit on a paper."""
    return begin(Hand, owner, name, HandData(fitted=hand.fitted()).model_dump(mode="json"), kit=kit, paper=paper)


def begin_paper(owner: Any, name: str, data: PaperData) -> PaperVersion:
    """A new paper."""
    return begin(Paper, owner, name, data.model_dump(mode="json"))


def begin_hands(owner: Any) -> None:
    """The hands one can start from, where the artist has none yet."""
    if not Hand.objects.of(owner).exists():
        for named in HANDS.values():
            data = HandData(fitted=named.hand.fitted()).model_dump(mode="json")
            begin(Hand, owner, named.name, data)


def next_version(model: Any, owner: Any, id: uuid.UUID, seen: int, name: str, data: dict[str, Any]) -> Any:
    """The next version of a kit or paper, or Late when `seen` is not its newest."""
    with transaction.atomic():
        thing = mine(model, owner, id)
        newest = thing.newest
        if newest.number != seen:
            raise Late(newest.number, [f"version {newest.number} was saved"])
        if thing.name != name:
            thing.name = name
            thing.save(update_fields=["name"])
        if data == newest.data:
            return newest
        return thing.versions.create(owner=owner, number=seen + 1, data=data)


def write_next(thing: Any, data: dict[str, Any]) -> Any:
    """The next version of a kit, paper or hand, whatever it was: for what was measured."""
    return thing.versions.create(owner=thing.owner, number=thing.newest_number + 1, data=data)


def change_kit(
    owner: Any, id: uuid.UUID, seen: int, name: str, colours: list[KitColour], spectra: dict[str, list[float]] | None = None
) -> KitVersion:
    """A kit's next version. A colour is retired, never taken out: recipes may name it. `spectra` are those newly known."""
    _checked(colours)
    kit = mine(Kit, owner, id)
    data = KitData.model_validate(kit.newest.data)
    before = {c.id: c for c in data.colours}
    if lost := before.keys() - {c.id for c in colours}:
        raise BadRequest("colours", f"{len(lost)} colours of this kit are missing; retire a colour rather than take it out")
    # What was measured holds for the stick it was measured of; a name or a retirement changes no stick.
    same = {c.id for c in colours if c.id in before and _stick(c) == _stick(before[c.id])}
    measured = {id: m for id, m in data.measured.items() if id in same}
    # A spectrum read anew is another solid; what was fitted to the one before no longer holds.
    measured.update({c: Measured(spectrum=s) for c, s in (spectra or {}).items()})
    fresh = data.model_copy(update={"colours": colours, "measured": measured})
    return next_version(Kit, owner, id, seen, name, fresh.model_dump(mode="json"))


def change_paper(owner: Any, id: uuid.UUID, seen: int, name: str, data: PaperData) -> PaperVersion:
    """A paper's next version; what was measured of it holds while its tone and tooth do."""
    before = PaperData.model_validate(mine(Paper, owner, id).newest.data)
    if (before.tone, before.tooth) == (data.tone, data.tooth):
        data = before
    return next_version(Paper, owner, id, seen, name, data.model_dump(mode="json"))


def _stick(colour: KitColour) -> Any:
    return colour.model_dump(exclude={"name", "retired", "source", "line", "lightfast", "harmful"})


def _checked(colours: list[KitColour]) -> None:
    seen: set[str] = set()
    for index, colour in enumerate(colours):
        if colour.id in seen:
            raise BadRequest(f"colours[{index}].id", f"“{colour.id}” is there twice")
        seen.add(colour.id)


@lru_cache(maxsize=64)
def swatches(kit_version: uuid.UUID) -> tuple[Swatch, ...]:
    """A kit version's swatches; versions never change, so this may be kept."""
    data = kit_data(kit_version)
    on = _ground(data.on or PaperData(tone=Lab(l=95.0, a=0.0, b=2.0), tooth="vellum"))
    solids = solids_from_lab([c.tone.array() for c in data.colours], [on] * len(data.colours), [c.medium for c in data.colours])
    plain = [
        Swatch(c.id, solid, c.medium, on, Handling(**c.handling.model_dump()), c.name)
        for c, solid in zip(data.colours, solids, strict=True)
    ]
    return tuple(_as_measured(s, data.measured[s.id]) if s.id in data.measured else s for s in plain)


def _as_measured(swatch: Swatch, measured: Measured) -> Swatch:
    made_up = None if measured.spectrum else swatch.solid
    fit = colour_from_fitted(measured.fitted, swatch.medium, made_up) if measured.fitted else swatch.fit
    if not measured.spectrum:
        return replace(swatch, fit=fit)
    return replace(swatch, fit=fit, solid=np.array(measured.spectrum), measured=True)


def _ground(data: PaperData) -> Ground:
    ground = Ground(reflectance_from_lab(data.tone.array()), data.tooth)
    return sheet_from_fitted(ground, data.fitted) if data.fitted else ground


@lru_cache(maxsize=32)
def _bench(kit: uuid.UUID, paper: uuid.UUID, hand: uuid.UUID) -> Workbench:
    version, measured = PaperVersion.objects.get(pk=paper), kit_data(kit)
    sheet = PaperData.model_validate(version.data)
    # A sheet on which this kit was measured is as its own patches showed it, whatever another kit's show.
    if measured.on and measured.paper == version.thing_id and (measured.on.tone, measured.on.tooth) == (sheet.tone, sheet.tooth):
        sheet = measured.on
    hand_data = HandData.model_validate(HandVersion.objects.get(pk=hand).data)
    return Workbench(swatches(kit), _ground(sheet), hand_from_fitted(dict(hand_data.fitted)))


def bench_of(kit: uuid.UUID, paper: uuid.UUID) -> Workbench:
    """A kit on a paper in an ordinary hand, nothing but the swatches known of them."""
    data = PaperData.model_validate(PaperVersion.objects.get(pk=paper).data).model_copy(update={"fitted": None})
    return Workbench(tuple(replace(s, fit=ColourFit()) for s in swatches(kit)), _ground(data))


def bench(owner: Any, kit: uuid.UUID, paper: uuid.UUID, hand: uuid.UUID) -> Workbench:
    """The bench of these versions, all of this owner's, or 404."""
    for kind, id in (("kit", kit), ("paper", paper), ("hand", hand)):
        if not VERSIONS[kind].objects.filter(owner=owner, pk=id).exists():
            raise Http404
    return _bench(kit, paper, hand)


def newest_of(kind: str, owner: Any, id: uuid.UUID) -> Any:
    """The newest version of this owner's kit, paper or hand, or 404."""
    things: dict[str, Any] = {"kit": Kit, "paper": Paper, "hand": Hand}
    return mine(things[kind], owner, id).newest


def tins(kit_version: uuid.UUID) -> list[str]:
    """The line, or tin, of every colour of a kit version; empty where none was said."""
    return [c.line for c in kit_data(kit_version).colours]


@lru_cache(maxsize=64)
def retired(kit_version: uuid.UUID) -> frozenset[str]:
    """The colours of a kit version that are out of use."""
    return frozenset(c.id for c in kit_data(kit_version).colours if c.retired)


def set_state(owner: Any, id: uuid.UUID, colour: str, state: State) -> KitVersion:
    """Say how full a stick is now: every recipe heeds it at once, whatever version its study keeps."""
    with transaction.atomic():
        kit = mine(Kit, owner, id)
        newest: KitVersion = kit.newest
        if colour not in {c.id for c in kit_data(newest.pk).colours}:
            raise BadRequest("colour", "this colour is not in the kit")
        kit.states = {k: v for k, v in {**kit.states, colour: state}.items() if v != "full"}
        kit.save(update_fields=["states"])
    newest.thing = kit
    return newest


def not_at_hand(kit_version: uuid.UUID) -> frozenset[str]:
    """The sticks that cannot be drawn with now: retired in this version, or dry, lent or lost today."""
    states = Kit.objects.filter(versions__pk=kit_version).values_list("states", flat=True)[0]
    return retired(kit_version) | {c for c, state in states.items() if state in OUT}


def sparing(kit_version: uuid.UUID) -> frozenset[str]:
    """The sticks that are low or worn short: used only where they are worth it."""
    states = Kit.objects.filter(versions__pk=kit_version).values_list("states", flat=True)[0]
    return frozenset(c for c, state in states.items() if state in SPARING)
