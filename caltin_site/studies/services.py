"""The one door to studies: begun, changed, shown, deleted. What others need of aims and recipes is named here too."""

import hashlib
import json
import uuid
from typing import Any

from django.db import transaction
from django.db.models import Count, Q

from caltin_core.colour.tables import Floats
from caltin_core.colour.value import munsell_value
from caltin_core.colour.words import difference, tone_words
from caltin_core.errors import BadRequest
from caltin_core.media.workbench import Workbench
from caltin_core.plan.presses import checked_order, mended_order
from caltin_core.recipes.reach import reach_of_kit
from caltin_core.reference.roles import BASE, EYE_ROLES, ROLES
from caltin_core.reference.sheet import eye_line, grid_lines
from caltin_core.skin.undertone import undertone
from caltin_site.kits import services as kits
from caltin_site.kits.laid import in_kit, layers_of, said
from caltin_site.kits.models import Kit
from caltin_site.ownership import mine
from caltin_site.references import services as references
from caltin_site.references.api import PictureOut, evenness
from caltin_site.references.models import Picture
from caltin_site.shapes import Tone
from caltin_site.studies import history
from caltin_site.studies.aims import Aim, aim, bare_lab, lab_of_lightness, picture_of
from caltin_site.studies.came_out import looks_of
from caltin_site.studies.changes import apply
from caltin_site.studies.finding import match_missing, matches_out
from caltin_site.studies.found import frame_of, look_up
from caltin_site.studies.models import Study
from caltin_site.studies.onward import at_hand, gone_on
from caltin_site.studies.ops import Op, OrderSteps, Settle, UsePicture, UseVersions
from caltin_site.studies.recipes import core_rules, effective, in_light, predicted, proposals, recipe_out
from caltin_site.studies.schemas import FrameOut, GoesWith, NewStudy, PlaceOut, RangeOut, SheetOut, StudyCard, StudyOut
from caltin_site.studies.state import Pins, Place, RulesState, State, Token

__all__ = [
    "Aim",
    "aim",
    "at_hand",
    "bare_lab",
    "begin",
    "change",
    "copy",
    "core_rules",
    "delete",
    "effective",
    "goes_with",
    "gone_on",
    "in_kit",
    "in_light",
    "known_colours",
    "layers_of",
    "looks_of",
    "margin_of",
    "match_missing",
    "matches_out",
    "notes",
    "picture_of",
    "predicted",
    "recipe_out",
    "said",
    "sheet_out",
    "shelf",
    "study_out",
    "view_key",
]

_ROLES = {role.slug: role for role in ROLES}


def begin(owner: Any, asked: NewStudy) -> Study:
    """Begin a study, on the newest versions of the kit, paper and hand named."""
    pins = {kind: kits.newest_of(kind, owner, getattr(asked, kind)).pk for kind in ("kit", "paper", "hand")}
    picture = mine(Picture, owner, asked.picture) if asked.picture else None
    study = Study(owner=owner, title=asked.title)
    rules = RulesState(black_by_role={r.slug: r.black for r in ROLES if r.black})
    history.begin(study, State(title=asked.title, pins=Pins(**pins), picture=picture.pk if picture else None, rules=rules))
    return study


def copy(owner: Any, id: uuid.UUID) -> Study:
    """Another study of the same picture, as this one stands: to crop it otherwise, or to try another way. Nothing of it is drawn,
    so that nothing was measured."""
    first = mine(Study, owner, id)
    state = history.state_of(first)
    title = f"{state.title[:110]}, again"
    study = Study(owner=owner, title=title)
    recipes = {place: recipe.model_copy(update={"seen": None}) for place, recipe in state.recipes.items()}
    history.begin(study, state.model_copy(update={"title": title, "recipes": recipes}))
    return study


