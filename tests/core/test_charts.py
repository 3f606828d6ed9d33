"""Swatch sheets printed and read back, by the stand-in camera. All colours are invented but the ColorChecker's."""

import base64
import io
import json
from dataclasses import replace
from functools import lru_cache

import colour
import cv2
import numpy as np
import pytest
from PIL import Image
from pypdf import PdfReader

from caltin_core.charts.correction import SENSOR_TO_XYZ50, USUAL, XYZ50_TO_SENSOR, About, Correction, correction_of
from caltin_core.charts.geometry import by_marks, find_marks
from caltin_core.charts.grid import find_grid
from caltin_core.charts.illumination import field_of
from caltin_core.charts.lamp import as_lit, by_day
from caltin_core.charts.layout import Box, lay_out
from caltin_core.charts.printing import DICTIONARY, drawn
from caltin_core.charts.reading import OwnChart, read_chart, read_sheet
from caltin_core.cli import answer
from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spaces import WHITE_D50, XYZ50_TO_SRGB, adaptation, decode_srgb, lab_from_xyz
from caltin_core.colour.spectra import lab_from_reflectance, reflectance_from_lab, weights
from caltin_core.colour.tables import SENSOR_TO_SRGB, WAVELENGTHS
from caltin_core.errors import BadRequest, UnreadablePicture
from caltin_core.reference.picture import open_picture
from caltin_core.standins.camera import Shot, corners_of, page_of, photograph

SIZE = (1200, 1600)
CHECKER = colour.SDS_COLOURCHECKERS["ColorChecker N Ohta"]
PAPER = np.array([94.0, 0.0, 3.0])
LABS = np.array([(l, 14 + 6 * (i % 3), 10 + 5 * (i % 4)) for i, l in enumerate(np.linspace(24, 88, 24))])


def overlap(a, b):
    return a.x < b.x + b.w and b.x < a.x + a.w and a.y < b.y + b.h and b.y < a.y + a.h


@lru_cache(maxsize=8)
def sheet(frame=False, paper=tuple(PAPER), count=24):
    names = [str(i + 1) for i in range(count)]
    layout = lay_out("A4", names, frame)
    reflects = reflectance_from_lab(LABS[:count])
    page = drawn(layout, "Swatches", {n: (n, "clinker: 2 × medium", "") for n in names})
    shown = page_of(layout, page, dict(zip(names, reflects, strict=True)), reflectance_from_lab(np.array(paper)))
    return layout, shown


def taken(shot, frame=False, paper=tuple(PAPER), change=None):
    layout, (map_, dots, spectra) = sheet(frame, paper)
    if change is not None:
        map_ = change(map_.copy(), layout, dots)
    return layout, open_picture(photograph(map_, dots, spectra, shot, grain=0.03))


def misses(patches, labs=LABS):
    return delta_e_2000(labs, np.array([p.lab for p in patches]))


# The sheet


@pytest.mark.parametrize("page", ["A4", "letter"])
@pytest.mark.parametrize("frame", [False, True])
@pytest.mark.parametrize("count", [1, 7, 24, 40])
def test_nothing_lies_on_anything_else_and_all_of_it_on_the_page(page, frame, count):
    layout = lay_out(page, [f"c{i}" for i in range(count)], frame)
    assert list(layout.cells) == [f"c{i}" for i in range(count)]
    marks = [Box(m.x, m.y, m.size, m.size) for m in layout.marks]
    boxes = [*layout.cells.values(), *layout.white, *marks]
    assert all(b.x >= 0 and b.y >= 0 and b.x + b.w <= layout.page[0] and b.y + b.h <= layout.page[1] for b in boxes)
    assert not any(overlap(a, b) for i, a in enumerate(boxes) for b in boxes[:i])
    assert min(b.w for b in layout.cells.values()) >= (12 if frame else 9)


