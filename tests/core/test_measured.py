"""What goes over a place that was measured is predicted from there. Judged by the stand-in sheet, whose physics are its own."""

import numpy as np
import pytest

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spectra import reflectance_from_lab
from caltin_core.media.colourants import Ground, Swatch, solids_from_lab
from caltin_core.media.layers import Lay, Lift, Stroke
from caltin_core.media.measured import as_laid, as_measured
from caltin_core.media.predict import colours_of, predict
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.onward import onward
from caltin_core.recipes.rules import Rules
from caltin_core.standins.paper import Nature
from caltin_core.standins.sheets import sheet_of
from tests.core.builders import PLAIN, plain_bench, stack

WAX, PASTEL, DYE = plain_bench(), plain_bench("sanded", "soft_pastel"), plain_bench("card", "alcohol_marker")
LAID, OFF = "ochre medium 2, brown light 2", np.array([3.0, 4.0, -3.0])


def coat(bench, *names):
    at = [s.id for s in bench.swatches]
    return [Lay(at.index(name), Stroke("coat", 1)) for name in names]


def done_on(bench):
    return coat(bench, "ochre", "pink") if bench is DYE else stack(bench, LAID)


def labs(bench, *stacks):
    return np.array([lab for lab, _ in colours_of(bench, stacks)])


@pytest.mark.parametrize("bench", [WAX, PASTEL, DYE], ids=["wax", "pastel", "dye"])
def test_it_looks_as_it_was_measured_and_the_kit_stays_as_it_is(bench):
    done = done_on(bench)
    looks = labs(bench, done)[0] + OFF
    found = as_measured(bench, done, looks)
    (now,) = found.predict([()])
    assert now.lab == pytest.approx(looks, abs=0.01)
    assert now.after_lab[-1] == pytest.approx(looks, abs=0.01)
    assert len(now.after_lab) == len(done)
    # Elsewhere the same colours are what they were.
    assert labs(found.bench, done) == pytest.approx(labs(bench, done))


@pytest.mark.parametrize("bench", [WAX, PASTEL, DYE], ids=["wax", "pastel", "dye"])
def test_what_should_look_so_is_predicted_as_ever(bench):
    done, more = done_on(bench), done_on(bench)[:1]
    found = as_measured(bench, done, labs(bench, done)[0])
    plain = as_laid(bench, done)
    assert found.colours([more])[0][0] == pytest.approx(plain.colours([more])[0][0], abs=0.05)
    assert plain.predict([more])[0].lab == pytest.approx(labs(bench, [*done, *more])[0])


def test_a_glaze_still_shows_it_and_what_covers_hides_it():
    done = stack(PASTEL, LAID)
    found = as_measured(PASTEL, done, labs(PASTEL, done)[0] + OFF)

    def still(over):
        more = stack(PASTEL, over)
        return float(np.linalg.norm(found.colours([more])[0][0] - labs(PASTEL, [*done, *more])[0]) / np.linalg.norm(OFF))

    glazed, covered = still("cream light 1"), still("cream burnish 3")
    assert 0.5 < glazed <= 1.0
    assert covered < 0.4 * glazed


def test_lifting_takes_some_of_it_along():
    done = stack(WAX, LAID)
    found = as_measured(WAX, done, labs(WAX, done)[0] + OFF)
    lifted = found.colours([(Lift("stick"),)])[0][0] - labs(WAX, [*done, Lift("stick")])[0]
    assert 0 < np.linalg.norm(lifted) < np.linalg.norm(OFF)


def test_what_no_colour_can_explain_is_kept_as_it_was_measured():
    for done, looks in (((), [60.0, 30.0, 10.0]), (stack(WAX, "white light 1"), [30.0, 40.0, -40.0])):
        found = as_measured(WAX, done, np.array(looks))
        (now,) = found.predict([()])
        assert np.linalg.norm(found.off) > 1
        assert now.lab == pytest.approx(looks)
        assert found.colours([()])[0][0] == pytest.approx(looks)
        assert now.after_lab[len(done) - 1 :] == pytest.approx(np.array([looks] * min(len(done), 1)).reshape(-1, 3))


def test_doubts_are_those_of_the_colours_that_were_laid():
    done = stack(WAX, LAID)
    found = as_measured(WAX, done, labs(WAX, done)[0] + OFF)
    assert found.predict([()])[0].uncertainty == pytest.approx(predict(WAX, [done])[0].uncertainty, rel=0.3)


@pytest.mark.parametrize(("medium", "tooth"), [("soft_pastel", "sanded"), ("wax_pencil", "vellum")])
def test_on_the_stand_in_it_comes_nearer_than_by_the_layers_alone_or_by_keeping_the_difference(medium, tooth):
    white = reflectance_from_lab(np.array([62.0, 3.0, 12.0]))
    sheet, ground = sheet_of(white, tooth, Nature(unsteady=0.0, noise=0.0), 4), Ground(white, tooth)
    solids = solids_from_lab(
        [sheet.solid(sheet.add(np.array(lab, dtype=float), medium)) for lab in PLAIN.values()],
        [ground] * len(PLAIN), [medium] * len(PLAIN),
    )  # fmt: skip
    bench = Workbench(tuple(Swatch(name, s, medium, ground) for name, s in zip(PLAIN, solids, strict=True)), ground)
    rng = np.random.default_rng(4)
    misses = []
    for _ in range(30):
        pick = [Lay(int(rng.integers(12)), Stroke(str(rng.choice(["light", "medium", "firm"])), 2)) for _ in range(3)]
        done, more = pick[:2], pick[2:]
        looks, truth = sheet.patch(done), sheet.patch(pick)
        before, plain = labs(bench, done, pick)
        kept = as_measured(bench, done, looks).colours([more])[0][0]
        misses.append([float(delta_e_2000(truth, lab)) for lab in (kept, plain, plain + looks - before)])
    ours, alone, moved = np.median(misses, axis=0)
    assert ours < 0.9 * alone
    assert ours < moved


def test_layers_laid_since_are_predicted_after_it_and_told_step_by_step():
    done, since, more = stack(WAX, LAID), stack(WAX, "cream light 2"), stack(WAX, "red light 1")
    looks = labs(WAX, done)[0] + OFF
    then = as_measured(WAX, done, looks)
    now = then.going_on(since)
    assert now.colours([more])[0][0] == pytest.approx(then.colours([[*since, *more]])[0][0])
    told = now.predict([more])[0].after_lab
    assert told[1] == pytest.approx(looks, abs=0.01)
    assert told[2] == pytest.approx(then.colours([since])[0][0], abs=1e-6)


def test_going_on_from_what_was_measured_ends_nearer_than_going_on_from_what_was_meant():
    done = stack(WAX, LAID)
    target = labs(WAX, stack(WAX, f"{LAID}, cream light 2, red light 1"))[0]
    there = as_measured(WAX, done, labs(WAX, done)[0] + OFF)
    plain, ours = onward(WAX, done, target, Rules()), onward(WAX, done, target, Rules(), there=there)
    assert ours.prediction.lab == pytest.approx(there.colours([ours.layers])[0][0])
    assert ours.de00 < float(delta_e_2000(target, there.colours([plain.layers])[0][0])) - 0.3
