"""Printed sheets over the API, drawn and photographed by the stand-ins; and calibration from them. Invented colours."""

import io
import json
from dataclasses import replace
from functools import lru_cache

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from pypdf import PdfReader

from caltin_core.charts.printing import drawn
from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spectra import lab_from_reflectance, reflectance_from_lab
from caltin_core.contract.shapes import act_of, stroke_of
from caltin_core.contract.sheets import SheetShape, layout_of
from caltin_core.media.layers import Lay, Stroke
from caltin_core.media.predict import colours_of
from caltin_core.standins.camera import Shot, corners_of, page_of, photograph
from caltin_core.standins.paper import Sheet
from caltin_site.jobs.tasks import perform
from caltin_site.kits import calibrating
from caltin_site.kits import services as kits
from caltin_site.kits.models import Hand, Kit, Paper, SwatchSheet
from demo.kits import WAX_24

PAPER = np.array([95.0, 0.0, 2.0])
SIZE = (1200, 1600)


@lru_cache(maxsize=1)
def desk():
    """The sheet the artist draws on, with the sticks of the artist's box, whose barrels are off by some."""
    sheet = Sheet(reflectance_from_lab(PAPER), "vellum", seed=5)
    at = {id: sheet.add(np.add(lab, (4, -5, 4)), "wax_pencil") for id, _, lab in WAX_24[::2]}
    return sheet, at


def cells_of(sheet_id):
    """The spectra of a printed sheet's cells, each drawn as it says."""
    virtual, at = desk()
    return {
        cell: virtual.reflectance(
            [Lay(at[x.colour], stroke_of(x)) if hasattr(x, "colour") else act_of(x) for x in calibrating.stored(layers)]
        )
        for cell, layers in SwatchSheet.objects.get(pk=sheet_id).cells.items()
    }


def photo_of(sheet_id, shot=None, cells=None):
    """What a camera sees of a printed sheet, drawn now or before."""
    row = SwatchSheet.objects.get(pk=sheet_id)
    layout = layout_of(SheetShape.model_validate(row.layout))
    shown = page_of(layout, drawn(layout, row.title, {}), cells or cells_of(sheet_id), reflectance_from_lab(PAPER))
    return photograph(*shown, shot or Shot(size=SIZE, odd=0.3))


def send(artist, sheet, photo, **more):
    file = SimpleUploadedFile("sheet.jpg", photo, "image/jpeg")
    return artist.client.post(f"/api/sheets/{sheet['id']}/photo", {"photo": file, **more})


@pytest.fixture
def sheet(artist):
    made = artist.post(f"kits/{artist.kit.thing_id}/sheets", {"paper": str(artist.paper.thing_id), "many": 28})
    assert made.status_code == 201
    return made.json()


def test_a_sheet_begins_with_the_solids_and_is_a_page_to_print(artist, sheet):
    assert len(sheet["cells"]) == 28
    assert sum("three burnishing passes" in c["words"] for c in sheet["cells"]) >= 12
    assert any(" + " in c["words"] for c in sheet["cells"])
    page = artist.get(f"sheets/{sheet['id']}/page.pdf")
    assert page["Content-Type"] == "application/pdf"
    assert len(PdfReader(io.BytesIO(page.content)).pages) == 1
    assert [s["id"] for s in artist.get(f"kits/{artist.kit.thing_id}/sheets").json()] == [sheet["id"]]
    assert artist.post(f"kits/{artist.kit.thing_id}/sheets", {"paper": str(artist.paper.thing_id), "many": 0}).status_code == 400


