"""The rack over the API: states heeded at once, look-alikes, replacements, kits in and out. Invented colours."""

import json
import threading

import numpy as np
import pytest

from caltin_core.colour.spectra import reflectance_from_lab
from caltin_core.rack.entries import Entry
from caltin_core.rack.exchange import write
from caltin_core.standins.reader import StandInReader
from caltin_site.kits import services as kits
from caltin_site.kits.schemas import KitColour
from caltin_site.shapes import Lab
from caltin_site.studies.models import Study
from caltin_site.studies.services import match_missing


def kit_of(artist):
    return artist.get(f"kits/{artist.kit.thing_id}").json()


def colours_of(artist, study):
    for _ in match_missing(Study.objects.get(pk=study["id"])):
        pass
    (found,) = artist.get(f"studies/{study['id']}/matches").json()["matches"]
    return {x["colour"] for x in found["recipes"][0]["layers"]}


def test_a_stick_that_ran_dry_is_left_out_of_the_next_match_and_comes_back(artist):
    kit = kit_of(artist)
    study = artist.add(artist.begin())
    used = colours_of(artist, study)
    gone = sorted(used)[0]
    done = artist.put(f"kits/{kit['id']}/states", {"colour": gone, "state": "dry"})
    assert done.status_code == 200
    assert next(c for c in done.json()["colours"] if c["id"] == gone)["state"] == "dry"
    assert done.json()["number"] == kit["number"]
    assert gone not in colours_of(artist, study)
    artist.put(f"kits/{kit['id']}/states", {"colour": gone, "state": "full"})
    assert colours_of(artist, study) == used
    assert artist.put(f"kits/{kit['id']}/states", {"colour": "none", "state": "dry"}).status_code == 400
    assert artist.put(f"kits/{kit['id']}/states", {"colour": gone, "state": "eaten"}).status_code == 400


def test_a_study_in_markers_and_pastel_is_matched_and_planned(artist):
    rows = zip(("alcohol_marker", "soft_pastel"), ((78, 14, 20), (60, 24, 26)), strict=True)
    colours = [KitColour(id=m, name=m, medium=m, tone=Lab(l=l, a=a, b=b)) for m, (l, a, b) in rows]
    artist.kit = kits.begin_kit(artist.user, "Mixed", colours)
    study = artist.add(artist.begin(), lab=(62, 20, 24))
    assert colours_of(artist, study)
    laid = [{"colour": "alcohol_marker", "passes": 2, "wet": False}, {"colour": "soft_pastel", "pressure": "light", "passes": 1}]
    study = artist.change(study, do="set_recipe", place="base", layers=laid)
    plan = artist.get(f"studies/{study['id']}/plan").json()
    assert [s["words"] for s in plan["steps"]] == ["two coats", "one light pass"]
    wrong = artist.post(f"studies/{study['id']}/predict", {"place": "base", "layers": [{"colour": "soft_pastel", "passes": 2}]})
    assert wrong.status_code == 400
    assert "pressed" in wrong.json()["detail"]


def test_the_rack_tells_orders_pairs_gaps_and_what_replaces_a_colour(artist):
    kit = kit_of(artist)
    told = artist.get(f"kits/{kit['id']}/told").json()
    ids = {c["id"] for c in kit["colours"]}
    assert set(told["orders"]) == {"value", "warmth", "hue", "strength"}
    assert all(set(order) == ids for order in told["orders"].values())
    assert told["gaps"]
    one = kit["colours"][0]
    near = artist.post(f"kits/{kit['id']}/near", one["tone"]).json()
    assert near[0] == {"colour": one["id"], "away": 0.0}
    other = artist.get(f"kits/{kit['id']}/without/{one['id']}").json()
    assert other["nearest"] in ids - {one["id"]}
    assert other["sentence"]


