"""Plans: every rule of order over many made-up studies. The rules are common practice, without a source."""

from dataclasses import replace
from itertools import pairwise, permutations

import numpy as np
import pytest

from caltin_core.colour.value import munsell_value
from caltin_core.media.layers import COAT, Blend, Lay, Stroke
from caltin_core.media.predict import courses_of
from caltin_core.media.workbench import Workbench
from caltin_core.plan.make import plan
from caltin_core.plan.order import Sheet, ordered
from caltin_core.plan.runs import runs_of
from caltin_core.plan.safety import FIRST, on_paper, with_labels
from caltin_core.plan.steps import Area
from caltin_core.plan.timing import DRIES
from caltin_core.recipes.school_list import SCHOOLS
from tests.core.builders import stack, swatch
from tests.core.studies import fewest, plan_bench, random_study

ROUTES = ("feature", "sheet", "colour")
STUDIES = range(12)
WAX, DYE, CHALK = plan_bench("wax_pencil"), plan_bench("alcohol_marker"), plan_bench("soft_pastel")


def area(name, bench, text, share=0.2, neighbours=(), at=None):
    layers = tuple(stack(bench, text)) if text else ()
    if bench is DYE:
        layers = tuple(Lay(x.colour, Stroke(COAT, x.stroke.passes, wet=x.stroke.turned)) for x in layers)
    return Area(name, layers, share, neighbours, at)


def colours(bench, found):
    return [bench.swatches[s.layer.colour].id for s in found.steps if isinstance(s.layer, Lay)]


@pytest.mark.parametrize("route", ROUTES)
@pytest.mark.parametrize("seed", STUDIES)
def test_every_areas_layers_come_in_their_own_order_whole_and_once(seed, route):
    bench, areas = random_study(seed)
    found = plan(bench, areas, route)
    for index, mine in enumerate(areas):
        laid = [
            (n, s.layer) for s in found.steps if s.layer is not None for a, n in zip(s.areas, s.numbers, strict=True) if a == index
        ]
        assert laid == list(enumerate(mine.layers))


@pytest.mark.parametrize("route", ROUTES)
@pytest.mark.parametrize("seed", STUDIES)
def test_what_goes_wet_follows_at_once_and_what_goes_dry_finds_it_dry(seed, route):
    bench, areas = random_study(seed)
    steps = plan(bench, areas, route).steps
    clock, laid, last = 0.0, {}, {}
    for at, step in enumerate(steps):
        if isinstance(step.layer, Lay) and bench.swatches[step.layer.colour].kind == "dye":
            for a in step.areas:
                if step.layer.stroke.wet and a in last and len(step.areas) == 1:
                    assert not [s for s in steps[last[a] + 1 : at] if s.does in ("lay", "dry") and a not in s.areas]
                elif not step.layer.stroke.wet and a in laid:
                    assert clock - laid[a] >= DRIES - 1e-9
        clock += step.minutes
        if isinstance(step.layer, Lay):
            laid.update(dict.fromkeys(step.areas, clock))
            last.update(dict.fromkeys(step.areas, at))


@pytest.mark.parametrize("seed", STUDIES)
def test_bare_areas_are_kept_before_anything_is_laid(seed):
    bench, areas = random_study(seed)
    steps = plan(bench, areas, "sheet").steps
    bare = {i for i, a in enumerate(areas) if not a.layers}
    kept = [at for at, s in enumerate(steps) if s.does in ("reserve", "mask")]
    first = next((at for at, s in enumerate(steps) if s.layer is not None), len(steps))
    assert {a for at in kept for a in steps[at].areas} == bare
    assert all(at < first for at in kept)


@pytest.mark.parametrize("seed", range(30))
def test_the_colour_route_is_near_the_fewest_changes_there_are(seed):
    bench, areas = random_study(3 * seed, most_areas=6, most_layers=5, colours=6)
    areas = [Area(a.id, tuple(x for x in a.layers if isinstance(x, Lay)), a.sheets) for a in areas]
    least = fewest([runs_of(a.layers, [(0, 0)] * len(a.layers)) for a in areas])
    assert plan(bench, areas, "colour").colour_changes <= 1.3 * least


@pytest.mark.parametrize("seed", STUDIES)
def test_the_colour_route_never_changes_more_often_than_the_others(seed):
    bench, areas = random_study(seed)
    few = plan(bench, areas, "colour").colour_changes
    assert few <= min(plan(bench, areas, r).colour_changes for r in ("sheet", "feature"))


