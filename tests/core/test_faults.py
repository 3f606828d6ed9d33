"""What an artist says is wrong, and what is made of it. All of it is common practice."""

import json

import numpy as np
import pytest

from caltin_core.cli import answer
from caltin_core.colour.difference import chroma, delta_e_2000
from caltin_core.media.layers import Blend, Lay, Lift, Stroke
from caltin_core.media.measured import as_measured
from caltin_core.media.predict import predict
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.cure import cures
from caltin_core.recipes.faults import COMPLAINTS, DEEDS, SURFACE, departure
from caltin_core.recipes.offers import speckle
from caltin_core.recipes.rules import Rules
from tests.core.builders import PLAIN, ground, plain_bench, stack, swatch

WAX, DYE, PASTEL = plain_bench(), plain_bench("card", "alcohol_marker"), plain_bench("sanded", "soft_pastel")
LAID = "ochre medium 2, brown light 2"
# Which way a place looks that is complained of so, in L*, a*, b*.
LOOKS = {
    "too light": (1, 0, 0), "too dark": (-1, 0, 0), "too yellow": (0, 0, 1), "too red": (0, 1, 0), "too green": (0, -1, 0),
}  # fmt: skip


def drawn(bench):
    if bench is not DYE:
        return stack(bench, LAID)
    names = [s.id for s in bench.swatches]
    return [Lay(names.index(name), Stroke("coat", 1)) for name in ("ochre", "pink")]


def right(bench):
    """What was laid, what that shows, and that this was meant."""
    done = drawn(bench)
    (now,) = predict(bench, [done])
    return done, now, now.lab


@pytest.mark.parametrize("complaint", LOOKS)
def test_a_place_that_should_be_right_is_taken_to_look_as_is_said_and_cured_that_way_after_it_is_left(complaint):
    done, now, target = right(WAX)
    off = departure(now, target, complaint)
    along = np.array(LOOKS[complaint], dtype=float)
    assert off @ along == pytest.approx(np.linalg.norm(off))
    assert delta_e_2000(target, target + off) > 2
    left, *found = cures(WAX, done, target, complaint, believed=True).cures
    assert left.words.startswith("Leave it")
    assert found
    # What helps goes the other way, and is told as it will look.
    assert all((c.prediction.lab - (now.lab + off)) @ along < 0 for c in found)
    assert all(c.difference.de00 == pytest.approx(float(delta_e_2000(target, c.prediction.lab))) for c in found)
    assert min(c.difference.de00 for c in found) < delta_e_2000(target, target + off)


def test_what_the_layers_should_show_is_not_added_to():
    (now,) = predict(WAX, [drawn(WAX)])
    assert not departure(now, now.lab - np.array([0.0, 8.0, 0.0]), "too red").any()
    assert departure(now, now.lab + np.array([0.0, 8.0, 0.0]), "too red")[1] > 8


def test_grey_is_never_taken_to_be_greyer_than_grey():
    (now,) = predict(WAX, [stack(WAX, "black light 1, white light 1")])
    for complaint in ("too grey", "dead", "chalky"):
        assert chroma(now.lab + departure(now, now.lab, complaint)) <= chroma(now.lab) + 1e-9
    assert not departure(now, now.lab, "flat").any()


def test_what_was_measured_is_believed_before_what_is_said():
    done, now, target = right(WAX)
    looks = now.lab + np.array([4.0, 0.0, 0.0])
    found = cures(WAX, done, target, "too dark", looks=looks, believed=True)
    assert found.looks == pytest.approx(looks)
    assert found.astray == pytest.approx(float(delta_e_2000(now.lab, looks)))
    assert found.cures[0].prediction.lab[0] < looks[0]
    near = cures(WAX, done, target, "too dark", looks=now.lab + np.array([0.3, 0.0, 0.0])).cures
    assert near[0].words.startswith("Leave it")


def test_where_layers_are_still_to_come_going_on_comes_before_new_ones_and_nothing_is_believed():
    done, planned = stack(WAX, "ochre medium 2"), tuple(stack(WAX, "brown light 2"))
    (whole,) = predict(WAX, [[*done, *planned]])
    found = cures(WAX, done, whole.lab, "too yellow", believed=True, planned=planned)
    assert found.astray == 0
    assert found.cures[0].layers == planned
    assert found.cures[0].words.startswith("Go on as planned")
    assert found.cures[0].difference.de00 == pytest.approx(0, abs=1e-6)
    evened = cures(WAX, done, whole.lab, "patchy", planned=planned).cures
    assert evened
    assert all(c.layers[-1:] == planned and len(c.layers) > 1 and "go on as planned" in c.words for c in evened)


@pytest.mark.parametrize("bench", [WAX, PASTEL, DYE], ids=["wax", "pastel", "dye"])
@pytest.mark.parametrize("complaint", COMPLAINTS)
def test_every_complaint_is_answered_in_every_medium(bench, complaint):
    done, _, target = right(bench)
    found = cures(bench, done, target, complaint, believed=True)
    assert found.cures
    assert all(c.words for c in found.cures)
    if complaint in SURFACE:
        assert found.astray == 0