def test_ninety_six_cells_fit_and_too_many_are_refused_with_how_many_do():
    assert len(lay_out("A4", [str(i) for i in range(96)]).cells) == 96
    with pytest.raises(BadRequest, match="it takes"):
        lay_out("A4", [str(i) for i in range(500)])
    with pytest.raises(BadRequest, match="there twice"):
        lay_out("A4", ["a", "a"])
    with pytest.raises(BadRequest, match="no page"):
        lay_out("A9", ["a"])


def test_the_marks_printed_are_those_opencv_knows():
    layout = lay_out("A4", ["1", "2"])
    page = np.asarray(drawn(layout, "Two", {}).convert("RGB"))
    corners, ids, _ = cv2.aruco.ArucoDetector(DICTIONARY).detectMarkers(page)
    assert sorted(ids.ravel()) == [m.id for m in layout.marks]
    first = corners[list(ids.ravel()).index(0)][0]
    # 300 dots per inch: a millimetre is 11.8 dots.
    assert first[0] == pytest.approx(np.array([layout.marks[0].x, layout.marks[0].y]) * 300 / 25.4, abs=2)


@pytest.mark.parametrize(("page", "size"), [("A4", (210.0, 297.0)), ("letter", (215.9, 279.4))])
def test_the_page_is_a_pdf_of_true_size_with_every_number_on_it(page, size):
    cells = [{"cell": str(i + 1), "layers": [{"colour": "clinker", "pressure": "firm", "passes": 2}]} for i in range(12)]
    out = answer("sheet_print", json.dumps({"title": "First evening", "page": page, "cells": cells}).encode())
    assert out["sheet"]["page"] == list(size)
    assert [c["cell"] for c in out["sheet"]["cells"]] == [str(i + 1) for i in range(12)]
    assert all(set(c) == {"cell", "x", "y", "w", "h"} for c in out["sheet"]["cells"])
    (only,) = PdfReader(io.BytesIO(base64.b64decode(out["pdf"]))).pages
    assert float(only.mediabox.width) / 72 * 25.4 == pytest.approx(size[0], abs=0.1)
    assert float(only.mediabox.height) / 72 * 25.4 == pytest.approx(size[1], abs=0.1)


# Reading


@pytest.mark.parametrize("light", ["D50", "A", "D65", "LED-B3"])
def test_a_sheet_is_read_whatever_the_angle_and_the_light(light):
    layout, pixels = taken(Shot(light, SIZE, turn=97, tilt=18, lean=-14, fall=0.3, bend=0.01, curve=0.0))
    seen = read_sheet(pixels, layout, PAPER)
    assert [p.cell for p in seen] == list(layout.cells)
    assert all(p.ok for p in seen)
    away = misses(seen)
    # Under a lamp reds lie elsewhere than by day (CIE 015), and bare paper cannot tell it.
    assert np.median(away) < (4 if light == "A" else 2.5)
    assert np.quantile(away, 0.9) < (7 if light == "A" else 4)


def test_a_white_balance_that_was_amiss_cancels():
    # Cameras balance in the channels of their sensor; sRGB's are mixed of them afterwards.
    cell, paper = np.array([0.3, 0.2, 0.1]), np.array([0.9, 0.85, 0.8])
    for gains in ([1.0, 1.0, 1.0], [1.4, 1.0, 0.6]):
        light, bare = (SENSOR_TO_SRGB @ (np.array(gains) * x) for x in (cell, paper))
        assert np.allclose(Correction(0.0, 0.0, np.eye(3)).share(light, bare), cell / paper)
    there, amiss = ([p.lab for p in read_sheet(*reversed(taken(Shot(size=SIZE, astray=s, seed=5))), PAPER)] for s in (0.0, 0.1))
    assert np.median(delta_e_2000(np.array(there), np.array(amiss))) < 0.8


# What a sensor misses of reds under incandescent light, beside what an eye would, stays.
@pytest.mark.parametrize(("light", "least"), [("A", 0.95), ("LED-B3", 0.7), ("FL2", 0.7)])
def test_a_lamp_that_is_said_is_taken_back(light, least):
    layout, pixels = taken(Shot(light, SIZE, tilt=10, odd=0.2, curve=USUAL.contrast))
    plain, told = (np.median(misses(read_sheet(pixels, layout, PAPER, light=said))) for said in ("D50", light))
    assert told < least * plain
    assert told < 2


