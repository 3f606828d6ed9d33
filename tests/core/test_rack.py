"""The rack: orders, look-alikes, replacements, and kits carried in and out. Colours are invented."""

import json
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from jsonschema import Draft202012Validator

from caltin_core.colour.spectra import lab_from_reflectance, reflectance_from_lab, weights
from caltin_core.contract.shapes import HandlingShape
from caltin_core.errors import BadRequest
from caltin_core.media.colourants import Ground, Swatch
from caltin_core.media.kinds import MEDIA
from caltin_core.media.workbench import Workbench
from caltin_core.rack.alike import FORMS, barrels, pairs
from caltin_core.rack.entries import Entry, plain, safe
from caltin_core.rack.exchange import kit_file_schema, mended, read, write
from caltin_core.rack.order import gaps, near, ordered
from caltin_core.rack.replace import replacement
from tests.core.builders import demo_bench

GROUND = Ground(reflectance_from_lab(np.array([95.0, 0.0, 2.0])), "vellum")


def swatch(name, lab, id=None):
    return Swatch(id or name, reflectance_from_lab(np.array(lab, dtype=float)), "wax_pencil", GROUND, name=name)


# Orders


def test_orders():
    labs = np.array([(30.0, 2, 1), (80, 4, 30), (50, 40, 30), (60, -10, -25)])
    assert ordered(labs, "value") == [1, 3, 2, 0]
    assert ordered(labs, "strength") == [2, 1, 3, 0]
    assert ordered(labs, "warmth")[0] == 2
    assert ordered(labs, "warmth")[-1] == 3
    assert ordered(labs, "hue")[-1] == 0
    assert near(labs, labs[2], 2)[0] == (2, pytest.approx(0, abs=1e-9))


def test_a_gap_is_a_tone_of_skin_that_nothing_is_near():
    light = np.array([(90.0 - 3 * i, 12.0, 15.0) for i in range(8)])
    found = gaps(light)
    assert found
    assert found[0][0][0] < 40
    assert [de for _, de in found] == sorted((de for _, de in found), reverse=True)
    assert len(gaps(np.empty((0, 3)))) == 4


# Look-alikes


def test_pairs_that_a_lamp_confuses_and_names_that_mislead():
    rack = [
        swatch("Low dune", (70, 12, 26)), swatch("Coiled rope", (70, 14, 26)), swatch("Clinker", (40, 20, 20), "a"),
        swatch("clinker ", (60, 20, 20), "b"), swatch("Buoy", (53, 58, 43)), swatch("Ember", (53, 58, 43.2)),
    ]  # fmt: skip
    found = {(p.one, p.other): p for p in pairs(rack)}
    assert set(found) == {(0, 1), (2, 3), (4, 5)}
    assert found[0, 1].why == "alike"
    assert "redder" in found[0, 1].words
    assert found[2, 3].why == "same name"
    assert found[4, 5].why == "same colour"
    assert pairs(rack[:1]) == []


def test_what_is_held_unlike_is_not_taken_for_one_another_and_one_colour_in_two_media_is_told_so():
    one, other = (97, 0, 4), (97, 0, 4.3)
    media = ("hard_pastel", "soft_pastel", "pastel_pencil", "alcohol_marker")
    rack = [replace(swatch(f"{m}", one if i % 2 else other), medium=m) for i, m in enumerate(media)]
    (pair,) = pairs(rack)
    assert (pair.one, pair.other, pair.why) == (0, 1, "same colour")
    assert pair.says("Chalk", "Salt") == "Chalk and Salt are one colour under two names, one hard pastel and one soft pastel"
    # The same name on unlike colours misleads whatever they are.
    (named,) = pairs([replace(swatch("Dusk", (60, 0, 0)), medium="alcohol_marker"), swatch("dusk", (30, 0, 0))])
    assert named.why == "same name"


def test_what_is_taken_for_another_is_told_when_it_is_picked_up():
    rack = [
        swatch("Low dune", (70, 12, 26)), swatch("Coiled rope", (70, 14.5, 26)), swatch("Clinker", (40, 20, 20), "a"),
        swatch("Clinker", (60, 20, 20), "b"), swatch("Slate", (40, -4, -10)), swatch("Buoy", (53, 58, 43)),
        swatch("Ember", (53, 58, 43.2)),
    ]  # fmt: skip
    told = barrels(rack)
    assert set(told) == {0, 1, 2, 3}
    assert told[0] == "Check the barrel: under a lamp Coiled rope looks like it, by day a touch redder."
    assert told[1] == "Check the barrel: under a lamp Low dune looks like it, by day a touch yellower."
    assert told[2] == "Check the barrel: another stick is called so too, much lighter."
    three = barrels([*rack[:2], swatch("Old rope", (70, 13, 28))])
    assert "Old rope and Low dune are easily taken for it" in three[1]