@pytest.mark.parametrize("route", ["sheet", "colour"])
def test_a_schools_stages_hold_over_the_whole_sheet(route):
    school = SCHOOLS["dark_first"]
    areas = [area("cheek", WAX, "brown light 2, cream medium 1"), area("jaw", WAX, "black firm 4, pink light 1")]
    laid = colours(WAX, plan(WAX, areas, route, school))
    assert laid.index("brown") < laid.index("pink") < laid.index("cream")
    free = colours(WAX, plan(WAX, areas, "feature"))
    assert free.index("pink") < free.index("brown")


def test_a_school_that_maps_in_light_holds_the_darks_of_the_whole_sheet_back():
    areas = [area("jaw", WAX, "brown medium 2"), area("cheek", WAX, "cream light 1")]
    assert colours(WAX, plan(WAX, areas, "sheet", SCHOOLS["map_in_light"])) == ["cream", "brown"]
    assert colours(WAX, plan(WAX, areas, "sheet")) == ["brown", "cream"]


def test_a_recipe_that_does_not_follow_the_school_is_told_and_still_planned():
    areas = [area("cheek", WAX, "cream medium 2, brown light 2")]
    found = plan(WAX, areas, "sheet", SCHOOLS["dark_first"])
    assert colours(WAX, found) == ["cream", "brown"]
    assert "dark first" in found.conflicts[0].what
    assert found.conflicts[0].nearest
    eye = plan(WAX, [replace(areas[0], id="iris", meets="outline")], "sheet", SCHOOLS["dark_first"])
    assert colours(WAX, eye) == ["cream", "brown"]
    assert eye.conflicts == (), "a school is for skin"


def test_the_darkest_dark_comes_first_unless_its_recipe_waits():
    areas = [
        area("cheek", WAX, "pink light 2, cream medium 2"),
        area("pupil", WAX, "black firm 4"),
        area("jaw", WAX, "brown medium 2"),
    ]
    for route in ROUTES:
        steps = [s for s in plan(WAX, areas, route).steps if s.does == "lay"]
        assert steps[0].areas[0] == 1, route
        assert "darkest dark" in steps[0].why


def test_the_darkest_dark_is_drawn_whole_before_all_grow_alike_and_said_to_stand_when_it_does():
    areas = [area("cheek", WAX, "pink light 2, cream medium 2"), area("pupil", WAX, "blue medium 1, black firm 4")]
    steps = [s for s in plan(WAX, areas, "sheet").steps if s.does == "lay"]
    assert [s.areas for s in steps] == [(1,), (1,), (0,), (0,)]
    assert ["darkest dark stands" in s.why for s in steps] == [False, True, False, False]
    # Where light comes before dark the dark waits for its turn.
    dye = [area("cheek", DYE, "pink light 2, brown medium 2"), area("pupil", DYE, "cream light 1, black firm 2")]
    assert [s.areas[0] for s in plan(DYE, dye, "sheet").steps if s.does == "lay"][:3] != [1, 1, 0]


def test_a_reason_is_told_with_the_layer_it_speaks_of_and_of_skin_only_on_skin():
    areas = [area("cheek", WAX, "brown light 1, yellow light 2, pink medium 2"), area("jaw", WAX, "black firm 3")]
    told = {s.layer.colour: s.why for s in plan(WAX, areas).steps if s.does == "lay"}
    names = {WAX.swatches[c].id: why for c, why in told.items()}
    assert (names["brown"], names["yellow"]) == ("", "pink over yellow reads as a natural skin.")
    assert not any("skin" in s.why for s in plan(WAX, [replace(a, meets="outline") for a in areas]).steps)


def test_markers_go_from_light_to_dark_and_pencils_from_dark_to_light():
    texts = ("cream light 1", "orange light 1", "brown light 1")
    dye = colours(DYE, plan(DYE, [area(t.split()[0], DYE, t) for t in texts] + [area("pupil", DYE, "black light 1")], "sheet"))
    assert dye == ["black", "cream", "orange", "brown"]
    wax = colours(WAX, plan(WAX, [area(t.split()[0], WAX, t) for t in texts], "sheet"))
    assert wax == ["brown", "orange", "cream"]