@pytest.mark.parametrize("light", ["A", "FL2", "LED-B3", "D65"])
def test_what_a_colour_is_by_day_is_told_from_what_it_is_under_a_lamp(light):
    # The ColorChecker's spectra (Ohta 1997) in the CIE's lights, adapted by Bradford; the core is given the colours only.
    spectra = np.array([np.interp(WAVELENGTHS, sd.wavelengths, sd.values) for sd in CHECKER.values()])
    table, white = weights(light)
    seen = lab_from_xyz(spectra @ table @ adaptation(white, WHITE_D50).T)
    truth = lab_from_reflectance(spectra)
    before, after = delta_e_2000(truth, seen), delta_e_2000(truth, by_day(seen, light))
    assert np.median(after) < 0.6 * np.median(before)
    assert np.abs(by_day(as_lit(LABS, light), light) - LABS).max() < 0.2
    assert np.array_equal(by_day(LABS, "D50"), LABS)


@pytest.mark.parametrize("frame", [False, True])
@pytest.mark.parametrize("curve", [-0.1, 0.2])
def test_a_darker_photograph_tells_the_contrast_a_camera_adds(curve, frame):
    shot = Shot(size=SIZE, curve=curve, odd=0.6, tilt=12, exposure=0.85)
    layout, pixels = taken(shot, frame)
    _, darker = taken(replace(shot, exposure=0.3, tilt=-5, turn=6, take=1), frame)
    plain, mended = (misses(read_sheet(pixels, layout, PAPER, again=second)) for second in (None, darker))
    assert np.median(mended) < 0.7 * np.median(plain)
    # The other way round it tells the same.
    assert np.median(misses(read_sheet(darker, layout, PAPER, again=pixels))) < 0.8 * np.median(plain)


def test_a_second_photograph_as_bright_as_the_first_is_refused():
    layout, pixels = taken(Shot(size=SIZE))
    _, other = taken(Shot(size=SIZE, exposure=0.75, tilt=6, take=1))
    with pytest.raises(UnreadablePicture, match="stop or two darker") as refused:
        read_sheet(pixels, layout, PAPER, again=other)
    assert refused.value.where == "again"
    with pytest.raises(UnreadablePicture, match="the second photograph: 0 of the sheet's 14 marks") as refused:
        read_sheet(pixels, layout, PAPER, again=np.full_like(pixels, 128))
    assert refused.value.where == "again"


def about(layout, every, within, rng):
    """Every so many cells known within so much."""
    known = [(cell, lab) for cell, lab in list(zip(layout.cells, LABS, strict=True))[::every]]
    return [About(cell, lab + rng.normal(0, within / 3**0.5, 3), within) for cell, lab in known]


@pytest.mark.parametrize("frame", [False, True])
@pytest.mark.parametrize("curve", [-0.15, 0.2])
def test_colours_known_roughly_tell_the_contrast_a_camera_adds(curve, frame):
    layout, pixels = taken(Shot(size=SIZE, curve=curve, odd=1.0, veil=0.004, tilt=12), frame)
    plain = np.delete(misses(read_sheet(pixels, layout, PAPER)), np.s_[::3])
    told = about(layout, 3, 3.0, np.random.default_rng(1))
    mended = np.delete(misses(read_sheet(pixels, layout, PAPER, told)), np.s_[::3])
    assert np.median(mended) < 0.6 * np.median(plain)


def test_a_colour_that_is_quite_another_says_nothing_of_the_camera():
    layout, pixels = taken(Shot(size=SIZE, curve=0.15))
    told = about(layout, 2, 3.0, np.random.default_rng(2))
    wrong = [About(a.cell, a.lab + np.array([25.0, -40, 30]), 3.0) if i in (2, 7) else a for i, a in enumerate(told)]
    before, after = (np.median(misses(read_sheet(pixels, layout, PAPER, known))) for known in (told, wrong))
    assert after < before + 0.4