def test_every_medium_has_a_form():
    assert sorted(m for form in FORMS for m in form) == sorted(MEDIA)


def test_colours_that_only_a_lamp_brings_together_are_alike_too():
    # A band that daylight has and a lamp has little of.
    base = reflectance_from_lab(np.array([55.0, 10, 8]))
    bent = base.copy()
    bent[:8] *= 0.8
    one, other = (Swatch(n, s, "wax_pencil", GROUND, name=n, measured=True) for n, s in (("a", base), ("b", bent)))
    day = np.linalg.norm(lab_from_reflectance(base) - lab_from_reflectance(bent))
    assert day > 4
    (pair,) = pairs([one, other])
    assert pair.lamp < pair.day


def test_what_day_does_not_tell_apart_is_alike_though_a_lamp_does():
    # What daylight does not show and a lamp does: a metameric black (Wyszecki 1953), of those the one that A shows most.
    base = reflectance_from_lab(np.array([74.0, 13, 27]))
    unseen = np.linalg.svd(weights("D50")[0].T)[2][3:].T
    black = unseen @ np.linalg.eigh(unseen.T @ weights("A")[0] @ weights("A")[0].T @ unseen)[1][:, -1]
    bent = base + 0.25 * black / np.abs(black).max()
    one, other = (Swatch(n, s, "wax_pencil", GROUND, name=n, measured=True) for n, s in (("a", base), ("b", bent)))
    (pair,) = pairs([one, other])
    assert pair.day < 1e-6
    assert pair.why == "alike"
    assert pair.says("Rope", "Dune").startswith("By day Rope looks like Dune; under a lamp Dune is ")


# Replacement


def test_a_replacement_is_the_nearest_stick_and_the_nearest_two_layers_of_others():
    bench = demo_bench()
    colour = 6
    found = replacement(bench, colour)
    assert found.nearest not in (None, colour)
    assert found.layers is not None
    assert 1 <= len(found.layers.layers) <= 2
    assert colour not in {x.colour for x in found.layers.layers}
    assert found.layers.difference.de00 <= found.away
    without = replacement(bench, colour, frozenset({found.nearest}))
    assert without.nearest != found.nearest
    alone = replacement(Workbench(bench.swatches[:1], bench.ground), 0)
    assert (alone.nearest, alone.layers) == (None, None)


# In and out

ENTRIES = [
    Entry(id="clinker", name="Clinker", line="Harbour", medium="wax_pencil", lab=(34.0, 20.0, 22.123456789), harmful="cadmium"),
    Entry(id="mist", name="=2+2", medium="alcohol_marker", lab=(80.5, -2.0, -9.0), lightfast="poor", retired=True,
          handling=HandlingShape(nib="brush")),
]  # fmt: skip
names = st.text(st.characters(exclude_categories=("Cs", "Cc", "Zl", "Zp")), min_size=1, max_size=40).map(str.strip).filter(bool)
entries = st.builds(
    Entry,
    id=st.from_regex(r"[A-Za-z0-9_-]{1,12}", fullmatch=True),
    name=names,
    line=names,
    medium=st.sampled_from(["wax_pencil", "soft_pastel", "alcohol_marker"]),
    lab=st.tuples(st.floats(0, 100), st.floats(-120, 120), st.floats(-120, 120)),
    spectrum=st.one_of(st.just([]), st.lists(st.floats(0.01, 0.98).map(lambda v: round(v, 6)), min_size=31, max_size=31)),
    lightfast=st.sampled_from(["", "excellent", "poor"]),
    harmful=st.sampled_from(["", "-cobalt", "contains lead"]),
    retired=st.booleans(),
    handling=st.builds(HandlingShape, nib=st.sampled_from(["", "brush", "chisel"]), weak=st.booleans(), hardness=st.integers(1, 5)),
)


@given(st.lists(entries, min_size=1, max_size=6, unique_by=lambda e: e.id), st.sampled_from(["csv", "json"]))
@settings(max_examples=40, deadline=None)
def test_what_is_written_is_read_back_without_loss(kit, format):
    found = read(write("Night ferry", kit, format))
    assert [r.wrong for r in found.rows] == [""] * len(kit)
    assert [r.entry for r in found.rows] == kit


