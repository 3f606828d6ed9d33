"""Areas: proposed along the form, measured truly, changed without harm; and the edges between them."""

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.ndimage import gaussian_filter
from skimage.measure import label as second_opinion

from caltin_core.colour.difference import hue_apart
from caltin_core.colour.spaces import SRGB_TO_XYZ50, lab_from_xyz
from caltin_core.errors import BadRequest
from caltin_core.reference import areas, line_art
from caltin_core.reference.beyond import Feature
from caltin_core.reference.edges import edges
from caltin_core.reference.frame import Frame, whole
from tests.core.pictures import bytes_of, lab_of, line_drawing, portrait, read, sphere


def values_of(pixels, labels):
    return {m.label: float(m.lab[0]) for m in areas.measure(labels, lab_of(pixels))}


@pytest.mark.parametrize("melanin", [0.15, 0.8, 2.0])
def test_a_zones_value_is_the_true_mean(melanin):
    made = sphere(melanin, 0.3)
    labels = areas.propose(lab_of(made.pixels)).labels
    exact = lab_from_xyz(made.linear @ SRGB_TO_XYZ50.T)
    read, truth = values_of(made.pixels, labels), {m.label: float(m.lab[0]) for m in areas.measure(labels, exact)}
    assert max(abs(read[k] - truth[k]) for k in read) < 1.5


@pytest.mark.parametrize("name", ["pilot", "deckhand", "cook", "purser"])
def test_zones_of_a_portrait_go_from_light_to_dark_and_cover_the_skin(name):
    _, skin, found, measured = read(name)
    assert {"base", "shadow", "highlight"} <= {a.role for a in found.areas}
    by_role = {a.role: measured[a.label] for a in found.areas}
    order = [float(by_role[r].lab[0]) for r in areas.SKIN_ROLES if r in by_role]
    # Two zones of unlike hue may share a value, as in a face by two lights.
    assert all(a > b - 1.5 for a, b in itertools.pairwise(order))
    assert (found.labels[skin.mask] > 0).mean() > 0.99
    assert sum(m.share for m in measured.values()) == pytest.approx(1, abs=1e-6)


def test_between_two_lights_of_unlike_hue_the_base_has_the_hue_of_what_is_lit():
    _, _, found, measured = read("lamp-trimmer")
    by_role = {a.role: measured[a.label].lab for a in found.areas}
    assert hue_apart(by_role["base"], by_role["highlight"]) < 45
    assert hue_apart(by_role["reflected_light"], by_role["highlight"]) > 90


@pytest.mark.parametrize("name", ["pilot", "deckhand", "cook", "engineer", "purser"])
def test_under_one_light_no_zone_is_said_to_be_lit_by_another(name):
    _, _, found, _ = read(name)
    assert "reflected_light" not in {a.role for a in found.areas}


WARM = [(80, 16, 28), (72, 18, 24), (66, 19, 22), (58, 18, 18), (44, 14, 12), (26, 9, 6)]


@pytest.mark.parametrize(
    ("turned", "named"),
    [
        ({}, ["base", "half_tone"]),
        ({2: (66, 12, -14)}, ["reflected_light", "base"]),
        # A half-tone of another hue is one; where both are, the other light reaches most of the face; and grey has no hue.
        ({3: (58, 12, -14)}, ["base", "half_tone"]),
        ({2: (66, 12, -14), 3: (58, 12, -14)}, ["base", "half_tone"]),
        ({2: (66, 2, -3)}, ["base", "half_tone"]),
    ],
)
def test_only_what_turns_clearly_from_the_light_where_the_next_does_not_is_of_another(turned, named):
    tones = np.array([turned.get(i, tone) for i, tone in enumerate(WARM)], dtype=float)
    assert areas._named(tones, areas.SKIN_ROLES) == ["highlight", "light", *named, "shadow", "deepest_accent"]


