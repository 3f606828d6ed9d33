"""Load the demo: once for each piece, and never again over what the artist has changed or deleted."""

import uuid
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from django.contrib.auth import get_user_model
from django.db import transaction
from django.utils import timezone

from caltin_core.media.hand import hand_from_fitted
from caltin_site.accounts.doors import DEMO_ARTIST
from caltin_site.accounts.models import Loaded
from caltin_site.jobs.services import begin as begin_job
from caltin_site.journal import services as journal
from caltin_site.journal.schemas import MarkIn
from caltin_site.kits import calibrating, charts
from caltin_site.kits import services as kits
from caltin_site.kits.models import Hand, Kit, Paper
from caltin_site.kits.schemas import KitColour, KitData, Measured, PaperData
from caltin_site.library import services as library
from caltin_site.library.schemas import KeepAsked
from caltin_site.plans import services as plans
from caltin_site.references import services as references
from caltin_site.shapes import Lab
from caltin_site.studies import services as studies
from caltin_site.studies.models import Study
from caltin_site.studies.ops import AddPlace, EditPlace, Note, PlanLight, ProposeAreas, SetRules, SetSheet, Settle
from caltin_site.studies.schemas import NewStudy
from caltin_site.studies.state import PlannedState, SheetState
from demo.finished import draw
from demo.kits import DRY, FADING, HARMFUL
from demo.measured import CARD, NIGHT, VELLUM, Evening, kept

PICTURES = Path(__file__).parent / "pictures"
KIT, PAPER, SMOOTH, HAND = "Night ferry wax box, 24", "Chart-room vellum", "Manifest card", "My hand, measured"
MARKERS, PASTELS, DARK = "Night ferry markers, 36", "Night ferry pastels, 30", "Hold paper, dark"
INKED, DARKENED = "My hand with markers", "My hand on dark paper"
LANTERN = ["highlight", "light", "base", "half_tone", "shadow", "deepest_accent", "reflected_light", "lower_lip"]

# (role, own name, x, y, radius) in pixels of the pictures.
PILOT_PLACES = (
    ("highlight", "Forehead, lit side", 402, 392, 12),
    ("light", "Cheekbone", 390, 640, 9),
    ("base", "Cheek towards the sun", 400, 700, 10),
    ("half_tone", "Forehead, turning", 560, 430, 14),
    ("shadow", "Far cheek", 650, 690, 18),
    ("deepest_accent", "Under the jaw", 610, 935, 12),
    ("flush", "Lower lip", 450, 820, 8),
    ("reflected_light", "Rim by the ear", 805, 690, 7),
)
PURSER_PLACES = (
    ("base", "Cheek at the window", 420, 615, 12),
    ("shadow", "Far cheek", 700, 640, 16),
    ("flush", "Lower lip", 470, 805, 7),
)
HALF = 0.5


def load() -> Any:
    """Load what is not loaded yet; gives the demo artist."""
    artist, _ = get_user_model().objects.get_or_create(username=DEMO_ARTIST, defaults={"first_name": "Demo artist"})
    if not artist.has_usable_password():
        artist.set_unusable_password()
    kits.begin_hands(artist)
    _once(artist, "kit", lambda: _measured(artist, kept("wax"), KIT, PAPER, VELLUM, HAND))
    _once(artist, "markers", lambda: _measured(artist, kept("markers"), MARKERS, SMOOTH, CARD, INKED))
    _once(artist, "pastels", lambda: _measured(artist, kept("pastels"), PASTELS, DARK, NIGHT, DARKENED))
    _once(artist, "dry", lambda: _ran_dry(artist))
    _once(artist, "pilot", lambda: _pilot(artist))
    _once(artist, "purser", lambda: _purser(artist))
    _once(artist, "deckhand", lambda: _deckhand(artist))
    _once(artist, "cook", lambda: _cook(artist))
    _once(artist, "engineer", lambda: _engineer(artist))
    _once(artist, "finished", lambda: _finished(artist))
    _once(artist, "stoker", lambda: _stoker(artist))
    _once(artist, "lamp-trimmer", lambda: _lamp_trimmer(artist))
    return artist


def _once(artist: Any, key: str, make: Callable[[], Any]) -> None:
    if Loaded.objects.of(artist).filter(key=key).exists():
        return
    with transaction.atomic():
        make()
        Loaded.objects.create(owner=artist, key=key)


def _measured(artist: Any, this: Evening, kit: str, sheet: str, tone: tuple[float, float, float], hand: str) -> None:
    """A box, a paper and the hand on it, all measured by patches in one evening."""
    lightness, a, b = tone
    tooth: Any = this.tooth
    paper = PaperData(tone=Lab(l=lightness, a=a, b=b), tooth=tooth, fitted=this.ground)
    colours = [
        KitColour(
            id=id, name=c["name"], medium=c["medium"], tone=Lab.of(np.array(c["lab"])), source="demo",
            lightfast="poor" if id in FADING else "", harmful=HARMFUL.get(id, ""),
        )
        for id, c in this.colours.items()
    ]  # fmt: skip
    measured = {id: Measured(spectrum=c["spectrum"], fitted=c["fitted"], paper=sheet) for id, c in this.colours.items()}
    under = kits.begin_paper(artist, sheet, paper).thing
    box = kits.begin_kit(artist, kit, colours, KitData(colours=colours, measured=measured, on=paper, paper=under.pk)).thing
    kits.begin_hand(artist, hand, hand_from_fitted(this.hand), box, under)
    patches = [(calibrating.stored(p["layers"]), Lab.of(np.array(p["lab"]))) for p in this.patches]
    charts.keep_patches(box, under, "one evening", patches)


def _ran_dry(artist: Any) -> None:
    """One of the markers has run dry."""
    kits.set_state(artist, Kit.objects.of(artist).get(name=MARKERS).pk, DRY, "dry")