def test_no_marker_comes_after_wax_and_the_white_pen_is_last_on_the_whole_sheet():
    bench = plan_bench("wax_pencil")
    kit = (*bench.swatches, *(replace(DYE.swatches[i], id=f"dye {i}") for i in range(12)), swatch("pen", (96, 0, 1), "white_pen"))
    bench, coat = Workbench(kit, bench.ground), Stroke(COAT, 1)
    wax, dye, pen = (lambda i: Lay(i, Stroke("light", 2))), (lambda i: Lay(12 + i, coat)), Lay(24, coat)
    recipes = [(dye(1), pen), (dye(3), wax(10), pen), (wax(5),), (dye(6), dye(8)), (dye(10), dye(4), wax(11), wax(2))]
    areas = [Area(f"area {i}", layers, 0.1) for i, layers in enumerate(recipes)]
    for route in ROUTES:
        laid = [s.layer.colour for s in plan(bench, areas, route).steps if s.does == "lay"]
        kinds = ["pen" if c == 24 else "dye" if c >= 12 else "wax" for c in laid]
        assert kinds == sorted(kinds, key=["dye", "wax", "pen"].index if route != "feature" else "pen".__eq__), route
    under = [Area("ground", (wax(1), dye(3)), 0.1), Area("glint", (pen, dye(1)), 0.1), Area("cheek", (dye(0),), 0.1)]
    told = [[s.layer.colour for s in plan(bench, under, r).steps if s.does == "lay"] for r in ROUTES]
    assert all(t.index(1) < t.index(15) and t.index(24) < t.index(13) for t in told)


def test_crumbs_come_off_between_a_dark_and_a_pale_colour():
    areas = [area("hair", CHALK, "brown medium 2"), area("brow", CHALK, "cream light 2")]
    does = [s.does for s in plan(CHALK, areas, "sheet").steps]
    assert does == ["lay", "clean", "lay"]
    assert "clean" not in [s.does for s in plan(CHALK, areas[1:], "sheet").steps]


def test_white_beside_a_hard_edge_of_dye_is_masked_and_beside_a_soft_one_reserved():
    for kind, act in (("hard", "mask"), ("soft", "reserve")):
        areas = [area("glint", DYE, "", neighbours=((1, kind),)), area("iris", DYE, "blue light 1", neighbours=((0, kind),))]
        assert plan(DYE, areas, "sheet").steps[0].does == act


def test_dye_waits_for_the_other_side_of_a_hard_edge_to_dry():
    def does(kind):
        areas = [area("a", DYE, "pink light 1", 0.01, ((1, kind),)), area("b", DYE, "blue light 1", 0.01, ((0, kind),))]
        return [s.does for s in plan(DYE, areas, "sheet").steps]

    assert does("hard") == ["lay", "dry", "lay"]
    assert does("soft") == ["lay", "lay"]


def test_the_hand_moves_from_the_clean_side_on():
    places = {"left": (0.1, 0.5), "right": (0.9, 0.5), "top": (0.5, 0.1)}
    areas = [area(n, WAX, "pink light 2", at=at) for n, at in places.items()]
    for right, expected in ((True, ["top", "left", "right"]), (False, ["top", "right", "left"])):
        (step,) = plan(WAX, areas, "sheet", right_handed=right).steps
        assert [areas[a].id for a in step.areas] == expected


def test_what_a_recipe_asks_against_the_paper_is_a_conflict_with_a_way_out():
    areas = [area("early", WAX, "pink burnish 2, brown light 1"), area("late", WAX, "brown light 1, pink burnish 2")]
    found = plan(WAX, areas, "sheet")
    assert [c.areas for c in found.conflicts] == [(0,)]
    assert "burnished before" in found.conflicts[0].what
    full = plan(WAX, [area("full", WAX, ", ".join(["brown burnish 6", "pink burnish 6"] * 4))], "sheet")
    assert any("full" in c.what for c in full.conflicts)


def test_sittings_are_whole_no_longer_than_asked_and_end_where_one_can_stop():
    bench, areas = random_study(2)
    found = plan(bench, areas, "sheet", sitting_minutes=15)
    assert [at for first, last in found.sittings for at in range(first, last + 1)] == list(range(len(found.steps)))
    assert len(found.sittings) > 1
    for first, last in found.sittings:
        spent = sum(s.minutes for s in found.steps[first : last + 1])
        assert spent <= 15 or last - first < 4
    for (_, last), (first, _) in pairwise(found.sittings):
        assert found.steps[last].does not in ("reserve", "mask", "clean", "dry")
        after = found.steps[first].layer
        assert not (isinstance(after, Lay) and after.stroke.wet)
    assert plan(bench, areas, "sheet").sittings == ((0, len(found.steps) - 1),)


def test_a_layer_is_carried_over_a_soft_edge_by_the_step_that_lays_it():
    soft = [area("light", WAX, "cream firm 3", neighbours=((1, "soft"),)), area("dark", WAX, "ochre firm 2, brown firm 6")]
    found = plan(WAX, soft, "sheet")
    ((at, words),) = found.edges.items()
    assert found.steps[at].does == "lay"
    assert WAX.swatches[found.steps[at].layer.colour].id.casefold() in words[0].casefold()