def test_a_photograph_makes_a_calibrated_kit_paper_and_hand_and_the_old_ones_stay(artist, sheet):
    kit_id, paper_id = artist.kit.thing_id, artist.paper.thing_id
    read = send(artist, sheet, photo_of(sheet["id"])).json()
    assert sum(c["ok"] for c in read["cells"]) >= 26
    job = artist.post(f"kits/{kit_id}/jobs", {"paper": str(paper_id)}).json()
    perform(job["id"])
    assert artist.get(f"jobs/{job['id']}").json()["state"] == "done"
    kit, paper = Kit.objects.get(pk=kit_id), Paper.objects.get(pk=paper_id)
    assert (kit.newest_number, paper.newest_number) == (2, 2)
    out = artist.get(f"kits/{kit_id}").json()
    assert all(c["measured"] and c["source"] == "photograph" for c in out["colours"])
    assert {(c["paper"], len(c["when"])) for c in out["colours"]} == {("Vellum", 10)}
    hand = Hand.objects.of(artist.user).get(name="My hand on Vellum")
    virtual, at = desk()
    ids = [c["id"] for c in out["colours"]]
    rng = np.random.default_rng(1)
    bench = kits.bench(artist.user, kit.newest.pk, paper.newest.pk, hand.newest.pk)
    old = kits.bench(artist.user, artist.kit.pk, artist.paper.pk, artist.hand.version)
    unseen = [[Lay(int(c), Stroke("medium", 2)) for c in rng.integers(12, size=2)] for _ in range(20)]
    truth = np.array(
        [lab_from_reflectance(virtual.reflectance([Lay(at[ids[x.colour]], x.stroke) for x in stack])) for stack in unseen]
    )
    after, before = (np.median(delta_e_2000(truth, np.array([lab for lab, _ in colours_of(b, unseen)]))) for b in (bench, old))
    assert after < 0.6 * before
    assert after < 3


def test_a_darker_photograph_of_a_sheet_makes_deep_colours_truer(artist, sheet):
    shot = Shot("LED-B3", SIZE, odd=0.3, curve=0.15)
    cells = cells_of(sheet["id"])
    photo, darker = (photo_of(sheet["id"], s, cells) for s in (shot, replace(shot, exposure=0.3, take=1)))
    truth = {cell: lab_from_reflectance(spectrum) for cell, spectrum in cells.items()}

    def missed(read):
        there = [(truth[c["cell"]], c["tone"]) for c in read.json()["cells"] if c["ok"]]
        return np.median([delta_e_2000(lab, np.array([t["l"], t["a"], t["b"]])) for lab, t in there])

    plain = missed(send(artist, sheet, photo))
    said = missed(send(artist, sheet, photo, light="LED-B3"))
    both = missed(send(artist, sheet, photo, light="LED-B3", again=SimpleUploadedFile("b.jpg", darker, "image/jpeg")))
    # What a lamp does to reds, known solids tell too; contrast hides among what all barrels have in common.
    assert said != plain
    assert both < 0.6 * min(plain, said)
    refused = send(artist, sheet, photo, again=SimpleUploadedFile("b.jpg", photo, "image/jpeg"))
    assert refused.status_code == 400
    assert "darker" in refused.json()["detail"]
    assert send(artist, sheet, photo, light="moon").status_code == 400


def test_three_control_cells_tell_whether_the_hand_still_holds(artist, sheet):
    kit, paper = artist.kit.thing_id, str(artist.paper.thing_id)
    ask = {"paper": paper, "control": True}
    assert "first" in artist.post(f"kits/{kit}/sheets", ask).json()["detail"]
    send(artist, sheet, photo_of(sheet["id"]))
    perform(artist.post(f"kits/{kit}/jobs", {"paper": paper}).json()["id"])
    control = artist.post(f"kits/{kit}/sheets", ask).json()
    assert len(control["cells"]) == 3
    assert {c["words"] for c in control["cells"]} <= {c["words"] for c in sheet["cells"]}
    assert not any("three burnishing" in c["words"] for c in control["cells"])
    same = send(artist, control, photo_of(control["id"])).json()
    assert same["drift"].startswith("Hand and paper hold")
    heavy = SwatchSheet.objects.get(pk=control["id"])
    heavy.patches = [{**p, "lab": [max(p["lab"][0] - 12, 0), *p["lab"][1:]]} for p in heavy.patches]
    heavy.save()
    told = next(s for s in artist.get(f"kits/{kit}/sheets").json() if s["id"] == control["id"])
    assert "darker" in told["drift"]
    assert "Measure a new sheet" in told["drift"]


