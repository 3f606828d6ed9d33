"""The one door to the library: kept, found, carried to another kit or paper, taken into a study."""

from collections.abc import Sequence
from typing import Any
from uuid import UUID

import numpy as np
from django.db import transaction

from caltin_core.colour.difference import delta_e_2000
from caltin_core.contract.shapes import BlendShape, LiftShape
from caltin_core.errors import BadRequest
from caltin_core.media.predict import predict
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.carry import Carried, carried
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.targets import Target
from caltin_core.recipes.words import recipe_words
from caltin_core.reference.roles import BASE, NAMES
from caltin_core.skin.complexion import ita_class
from caltin_core.skin.undertone import undertone
from caltin_site.kits import services as kits
from caltin_site.library.models import Keepsake, KeepsakeVersion
from caltin_site.library.schemas import (
    CarriedMember,
    CarriedOut,
    CarryAsked,
    FromLibrary,
    KeepAsked,
    KeptData,
    KeptOut,
    LibraryAsked,
    MemberData,
    MemberOut,
    VersionOut,
)
from caltin_site.ownership import mine
from caltin_site.shapes import Lab, Tone
from caltin_site.studies import services as studies
from caltin_site.studies.models import Study
from caltin_site.studies.ops import AddPlace, SetRange, TakeRecipes
from caltin_site.studies.schemas import NewStudy
from caltin_site.studies.state import Recipe


def keep(study: Study, asked: KeepAsked) -> Keepsake:
    """Keep the recipes of a study with their conditions. Raises BadRequest where there is none to keep."""
    here = studies.aim(study)
    recipes = studies.effective(here)
    wanted = asked.places or list(recipes)
    places = [p for p in here.state.places if p.id in wanted and p.id in recipes]
    if not places:
        raise BadRequest("places", "there is no recipe here to keep")
    layers = [studies.layers_of(here.bench, recipes[p.id].layers) for p in places]
    names, places_called = [s.called for s in here.bench.swatches], here.state.names()
    members = [
        MemberData(
            role=p.role, called=places_called[p.id], target=Lab.of(here.targets[p.id]), looks=Lab.of(seen.lab),
            layers=recipes[p.id].layers, words=recipe_words(stack, names),
        )
        for p, stack, seen in zip(places, layers, predict(here.bench, layers), strict=True)
    ]  # fmt: skip
    school = here.state.rules.taught()
    together = here.state.rules.together if len(members) > 1 else 0
    data = KeptData(members=members, together=together, school=school.name if school else "", study=study.title)
    with transaction.atomic():
        if asked.keepsake:
            kept = mine(Keepsake, study.owner, asked.keepsake)
            kept.name, kept.note = asked.name, asked.note
            kept.save()
        else:
            kept = Keepsake.objects.create(owner=study.owner, name=asked.name, note=asked.note)
        KeepsakeVersion.objects.create(
            owner=study.owner, keepsake=kept, number=kept.versions.count() + 1, data=data.model_dump(mode="json"),
            kit_version=study.kit_version, paper_version=study.paper_version, hand_version=study.hand_version,
        )  # fmt: skip
    return kept


def rename(owner: Any, id: UUID, name: str, note: str) -> Keepsake:
    """Another name and note."""
    kept = mine(Keepsake, owner, id)
    kept.name, kept.note = name, note
    kept.save()
    return kept


def found(owner: Any, wanted: LibraryAsked) -> list[KeptOut]:
    """What of the library answers this: nearest to the tone asked first, else the last kept first."""
    rows = Keepsake.objects.of(owner).order_by("-made")
    shown = [kept_out(kept, wanted) for kept in rows]
    fine = [k for k in shown if _answers(k, wanted)]
    return sorted(fine, key=lambda k: k.away if k.away is not None else 0.0)