@pytest.mark.parametrize("bench", [WAX, PASTEL], ids=["wax", "pastel"])
@pytest.mark.parametrize("complaint", ["patchy", "streaks", "grain left"])
def test_a_surface_is_evened_out_with_the_point_and_lightly_and_hardly_lifted(bench, complaint):
    done, now, target = right(bench)
    for cure in cures(bench, done, target, complaint).cures:
        laid = [x.stroke for x in cure.layers if isinstance(x, Lay)]
        assert all(s.point == "sharp" and s.pressure != "firm" for s in laid)
        assert complaint == "grain left" or all(s.pressure != "burnish" for s in laid)
        assert all(x.kind == "kneaded" and complaint == "patchy" for x in cure.layers if isinstance(x, Lift))
        if complaint == "grain left" and bench is WAX:
            assert speckle(cure.prediction.grain_lab) < 0.85 * speckle(now.grain_lab)
        if complaint == "grain left" and bench is PASTEL:
            assert any(isinstance(x, Blend) for x in cure.layers)


def test_on_dye_nobody_is_told_to_lift_or_to_burnish():
    done, _, target = right(DYE)
    for complaint in (*SURFACE, *DEEDS):
        for cure in cures(DYE, done, target, complaint, believed=True).cures:
            assert not any(word in cure.words for word in ("eraser", "burnish", "sharp", "tooth"))


def test_what_is_chalky_gets_nothing_whiter():
    done = stack(WAX, "ochre medium 2, white medium 2")
    (now,) = predict(WAX, [done])
    target = now.lab + np.array([-6.0, 4.0, 8.0])
    found = cures(WAX, done, target, "chalky").cures
    assert found
    pale = {i for i, s in enumerate(WAX.swatches) if WAX.solids[i, 0] > max(76, target[0])}
    assert pale
    assert not any(isinstance(x, Lay) and x.colour in pale for c in found for x in c.layers)


def test_of_what_is_no_skin_no_grey_is_held_against_a_cure():
    kit = {"skin": (80, 12, 20), "grey": (66, 0, 0)}
    bench = Workbench(tuple(swatch(n, lab, "alcohol_marker", ground("card")) for n, lab in kit.items()), ground("card"))
    done, grey = [Lay(0, Stroke("coat", 1))], (Lay(1, Stroke("coat", 1)),)
    (aim,) = predict(bench, [[*done, *grey]])
    for skin in (True, False):
        found = [c for c in cures(bench, done, aim.lab, rules=Rules(skin=skin)).cures if any(x in grey for x in c.layers)]
        assert found
        assert all(("looks dead" in c.words) == skin for c in found)


@pytest.mark.parametrize("deed", ["went over the edge", "smeared"])
def test_what_no_colour_undoes_has_its_own_repair_first(deed):
    done, _, target = right(WAX)
    (first,) = cures(WAX, done, target, deed, believed=True).cures
    assert first.layers == ()
    assert {"went over the edge": "strip of paper", "smeared": "Rub nothing"}[deed] in first.words
    # Where the layers do not show what was meant either, that comes first.
    cure, *_, last = cures(WAX, done, target + np.array([-8.0, 4.0, 4.0]), deed).cures
    assert cure.layers
    assert last.words == first.words


KIT = {
    "surface": {"lab": [95, 0, 2], "name": "v", "tooth": "vellum"},
    "colours": [{"id": name, "lab": list(lab), "medium": "wax_pencil"} for name, lab in PLAIN.items()],
}
OCHRE = [{"colour": "ochre", "pressure": "medium", "passes": 2}]


def ask(command, **request):
    return answer(command, json.dumps({**KIT, **request}).encode())


def predicted(layers):
    return np.array(ask("predict", stacks=[{"id": "s", "layers": layers}])["results"][0]["lab"])


@pytest.mark.parametrize("measured", [None, [66, 10, 30]])
def test_the_command_tells_what_is_seen_by_what_was_measured_and_else_what_is_predicted(measured):
    said = {"looks": {"lab": measured}} if measured else {}
    planned = [{"colour": "brown", "pressure": "light", "passes": 2}]
    found = ask("cure", done=OCHRE, planned=planned, target={"lab": [70, 12, 24]}, **said)
    assert found.get("looks") == (pytest.approx(measured) if measured else None)
    assert found["cures"]
    off = np.array(measured) - predicted(OCHRE) if measured else np.zeros(3)
    for cure in found["cures"]:
        # What was measured still shows through what is laid over it, never more than before.
        still = (np.array(cure["lab"]) - predicted([*OCHRE, *cure["layers"]])) @ off
        assert 0.2 * off @ off < still < 1.05 * off @ off if measured else abs(still) < 1e-3


def test_what_was_measured_before_is_what_a_place_should_look_like_until_it_is_measured_anew():
    done, now, target = right(WAX)
    before = now.lab + np.array([4.0, 3.0, 0.0])
    earlier = as_measured(WAX, done, before)
    found = cures(WAX, done, target, earlier=earlier)
    assert found.looks == pytest.approx(before, abs=0.01)
    assert found.astray == 0
    again = cures(WAX, done, target, looks=now.lab, earlier=earlier)
    assert again.looks == pytest.approx(now.lab)
    assert again.astray == pytest.approx(0, abs=1e-6)
    assert again.cures[0].words.startswith("Leave it")
