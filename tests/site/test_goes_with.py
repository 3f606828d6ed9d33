"""What was measured belongs to a kit on a paper in a hand, and what goes with a kit is found again. Invented colours."""

from importlib import import_module

import numpy as np
import pytest
from django.apps import apps

from caltin_core.colour.spectra import reflectance_from_lab
from caltin_core.contract.shapes import laid_shape
from caltin_core.media.hand import hand_from_fitted
from caltin_core.media.layers import Lay, Stroke
from caltin_core.media.predict import colours_of
from caltin_core.standins.paper import Nature, Sheet
from caltin_site.kits import calibrating, charts
from caltin_site.kits import services as kits
from caltin_site.kits.models import Hand
from caltin_site.kits.schemas import KitColour, KitData, Measured, PaperData
from caltin_site.shapes import Lab
from demo.kits import WAX_24
from demo.measured import VELLUM, kept

STROKES = (Stroke("light", 3), Stroke("medium", 2), Stroke("firm", 2))


def measure(artist, version, harder):
    """Patches of every colour of a kit on the artist's paper, in a hand of its own, and calibration by them."""
    sheet = Sheet(reflectance_from_lab(np.array([95.0, 0.0, 2.0])), "vellum", Nature(harder=harder), 3)
    kit, paper = version.thing, artist.paper.thing
    labs = {id: np.array(lab) for id, _, lab in WAX_24}
    patches = []
    for c in kits.kit_data(version.pk).colours:
        at = sheet.add(labs[c.id], "wax_pencil")
        patches += [([laid_shape(c.id, s)], Lab.of(sheet.patch([Lay(at, s)]))) for s in STROKES]
    charts.keep_patches(kit, paper, "one evening", patches)
    for _ in calibrating.calibrated(kit, {"paper": str(paper.pk)}):
        pass
    return calibrating.hand_on(kit, paper)


def seen(artist, kit, hand):
    """What a kit's first colours come out as on the artist's paper, all in their newest versions."""
    bench = kits.bench(artist.user, kit.newest.pk, artist.paper.thing.newest.pk, hand.newest.pk)
    return np.array([lab for lab, _ in colours_of(bench, [[Lay(c, s)] for c in range(6) for s in STROKES])])


@pytest.fixture
def other(artist):
    colours = [KitColour(id=i, name=n, medium="wax_pencil", tone=Lab(l=l, a=a, b=b)) for i, n, (l, a, b) in WAX_24[1::2]]
    return kits.begin_kit(artist.user, "Hard leads", colours)


def test_a_second_kit_measured_on_the_same_paper_leaves_the_first_as_it_was(artist, other):
    first = measure(artist, artist.kit, 0.7)
    before = seen(artist, artist.kit.thing, first)
    second = measure(artist, other, 1.5)
    assert (first.name, second.name) == ("My hand on Vellum", "My hand on Vellum with Hard leads")
    assert seen(artist, artist.kit.thing, first) == pytest.approx(before, abs=1e-9)
    deposits = [h.newest.data["fitted"]["deposit"] for h in (first, second)]
    assert all(light < heavy for light, heavy in zip(*deposits, strict=True))
    again = measure(artist, artist.kit, 0.7)
    assert again == first
    assert first.newest_number == 2


def test_paper_and_hand_go_with_the_kit_they_were_last_used_or_measured_with(artist, other, stranger):
    path = f"kits/{other.thing_id}/goes-with"
    assert artist.get(path).json() == {"paper": None, "hand": None}
    hand = measure(artist, other, 1.2)
    assert artist.get(path).json() == {"paper": str(artist.paper.thing_id), "hand": str(hand.pk)}
    smooth = kits.begin_paper(artist.user, "Smooth", PaperData(tone=Lab(l=96, a=0, b=1), tooth="smooth"))
    body = {"title": "Used", "picture": None, "kit": str(other.thing_id), "paper": str(smooth.thing_id)}
    artist.post("studies", {**body, "hand": str(artist.hand.id)})
    assert artist.get(path).json() == {"paper": str(smooth.thing_id), "hand": str(artist.hand.id)}
    assert artist.get(f"{path}?paper={artist.paper.thing_id}").json()["hand"] == str(hand.pk)
    toned = kits.begin_paper(artist.user, "Toned", PaperData(tone=Lab(l=60, a=0, b=4), tooth="sanded"))
    assert artist.get(f"{path}?paper={toned.thing_id}").json() == {"paper": None, "hand": str(artist.hand.id)}
    assert stranger.get(path).status_code == 404


def test_a_demo_evening_can_be_added_to(artist):
    evening = kept("wax")
    tone = Lab(**dict(zip("lab", VELLUM, strict=True)))
    paper = kits.begin_paper(artist.user, "Chart-room vellum", PaperData(tone=tone, tooth="vellum", fitted=evening.ground)).thing
    colours = [
        KitColour(id=i, name=c["name"], medium=c["medium"], tone=Lab.of(np.array(c["lab"]))) for i, c in evening.colours.items()
    ]
    facts = {i: Measured(spectrum=c["spectrum"], fitted=c["fitted"]) for i, c in evening.colours.items()}
    data = KitData(colours=colours, measured=facts, on=PaperData.model_validate(paper.newest.data), paper=paper.pk)
    kit = kits.begin_kit(artist.user, "Wax", colours, data).thing
    hand = kits.begin_hand(artist.user, "Mine", hand_from_fitted(evening.hand), kit, paper).thing
    charts.keep_patches(
        kit,
        paper,
        "one evening",
        [(calibrating.stored(p["layers"]), Lab.of(np.array(p["lab"]))) for p in evening.patches],
    )
    for _ in calibrating.calibrated(kit, {"paper": str(paper.pk)}):
        pass
    assert calibrating.hand_on(kit, paper) == hand
    for key in ("deposit", "reach"):
        assert hand.newest.data["fitted"][key] == pytest.approx(evening.hand[key], rel=0.05), key


def test_hands_named_by_their_paper_alone_learn_whose_they_are(artist):
    hand = measure(artist, artist.kit, 1.0)
    Hand.objects.filter(pk=hand.pk).update(kit=None, paper=None)
    even = Hand.objects.of(artist.user).get(name="Even hand")
    import_module("caltin_site.kits.migrations.0006_hand_of_kit_and_paper").say_whose(apps, None)
    hand.refresh_from_db()
    even.refresh_from_db()
    assert (hand.kit, hand.paper) == (artist.kit.thing, artist.paper.thing)
    assert (even.kit, even.paper) == (None, None)