def test_a_file_is_previewed_mended_and_taken_in_and_goes_out_again(artist):
    rows = "id,name,L,a,b,medium\nshell,Shell,80,10,12,soft_pastel\nbad,Bad,x,1,2,wax_pencil\n"
    seen = artist.upload(rows.encode(), "kit.csv", "kits/file", "file").json()
    assert [bool(r["wrong"]) for r in seen["rows"]] == [False, True]
    assert artist.get("rack").json()["kits"][0]["name"] == "Box"
    again = artist.post("kits/file/row", {"number": 3, "cells": {**seen["rows"][1]["cells"], "L": "44"}}).json()
    assert again["wrong"] == ""
    spectrum = [0.2] * 31
    colours = [seen["rows"][0]["colour"], again["colour"]]
    made = artist.post("kits", {"name": "From a file", "colours": colours, "spectra": {"shell": spectrum}})
    assert made.status_code == 201
    out = json.loads(artist.get(f"kits/{made.json()['id']}/file/json").content)
    assert [c["name"] for c in out["colours"]] == ["Shell", "Bad"]
    assert out["colours"][0]["spectrum"] == spectrum
    for format, kind in (("csv", "text/csv"), ("gpl", "text/plain"), ("cgats", "text/plain")):
        file = artist.get(f"kits/{made.json()['id']}/file/{format}")
        assert file["Content-Type"].startswith(kind)
        assert "attachment" in file["Content-Disposition"]


@pytest.mark.parametrize("content", [b"PK\x03\x04xx", b"", b"\x00\x01", b"x" * 5_000_001])
def test_a_file_that_is_none_is_refused_with_a_sentence(artist, content):
    answer = artist.upload(content, "x.csv", "kits/file", "file")
    assert answer.status_code == 400
    assert answer.json()["detail"]


def test_a_thousand_colours_come_in_and_open(artist):
    entries = [Entry(id=f"c{i}", name=f"Colour {i}", lab=(20 + 0.07 * i, i % 40 - 10, i % 50 - 10)) for i in range(1000)]
    seen = artist.upload(write("Large", entries, "json"), "kit.json", "kits/file", "file").json()
    made = artist.post("kits", {"name": "Large", "colours": [r["colour"] for r in seen["rows"]]}).json()
    assert len(artist.get(f"kits/{made['id']}").json()["colours"]) == 1000
    assert artist.get(f"kits/{made['id']}/told").json()["pairs"]


def test_a_colour_reader_gives_tone_and_spectrum_and_the_kit_keeps_it(artist, settings):
    assert artist.get("reader").json() == {"there": False}
    assert "CALTIN_READER" in artist.post("reader").json()["detail"]
    swatch = reflectance_from_lab(np.array([55.0, 20, 18]))
    with StandInReader([swatch], warm=1) as device:
        threading.Thread(target=device.serve_forever, daemon=True).start()
        settings.CALTIN_READER = f"127.0.0.1:{device.server_address[1]}"
        seen = artist.post("reader").json()
        device.shutdown()
    assert seen["tone"]["lab"]["l"] == pytest.approx(55, abs=0.5)
    colour = {"id": "read", "name": "Read", "medium": "wax_pencil", "tone": seen["tone"]["lab"], "source": "reader"}
    made = artist.post("kits", {"name": "Read", "colours": [colour], "spectra": {"read": seen["spectrum"]}}).json()
    out = json.loads(artist.get(f"kits/{made['id']}/file/json").content)
    assert out["colours"][0]["spectrum"] == seen["spectrum"]


def test_another_artist_sees_none_of_it(artist, stranger):
    kit = artist.kit.thing_id
    assert stranger.get(f"kits/{kit}/told").status_code == 404
    assert stranger.put(f"kits/{kit}/states", {"colour": "a", "state": "dry"}).status_code == 404
    assert stranger.get(f"kits/{kit}/file/csv").status_code == 404


def test_a_typed_colour_is_shown_as_it_is_whichever_way_it_was_typed(artist):
    by_hex = artist.post("tone", {"hex": "#c0504d"}).json()
    by_lab = artist.post("tone", {"lab": by_hex["lab"]}).json()
    assert by_lab == by_hex
    assert by_hex["hex"] == "#c0504d"
    by_eye = artist.post("tone", {"eye": by_hex["eye"]}).json()
    assert by_eye["hex"] == by_hex["hex"]
    assert by_eye["words"] == "middle dark, strong red"
    assert by_eye["hue_word"] == "red"
    assert by_eye["eye"] == pytest.approx(by_hex["eye"], abs=0.01)
    assert not artist.post("tone", {"lab": {"l": 60, "a": 120, "b": -120}}).json()["in_srgb"]
    assert artist.post("tone", {"eye": {"value": 11, "strength": 10, "hue": 10}}).status_code == 400
    for body, where in (
        ({}, "hex"),
        ({"hex": "#c0504d", "lab": by_hex["lab"]}, "hex"),
        ({"eye": by_hex["eye"], "hex": "#c0504d"}, "hex"),
        ({"hex": "crimson"}, "hex"),
    ):
        answer = artist.post("tone", body)
        assert (answer.status_code, answer.json()["where"]) == (400, where)