def _answers(kept: KeptOut, wanted: LibraryAsked) -> bool:
    said = " ".join((kept.name, kept.note, kept.study, kept.kit, kept.paper, *(m.called for m in kept.members))).lower()
    return (
        (not wanted.role or any(m.role == wanted.role for m in kept.members))
        and (not wanted.medium or wanted.medium in kept.media)
        and (not wanted.complexion or kept.ita_class == wanted.complexion)
        and all(w in said for w in wanted.q.lower().split())
    )


def kept_out(kept: Keepsake, wanted: LibraryAsked | None = None, number: int | None = None) -> KeptOut:
    """Something kept as the screen needs it, in its newest version or that of a `number`."""
    wanted = wanted or LibraryAsked()
    version = version_of(kept, number)
    data = KeptData.model_validate(version.data)
    colours = {c.id: c for c in kits.kit_data(version.kit_version_id).colours}
    base = next((m for m in data.members if m.role == BASE), None)
    skin = undertone(base.looks.array()) if base else None
    away = _away(data.members, wanted)
    nearest = int(np.argmin(away)) if away is not None else None
    used = dict.fromkeys(x.colour for m in data.members for x in m.layers if not isinstance(x, BlendShape | LiftShape))
    return KeptOut(
        id=kept.pk, name=kept.name, note=kept.note, number=version.number, made=version.made,
        media=list(dict.fromkeys(colours[c].medium for c in used)), kit=version.kit_version.thing.name,
        paper=version.paper_version.thing.name, hand=version.hand_version.thing.name, light=data.light, school=data.school,
        study=data.study, undertone=skin.word if skin else "", ita=round(skin.ita, 1) if skin else None,
        ita_class=ita_class(skin.ita) if skin else "", members=[_member_out(m, colours) for m in data.members], nearest=nearest,
        away=round(away[nearest], 2) if away is not None and nearest is not None else None,
    )  # fmt: skip


def _away(members: Sequence[MemberData], wanted: LibraryAsked) -> list[float] | None:
    tone = wanted.near()
    if tone is None:
        return None
    near = tone.array()
    return [
        float(delta_e_2000(near, m.looks.array())) if not wanted.role or m.role == wanted.role else float("inf") for m in members
    ]


def _member_out(member: MemberData, colours: dict[str, Any]) -> MemberOut:
    laid = [colours[x.colour] for x in member.layers if not isinstance(x, BlendShape | LiftShape)]
    return MemberOut(
        role=member.role, role_name=NAMES[member.role], called=member.called, tone=Tone.of(member.looks.array()),
        words=member.words, colours=[Tone.of(c.tone.array()) for c in laid], names=[c.name for c in laid],
    )  # fmt: skip


def version_of(kept: Keepsake, number: int | None = None) -> KeepsakeVersion:
    """A version of something kept; the newest without a number. Raises BadRequest where there is none of that number."""
    rows = kept.versions.select_related("kit_version__thing", "paper_version__thing", "hand_version__thing").order_by("-number")
    version = rows.first() if number is None else rows.filter(number=number).first()
    if version is None:
        raise BadRequest("number", f"there is no version {number} of {kept.name}")
    return version


def versions_out(kept: Keepsake) -> list[VersionOut]:
    """All versions, newest first."""
    rows = kept.versions.select_related("kit_version__thing", "paper_version__thing").order_by("-number")
    return [
        VersionOut(
            number=v.number, made=v.made, kit=v.kit_version.thing.name, paper=v.paper_version.thing.name,
            members=len(v.data["members"]),
        )
        for v in rows
    ]  # fmt: skip


