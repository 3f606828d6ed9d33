"""Look: a picture developed, framed, replaced; zones proposed and changed; views, edges, spans, printed pages."""

import io

import numpy as np
import pytest
from PIL import Image
from pypdf import PdfReader

from caltin_site.jobs.tasks import perform
from caltin_site.references.models import AreaMap, Picture
from caltin_site.studies.models import Study
from tests.core.pictures import encoded, line_drawing, sphere


@pytest.fixture
def face(artist):
    made = sphere(0.9, 0.3, direction=150, flush=0.5)
    return artist.begin(artist.upload(encoded(made.pixels)).json()["id"])


@pytest.fixture
def zoned(artist, face):
    return artist.change(face, do="propose_areas")


def zones(study):
    return [p for p in study["places"] if p["area"] is not None]


def image_of(answer):
    assert answer.status_code == 200, answer.content
    return np.array(Image.open(io.BytesIO(b"".join(answer.streaming_content) if answer.streaming else answer.content)))


def test_a_place_balanced_by_turns_neutral_and_every_tone_is_read_again(artist, png):
    study = artist.begin(artist.upload(png).json()["id"])
    study = artist.change(study, do="add_place", id="p1", role="base", x=20, y=40, radius=5)
    before = study["places"][0]["tone"]["lab"]
    study = artist.change(study, do="set_develop", develop={"kind": "neutral", "x": 20, "y": 40})
    lab = study["places"][0]["tone"]["lab"]
    assert (lab["a"], lab["b"]) == pytest.approx((0, 0), abs=0.5)
    assert lab["l"] == pytest.approx(before["l"], abs=0.5)
    back = artist.post(f"studies/{study['id']}/undo", {"seen": study["revision"]}).json()
    assert back["places"][0]["tone"]["lab"] == before
    assert back["look"] != study["look"]


def test_exposure_contrast_and_kelvin_are_kept_and_read(artist, face):
    brighter = artist.change(face, do="set_develop", develop={"kind": "none", "stops": 0.5})
    assert brighter["state"]["develop"]["stops"] == 0.5
    lamp = artist.change(brighter, do="set_develop", develop={"kind": "kelvin", "kelvin": 2800})
    read = artist.post(f"studies/{face['id']}/read", {"x": 200, "y": 190, "radius": 9}).json()
    assert read["tone"]["lab"]["b"] < 0
    wrong = artist.post(
        f"studies/{face['id']}/changes",
        {"seen": lamp["revision"], "op": {"do": "set_develop", "develop": {"kind": "kelvin", "kelvin": 90}}},
    )
    assert wrong.status_code == 400


def test_a_clear_cast_is_proposed_and_never_applied_by_itself(artist):
    from tests.core.pictures import chart

    pixels, _, _ = chart("A")
    study = artist.begin(artist.upload(encoded(pixels)).json()["id"])
    cast = artist.get(f"studies/{study['id']}/overview").json()["cast"]
    assert cast["clear"]
    assert study["state"]["develop"]["kind"] == "none"
    study = artist.change(study, do="set_develop", develop={"kind": "cast"})
    read = artist.post(f"studies/{study['id']}/read", {"x": 160, "y": 220, "radius": 10}).json()
    assert abs(read["tone"]["lab"]["b"]) < 3


def test_burnt_and_black_places_are_told(artist):
    pixels = np.full((100, 100, 3), 120, dtype=np.uint8)
    pixels[:20], pixels[80:] = 255, 0
    study = artist.begin(artist.upload(encoded(pixels)).json()["id"])
    clipped = artist.get(f"studies/{study['id']}/overview").json()["clipped"]
    assert len(clipped) == 2
    assert "burnt out" in clipped[0]


def test_zones_are_proposed_in_place_of_the_last_and_beside_the_touched(artist, face):
    study = artist.change(face, do="add_place", id="mine", role="base", x=200, y=190, radius=8)
    study = artist.change(study, do="propose_areas")
    first = len(zones(study))
    assert first >= 5
    assert sum(1 for p in study["places"] if p["id"] == "mine") == 1
    again = artist.change(study, do="propose_areas", touched={"x": 200, "y": 190})
    assert sum(1 for p in again["places"] if p["id"] == "mine") == 1
    assert len({p["id"] for p in again["places"]}) == len(again["places"])


def test_a_zones_target_reaches_match_and_layer(artist, zoned):
    from caltin_site.studies.services import match_missing

    study = Study.objects.get(pk=zoned["id"])
    for _ in match_missing(study):
        pass
    found = artist.get(f"studies/{zoned['id']}/matches").json()
    assert not found["missing"]
    assert artist.get(f"studies/{zoned['id']}/plan").json()["steps"]


