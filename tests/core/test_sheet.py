"""The paper: the picture's place on it, grids, spans, and pages printed at true size."""

import io

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pypdf import PdfReader

from caltin_core.errors import BadRequest
from caltin_core.reference.print_page import DOTS_PER_MM, KINDS, Over, drawn, pages
from caltin_core.reference.range_map import propose
from caltin_core.reference.sheet import OVERLAP, PAGES, Placement, centred, grid_lines, span, tiles
from tests.core.pictures import lab_of, line_drawing, portrait


@given(st.floats(100, 900), st.floats(100, 900), st.floats(0.3, 3))
def test_a_centred_picture_lies_inside_an_even_margin(width, height, aspect):
    at = centred(width, height, aspect)
    down = at.down(aspect)
    assert at.left == pytest.approx(width - at.left - at.across)
    assert at.top == pytest.approx(height - at.top - down)
    assert min(at.left, at.top) >= -1e-9


@given(st.floats(300, 900), st.floats(300, 900), st.sampled_from(sorted(PAGES)))
def test_tiles_cover_the_whole_sheet_and_overlap(width, height, page):
    cut = tiles(width, height, page)
    assert max(t.left + t.width for t in cut) >= width - 1e-6
    assert max(t.top + t.height for t in cut) >= height - 1e-6
    for t in cut:
        right = [u for u in cut if (u.row, u.column) == (t.row, t.column + 1)]
        assert all(t.left + t.width - u.left == pytest.approx(OVERLAP) for u in right)


def test_a_sheet_of_one_page_takes_one_page():
    assert len(tiles(210, 297, "A4")) == len(tiles(297, 210, "A4")) == 1
    assert len(tiles(210, 297, "letter")) > 1
    with pytest.raises(BadRequest, match="no page"):
        tiles(100, 100, "B9")


def test_a_span_is_measured_in_millimetres_units_and_against_plumb():
    upright = span((100, 300), (100, 100), 0.25, unit=80)
    assert (upright.mm, upright.units, upright.plumb) == (50, 2.5, 0)
    assert span((0, 100), (100, 0), 1).plumb == pytest.approx(45)
    assert span((100, 0), (0, 100), 1).plumb == pytest.approx(45)
    assert span((0, 0), (100, 100), 1).plumb == pytest.approx(-45)
    assert span((5, 5), (5, 5), 1).mm == 0


def test_grid_lines_stand_a_cell_apart_from_the_pictures_corner():
    at = Placement(200, 300, 10, 20, 160)
    uprights, levels = grid_lines(at, 1.25, 20)
    assert uprights == pytest.approx(list(range(10, 171, 20)))
    assert levels == pytest.approx(list(range(20, 221, 20)))
    with pytest.raises(BadRequest):
        grid_lines(at, 1.25, 0.5)
    with pytest.raises(BadRequest):
        Placement(5, 300, 0, 0, 100)


@pytest.mark.parametrize("page", sorted(PAGES))
def test_a_printed_grid_is_true_to_size(page):
    at = Placement(180, 240, 20, 30, 120)
    made = pages(None, 1.25, at, Over(cell=20), page)
    out = io.BytesIO()
    made[0].save(out, "PDF", resolution=25.4 * DOTS_PER_MM, save_all=True, append_images=made[1:])
    box = PdfReader(io.BytesIO(out.getvalue())).pages[0].mediabox
    size = (float(box.width) / 72 * 25.4, float(box.height) / 72 * 25.4)
    assert size == pytest.approx(PAGES[page], abs=0.3)
    row = np.asarray(made[0].convert("L"))[round((30 + 10) * DOTS_PER_MM)]
    dark = np.flatnonzero(row < 110)
    starts = dark[np.flatnonzero(np.diff(np.concatenate([[-9], dark])) > 3)] / DOTS_PER_MM
    assert starts == pytest.approx([20, 40, 60, 80, 100, 120, 140], abs=0.3)


@pytest.mark.parametrize("kind", KINDS)
def test_every_kind_of_page_is_drawn(kind):
    pixels = line_drawing() if kind == "pale" else portrait("purser", 600)
    image = drawn(kind, pixels, lab_of(pixels))
    (page, *_) = pages(image, pixels.shape[0] / pixels.shape[1], centred(210, 297, 1.2), Over(20, True, True, 0.4), "A4")
    grey = np.asarray(page.convert("L"))
    assert (grey < 200).mean() > 0.002
    assert grey.max() == 255


def test_a_mirrored_page_is_the_mirror():
    pixels = portrait("pilot", 400)
    at = centred(210, 297, 1.25)
    one, other = (np.asarray(pages(pixels, 1.25, at, Over(), "A4", mirrored)[0]) for mirrored in (False, True))
    middle = slice(300, 1900)
    left = round(at.left * DOTS_PER_MM)
    right = round((at.left + at.across) * DOTS_PER_MM)
    assert np.abs(one[middle, left:right].astype(int) - other[middle, left:right][:, ::-1]).mean() < 1


@pytest.mark.parametrize("hold", ["darks", "lights"])
def test_what_is_held_keeps_its_steps_and_the_other_side_gives_way(hold):
    bent = propose((5.0, 98.0), (24.0, 94.0), 60.0, hold)
    dark = (bent.shown[1] - bent.shown[0]) / (bent.picture[1] - bent.picture[0])
    light = (bent.shown[2] - bent.shown[1]) / (bent.picture[2] - bent.picture[1])
    assert (dark > light) == (hold == "darks")
    assert max(dark, light) == pytest.approx(1, abs=0.12)


def test_the_middle_goes_where_it_is_put_and_what_is_given_up_is_told():
    bent = propose((5.0, 98.0), (24.0, 94.0), 60.0, middle=50.0)
    assert bent.shown[1] == 50.0
    said = bent.given_up()
    assert len(said) >= 1
    assert "are pressed into" in said[0]
    assert propose((40.0, 80.0), (24.0, 94.0), 60.0).given_up() == []