def change(owner: Any, id: uuid.UUID, seen: int, op: Op) -> Study:
    """Write one change. Raises Late for a stale revision and BadRequest where the change cannot be."""

    def made(study: Study, state: State) -> tuple[State, str]:
        if isinstance(op, UsePicture):
            mine(Picture, owner, op.picture)
        found = look_up(study, state, op, picture_of(study, state))
        if isinstance(op, UseVersions):
            for kind in ("kit", "paper", "hand"):
                if wanted := getattr(op, kind):
                    kits.version_of(kind, owner, wanted)
        proposed = proposals(aim(study, state)) if isinstance(op, Settle) else {}
        order = _checked(study, state, op) if isinstance(op, OrderSteps) else []
        try:
            after, label = apply(state, op, found=found, proposed=proposed, order=order)
        except ValueError as fault:
            raise BadRequest("op", str(fault)) from None
        bench = kits.bench(owner, after.pins.kit, after.pins.paper, after.pins.hand)
        if isinstance(op, UseVersions) and op.let_go:
            after = _without_strange(bench, after)
        known_colours(bench, after)
        return after, label

    return history.write(owner, id, seen, made)


def known_colours(bench: Workbench, state: State) -> None:
    """Raises BadRequest when a recipe names a colour that is not in the kit."""
    names = state.names()
    for place, index in _strange(bench, state).items():
        what = f"the recipe chosen for {names.get(place, place)} takes a colour that this kit has not"
        raise BadRequest(f"recipes.{place}[{index}].colour", what)


def _strange(bench: Workbench, state: State) -> dict[str, int]:
    """The places whose chosen recipe names a colour that is not in the kit, with the first layer that does."""
    out = {}
    for place, recipe in state.recipes.items():
        strange = (i for i, layer in enumerate(recipe.layers) if not in_kit(bench, layer))
        if (first := next(strange, None)) is not None:
            out[place] = first
    return out


def _without_strange(bench: Workbench, state: State) -> State:
    """The state without the chosen recipes that the kit cannot lay, and without their steps."""
    gone = _strange(bench, state)
    left = {place: recipe for place, recipe in state.recipes.items() if place not in gone}
    return state.model_copy(update={"recipes": left, "order": [t for t in state.order if t.place not in gone]})


def _checked(study: Study, state: State, op: OrderSteps) -> list[Token]:
    if not op.steps:
        return []
    here = aim(study, state)
    recipes = {place: layers_of(here.bench, r.layers) for place, r in effective(here).items()}
    steps = [[(t.place, t.layer) for t in step] for step in op.steps]
    names = state.names()
    steps = mended_order(recipes, steps) if op.mend else steps
    return [Token(place=place, layer=layer) for place, layer in checked_order(recipes, steps, names)]


def study_out(study: Study) -> StudyOut:
    """The study as the screen needs it."""
    here = aim(study)
    state, names = here.state, here.state.names()
    undo, redo = history.neighbours(study)
    base = next((p for p in state.places if p.role == BASE), None)
    return StudyOut(
        id=study.pk, revision=study.revision, can_undo=bool(undo), can_redo=bool(redo), undo_label=undo, redo_label=redo,
        state=state, picture=PictureOut.from_orm(study.picture) if study.picture else None,
        kit=kits.kit_shown(study.kit_version_id),
        paper=kits.paper_out(study.paper_version), hand=kits.hand_out(study.hand_version),
        places=[_place_out(p, names[p.id], i + 1, here.targets[p.id], base) for i, p in enumerate(state.places)],
        range=_range_out(here), sheet=sheet_out(study, state), frame=_frame_out(study, state), look=view_key(study, state),
        changed=study.changed,
    )  # fmt: skip


def _place_out(place: Place, name: str, number: int, target: Floats, base: Place | None) -> PlaceOut:
    role, tone = _ROLES[place.role], place.tone.array()
    against = difference(tone, base.tone.array()).words if base and base.id != place.id else ""
    return PlaceOut(
        **place.model_dump(exclude={"tone"}), role_name=role.name, called=name, number=number, tone=Tone.of(tone),
        target=Tone.of(target), words=tone_words(tone), against_base=against, undertone=undertone(tone).word,
        evenness=evenness(place.spread),
    )  # fmt: skip


def _range_out(here: Aim) -> RangeOut:
    low, high = reach_of_kit(here.bench)
    value = [round(float(munsell_value(lab_of_lightness(v))), 3) for v in (*here.map.picture, *here.map.shown, low, high)]
    many = len(here.map.picture)
    return RangeOut(
        on=here.state.range_on, hold=here.state.range_hold, given_up=here.map.given_up(),
        picture=list(here.map.picture), shown=list(here.map.shown), picture_values=value[:many],
        shown_values=value[many : 2 * many], darkest_shown=value[-2], lightest_shown=value[-1],
    )  # fmt: skip