def test_merging_parting_painting_and_undoing_zones(artist, zoned):
    one, other, *_ = zones(zoned)
    merged = artist.change(zoned, do="merge_areas", id=one["id"], others=[other["id"]])
    assert len(zones(merged)) == len(zones(zoned)) - 1
    parted = artist.change(merged, do="split_area", id=one["id"], new="part")
    assert {"part", one["id"]} <= {p["id"] for p in zones(parted)}
    assert next(p for p in parted["places"] if p["id"] == "part")["flagged"]
    looked = artist.change(parted, do="edit_place", id="part", looked=True)
    assert not next(p for p in looked["places"] if p["id"] == "part")["flagged"]
    painted = artist.change(looked, do="paint_area", id=one["id"], path=[{"x": 20, "y": 20}, {"x": 60, "y": 20}], radius=8)
    share = {a["place"]: a["share"] for a in artist.get(f"studies/{zoned['id']}/areas").json()["areas"]}
    assert share[one["id"]] > 0
    state = painted
    for _ in range(4):
        state = artist.post(f"studies/{zoned['id']}/undo", {"seen": state["revision"]}).json()
    assert zones(state) == zones(zoned)


def test_a_zone_rubbed_out_wholly_is_gone(artist, zoned):
    zone = zones(zoned)[0]
    whole = [{"x": 1, "y": 1}, {"x": 399, "y": 1}, {"x": 399, "y": 399}, {"x": 1, "y": 399}]
    after = artist.change(zoned, do="paint_area", id=zone["id"], path=whole, add=False)
    assert zone["id"] not in {p["id"] for p in after["places"]}


def test_a_removed_zone_leaves_the_map(artist, zoned):
    zone = zones(zoned)[0]
    after = artist.change(zoned, do="remove_place", id=zone["id"])
    labels = image_of(artist.get(f"maps/{after['state']['areas']}.png"))
    assert zone["area"] not in np.unique(labels)


def test_a_zone_drawn_round_is_added_and_read(artist, face):
    path = [{"x": x, "y": y} for x, y in ((180, 160), (240, 160), (240, 210), (180, 210))]
    study = artist.change(face, do="add_area", id="nose", role="light", path=path)
    (nose,) = zones(study)
    assert nose["tone"]["lab"]["l"] > 20
    assert 180 <= nose["x"] <= 240


IMPOSSIBLE = [
    ({"do": "paint_area", "id": "nowhere", "path": [{"x": 1, "y": 1}], "radius": 3}, "not a zone"),
    ({"do": "add_area", "id": "a", "role": "base", "path": [{"x": 1, "y": 1}, {"x": 5, "y": 5}]}, "three points"),
    ({"do": "add_area", "id": "a", "role": "base", "path": [{"x": 1, "y": 1}]}, "no line closes"),
    ({"do": "set_develop", "develop": {"kind": "skin", "x": 5, "y": 5}}, "which tone"),
    ({"do": "set_develop", "develop": {"kind": "neutral"}}, "touch the place"),
    ({"do": "set_frame", "frame": {"x": 200, "y": 200, "width": 3, "height": 3}}, "at least 8"),
    ({"do": "set_frame", "frame": {"x": 9000, "y": 200, "width": 90, "height": 90}}, "must lie on the picture"),
    ({"do": "edit_place", "id": "base-1", "x": 3, "y": 3}, "moved by drawing it"),
]


def test_what_cannot_be_done_to_a_picture_is_said_and_nothing_is_written(artist, zoned):
    for op, says in IMPOSSIBLE:
        answer = artist.post(f"studies/{zoned['id']}/changes", {"seen": zoned["revision"], "op": op})
        assert answer.status_code == 400, answer.content
        assert says in answer.json()["detail"]
    assert artist.get(f"studies/{zoned['id']}").json()["revision"] == zoned["revision"]


def test_a_crop_and_a_turn_change_what_is_looked_at_and_not_what_is_kept(artist, zoned):
    cropped = artist.change(zoned, do="set_frame", frame={"x": 200, "y": 190, "width": 200, "height": 160, "angle": 8})
    assert (cropped["frame"]["width"], cropped["frame"]["height"]) == (200, 160)
    assert [p["tone"] for p in cropped["places"]] == [p["tone"] for p in zoned["places"]]
    shown = image_of(artist.get(f"studies/{zoned['id']}/views/{cropped['look']}/picture.jpg"))
    assert shown.shape[:2] == (160, 200)
    again = artist.change(cropped, do="propose_areas")
    labels = image_of(artist.get(f"maps/{again['state']['areas']}.png"))
    assert labels[:90].sum() == labels[-90:].sum() == 0