@pytest.mark.parametrize("name", ["engineer", "lamp-trimmer"])
def test_a_picture_a_hair_narrower_is_parted_alike(name):
    lab, _, whole_, measured = read(name)
    narrower = areas.propose(lab[1:, :-1])
    of_narrower = {m.label: m for m in areas.measure(narrower.labels, lab[1:, :-1])}
    tones = [
        {a.role: seen[a.label].lab for a in found.areas if a.role in areas.SKIN_ROLES}
        for found, seen in ((whole_, measured), (narrower, of_narrower))
    ]
    assert tones[0].keys() == tones[1].keys()
    assert max(abs(tones[0][role][0] - tones[1][role][0]) for role in tones[0]) < 1.5


def test_what_a_proposal_is_unsure_of_it_asks():
    _, _, found, _ = read("pilot")
    asked = {a.role for a in found.areas if a.flagged}
    assert "hair_in_shade" in asked
    assert all(a.flagged.endswith("?") for a in found.areas if a.flagged)
    assert not {"light", "shadow"} & asked


def test_a_flush_becomes_a_zone_of_its_own():
    made = sphere(0.6, 0.2, flush=0.6)
    found = areas.propose(lab_of(made.pixels))
    flush = next(a for a in found.areas if a.role == "flush")
    assert (made.spot & (found.labels == flush.label)).sum() > 0.3 * made.spot.sum()


def test_a_zone_of_which_a_feature_takes_all_is_none(monkeypatch):
    lab = lab_of(sphere(0.6, 0.2, flush=0.6).pixels)
    before = areas.propose(lab)
    flush = next(a.label for a in before.areas if a.role == "flush")
    lips = Feature(before.labels == flush, "lower_lip", "Is this the mouth?")
    monkeypatch.setattr(areas, "gaps_of", lambda lab, skin: [lips])
    found = areas.propose(lab)
    assert "lower_lip" in {a.role for a in found.areas}
    assert "flush" not in {a.role for a in found.areas}
    assert {a.label for a in found.areas} == {m.label for m in areas.measure(found.labels, lab)}


def test_a_picture_without_skin_is_parted_by_value_and_asks_for_one_touch():
    grey = np.repeat(np.linspace(0, 1, 300)[None, :, None], 200, axis=0).repeat(3, axis=2)
    lab = lab_of(bytes_of(grey**2.2))
    found = areas.propose(lab)
    assert "No skin was found" in areas.doubt(areas.skin_of(lab))
    assert all(a.flagged for a in found.areas)
    assert (found.labels > 0).all()


def test_a_place_inside_an_area_lies_inside_it():
    ring = np.zeros((90, 90), dtype=bool)
    y, x = np.mgrid[0:90, 0:90]
    r = np.hypot(x - 45, y - 45)
    ring[(r > 20) & (r < 34)] = True
    at = areas.inside_of(ring)
    assert ring[at[1], at[0]]


def test_merging_and_parting_keep_every_pixel():
    lab = lab_of(sphere().pixels)
    labels = areas.propose(lab).labels
    one, other = [int(v) for v in np.unique(labels) if v][:2]
    both = areas.merged(labels, one, [other])
    assert (both > 0).sum() == (labels > 0).sum()
    assert not (both == other).any()
    parted, new = areas.split(both, one, lab)
    assert ((parted == one) | (parted == new)).sum() == (both == one).sum()
    assert (parted == new).any()
    with pytest.raises(BadRequest, match="too small"):
        areas.split(labels, 99, lab)


def test_pieces_part_before_halves():
    labels = np.zeros((60, 60), dtype=np.uint8)
    labels[5:25, 5:25] = labels[40:50, 40:50] = 3
    parted, new = areas.split(labels, 3, np.zeros((60, 60, 3)))
    assert (parted == new).sum() == 100
    with pytest.raises(BadRequest, match="one tone"):
        areas.split(parted, 3, np.zeros((60, 60, 3)))


@given(st.lists(st.tuples(st.floats(-20, 80), st.floats(-20, 80)), min_size=1, max_size=6), st.floats(1, 20))
def test_a_brush_adds_only_to_its_area_and_takes_only_from_it(path, radius):
    labels = np.ones((60, 60), dtype=np.uint8)
    labels[:, 30:] = 2
    added = areas.painted(labels, 2, path, radius)
    assert (added[labels == 2] == 2).all()
    taken = areas.painted(labels, 2, path, radius, add=False)
    assert (taken[labels == 1] == 1).all()