def test_every_step_of_a_colour_says_when_to_stop_and_blends_keep_their_place():
    areas = [Area("cheek", (*stack(WAX, "pink light 2"), Blend("stump"), *stack(WAX, "cream light 1")), 0.3)]
    found = plan(WAX, areas, "sheet")
    assert [s.does for s in found.steps] == ["lay", "blend", "lay"]
    assert all(s.stop_when for s in found.steps if s.does == "lay")
    assert found.tooth_used[0] > 0


def test_dust_alcohol_and_knives_are_warned_of_and_the_label_comes_first():
    from caltin_core.media.layers import Lift

    chalk = plan(CHALK, [area("a", CHALK, "pink light 1")], "sheet").cautions
    dye = plan(DYE, [area("a", DYE, "pink light 1")], "sheet").cautions
    knife = plan(WAX, [Area("a", (*stack(WAX, "pink light 1"), Lift("knife")), 0.1)], "sheet").cautions
    assert any("mask" in c for c in chalk)
    assert any("no flame" in c for c in dye)
    assert any("away from the hand" in c for c in knife)
    assert all("label" in c[-1] for c in (chalk, dye, knife))
    warned = plan(WAX, [area("a", WAX, "pink burnish 1,blue firm 2")], "sheet").cautions
    assert all(on_paper(c).count(FIRST) == 1 for c in (chalk, dye, knife, warned, ()))
    assert on_paper(chalk) == list(chalk)
    assert any("Pencil dust" in c for c in on_paper(warned))


def test_what_labels_say_is_told_and_the_label_comes_first():
    told = with_labels(["4 passes.", FIRST], {"Ember": "cadmium"}, ["Gull", "Signal"])
    assert told[0] == "4 passes."
    assert told[1].startswith("Ember contains cadmium: ")
    assert told[2].startswith("Gull and Signal fade in light")
    assert told[3:] == [FIRST]
    both = with_labels([], {"Ember": "cadmium", "Butter": "cadmium", "Quay": "lead"}, [])
    assert [x.split(":")[0] for x in both[:-1]] == ["Ember and Butter contain cadmium", "Quay contains lead"]
    assert with_labels([], {}, ["Gull"]) == ["Gull fades in light: keep the drawing out of the sun."]
    assert with_labels([], {"Ember": "lead"}, [])[-1] == FIRST
    assert with_labels([], {}, []) == []


def test_what_is_not_warned_of_everywhere_says_where():
    chin, brow = area("chin", WAX, "brown burnish 4"), area("brow", WAX, "pink light 1")
    said = "4 burnished passes in one place"
    assert plan(WAX, [chin, replace(chin, id="jaw")], "sheet").cautions[0].startswith(said)
    (warned,) = plan(WAX, [chin, brow, replace(chin, id="jaw")], "sheet").cautions
    assert warned.startswith(f"chin and jaw: {said}")


def test_nothing_to_draw_is_an_empty_plan():
    found = plan(WAX, [], "colour")
    assert (found.steps, found.sittings, found.colour_changes) == ((), (), 0)


def test_the_order_hangs_on_nothing_but_what_was_asked():
    bench, areas = random_study(7)
    one, other = plan(bench, areas, "colour"), plan(bench, list(areas), "colour")
    assert one == other


def test_the_same_chains_are_found_whatever_the_areas_order():
    _, areas = random_study(0, most_areas=4, most_layers=3)
    changes = set()
    for order in permutations(range(len(areas))):
        runs = [runs_of(areas[i].layers, [(0, 0)] * len(areas[i].layers)) for i in order]
        acts = ordered(Sheet(runs, {}, 0, range(len(runs)), True), "colour")
        laid = [c for act in acts for c in runs[act.areas[0]][act.runs[0]].chain]
        changes.add(int(np.sum([a != b for a, b in pairwise(laid)])))
    assert len(changes) == 1


def test_what_an_area_was_measured_to_look_like_is_what_one_stops_at_and_not_where_its_finish_adds_layers():
    plain = area("cheek", WAX, "ochre medium 2, brown light 2")
    ((labs, used),) = courses_of(WAX, [plain.layers])
    darker = replace(plain, seen=(labs - np.outer([0, 1, 1], [20.0, 0.0, 0.0]), used))

    def stops(mine):
        return [s.stop_when for s in plan(WAX, [mine]).steps if s.does == "lay"]

    assert stops(darker) == [f"stop when cheek reads as value {float(munsell_value(lab)):.1f}" for lab in darker.seen[0][1:]]
    assert stops(darker) != stops(plain)
    assert stops(replace(darker, finish=1.0)) == stops(replace(plain, finish=1.0))