def test_another_picture_keeps_places_and_zones_and_undo_brings_the_first_back(artist, zoned):
    study = artist.change(zoned, do="add_place", id="touched", role="base", x=100, y=200, radius=5)
    other = artist.upload(encoded(sphere(1.8, 0.3, size=800).pixels), "deeper.png").json()
    replaced = artist.change(study, do="use_picture", picture=other["id"])
    assert replaced["picture"]["id"] == other["id"]
    assert {p["id"] for p in replaced["places"]} == {p["id"] for p in study["places"]}
    assert next(p for p in replaced["places"] if p["id"] == "touched")["x"] == 200
    assert all(
        a["tone"]["value"] > b["tone"]["value"] for a, b in zip(zones(study), zones(replaced), strict=True) if a["role"] == "base"
    )
    assert artist.client.delete(f"/api/pictures/{study['picture']['id']}").status_code == 400
    back = artist.post(f"studies/{study['id']}/undo", {"seen": replaced["revision"]}).json()
    assert back["picture"]["id"] == study["picture"]["id"]
    artist.client.delete(f"/api/studies/{study['id']}")
    assert not Picture.objects.exists()
    assert not AreaMap.objects.exists()


@pytest.mark.parametrize(
    "view",
    ["picture", "squint", "values", "notan", "extremes", "hue", "warmth", "hidden", "one_value", "undertone", "melanin", "blood"],
)
def test_every_view_is_shown_and_says_what_it_shows(artist, face, view):
    shown = image_of(artist.get(f"studies/{face['id']}/views/{face['look']}/{view}.jpg"))
    assert shown.shape == (400, 400, 3)
    said = artist.get(f"studies/{face['id']}/views/{view}").json()
    assert said["view"] == view
    if view == "values":
        assert len(said["shares"]) == 5
        assert sum(s["share"] for s in said["shares"]) == pytest.approx(1, abs=0.01)


def test_views_that_are_not_there_or_wrongly_asked(artist, face):
    assert artist.get(f"studies/{face['id']}/views/x/mood.jpg").status_code == 404
    assert artist.get(f"studies/{face['id']}/views/values?steps=40").status_code == 400
    assert artist.get(f"studies/{artist.begin()['id']}/overview").status_code == 404


def test_the_overview_measures_the_skin_and_its_light(artist, face):
    found = artist.get(f"studies/{face['id']}/overview").json()
    assert found["complexion"]["ita_class"]
    assert found["complexion"]["flush"]
    assert abs((found["lights"][0]["direction"] - 150 + 180) % 360 - 180) < 15
    assert not found["line_art"]
    set_by_hand = artist.change(face, do="set_light", direction=200)
    assert set_by_hand["state"]["light"] == 200


def test_edges_and_neighbours_of_zones_come_with_their_width_on_the_paper(artist, zoned):
    small = artist.get(f"studies/{zoned['id']}/areas").json()
    assert small["edges"]
    assert {e["kind"] for e in small["edges"]} <= {"hard", "soft", "lost"}
    assert all(a["neighbours"] for a in small["areas"] if a["share"] > 0.05)
    large = artist.change(zoned, do="set_sheet", sheet={"width": 420, "height": 594})
    wide = {(e["one"], e["other"]): e["width_mm"] for e in artist.get(f"studies/{large['id']}/areas").json()["edges"]}
    pairs = [(e["width_mm"], wide[e["one"], e["other"]]) for e in small["edges"] if e["kind"] == "soft" and e["width_mm"] > 2]
    assert pairs
    assert all(b > 1.5 * a for a, b in pairs)


def test_a_span_is_told_in_millimetres_and_units(artist, face):
    study = artist.change(face, do="set_sheet", sheet={"width": 210, "height": 297, "left": 5, "top": 5, "across": 200})
    found = artist.post(f"studies/{study['id']}/span", {"x1": 100, "y1": 200, "x2": 100, "y2": 100, "unit": 25}).json()
    assert (found["mm"], found["units"], found["plumb"]) == (50, 4, 0)


def test_the_range_is_bent_and_says_what_it_costs(artist, face):
    study = artist.add(face, "base", (60, 18, 20))
    held = artist.change(study, do="set_range", on=True, hold="darks")
    assert held["range"]["hold"] == "darks"
    assert held["range"]["shown"] != study["range"]["shown"]
    by_hand = artist.change(held, do="set_range", on=True, hold="skin", middle=50)
    assert by_hand["range"]["shown"][1] == pytest.approx(50)
    assert by_hand["range"]["given_up"]