def _frame_out(study: Study, state: State) -> FrameOut | None:
    if study.picture is None:
        return None
    frame = frame_of(study.picture, state)
    return FrameOut(matrix=frame.to_picture().ravel().tolist(), width=frame.width, height=frame.height)


def view_key(study: Study, state: State) -> str:
    """What the views of a study depend on, hashed: another key, another picture to fetch."""
    facts = [str(state.picture), state.develop.model_dump(mode="json"), state.frame and state.frame.model_dump()]
    return hashlib.sha256(json.dumps(facts, sort_keys=True).encode()).hexdigest()[:16]


def margin_of(picture: Picture | None) -> float:
    """The margin a picture is given on its sheet, in millimetres: a line drawing is the page itself."""
    return 0.0 if picture is not None and picture.reading.get("line_art") else 15.0


def sheet_out(study: Study, state: State) -> SheetOut:
    """The paper and the picture's place on it, in millimetres, with the lines of its grid."""
    aspect = 1.25
    if state.frame:
        aspect = state.frame.height / state.frame.width
    elif study.picture is not None:
        aspect = study.picture.height / study.picture.width
    at = state.sheet.placement(aspect, margin_of(study.picture))
    across, down = grid_lines(at, aspect, state.sheet.grid) if state.sheet.grid else ([], [])
    wide = state.frame.width if state.frame else study.picture.width if study.picture else 1000
    tall = study.picture.height if study.picture else 1000
    eyes = [p.y / tall for p in state.places if p.role in EYE_ROLES and p.y is not None]
    return SheetOut(
        width=at.width, height=at.height, left=at.left, top=at.top, across=at.across, down=at.down(aspect),
        uprights=across, levels=down, mm_per_pixel=at.across / wide, eyes=eye_line(eyes),
    )  # fmt: skip


def delete(owner: Any, id: uuid.UUID) -> None:
    """Really delete a study: its history, its log, its picture where no other study uses it, and its card."""
    with transaction.atomic():
        study = mine(Study, owner, id)
        pictures = list(study.pictures.all())
        study.delete()
        for picture in pictures:
            if not picture.studies.exists():
                references.delete(picture)


def shelf(owner: Any) -> list[StudyCard]:
    """All studies of an artist, the last touched first."""
    rows = Study.objects.of(owner).select_related("kit_version__thing", "paper_version__thing")
    rows = rows.defer("kit_version__data", "paper_version__data")
    marked = rows.annotate(drawn_marks=Count("drawn", filter=Q(drawn__kind="done")))
    places = history.places_of(rows)
    return [_card(study, study.drawn_marks, places[study.pk]) for study in marked.order_by("-changed")]


def goes_with(owner: Any, kit_id: uuid.UUID, paper: uuid.UUID | None = None) -> GoesWith:
    """What a kit was last drawn with, on `paper` where one is said; or else the paper and the hand it was last measured on. Of a
    kit that was never on that paper the hand it has elsewhere."""
    kit = mine(Kit, owner, kit_id)
    drawn = Study.objects.of(owner).filter(kit_version__thing=kit).order_by("-changed")
    measured = kit.hands.filter(paper__isnull=False).order_by("-made")
    if paper is not None:
        drawn, measured = drawn.filter(paper_version__thing=paper), measured.filter(paper=paper)
    used = drawn.values_list("paper_version__thing", "hand_version__thing").first()
    on, by = used or measured.values_list("paper", "pk").first() or (None, None)
    if by is None and paper is not None:
        return goes_with(owner, kit_id).model_copy(update={"paper": None})
    return GoesWith(paper=on, hand=by)


def notes(owner: Any) -> list[tuple[Study, str]]:
    """Every study of an artist with its note."""
    rows = list(Study.objects.of(owner))
    found = history.notes_of(rows)
    return [(study, found[study.pk]) for study in rows]


def _card(study: Study, drawn: int, places: list[Place]) -> StudyCard:
    return StudyCard(
        id=study.pk, title=study.title, picture=study.picture_id, kit=study.kit_version.thing.name,
        paper=study.paper_version.thing.name, places=len(places), drawn=drawn,
        tones=[Tone.of(p.tone.array()) for p in places], changed=study.changed,
    )  # fmt: skip
