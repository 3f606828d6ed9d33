"""Cures: the smallest that the paper can still take, and the truth where there is none. All of it is common practice."""

import json

import numpy as np
import pytest

from caltin_core.cli import answer
from caltin_core.colour.difference import chroma, delta_e_2000
from caltin_core.errors import BadRequest
from caltin_core.media.cautions import fresh_cautions
from caltin_core.media.layers import Lay, Lift, Stroke
from caltin_core.media.predict import predict
from caltin_core.recipes.cure import INCURABLE, cures
from caltin_core.recipes.rules import Rules
from tests.core.builders import PLAIN, plain_bench, stack

WAX, DYE, PASTEL = plain_bench(), plain_bench("card", "alcohol_marker"), plain_bench("sanded", "soft_pastel")


def seen(bench, layers):
    return predict(bench, [layers])[0].lab


def coats(bench, text):
    index = {s.id: i for i, s in enumerate(bench.swatches)}
    return [Lay(index[w.split()[0]], Stroke("coat", int(w.split()[1]))) for w in text.split(", ")]


def names(bench, cure):
    return {bench.swatches[x.colour].id for x in cure.layers if isinstance(x, Lay)}


def test_what_a_cure_promises_is_what_is_predicted_after_all_that_lies_there():
    done = stack(WAX, "ochre medium 2, red light 2")
    target = seen(WAX, stack(WAX, "ochre medium 2"))
    found = cures(WAX, done, target)
    assert found.incurable == ""
    for cure in found.cures:
        assert np.allclose(seen(WAX, [*done, *cure.layers]), cure.prediction.lab, atol=1e-6)
        assert cure.difference.de00 == pytest.approx(float(delta_e_2000(target, cure.prediction.lab)), abs=1e-6)
    assert found.cures[0].difference.de00 < 1
    assert len(found.cures[0].layers) <= 4


def test_a_cure_that_is_warned_of_says_so_and_comes_after_those_that_are_not():
    done = stack(WAX, "ochre medium 2")
    whole = [0, 0]
    for lab in ((24, 6, 6), (30, 30, 10), (60, 40, 30), (50, 10, 10), (80, 2, 20), (40, -20, 10)):
        found = cures(WAX, done, np.array(lab, dtype=float)).cures
        warned = [fresh_cautions(WAX, done, c.layers) for c in found]
        assert all(said in c.words for c, every in zip(found, warned, strict=True) for said in every)
        # One that misses by much less may still come first.
        plain = [c.difference.de00 for c, every in zip(found, warned, strict=True) if not every]
        assert not warned[0] or found[0].difference.de00 < min(plain, default=np.inf)
        whole = [n + sum(bool(every) is there for every in warned) for n, there in zip(whole, (False, True), strict=True)]
    assert min(whole) > 0


def test_pale_over_ruddy_lowers_its_chroma_and_lightens():
    done = stack(WAX, "pink medium 3")
    ruddy = seen(WAX, done)
    target = ruddy + np.array([7.0, -14.0, 3.0])
    found = cures(WAX, done, target)
    assert any("pale colour" in c.words and names(WAX, c) & {"cream", "white"} for c in found.cures)
    best = found.cures[0].prediction.lab
    assert best[0] > ruddy[0]
    assert chroma(best) < chroma(ruddy)


def test_a_warm_brown_brings_a_grey_back():
    done = stack(WAX, "black medium 3, white light 2")
    target = seen(WAX, done) + np.array([-2.0, 10.0, 12.0])
    found = cures(WAX, done, target, "too grey")
    assert found.cures[0].difference.de00 < 2
    assert any("warm brown" in c.words for c in found.cures)


def test_a_pale_wet_coat_bleaches_a_marker_and_a_dark_one_never_comes_back_to_paper():
    done = coats(DYE, "ochre 1, brown 1")
    target = seen(DYE, coats(DYE, "ochre 1"))
    found = cures(DYE, done, target)
    assert any("laid wet" in c.words for c in found.cures)
    assert found.cures[0].prediction.lab[0] > seen(DYE, done)[0] + 5
    lost = cures(WAX, stack(WAX, "brown firm 4"), np.array([95.0, 0.0, 2.0]), "highlight lost")
    assert "does not come off far enough" in lost.incurable
    assert min(c.difference.de00 for c in lost.cures) > INCURABLE


def test_a_place_that_only_lacks_depth_is_not_lifted_unless_what_lies_there_was_wrong():
    done = stack(WAX, "pink light 1, ochre light 1")
    target = seen(WAX, stack(WAX, "pink medium 3, ochre medium 3"))
    offered = [cures(WAX, done, target, said).cures for said in ("", "laid the wrong one")]
    lifts = [[x for c in found for x in c.layers if isinstance(x, Lift)] for found in offered]
    assert offered[0]
    assert not lifts[0]
    assert lifts[1]
    assert "more depth" in offered[0][0].words
    wrong = cures(WAX, stack(WAX, "green light 3"), target).cures
    assert any(isinstance(x, Lift) for c in wrong for x in c.layers)


@pytest.mark.parametrize("seed", range(6))
def test_a_cure_says_what_it_does(seed):
    rng = np.random.default_rng(seed)
    for bench in (WAX, PASTEL):
        laid = [Lay(int(c), Stroke("medium", int(rng.integers(1, 3)))) for c in rng.choice(len(bench.swatches), 2)]
        for cure in cures(bench, laid, np.array([rng.uniform(30, 85), 14.0, 20.0])).cures:
            tools = {x.kind for x in cure.layers if not isinstance(x, Lay)}
            assert ("do not rub" in cure.words) <= ("kneaded" in tools)
            assert ("Rub some" in cure.words) <= ("stick" in tools)
            assert ("nothing has to be added" in cure.words) <= (not names(bench, cure))
            whisper = all(x.stroke.pressure == "light" for x in cure.layers if isinstance(x, Lay))
            assert ("glaze" in cure.words or "whisper" in cure.words) <= whisper


