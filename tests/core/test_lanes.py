"""Work in several processes: the same as in one, in the same order, whatever happens to the others."""

import json
import os
import signal

import numpy as np
import pytest

from caltin_core.contract import predicting
from caltin_core.errors import BadRequest
from caltin_core.lanes import in_lanes, lanes, open_lanes
from caltin_core.media import moves
from caltin_core.media.calibrate import Patch, calibrate
from caltin_core.media.layers import Blend, Lay, Stroke
from caltin_core.media.predict import colours_of, thin_colours
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.family import Member, family
from caltin_core.recipes.match import all_matches, matches
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.targets import Target
from tests.core.builders import WHITE_LAB, demo_bench, ground, swatch


@pytest.fixture(autouse=True)
def _closed():
    yield
    open_lanes(1)


def _where(items):
    return [(item, os.getpid()) for item in items]


@pytest.mark.parametrize("many", [1, 2, 3])
def test_everything_is_done_once_and_in_order(many):
    open_lanes(many)
    done = in_lanes(_where, range(10))
    assert [item for item, _ in done] == list(range(10))
    assert len({process for _, process in done}) == many
    assert in_lanes(_where, []) == []


def test_too_little_work_stays_in_one_process():
    open_lanes(2)
    assert {process for _, process in in_lanes(_where, range(9), least=5)} == {os.getpid()}
    assert len({process for _, process in in_lanes(_where, range(10), least=5)}) == 2


def test_there_are_no_more_lanes_than_cores_and_none_within_a_lane():
    open_lanes()
    assert 1 <= lanes() <= (os.cpu_count() or 1)
    open_lanes(2)
    assert in_lanes(lambda items: [lanes() for _ in items], range(2))[1] == 1


def test_a_fault_elsewhere_is_told_here():
    def work(items):
        if 3 in items:
            raise BadRequest("stacks[3]", "no")
        return list(items)

    open_lanes(2)
    with pytest.raises(BadRequest, match="no") as told:
        in_lanes(work, range(4))
    assert told.value.where == "stacks[3]"


def test_the_share_of_a_process_that_was_ended_is_done_here():
    here = os.getpid()

    def work(items):
        if os.getpid() != here:
            os.kill(os.getpid(), signal.SIGKILL)
        return _where(items)

    open_lanes(3)
    assert in_lanes(work, range(7)) == [(item, here) for item in range(7)]


def test_where_there_is_no_room_for_another_process_all_is_done_here(monkeypatch):
    def full():
        raise BlockingIOError

    open_lanes(2)
    monkeypatch.setattr(os, "fork", full)
    assert in_lanes(_where, range(4)) == [(item, os.getpid()) for item in range(4)]


def _laid(found):
    return [(m.role, m.reach.ok, [(r.kind, r.layers, r.prediction.lab.tolist(), r.equal) for r in m.recipes]) for m in found]


def test_recipes_are_the_same_in_two_lanes():
    bench = demo_bench()
    targets = [Target(str(i), np.array(lab)) for i, lab in enumerate([(70.0, 14, 18), (48.0, 18, 22)])]
    rules, members = Rules(max_layers=2), [Member(t) for t in targets]
    alone = _laid(all_matches(bench, targets, rules)), _laid(family(bench, members, rules).matches)
    open_lanes(2)
    assert (_laid(all_matches(bench, targets, rules)), _laid(family(bench, members, rules).matches)) == alone
    assert _laid(list(matches(bench, targets, rules))) == alone[0]


@pytest.mark.parametrize("many", [5, 5000])
def test_predictions_are_the_same_text_in_two_lanes_and_as_shapes(monkeypatch, many):
    monkeypatch.setattr(predicting, "_LANE", 2)
    monkeypatch.setattr(predicting, "_MANY", many)
    bench = demo_bench()
    colours = [{"id": s.id, "lab": s.lab.tolist(), "medium": s.medium} for s in bench.swatches[:3]]
    laid = [{"colour": c["id"], "pressure": "firm", "passes": 2} for c in colours]
    stacks = [{"id": f"s{i}", "layers": [laid[i % 3], {"repeat": [laid[1]], "times": 2}, laid[i % 2]]} for i in range(5)]
    stacks.append({"id": "bare", "layers": []})
    request = predicting.PredictRequest.model_validate(
        {"surface": {"name": "sheet", "lab": WHITE_LAB, "tooth": "vellum"}, "colours": colours, "stacks": stacks}
    )
    command = predicting.COMMANDS["predict"]
    alone = command.said(request)
    open_lanes(2)
    assert command.said(request) == alone
    assert json.loads(alone) == json.loads(command.run(request).model_dump_json(exclude_none=True))


@pytest.fixture
def two_media():
    """A lead and a pastel on one sheet, singles and a stack of both."""
    on = ground()
    bench = Workbench((swatch("clay", (48, 20, 22), on=on), swatch("rose", (66, 26, 14), "soft_pastel", on=on)), on)
    stacks = [(Lay(c, Stroke(p, 2)),) for c in (0, 1) for p in ("light", "medium", "firm")]
    return bench, [*stacks, (Lay(0, Stroke("firm", 2)), Lay(1, Stroke("medium", 1)), Blend("finger"))]


def test_a_fit_of_two_media_is_the_same_in_two_lanes(two_media, monkeypatch):
    monkeypatch.setattr(moves, "_LANE", 2)
    bench, stacks = two_media
    patches = [Patch(s, lab + 2.0) for s, (lab, _) in zip(stacks, colours_of(bench, stacks), strict=True)]
    alone = calibrate(bench, patches).bench
    open_lanes(2)
    assert calibrate(bench, patches).bench == alone


def test_slopes_of_many_offsets_in_one_kit_are_those_of_each_moved_alone(two_media):
    bench, stacks = two_media
    space = moves.Space(bench, [0, 1])
    theta = np.random.default_rng(5).normal(0, 0.1, space.size)
    seen = thin_colours(space.at(theta, space.thin), stacks)
    found = moves.slopes(space, theta, stacks, seen)
    step = 0.02 * np.eye(space.size)
    for j in range(space.size):
        alone = (thin_colours(space.at(theta + step[j], space.thin), stacks) - seen) / 0.02
        assert found[:, :, j] == pytest.approx(alone, abs=2e-3), j
    assert (np.abs(found).max(axis=(0, 1)) > 1e-3).sum() > 40
    some = [1, 20, space.manner["soft_pastel"]]
    few = moves.slopes(space, theta, stacks, seen, some)
    own = list(range(space.shared, space.size))
    assert few[:, :, some + own] == pytest.approx(found[:, :, some + own], abs=2e-3)
    assert not np.delete(few, some + own, axis=2).any()