def test_cgats_keeps_colours_and_spectra():
    spectrum = [round(0.1 + 0.02 * i, 6) for i in range(31)]
    kit = [
        e.model_copy(update={"spectrum": spectrum, "harmful": "", "lightfast": "", "retired": False, "handling": HandlingShape()})
        for e in ENTRIES
    ]
    found = read(write("Night ferry", kit, "cgats"))
    assert (found.format, found.name) == ("cgats", "Night ferry")
    assert [r.entry for r in found.rows] == kit


def test_a_cgats_table_as_the_standard_describes_it_is_read():
    # Keywords and structure by CGATS.17 / ISO 28178, 20 nm steps, per cent, an id that is not ours.
    bands = " ".join(f"SPECTRAL_NM{nm}" for nm in range(400, 701, 20))
    values = " ".join(f"{20 + i:.1f}" for i in range(16))
    text = f'CGATS.17\nORIGINATOR "a reader"\nDESCRIPTOR "Evening"\nNUMBER_OF_FIELDS 17\nBEGIN_DATA_FORMAT\nSAMPLE_ID {bands}\nEND_DATA_FORMAT\nNUMBER_OF_SETS 2\nBEGIN_DATA\n"low dune" {values}\nA2 {values[:-5]}\nEND_DATA\n'
    found = read(text.encode())
    assert found.name == "Evening"
    first, second = found.rows
    assert first.entry.name == "low dune"
    assert first.entry.spectrum[1] == pytest.approx(0.205)
    assert second.entry is None
    assert "16 values for 17 fields" in second.wrong


def test_a_gpl_palette_as_its_format_describes_it_is_read():
    found = read(
        b"GIMP Palette\nName: Skins\nColumns: 3\n#\n240 200 180\tPale shell\n 90  50  40 Deep rope\n300 0 0 wrong\n12 20 30\n"
    )
    assert (found.name, found.format) == ("Skins", "gpl")
    assert [r.entry and r.entry.name for r in found.rows] == ["Pale shell", "Deep rope", None, "Colour 4"]
    assert "0 to 255" in found.rows[2].wrong
    back = read(write("Skins", [r.entry for r in found.rows if r.entry], "gpl"))
    assert back.rows[0].entry.lab == pytest.approx(found.rows[0].entry.lab, abs=0.5)


def test_wrong_rows_say_why_and_can_be_mended():
    text = "name;L;a;b;medium\nShell;70,5;10;12;wax pencil\nBad;ninety;1;2;wax_pencil\nWorse;50;1;2;chalk board\nDeep;120;0;0;\n"
    found = read(text.encode("cp1252"))
    assert found.rows[0].entry.lab == (70.5, 10.0, 12.0)
    assert [bool(r.wrong) for r in found.rows] == [False, True, True, True]
    assert "“ninety” is not a number" in found.rows[1].wrong
    assert "medium" in found.rows[2].wrong
    assert mended({**found.rows[1].cells, "L": "90"}, 3).entry.lab == (90.0, 1.0, 2.0)


def test_twice_the_same_id_is_wrong_once():
    found = read(b"id,name,hex\na,One,#aabbcc\na,Two,#112233\n")
    assert [r.wrong for r in found.rows] == ["", "“a” is there twice"]


@pytest.mark.parametrize(
    ("content", "what"),
    [
        (b"PK\x03\x04" + b"\0" * 50, "packed"), (b"\x1f\x8b123", "packed"), (b"x" * 5_000_001, "5 MB|MB"), (b"", "columns|no colour"),
        (b"\x00\x01\x02" * 20, "not a text file"), (b"one,two\n1,2\n", "names the columns"), (b"{", "whole JSON"),
        (b'{"format": "other"}', "not a kit"), (b"name,hex\n", "no colour in this file"),
    ],
)  # fmt: skip
def test_hostile_files_are_refused_with_why(content, what):
    with pytest.raises(BadRequest, match=what) as fault:
        read(content)
    assert fault.value.where


@given(st.binary(max_size=300))
@settings(max_examples=40, deadline=None)
def test_no_bytes_at_all_break_it(content):
    try:
        found = read(content)
    except BadRequest:
        return
    assert all((r.entry is None) == bool(r.wrong) for r in found.rows)


def test_a_spreadsheet_gets_no_formula():
    out = write("x", ENTRIES, "csv").decode("utf-8-sig")
    assert ",'=2+2," in out
    for text in ("=1", "+1", "-1", "@x", "'quoted", "plain"):
        assert plain(safe(text)) == text


def test_the_schema_is_published_and_true():
    published = json.loads((Path(__file__).parents[2] / "docs" / "kit.schema.json").read_text())
    assert published == kit_file_schema()
    Draft202012Validator.check_schema(published)
    Draft202012Validator(published).validate(json.loads(write("x", ENTRIES, "json")))
