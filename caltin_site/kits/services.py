"""The one door to kits, papers, hands: versions made and read, and benches built from them."""

import uuid
from functools import lru_cache
from typing import Any

import numpy as np
from django.db import transaction
from django.http import Http404

from caltin_core.colour.spectra import reflectance_from_lab
from caltin_core.colour.words import tone_words
from caltin_core.errors import BadRequest
from caltin_core.media.colourants import Ground, Handling, Swatch
from caltin_core.media.hand import HANDS, hand_from_fitted
from caltin_core.media.predict import Workbench
from caltin_site.kits.models import Hand, HandVersion, Kit, KitVersion, Paper, PaperVersion
from caltin_site.kits.schemas import HandData, HandOut, KitColour, KitColourOut, KitData, KitOut, PaperData, PaperOut, RackOut
from caltin_site.ownership import mine
from caltin_site.problems import Late
from caltin_site.shapes import Tone

VERSIONS: dict[str, Any] = {"kit": KitVersion, "paper": PaperVersion, "hand": HandVersion}


def rack(owner: Any) -> RackOut:
    """All kits, papers and hands of an artist, by name."""
    return RackOut(
        kits=[kit_out(k.newest) for k in Kit.objects.of(owner).order_by("name", "made")],
        papers=[paper_out(p.newest) for p in Paper.objects.of(owner).order_by("name", "made")],
        hands=[hand_out(h.newest) for h in Hand.objects.of(owner).order_by("made")],
    )


def kit_out(version: KitVersion) -> KitOut:
    """A kit in one version."""
    data = KitData.model_validate(version.data)
    swatches = _swatches(version.pk)
    colours = [
        KitColourOut(**c.model_dump(), shown=Tone.of(c.tone.array()), is_black=s.is_black, words=tone_words(c.tone.array()))
        for c, s in zip(data.colours, swatches, strict=True)
    ]
    return KitOut(
        id=version.thing_id, name=version.thing.name, version=version.pk, number=version.number,
        newest=version.thing.newest.number, colours=colours,
    )  # fmt: skip


def paper_out(version: PaperVersion) -> PaperOut:
    """A paper in one version."""
    data = PaperData.model_validate(version.data)
    return PaperOut(
        id=version.thing_id, name=version.thing.name, version=version.pk, number=version.number,
        newest=version.thing.newest.number, tone=Tone.of(data.tone.array()), tooth=data.tooth,
    )  # fmt: skip


def hand_out(version: HandVersion) -> HandOut:
    """A hand in one version."""
    thing = version.thing
    return HandOut(id=thing.pk, name=thing.name, version=version.pk, number=version.number, newest=thing.newest.number)


def version_of(kind: str, owner: Any, id: uuid.UUID) -> Any:
    """One version of this owner's, or 404."""
    return mine(VERSIONS[kind], owner, id)


def begin(model: Any, owner: Any, name: str, data: dict[str, Any]) -> Any:
    """A new kit, paper or hand with its first version; gives that version."""
    with transaction.atomic():
        thing = model.objects.create(owner=owner, name=name)
        return thing.versions.create(owner=owner, number=1, data=data)


def begin_kit(owner: Any, name: str, colours: list[KitColour]) -> KitVersion:
    """A new kit."""
    _checked(colours)
    return begin(Kit, owner, name, KitData(colours=colours).model_dump(mode="json"))


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


def change_kit(owner: Any, id: uuid.UUID, seen: int, name: str, colours: list[KitColour]) -> KitVersion:
    """A kit's next version. A colour is retired, never taken out: recipes may name it."""
    _checked(colours)
    kit = mine(Kit, owner, id)
    before = {c.id for c in KitData.model_validate(kit.newest.data).colours}
    if lost := before - {c.id for c in colours}:
        raise BadRequest("colours", f"{len(lost)} colours of this kit are missing; retire a colour rather than take it out")
    return next_version(Kit, owner, id, seen, name, KitData(colours=colours).model_dump(mode="json"))


def _checked(colours: list[KitColour]) -> None:
    seen: set[str] = set()
    for index, colour in enumerate(colours):
        if colour.id in seen:
            raise BadRequest(f"colours[{index}].id", f"“{colour.id}” is there twice")
        seen.add(colour.id)


@lru_cache(maxsize=64)
def _swatches(kit_version: uuid.UUID) -> tuple[Swatch, ...]:
    """A kit version's swatches; versions never change, so this may be kept."""
    data = KitData.model_validate(KitVersion.objects.get(pk=kit_version).data)
    white = Ground(reflectance_from_lab(np.array([95.0, 0.0, 2.0])), "vellum")
    solids = reflectance_from_lab(np.array([c.tone.array() for c in data.colours]).reshape(-1, 3))
    return tuple(
        Swatch(c.id, solid, c.medium, white, Handling(**c.handling.model_dump()), c.name)
        for c, solid in zip(data.colours, solids, strict=True)
    )


@lru_cache(maxsize=32)
def _bench(kit: uuid.UUID, paper: uuid.UUID, hand: uuid.UUID) -> Workbench:
    paper_data = PaperData.model_validate(PaperVersion.objects.get(pk=paper).data)
    hand_data = HandData.model_validate(HandVersion.objects.get(pk=hand).data)
    ground = Ground(reflectance_from_lab(paper_data.tone.array()), paper_data.tooth)
    return Workbench(_swatches(kit), ground, hand_from_fitted(dict(hand_data.fitted)))


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


@lru_cache(maxsize=64)
def retired(kit_version: uuid.UUID) -> frozenset[str]:
    """The colours of a kit version that are out of use."""
    data = KitData.model_validate(KitVersion.objects.get(pk=kit_version).data)
    return frozenset(c.id for c in data.colours if c.retired)