def test_a_control_is_read_as_its_cell_was_so_that_a_camera_is_no_drift(artist, sheet):
    kit, paper = artist.kit.thing_id, str(artist.paper.thing_id)
    hard = Shot(size=SIZE, odd=0.6, curve=0.15)
    laid = cells_of(sheet["id"])
    send(artist, sheet, photo_of(sheet["id"], hard, laid))
    first = SwatchSheet.objects.get(pk=sheet["id"])
    assert max(np.linalg.norm(p["moved"]) for p in first.patches) > 1
    control = artist.post(f"kits/{kit}/sheets", {"paper": paper, "control": True}).json()
    second = SimpleUploadedFile("b.jpg", b"", "image/jpeg")
    assert "one photograph" in send(artist, control, photo_of(control["id"], hard), again=second).json()["detail"]
    again = SwatchSheet.objects.get(pk=control["id"])
    # The hand lays them just as before: what differs is the camera alone.
    same = {str(layers): laid[cell] for cell, layers in first.cells.items()}
    send(artist, control, photo_of(control["id"], hard, {cell: same[str(layers)] for cell, layers in again.cells.items()}))
    again.refresh_from_db()
    before = {str(first.cells[p["cell"]]): p for p in first.patches}
    for patch in again.patches:
        was = before[str(again.cells[patch["cell"]])]
        assert patch["moved"] == was["moved"]
        assert delta_e_2000(np.array(patch["lab"]), np.array(was["lab"])) < 1


def test_what_is_not_at_hand_is_not_asked_for(artist):
    kit = artist.kit.thing_id
    names = {c["id"]: c["name"] for c in artist.get(f"kits/{kit}").json()["colours"]}
    gone = sorted(names)[:2]
    artist.put(f"kits/{kit}/states", {"colour": gone[0], "state": "dry"})
    artist.put(f"kits/{kit}/states", {"colour": gone[1], "state": "lent"})
    made = artist.post(f"kits/{kit}/sheets", {"paper": str(artist.paper.thing_id), "many": 60}).json()
    assert len(made["cells"]) == 60
    assert not any(names[c] in cell["words"] for c in gone for cell in made["cells"])
    for c in names:
        artist.put(f"kits/{kit}/states", {"colour": c, "state": "lost"})
    assert "lost" in artist.post(f"kits/{kit}/sheets", {"paper": str(artist.paper.thing_id)}).json()["detail"]


def test_spectra_that_were_read_by_a_reader_outlive_calibration_by_a_photograph(artist, sheet):
    virtual, at = desk()
    kit = artist.get(f"kits/{artist.kit.thing_id}").json()
    one = kit["colours"][0]["id"]
    keys = ("id", "name", "medium", "tone", "source", "handling", "retired", "line", "lightfast", "harmful")
    colours = [{k: c[k] for k in keys} for c in kit["colours"]]
    spectrum = np.clip(virtual.solid_reflectance(at[one]), 0.001, 0.999).round(5).tolist()
    body = {"seen": 1, "name": "Box", "colours": colours, "spectra": {one: spectrum}}
    assert artist.put(f"kits/{artist.kit.thing_id}", body).status_code == 200
    send(artist, sheet, photo_of(sheet["id"]))
    perform(artist.post(f"kits/{artist.kit.thing_id}/jobs", {"paper": str(artist.paper.thing_id)}).json()["id"])
    out = json.loads(artist.get(f"kits/{artist.kit.thing_id}/file/json").content)
    assert next(c for c in out["colours"] if c["id"] == one)["spectrum"] == spectrum
    assert all(c["measured"] for c in artist.get(f"kits/{artist.kit.thing_id}").json()["colours"])


def test_calibration_that_is_stopped_writes_nothing(artist, sheet):
    send(artist, sheet, photo_of(sheet["id"]))
    steps = calibrating.calibrated(Kit.objects.get(pk=artist.kit.thing_id), {"paper": str(artist.paper.thing_id)})
    assert next(steps)[0] == 0
    steps.close()
    assert Kit.objects.get(pk=artist.kit.thing_id).newest_number == 1