def test_three_known_cells_tell_nothing_and_an_honest_camera_is_left_alone():
    layout, pixels = taken(Shot(size=SIZE))
    three = about(layout, 8, 3.0, np.random.default_rng(3))
    assert len(three) == 3
    assert np.array_equal(
        [p.lab for p in read_sheet(pixels, layout, PAPER, three)], [p.lab for p in read_sheet(pixels, layout, PAPER)]
    )
    exact = [About(str(i), lab, 2.0) for i, lab in enumerate(LABS)]
    found = correction_of(lambda c: LABS + 1000 * (c.contrast - USUAL.contrast) + 1000 * (c.stray - USUAL.stray), exact)
    assert found.contrast == pytest.approx(USUAL.contrast, abs=1e-3)
    assert found.stray == pytest.approx(USUAL.stray, abs=1e-3)
    assert np.allclose(found.mixed, np.eye(3), atol=1e-3)


def test_stray_light_is_never_less_than_none():
    dark = [About(str(i), lab, 1.0) for i, lab in enumerate(LABS)]
    found = correction_of(lambda c: LABS + np.array([1 + 300 * c.stray, 0, 0]), dark)
    assert 0 < found.stray < USUAL.stray


def test_a_correction_keeps_the_ends_and_takes_a_sigmoid_back():
    code = np.linspace(0.02, 0.98, 25)
    added = 1 / (1 + ((1 - code) / code) ** np.exp(0.2))
    straight = Correction(0.2, 0.01, np.eye(3))
    assert np.allclose(straight.light(decode_srgb(added)), decode_srgb(code), atol=1e-9)
    assert np.allclose(straight.light(np.array([0.0, 1.0])), [0, 1], atol=2e-3)
    bare = np.array([0.8, 0.7, 0.5])
    assert np.allclose(straight.share(0.01 * bare, bare), 0)
    assert np.allclose(straight.share(bare, bare), 1)
    assert np.array_equal(Correction(0.0, 0.01, np.eye(3)).light(code), code)


def test_a_sensor_s_channels_are_s_rgb_s_mixed_and_white_in_both():
    white = SENSOR_TO_XYZ50 @ np.ones(3)
    assert np.allclose(XYZ50_TO_SRGB @ white, 1, atol=1e-3)
    assert np.allclose(XYZ50_TO_SENSOR @ white, 1, atol=1e-3)
    # An eye's channels lie further apart than a sensor's, which is why cameras take some of each from the others.
    assert (np.diag(XYZ50_TO_SRGB @ SENSOR_TO_XYZ50) > 1.2).all()


def test_half_the_marks_may_be_hidden_but_not_nearly_all():
    def hide(keep):
        def change(map_, layout, dots):
            for mark in layout.marks:
                if mark.id not in keep:
                    x, y, s = (int(v * dots) for v in (mark.x, mark.y, mark.size))
                    map_[y - 5 : y + s + 5, x - 5 : x + s + 5] = 0
            return map_

        return change

    layout, pixels = taken(Shot(size=SIZE, tilt=15), change=hide(range(0, 14, 2)))
    assert sorted(find_marks(pixels, layout)) == list(range(0, 14, 2))
    assert np.median(misses(read_sheet(pixels, layout, PAPER))) < 2
    _, pixels = taken(Shot(size=SIZE), change=hide([0]))
    with pytest.raises(UnreadablePicture, match="1 of the sheet's 14 marks"):
        read_sheet(pixels, layout, PAPER)