def _begin(artist: Any, title: str, picture: str, kit_name: str = KIT, paper_name: str = PAPER, hand_name: str = HAND) -> Study:
    content = (PICTURES / f"{picture}.jpg").read_bytes()
    kit, paper = Kit.objects.of(artist).get(name=kit_name), Paper.objects.of(artist).get(name=paper_name)
    hands = Hand.objects.of(artist)
    hand = hands.filter(name=hand_name).first() or hands.order_by("made")[0]
    taken = references.take_in(artist, f"{picture}.jpg", content)
    return studies.begin(artist, NewStudy(title=title, picture=taken.pk, kit=kit.pk, paper=paper.pk, hand=hand.pk))


def _touch(study: Study, places: tuple[tuple[str, str, int, int, int], ...]) -> Study:
    for role, name, x, y, radius in places:
        op = AddPlace(do="add_place", id=f"{role}-1", role=role, name=name, x=x, y=y, radius=radius)
        study = studies.change(study.owner, study.pk, study.revision, op)
    return study


def _pilot(artist: Any) -> None:
    """A study matched and half drawn."""
    study = _touch(_begin(artist, "The pilot, low sun", "pilot"), PILOT_PLACES)
    for _ in studies.match_missing(study):
        pass
    study = studies.change(artist, study.pk, study.revision, Settle(do="settle"))
    family = KeepAsked(name="Low sun from the left", note="Warm towards the sun, the sky's violet on the far side.")
    library.keep(study, family)
    note = "For the wheelhouse wall. The sun comes in low from the left; the far side belongs to the sky."
    study = studies.change(artist, study.pk, study.revision, Note(do="note", note=note))
    steps = plans.plan(study).steps
    for step in steps[: round(HALF * len(steps))]:
        words = f"{step.name}, {step.words}"
        mark = MarkIn(client_id=uuid.uuid4(), kind="done", colour=step.colour, words=words, laid=step.laid)
        journal.log(study, mark, used=journal.used(study, mark))


def _purser(artist: Any) -> None:
    """A study only begun; its match waits for the worker."""
    study = _touch(_begin(artist, "The purser at the north window", "purser"), PURSER_PLACES)
    begin_job(study, "match")


def _zoned(study: Study) -> Study:
    """Zones proposed, and those of the skin looked at; hair and eyes still ask for a look."""
    return studies.change(study.owner, study.pk, study.revision, ProposeAreas(do="propose_areas"))


def _deckhand(artist: Any) -> None:
    """A study read by zones, laid out with a grid on an A4 sheet."""
    study = _zoned(_begin(artist, "The deckhand under a high sun", "deckhand"))
    looked = EditPlace(do="edit_place", id="lower_lip-1", role="lower_lip", looked=True)
    study = studies.change(artist, study.pk, study.revision, looked)
    studies.change(artist, study.pk, study.revision, SetSheet(do="set_sheet", sheet=SheetState(grid=20, cross=True)))


def _finished(artist: Any) -> None:
    """The deckhand carried through: a school's order, two evenings, a journal with photographs."""
    study = _zoned(_begin(artist, "The deckhand, carried through", "deckhand"))
    study = _ruled(study, together=9, school="dark_first")
    for _ in studies.match_missing(study):
        pass
    study = studies.change(artist, study.pk, study.revision, Settle(do="settle"))
    draw(study, timezone.localtime())
    library.keep(study, KeepAsked(name="High sun, dark first", note="The jaw and the eye sockets carry the light."))


def _cook(artist: Any) -> None:
    """A study read by zones under an overcast sky, with no one light."""
    study = _zoned(_begin(artist, "The cook on an overcast morning", "cook"))
    note = "No sun to model by: values lie close together, so hue has to carry the form."
    studies.change(artist, study.pk, study.revision, Note(do="note", note=note))


def _engineer(artist: Any) -> None:
    """Pastels on dark paper, all zones in one family, white first and then glazes; its match waits for the worker."""
    study = _zoned(_begin(artist, "The engineer by a lamp below", "engineer", PASTELS, DARK, DARKENED))
    begin_job(_ruled(study, together=9, school="light_and_glaze", black="allowed"), "match")


def _stoker(artist: Any) -> None:
    """A sitter nobody photographed, by lantern in front of the open hatch: tones of a planned light, not matched yet."""
    pins = {
        "kit": Kit.objects.of(artist).get(name=PASTELS).pk, "paper": Paper.objects.of(artist).get(name=DARK).pk,
        "hand": Hand.objects.of(artist).get(name=DARKENED).pk,
    }  # fmt: skip
    study = studies.begin(artist, NewStudy(title="The stoker by lantern, from memory", picture=None, **pins))
    base = Lab(l=57, a=11.875, b=20.5681)
    planned = PlannedState(
        base=base, kelvin=2700, elevation=-15, azimuth=55, fill_kelvin=8000, stops_below=2.5, bounce=Lab(l=52, a=14, b=28)
    )
    studies.change(artist, study.pk, study.revision, PlanLight(do="plan_light", planned=planned, roles=LANTERN))


def _lamp_trimmer(artist: Any) -> None:
    """Markers on card, all zones in one family, pale base first; its match waits for the worker."""
    study = _zoned(_begin(artist, "The lamp trimmer at dusk", "lamp-trimmer", MARKERS, SMOOTH, INKED))
    begin_job(_ruled(study, together=10, school="light_to_dark", black="allowed"), "match")


def _ruled(study: Study, **some: Any) -> Study:
    """The study under some rules that are not those a study begins with."""
    rules = studies.study_out(study).state.rules.model_copy(update=some)
    return studies.change(study.owner, study.pk, study.revision, SetRules(do="set_rules", rules=rules))