def test_a_line_drawing_is_recognised_filled_and_printed_pale(artist):
    picture = artist.upload(encoded(line_drawing()), "line.png").json()
    assert picture["reading"]["line_art"]
    study = artist.begin(picture["id"])
    tone = {"l": 66, "a": 16, "b": 20}
    study = artist.change(study, do="add_area", id="face", role="base", path=[{"x": 250, "y": 150}], tone=tone)
    (face,) = zones(study)
    assert face["tone"]["lab"] == tone
    untoned = {"seen": study["revision"], "op": {"do": "add_area", "id": "b", "role": "base", "path": [{"x": 210, "y": 240}]}}
    assert "which tone" in artist.post(f"studies/{study['id']}/changes", untoned).json()["detail"]
    job = artist.post(f"studies/{study['id']}/jobs", {"kind": "page", "page": {"kind": "pale", "page": "A4"}}).json()
    perform(job["id"])
    pdf = artist.get(f"studies/{study['id']}/page.pdf")
    assert len(PdfReader(io.BytesIO(b"".join(pdf.streaming_content))).pages) >= 1


def test_a_page_larger_than_the_printer_is_tiled(artist, face):
    study = artist.change(face, do="set_sheet", sheet={"width": 420, "height": 594, "grid": 50})
    assert artist.get(f"studies/{study['id']}/page.pdf").status_code == 404
    job = artist.post(f"studies/{study['id']}/jobs", {"kind": "page", "page": {"kind": "grid", "page": "letter"}}).json()
    perform(job["id"])
    assert artist.get(f"jobs/{job['id']}").json()["state"] == "done"
    pdf = artist.get(f"studies/{study['id']}/page.pdf")
    assert len(PdfReader(io.BytesIO(b"".join(pdf.streaming_content))).pages) >= 6


def test_two_complexions_are_compared(artist, face):
    other = artist.begin(artist.upload(encoded(sphere(2.0, 0.3).pixels)).json()["id"])
    found = artist.get(f"studies/{face['id']}/against/{other['id']}").json()
    assert "darker" in found["words"]
    assert found["de00"] > 5
    blank = artist.begin(artist.upload(encoded(np.full((60, 60, 3), 128, dtype=np.uint8))).json()["id"])
    assert artist.get(f"studies/{face['id']}/against/{blank['id']}").status_code == 204


def test_a_study_with_zones_is_read_back_without_loss(artist, zoned):
    saved = artist.get(f"studies/{zoned['id']}/study.json").content
    back = artist.upload(saved, "saved.json", "read-back", "file").json()
    assert zones(back) == zones(zoned)
    one, two = (image_of(artist.get(f"maps/{s['state']['areas']}.png")) for s in (zoned, back))
    assert np.array_equal(one, two)


def test_a_study_begun_again_has_its_own_history_on_the_same_picture(artist, zoned):
    again = artist.post(f"studies/{zoned['id']}/copy").json()
    assert again["picture"]["id"] == zoned["picture"]["id"]
    assert zones(again) == zones(zoned)
    cropped = artist.change(again, do="set_frame", frame={"x": 200, "y": 150, "width": 120, "height": 120})
    assert artist.get(f"studies/{zoned['id']}").json()["state"]["frame"] is None
    assert artist.get(f"studies/{zoned['id']}/against/{cropped['id']}").status_code in (200, 204)
    artist.client.delete(f"/api/studies/{zoned['id']}")
    assert artist.get(f"pictures/{again['picture']['id']}").status_code == 200
    assert zones(artist.get(f"studies/{again['id']}").json()) == zones(zoned)


def test_a_line_drawing_is_the_page_itself_and_a_photograph_has_margins(artist, face):
    drawing = artist.begin(artist.upload(encoded(line_drawing((420, 594)))).json()["id"])
    assert (drawing["sheet"]["left"], drawing["sheet"]["across"]) == pytest.approx((0, 210), abs=0.2)
    assert face["sheet"]["left"] == pytest.approx(15)


def test_the_smallest_picture_can_be_looked_at(artist):
    study = artist.begin(artist.upload(encoded(np.full((8, 8, 3), (205, 160, 130), dtype=np.uint8))).json()["id"])
    assert artist.get(f"studies/{study['id']}/overview").status_code == 200
    assert artist.change(study, do="propose_areas")["state"]["areas"]
