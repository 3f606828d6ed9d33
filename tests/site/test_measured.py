"""What was measured: kept with its stick, shown in Match, and carried into other lights."""

import numpy as np
import pytest

from caltin_core.media.hand import hand_from_fitted
from caltin_site.kits import services as kits
from caltin_site.kits.models import KitVersion
from caltin_site.kits.schemas import KitColour, KitData, Measured, PaperData
from caltin_site.shapes import Lab
from caltin_site.studies.models import Study
from caltin_site.studies.services import match_missing
from demo.measured import VELLUM, kept, wax


@pytest.fixture
def measured(artist):
    """The artist with the demo's box, sheet and hand, all measured."""
    evening = kept("wax")
    lightness, a, b = VELLUM
    paper = PaperData(tone=Lab(l=lightness, a=a, b=b), tooth="vellum", fitted=evening.ground)
    known = evening.colours.items()
    colours = [KitColour(id=i, name=c["name"], medium="wax_pencil", tone=Lab.of(np.array(c["lab"]))) for i, c in known]
    facts = {i: Measured(spectrum=c["spectrum"], fitted=c["fitted"]) for i, c in known}
    artist.kit = kits.begin_kit(artist.user, "Measured", colours, KitData(colours=colours, measured=facts, on=paper))
    artist.paper = kits.begin_paper(artist.user, "Measured vellum", paper)
    kits.begin_hand(artist.user, "Mine", hand_from_fitted(evening.hand))
    artist.hand = next(h for h in kits.rack(artist.user).hands if h.name == "Mine")
    return artist


def test_what_the_demo_keeps_of_an_evening_is_what_the_evening_gives():
    again, stored = wax(), kept("wax")
    assert again.colours.keys() == stored.colours.keys()
    for id, colour in again.colours.items():
        assert colour["spectrum"] == pytest.approx(stored.colours[id]["spectrum"], abs=1e-4)
        assert colour["fitted"]["own"] == pytest.approx(stored.colours[id]["fitted"]["own"], abs=0.02)
    for key in ("deposit", "reach"):
        assert again.hand[key] == pytest.approx(stored.hand[key], abs=0.02), key


def drawn(artist):
    study = artist.add(artist.add(artist.begin()), "shadow", (42, 16, 14))
    for _ in match_missing(Study.objects.get(pk=study["id"])):
        pass
    return study


def test_a_measured_hand_is_surer_and_says_so(measured, stranger):
    sure, unsure = (
        [m["chosen"] for m in a.get(f"studies/{drawn(a)['id']}/matches").json()["matches"]] for a in (measured, stranger)
    )
    assert all(r["measured"] for r in sure)
    assert not any(r["measured"] for r in unsure)
    assert max(r["uncertainty"] for r in sure) < min(r["uncertainty"] for r in unsure)
    for recipe in (*sure, *unsure):
        assert recipe["value_low"] < recipe["tone"]["value"] < recipe["value_high"]


def test_recipes_the_hand_cannot_tell_apart_are_called_equal(measured):
    for match in measured.get(f"studies/{drawn(measured)['id']}/matches").json()["matches"]:
        best, *others = match["recipes"]
        assert best["equal"]
        for other in others:
            assert other["equal"] == (other["difference"]["de00"] <= best["difference"]["de00"] + other["uncertainty"] + 0.005)


def test_another_light_is_told_of_measured_colours_only(measured, stranger):
    lamp = measured.get(f"studies/{drawn(measured)['id']}/light/A").json()
    assert lamp["known"]
    assert lamp["name"] == "lamp"
    assert all(p["tone"] and p["de00"] > 0.1 and p["words"] for p in lamp["places"])
    unknown = stranger.get(f"studies/{drawn(stranger)['id']}/light/A").json()
    assert not unknown["known"]
    assert {p["words"] for p in unknown["places"]} == {"not known"}
    assert stranger.get(f"studies/{drawn(stranger)['id']}/light/moon").status_code == 400


def test_what_was_measured_stays_with_its_stick(measured):
    kit = measured.get(f"kits/{measured.kit.thing_id}").json()
    assert all(c["measured"] for c in kit["colours"])
    fields = ("id", "name", "medium", "tone", "source", "handling", "retired")
    colours = [{k: c[k] for k in fields} for c in kit["colours"]]
    colours[0]["name"] = "Another name"
    colours[1]["tone"] = {"l": 50, "a": 0, "b": 0}
    colours[2]["retired"] = True
    after = measured.put(f"kits/{kit['id']}", {"seen": kit["number"], "name": kit["name"], "colours": colours}).json()
    assert [c["measured"] for c in after["colours"]][:4] == [True, False, True, True]
    assert KitVersion.objects.get(pk=after["version"]).data["on"]["fitted"]
    paper = measured.paper.thing
    body = {"seen": 1, "name": "Renamed", "tone": {"l": 95.0, "a": 0.0, "b": 3.0}, "tooth": "vellum"}
    measured.put(f"papers/{paper.pk}", body)
    assert paper.newest.data["fitted"]
    measured.put(f"papers/{paper.pk}", {**body, "seen": paper.newest.number, "tooth": "smooth"})
    assert paper.newest.data["fitted"] is None