def test_without_anything_read_calibration_says_so(artist):
    job = artist.post(f"kits/{artist.kit.thing_id}/jobs", {"paper": str(artist.paper.thing_id)}).json()
    perform(job["id"])
    told = artist.get(f"jobs/{job['id']}").json()
    assert (told["state"], "photograph a sheet first" in told["says"]) == ("failed", True)


def test_what_was_read_well_outlives_a_worse_photograph_and_a_wrong_picture_changes_nothing(artist, sheet, png):
    good = send(artist, sheet, photo_of(sheet["id"])).json()
    assert send(artist, sheet, png).status_code == 400
    assert artist.get(f"kits/{artist.kit.thing_id}/sheets").json()[0]["cells"] == good["cells"]
    assert send(artist, sheet, b"no picture").status_code == 400


def test_the_next_sheet_does_not_ask_what_is_known(artist, sheet):
    send(artist, sheet, photo_of(sheet["id"]))
    more = artist.post(f"kits/{artist.kit.thing_id}/sheets", {"paper": str(artist.paper.thing_id), "many": 12}).json()
    assert not {c["words"] for c in more["cells"]} & {c["words"] for c in sheet["cells"]}


def test_a_chart_of_ones_own_is_read_by_its_corners(artist):
    rows, columns, step = 3, 4, 150
    map_ = np.zeros((rows * step, columns * step), dtype=np.uint8)
    for i in range(12):
        y, x = (int((v + 0.06) * step) for v in divmod(i, columns))
        map_[y : y + int(0.88 * step), x : x + int(0.88 * step)] = i + 1
    labs = np.array([lab for _, _, lab in WAX_24[::2]])
    spectra = np.concatenate([reflectance_from_lab(PAPER)[None], reflectance_from_lab(labs)])
    shot = Shot(size=SIZE, turn=5, tilt=10, odd=0.3)
    asked = {
        "paper": str(artist.paper.thing_id),
        "corners": corners_of(map_.shape, shot).tolist(),
        "rows": rows,
        "columns": columns,
    }
    file = SimpleUploadedFile("chart.jpg", photograph(map_, 7.0, spectra, shot))
    cells = artist.client.post("/api/charts", {"photo": file, "chart": json.dumps(asked)}).json()
    seen = np.array([[c["tone"][k] for k in "lab"] for c in cells])
    assert np.median(delta_e_2000(labs, seen)) < 3
    bad = artist.client.post("/api/charts", {"photo": SimpleUploadedFile("x.jpg", b"x"), "chart": json.dumps({**asked, "rows": 0})})
    assert (bad.status_code, bad.json()["where"]) == (400, "rows")


def test_another_artists_sheet_is_none(artist, stranger, sheet):
    assert stranger.get(f"sheets/{sheet['id']}/page.pdf").status_code == 404
    assert stranger.get(f"kits/{artist.kit.thing_id}/sheets").status_code == 404
    assert stranger.post(f"kits/{artist.kit.thing_id}/jobs", {"paper": str(artist.paper.thing_id)}).status_code == 404


def tone(lightness):
    return {"l": lightness, "a": 10, "b": 12}