def test_a_lasso_fills_what_it_goes_round():
    empty = np.zeros((50, 50), dtype=np.uint8)
    assert areas.painted(empty, 4, [(10, 10), (40, 10), (40, 40), (10, 40)], None)[25, 25] == 4
    with pytest.raises(BadRequest, match="three points"):
        areas.painted(empty, 4, [(10, 10), (40, 10)], None)


@pytest.mark.parametrize(("blur", "kind"), [(0.3, "hard"), (4.0, "soft")])
def test_an_edges_width_is_read_in_millimetres(blur, kind):
    step = np.zeros((120, 120))
    step[:, 60:] = 1
    linear = 0.12 + 0.5 * gaussian_filter(step, blur)
    labels = np.ones((120, 120), dtype=np.uint8)
    labels[:, 60:] = 2
    lab = lab_of(bytes_of(np.repeat(linear[..., None], 3, axis=2), noise=1))
    (found,) = edges(labels, lab, 0.5)
    assert found.kind == kind
    # A Gaussian's tenth to nine tenths span 2.56 sigma; the step is seen through L*, which skews it a little.
    if kind == "soft":
        assert found.width_mm == pytest.approx(2.56 * blur * 0.5, rel=0.2)


@pytest.mark.parametrize("thick", [6, 10])
def test_the_edge_of_what_is_thin_is_that_to_its_neighbour_not_to_what_lies_behind_it(thick):
    # A dark brow in even skin.
    band = slice(60 - thick // 2, 60 + thick // 2)
    linear, labels = np.full((120, 120), 0.5), np.ones((120, 120), dtype=np.uint8)
    linear[band], labels[band] = 0.05, 2
    lab = lab_of(bytes_of(np.repeat(gaussian_filter(linear, 0.4)[..., None], 3, axis=2), noise=1))
    (found,) = edges(labels, lab, 0.5)
    assert found.kind == "hard"
    assert found.step > 30


def test_an_edge_without_a_step_is_lost():
    labels = np.ones((80, 80), dtype=np.uint8)
    labels[40:] = 2
    (found,) = edges(labels, lab_of(np.full((80, 80, 3), 140, dtype=np.uint8)), 0.5)
    assert (found.kind, round(found.step, 3)) == ("lost", 0)


def test_a_frame_goes_to_the_picture_and_back():
    labels = np.zeros((100, 80), dtype=np.uint8)
    labels[30:70, 20:60] = 5
    frame = Frame(40, 50, 60, 80, 12.0)
    cut = frame.cut(labels, 1.0, 200)
    assert cut.shape == (80, 60)
    back = frame.put_back(np.rint(cut).astype(np.uint8), (80, 100), 1.0)
    assert (back == labels)[35:65, 25:55].all()
    assert np.array_equal(whole(80, 100).cut(labels, 1.0, 200), labels)
    with pytest.raises(BadRequest):
        Frame(10, 10, 4, 4)


def test_a_line_drawing_is_told_from_a_photograph():
    assert line_art.is_line_art(lab_of(line_drawing()))
    assert not line_art.is_line_art(lab_of(portrait("purser")))
    assert not line_art.is_line_art(lab_of(np.full((50, 50, 3), 250, dtype=np.uint8)))


def test_closed_areas_are_those_lines_close_in():
    lab = lab_of(line_drawing())
    found = line_art.closed_areas(lab)
    assert found[150, 250] == 1
    assert found[240, 210] == 2
    assert found[10, 250] == found[590, 490] == 0
    # scikit-image, counting what is neither line nor open to the edge.
    free = second_opinion(~line_art.lines(lab), connectivity=1)
    assert len(set(np.unique(found)) - {0}) == free.max() - len(set(free[0]) | set(free[-1]))


def test_a_small_gap_is_closed_and_a_large_one_is_not():
    assert line_art.closed_areas(lab_of(line_drawing(gap=2)))[300, 250] > 0
    assert line_art.closed_areas(lab_of(line_drawing(gap=40)))[300, 250] == 0


def test_a_pale_print_keeps_its_lines_and_its_paper():
    drawing = line_drawing()
    light = line_art.pale(drawing)
    assert light.max() == 255
    assert 150 < light.min() < 200