def carry(owner: Any, id: UUID, asked: CarryAsked) -> CarriedOut:
    """Something kept as it comes out with another kit, on another paper, in another hand."""
    data = KeptData.model_validate(version_of(mine(Keepsake, owner, id), asked.number).data)
    kit, paper, hand = _newest(owner, asked)
    bench = kits.bench(owner, kit.pk, paper.pk, hand.pk)
    names = [s.called for s in bench.swatches]
    out, used = [], set()
    for member, one in zip(data.members, _carried(bench, data, kit.pk), strict=True):
        best = one.recipe
        used |= {x.colour for x in best.layers} if best else set()
        out.append(
            CarriedMember(
                role_name=NAMES[member.role], called=member.called, looked=Tone.of(member.looks.array()),
                comes_out=Tone.of(best.prediction.lab) if best else None,
                de00=round(best.difference.de00, 2) if best else None,
                words=recipe_words(best.layers, names) if best else "", lost=one.lost,
            )
        )  # fmt: skip
    return CarriedOut(kit=kit.thing.name, paper=paper.thing.name, members=out, colours=len(used))


def _newest(owner: Any, asked: CarryAsked) -> tuple[Any, Any, Any]:
    kit, paper, hand = (kits.newest_of(kind, owner, getattr(asked, kind)) for kind in ("kit", "paper", "hand"))
    return kit, paper, hand


def _carried(bench: Workbench, data: KeptData, kit: UUID) -> list[Carried]:
    index = {s.id: i for i, s in enumerate(bench.swatches)}
    out = frozenset(index[c] for c in kits.not_at_hand(kit) if c in index)
    looked = [Target(m.called, m.looks.array()) for m in data.members]
    return carried(bench, looked, Rules(avoid=out), data.together)


def begin(owner: Any, id: UUID, asked: CarryAsked) -> Study:
    """A study from tones with what was kept, carried to this kit, paper and hand."""
    kept = mine(Keepsake, owner, id)
    data = KeptData.model_validate(version_of(kept, asked.number).data)
    kit, paper, hand = _newest(owner, asked)
    bench = kits.bench(owner, kit.pk, paper.pk, hand.pk)
    found = _carried(bench, data, kit.pk)
    with transaction.atomic():
        study = studies.begin(owner, NewStudy(title=kept.name, kit=asked.kit, paper=asked.paper, hand=asked.hand))
        # What is kept was reached once: its tones are taken as they are.
        study = studies.change(owner, study.pk, study.revision, SetRange(do="set_range", on=False))
        recipes = {}
        for number, (member, one) in enumerate(zip(data.members, found, strict=True), 1):
            place = f"kept-{number}"
            name = "" if member.called == NAMES[member.role] else member.called
            op = AddPlace(do="add_place", id=place, role=member.role, name=name, tone=member.looks)
            study = studies.change(owner, study.pk, study.revision, op)
            if one.recipe is not None:
                recipes[place] = Recipe(layers=studies.said(bench, one.recipe.layers), kind=one.recipe.kind)
        if recipes:
            taken = TakeRecipes(do="take_recipes", recipes=recipes, why="library")
            study = studies.change(owner, study.pk, study.revision, taken)
    return study


def take(study: Study, seen: int, asked: FromLibrary) -> Study:
    """Take a kept recipe for a place of a study: as it is where the kit has its colours, else solved again for its look."""
    data = KeptData.model_validate(version_of(mine(Keepsake, study.owner, asked.keepsake)).data)
    if asked.member >= len(data.members):
        raise BadRequest("member", "this part of what was kept is no longer there")
    here = studies.aim(study)
    if asked.place not in here.targets:
        raise BadRequest("place", "this place is no longer there")
    member = data.members[asked.member]
    if all(studies.in_kit(here.bench, x) for x in member.layers):
        layers = member.layers
    else:
        (one,) = carried(here.bench, [Target(member.called, member.looks.array())], studies.core_rules(here))
        if one.recipe is None:
            raise BadRequest("keepsake", one.lost)
        layers = studies.said(here.bench, one.recipe.layers)
    op = TakeRecipes(do="take_recipes", recipes={asked.place: Recipe(layers=layers)}, why="library")
    return studies.change(study.owner, study.pk, seen, op)


def delete(owner: Any, id: UUID) -> None:
    """Take something out of the library for good."""
    mine(Keepsake, owner, id).delete()