def test_a_chart_of_ones_own_becomes_colours_and_patches_all_or_nothing(artist):
    kit, paper = artist.kit.thing_id, str(artist.paper.thing_id)
    first = artist.get(f"kits/{kit}").json()
    known = first["colours"][0]
    before = artist.get(f"kits/{kit}/further?paper={paper}").json()
    asked = {
        "seen": first["number"], "paper": paper, "medium": "wax_pencil", "columns": 3, "names": [known["name"].upper(), "Fresh", ""],
        "tones": [tone(50), tone(60), tone(70), tone(70), tone(80), tone(90), None, tone(75), tone(85)],
        "ways": [{"pressure": "light", "passes": 2}, {"pressure": "firm", "passes": 1}],
    }  # fmt: skip
    made = artist.post(f"kits/{kit}/charts", asked).json()
    by_name = {c["name"]: c for c in made["colours"]}
    assert len(made["colours"]) == len(first["colours"]) + 1
    assert (by_name[known["name"]]["id"], by_name[known["name"]]["tone"], by_name["Fresh"]["tone"]) == (
        known["id"],
        tone(50),
        tone(60),
    )
    (sheet,) = artist.get(f"kits/{kit}/sheets").json()
    assert [c["words"] for c in sheet["cells"]] == [
        f"{known['name']}: two light passes", "Fresh: two light passes", "Fresh: one firm pass",
    ]  # fmt: skip
    after = artist.get(f"kits/{kit}/further?paper={paper}").json()
    assert after["now"] < before["now"]
    assert all(r["doubt"] < after["now"] for r in after["rows"])
    assert [r["worth"] for r in after["rows"]] == [after["now"] - r["doubt"] > 0.1 for r in after["rows"]]
    row = after["rows"][0]
    laid_out = artist.post(f"kits/{kit}/sheets", {"paper": paper, "row": row["words"]}).json()
    assert [c["words"] for c in laid_out["cells"]] == row["cells"]
    gone = artist.post(f"kits/{kit}/sheets", {"paper": paper, "row": "colours by the moon"})
    assert (gone.status_code, gone.json()["where"]) == (400, "row")
    late = artist.post(f"kits/{kit}/charts", asked)
    assert late.status_code == 409
    unsaid = artist.post(f"kits/{kit}/charts", {**asked, "seen": made["number"], "ways": asked["ways"][:1]})
    nameless = artist.post(f"kits/{kit}/charts", {**asked, "seen": made["number"], "names": [" "]})
    assert [(a.status_code, a.json()["where"]) for a in (unsaid, nameless)] == [(400, "ways"), (400, "names")]
    assert artist.get(f"kits/{kit}").json()["number"] == made["number"]
    assert len(artist.get(f"kits/{kit}/sheets").json()) == 2


def test_rows_of_a_marker_s_chart_are_coats(artist):
    kit, paper = artist.kit.thing_id, str(artist.paper.thing_id)
    asked = {
        "seen": 1, "paper": paper, "medium": "alcohol_marker", "columns": 1, "names": ["Tide"], "tones": [tone(70), tone(60)],
        "ways": [{"pressure": "light", "passes": 2}],
    }  # fmt: skip
    assert artist.post(f"kits/{kit}/charts", asked).status_code == 200
    (sheet,) = artist.get(f"kits/{kit}/sheets").json()
    assert [c["words"] for c in sheet["cells"]] == ["Tide: two coats"]
    much = {**asked, "seen": 2, "tones": [tone(90 - 8 * i) for i in range(8)], "ways": asked["ways"] * 7}
    assert "6 coats" in artist.post(f"kits/{kit}/charts", much).json()["detail"]


def test_a_cell_of_a_colour_that_is_of_another_medium_by_now_is_not_taken(artist, sheet):
    row = SwatchSheet.objects.get(pk=sheet["id"])
    colour = row.cells["1"][0]["colour"]
    row.cells["1"] = [{"colour": colour, "passes": 2, "wet": False}]
    row.patches = [{"cell": cell, "lab": [60, 10, 10], "spread": 0.1, "ok": True, "why": ""} for cell in ("1", "2")]
    bench = kits.bench(artist.user, artist.kit.pk, artist.paper.pk, artist.hand.version)
    assert len(calibrating.patches_of(row, bench)) == 1


def test_who_blends_and_lifts_is_asked_for_it_and_the_hand_learns_from_what_came_of_it(artist):
    kit, paper = artist.kit.thing_id, str(artist.paper.thing_id)
    made = artist.post(f"kits/{kit}/sheets", {"paper": paper, "many": 60, "acts": True}).json()
    worked = [c["cell"] for c in made["cells"] if "blend with" in c["words"] or "lift with" in c["words"]]
    assert worked
    read = send(artist, made, photo_of(made["id"])).json()
    assert sum(c["ok"] for c in read["cells"] if c["cell"] in worked) > len(worked) / 2
    for _ in calibrating.calibrated(artist.kit.thing, {"paper": paper}):
        pass
    fitted = Hand.objects.get(paper=artist.paper.thing_id).newest.data["fitted"]
    # Without any such cell how a hand rubs and lifts stays as doubtful as it was.
    assert np.std([m[-3:] for m in fitted["members"]], axis=0).min() < 0.3