def test_places_on_the_page_are_found_to_a_quarter_of_a_millimetre():
    shot = Shot(size=SIZE, turn=12, tilt=15, lean=10, bend=0.0)
    layout, pixels = taken(shot)
    geometry = by_marks(pixels, layout, find_marks(pixels, layout))
    width, height = layout.page
    page = np.array([[0.0, 0.0], [width, 0.0], [width, height], [0.0, height]])
    _, (map_, _, _) = sheet()
    away = np.linalg.norm(geometry.pixels(page) - corners_of(map_.shape, shot), axis=1)
    step = geometry.pixels(np.array([[100.0, 150], [101, 150]]))
    assert away.max() / np.linalg.norm(step[1] - step[0]) < 0.3


def test_a_frame_over_a_dark_paper_reads_by_the_paper_in_its_windows():
    dark = (44.0, 2.0, 6.0)
    layout, pixels = taken(Shot("D65", SIZE, tilt=12), True, dark)
    assert np.median(misses(read_sheet(pixels, layout, np.array(dark)))) < 2.5


def test_what_spoils_a_cell_is_said():
    def spoil(map_, layout, dots):
        box = layout.cells["3"]
        x, y, w, h = (int(v * dots) for v in (box.x, box.y, box.w, box.h))
        map_[y : y + h, x : x + w // 2] = 2 + 20
        return map_

    layout, pixels = taken(Shot(size=SIZE), change=spoil)
    bad = [p for p in read_sheet(pixels, layout, PAPER) if not p.ok]
    assert [p.cell for p in bad] == ["3"]
    assert bad[0].why
    _, pixels = taken(Shot(size=SIZE))
    glare = pixels.copy()
    geometry = by_marks(pixels, layout, find_marks(pixels, layout))
    box = layout.cells["10"]
    x, y = geometry.pixels(np.array([box.x + box.w / 2, box.y + box.h / 2]))
    cv2.circle(glare, (round(x), round(y)), 18, (255, 255, 255), -1)
    assert [p.cell for p in read_sheet(glare, layout, PAPER) if "glare" in p.why] == ["10"]
    soft = cv2.GaussianBlur(pixels, (0, 0), 9)
    try:
        assert not any(p.ok for p in read_sheet(soft, layout, PAPER))
    except UnreadablePicture as fault:
        assert "marks" in fault.what


def test_a_photograph_burnt_out_or_of_something_else_is_refused_with_why(tmp_path):
    layout, pixels = taken(Shot(size=SIZE))
    with pytest.raises(UnreadablePicture, match="0 of the sheet's 14 marks"):
        read_sheet(np.full_like(pixels, 128), layout, PAPER)
    burnt = np.where(pixels > 90, 255, pixels).astype(np.uint8)
    with pytest.raises(UnreadablePicture, match="expose less"):
        read_sheet(burnt, layout, PAPER)


def test_the_colorchecker_comes_back_through_the_camera():
    # 24 spectra published by Ohta 1997, from colour-science; a plain camera whose matrix was made for other surfaces.
    spectra = np.array([np.interp(WAVELENGTHS, sd.wavelengths, sd.values) for sd in CHECKER.values()])
    names = [str(i + 1) for i in range(24)]
    layout = lay_out("A4", names)
    shown = page_of(layout, drawn(layout, "", {}), dict(zip(names, spectra, strict=True)), reflectance_from_lab(PAPER))
    seen = read_sheet(open_picture(photograph(*shown, Shot("D50", SIZE, odd=0.5))), layout, PAPER)
    away = misses(seen, lab_from_reflectance(spectra))
    assert np.median(away) < 2.5
    skin = away[:2]
    assert skin.max() < 3


def test_a_chart_without_marks_is_read_by_its_corners():
    rows, columns, step, gap = 4, 6, 160, 0.2
    map_ = np.zeros((rows * step, columns * step), dtype=np.uint8)
    for i in range(24):
        y, x = (int((v + gap / 2) * step) for v in divmod(i, columns))
        map_[y : y + int((1 - gap) * step), x : x + int((1 - gap) * step)] = i + 1
    spectra = np.concatenate([reflectance_from_lab(PAPER)[None], reflectance_from_lab(LABS)])
    shot = Shot("D65", SIZE, turn=8, tilt=14)
    pixels = open_picture(photograph(map_, 7.0, spectra, shot))
    corners = corners_of(map_.shape, shot) + np.array([[2, -1], [-2, 1], [1, 2], [-1, -2]])
    seen = read_chart(pixels, OwnChart(corners.tolist(), rows, columns, gap=gap), PAPER)
    assert [p.cell for p in seen[:7]] == ["1.1", "1.2", "1.3", "1.4", "1.5", "1.6", "2.1"]
    assert np.median(misses(seen)) < 2
    gaps = [tuple(corners.mean(axis=0) + np.array(d)) for d in ((0, 0),)]
    assert np.median(misses(read_chart(pixels, OwnChart(corners.tolist(), rows, columns, gaps, gap), PAPER))) < 4
    with pytest.raises(UnreadablePicture, match="go round the chart"):
        read_chart(pixels, OwnChart(corners[[0, 2, 1, 3]].tolist(), rows, columns), PAPER)
    with pytest.raises(UnreadablePicture, match="touch the bare paper"):
        read_chart(pixels, OwnChart(corners.tolist(), 1, 1), PAPER)


@lru_cache(maxsize=1)
def own_chart():
    """Four rows of six with bare paper about them, on a dark desk; gives the picture and the corners of its grid."""
    rows, columns, step, gap, margin = 4, 6, 160, 0.2, 90
    map_ = np.zeros((rows * step + 2 * margin, columns * step + 2 * margin), dtype=np.uint8)
    for i in range(24):
        y, x = (int((v + gap / 2) * step) + margin for v in divmod(i, columns))
        map_[y : y + int((1 - gap) * step), x : x + int((1 - gap) * step)] = i + 1
    spectra = np.concatenate([reflectance_from_lab(PAPER)[None], reflectance_from_lab(LABS)])
    shot = Shot("D65", SIZE, turn=9, tilt=12)
    height, width = map_.shape
    sides = np.array([[0, 0], [width, 0], [width, height], [0, height]], dtype=np.float32)
    plane = cv2.getPerspectiveTransform(sides, corners_of(map_.shape, shot).astype(np.float32))
    inner = np.array([[margin, margin], [width - margin, margin], [width - margin, height - margin], [margin, height - margin]])
    corners = cv2.perspectiveTransform(inner[None].astype(np.float32), plane)[0]
    return open_picture(photograph(map_, 7.0, spectra, shot)), corners


def test_the_corners_rows_and_columns_of_a_chart_are_found():
    pixels, corners = own_chart()
    grid = find_grid(pixels)
    assert (grid.rows, grid.columns) == (4, 6)
    step = np.linalg.norm(corners[1] - corners[0]) / 6
    assert np.linalg.norm(np.array(grid.corners) - corners, axis=1).max() < 0.05 * step
    assert np.median(misses(read_chart(pixels, OwnChart(grid.corners, 4, 6, gap=0.2), PAPER))) < 2


@pytest.mark.parametrize("shade", [0, 128, 255])
def test_a_picture_without_a_chart_has_no_corners(shade):
    with pytest.raises(UnreadablePicture, match="touch the four corners"):
        find_grid(np.full((300, 400, 3), shade, dtype=np.uint8))


def test_a_cell_beside_its_place_is_read_where_it_was_touched():
    pixels, corners = own_chart()
    there = OwnChart(corners.tolist(), 4, 6, gap=0.2)
    before = read_chart(pixels, there, PAPER)
    onto = np.mean(there.outlines(pixels)["2.3"], axis=0)
    moved = OwnChart(corners.tolist(), 4, 6, gap=0.2, moved={"1.1": (float(onto[0]), float(onto[1]))})
    after = read_chart(pixels, moved, PAPER)
    names = [p.cell for p in before]
    assert delta_e_2000(after[0].lab, before[names.index("2.3")].lab) < 0.5
    assert [p.lab.tolist() for p in after[1:]] == [p.lab.tolist() for p in before[1:]]
    with pytest.raises(BadRequest, match="no cell 9"):
        read_chart(pixels, OwnChart(corners.tolist(), 4, 6, moved={"9.9": (1.0, 1.0)}), PAPER)


def test_the_light_of_bare_paper_is_followed_and_one_covered_place_does_not_count():
    rng = np.random.default_rng(0)
    places = rng.uniform(0, 200, (50, 2))
    light = np.exp(-0.002 * places[:, :1] + 0.000004 * places[:, 1:] ** 2) * np.array([[0.8, 0.7, 0.5]])
    spoilt = light.copy()
    spoilt[7] *= 0.2
    field = field_of(places, spoilt, (200.0, 200.0))
    assert np.abs(field.at(places) / light - 1).max() < 0.06


# The command


def misses_of(patches):
    return delta_e_2000(LABS, np.array([p["lab"] for p in patches]))


def test_the_commands_print_and_read(tmp_path):
    cells = [{"cell": f"s{i}", "layers": [{"colour": "a", "passes": 2, "wet": True}, {"blend": "blender"}]} for i in range(24)]
    out = answer("sheet_print", json.dumps({"title": "Markers", "page": "A4", "cells": cells}).encode())
    _, (map_, dots, spectra) = sheet()
    photo = tmp_path / "sheet.jpg"
    photo.write_bytes(photograph(map_, dots, spectra, Shot(size=SIZE)))
    request = {"photo": str(photo), "sheet": out["sheet"], "surface": {"name": "card", "lab": PAPER.tolist(), "tooth": "card"}}
    read = answer("sheet_read", json.dumps(request).encode())["patches"]
    assert [p["cell"] for p in read] == [f"s{i}" for i in range(24)]
    assert np.median(misses_of(read)) < 2
    assert all(p["ok"] and "why" not in p for p in read)
    known = [{"cell": f"s{i}", "lab": LABS[i].tolist(), "within": 2} for i in range(0, 24, 2)]
    mended = answer("sheet_read", json.dumps({**request, "about": known}).encode())["patches"]
    assert np.mean(misses_of(mended)) < np.mean(misses_of(read))
    with pytest.raises(BadRequest) as fault:
        answer("sheet_read", json.dumps({**request, "about": [known[0], {**known[1], "cell": "s99"}]}).encode())
    assert (fault.value.where, fault.value.what) == ("about[1].cell", "the sheet has no cell “s99”")
    with pytest.raises(BadRequest, match="there twice"):
        answer("sheet_read", json.dumps({**request, "about": [known[0], known[0]]}).encode())
    with pytest.raises(BadRequest) as fault:
        answer("sheet_read", json.dumps({**request, "photo": str(tmp_path / "none.jpg")}).encode())
    with pytest.raises(UnreadablePicture) as refused:
        answer("sheet_read", json.dumps({**request, "again": str(tmp_path / "none.jpg")}).encode())
    assert refused.value.where == "again"
    lamp = answer("sheet_read", json.dumps({**request, "light": "A"}).encode())["patches"]
    assert [p["cell"] for p in lamp] == [p["cell"] for p in read]
    assert [p["lab"] for p in lamp] != [p["lab"] for p in read]
    assert (fault.value.where, fault.value.what) == ("photo", "there is no such file")
    with pytest.raises(BadRequest) as fault:
        answer("sheet_print", json.dumps({"title": "", "page": "A4", "cells": []}).encode())
    assert fault.value.where == "cells"


def test_a_photograph_that_was_turned_by_its_camera_reads_the_same(tmp_path):
    layout, (map_, dots, spectra) = sheet()
    photo = Image.open(io.BytesIO(photograph(map_, dots, spectra, Shot(size=SIZE))))
    exif = Image.Exif()
    exif[0x0112] = 6
    out = io.BytesIO()
    photo.rotate(90, expand=True).save(out, "JPEG", exif=exif, quality=95)
    assert np.median(misses(read_sheet(open_picture(out.getvalue()), layout, PAPER))) < 2