def test_bare_paper_is_not_called_grey():
    found = cures(WAX, [], np.array([70.0, 16.0, 24.0])).cures
    assert found
    assert not any("grey" in c.words for c in found)


def test_of_cures_that_all_read_as_right_the_simplest_comes_first():
    done = stack(WAX, "ochre light 1")
    one, *more = cures(WAX, done, seen(WAX, stack(WAX, "ochre light 1, pink light 2")) + np.array([0.4, 0.3, 0.3])).cures
    assert len(one.layers) == 1
    assert one.difference.de00 < 1
    assert min(c.difference.de00 for c in more) < one.difference.de00


def test_a_full_paper_is_called_full():
    done = stack(WAX, "brown burnish 6, black burnish 6, brown burnish 6")
    found = cures(WAX, done, np.array([50.0, -40.0, 30.0]))
    assert "% full" in found.incurable


def test_the_knife_and_the_white_pen_come_last():
    done = stack(WAX, "cream light 2, violet light 1")
    target = seen(WAX, stack(WAX, "cream light 2"))
    found = cures(WAX, done, target)
    assert not found.cures[0].last_resort
    assert all(c.last_resort == (Lift("knife") in c.layers) for c in found.cures)


def test_a_place_that_is_right_is_left_and_one_without_a_dark_beside_it_waits():
    done = stack(WAX, "ochre medium 2, red light 1")
    right = cures(WAX, done, seen(WAX, done))
    assert right.cures[0].layers == ()
    assert right.cures[0].words.startswith("Leave it")
    near = seen(WAX, done) + np.array([2.5, 0.0, 0.0])
    pale = [np.array([92.0, 0.0, 4.0]), np.array([90.0, 3.0, 14.0])]
    assert cures(WAX, done, near, "too dark", beside=pale).cures[0].words.startswith("Wait: nothing dark")
    anchored = cures(WAX, done, near, "too dark", beside=[*pale, np.array([26.0, 2.0, 2.0])])
    assert not anchored.cures[0].words.startswith("Wait")


def test_a_lost_highlight_does_not_wait_for_a_dark():
    done = stack(WAX, "cream light 2, ochre light 1")
    target = seen(WAX, stack(WAX, "cream light 2"))
    first = cures(WAX, done, target, "highlight lost", beside=[np.array([92.0, 0.0, 4.0])]).cures[0]
    assert first.layers
    assert not first.words.startswith("Wait")


def test_where_wax_lifts_off_no_more_wax_is_laid():
    done = stack(WAX, "ochre firm 3, brown firm 2, cream burnish 2")
    found = cures(WAX, done, seen(WAX, done) + np.array([6.0, -2.0, 0.0]), "wax lifting off")
    assert found.cures
    assert not any(isinstance(x, Lay) for c in found.cures for x in c.layers)


@pytest.mark.parametrize("complaint", ["patchy", "streaks", "grain left"])
def test_a_fault_of_the_surface_is_worked_at_before_anything_is_laid_over_it(complaint):
    done = stack(WAX, "ochre medium 2, brown light 2")
    first = cures(WAX, done, seen(WAX, done), complaint).cures[0]
    worked = [x for x in first.layers if not isinstance(x, Lay) or x.stroke.turned]
    assert worked
    assert first.difference.de00 < INCURABLE


def test_bans_hold_and_the_same_question_has_the_same_answer():
    done = stack(PASTEL, "blue medium 2")
    target = np.array([66.0, 18.0, 22.0])
    rules = Rules(avoid=frozenset({1, 4}))
    one, two = (cures(PASTEL, done, target, rules=rules) for _ in range(2))
    assert [c.layers for c in one.cures] == [c.layers for c in two.cures]
    assert not {x.colour for c in one.cures for x in c.layers if isinstance(x, Lay)} & {1, 4}


def ask(**change):
    colours = [{"id": name, "lab": list(lab), "medium": "wax_pencil"} for name, lab in PLAIN.items()]
    request = {
        "surface": {"lab": [95, 0, 2], "name": "v", "tooth": "vellum"}, "colours": colours, "target": {"lab": [78, 12, 24]},
        "done": [{"colour": "ochre", "pressure": "medium", "passes": 2}, {"colour": "red", "pressure": "light", "passes": 1}],
        "complaint": "too_red", **change,
    }  # fmt: skip
    return answer("cure", json.dumps(request).encode())


def test_the_command_answers_in_its_shape():
    found = ask()
    assert set(found) == {"cures"}
    assert all(set(c) == {"layers", "lab", "de00", "tooth_used", "words", "last_resort"} for c in found["cures"])
    assert found["cures"][0]["de00"] < 2
    lost = ask(done=[{"colour": "brown", "pressure": "firm", "passes": 4}], target={"hex": "#ffffff"})
    assert lost["incurable"]
    with pytest.raises(BadRequest) as fault:
        ask(done=[{"colour": "none", "pressure": "firm", "passes": 4}])
    assert fault.value.where == "done[0].colour"


def test_without_a_colour_to_draw_with_that_is_what_is_told():
    assert "no colour" in ask(colours=[], done=[])["incurable"]
    banned = ask(rules={"avoid": list(PLAIN)}, target={"lab": [30, 0, 0]})
    assert "no colour" in banned["incurable"]
    assert not any("colour" in layer for c in banned["cures"] for layer in c["layers"])
