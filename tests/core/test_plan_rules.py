"""Every rule of order is guarded: with the rule taken out of the planner, its check in `test_plan_make` fails."""

import pytest

from caltin_core.plan import make, order, steps
from caltin_core.plan.order import Sheet
from caltin_core.plan.runs import Run
from caltin_core.plan.steps import Step
from tests.core import test_plan_make as checks


def over_studies(check, *more):
    def every():
        for seed in checks.STUDIES:
            check(seed, *more)

    return every


def reserved(bench, areas):
    bare = tuple(i for i, a in enumerate(areas) if not a.layers)
    return [Step("reserve", bare, 0.5)] if bare else []


def backwards(laid):
    return lambda *given: laid(*given)[::-1]


# The rule; what of the planner it lives in, and what stands there instead; the check that must notice.
TAKEN_OUT = {
    "a recipe's own order": (
        steps, "_laid", backwards(steps._laid),
        over_studies(checks.test_every_areas_layers_come_in_their_own_order_whole_and_once, "sheet"),
    ),
    "a school's stages": (
        make, "_stages", lambda bench, areas, school, lightness: ([[0] * len(a.layers) for a in areas], []),
        checks.test_a_school_that_maps_in_light_holds_the_darks_of_the_whole_sheet_back,
    ),
    "the darkest dark early": (
        make, "Sheet", lambda runs, tone, anchor, features, dark: Sheet(runs, tone, -1, sorted(features), dark),
        checks.test_the_darkest_dark_comes_first_unless_its_recipe_waits,
    ),
    "markers light before dark": (
        make, "medium_of", lambda media: "pencil", checks.test_markers_go_from_light_to_dark_and_pencils_from_dark_to_light,
    ),
    "pencils dark before light": (
        make, "medium_of", lambda media: "marker", checks.test_markers_go_from_light_to_dark_and_pencils_from_dark_to_light,
    ),
    "markers before wax, the pen last": (
        make, "rounds_of", lambda bench, layers: [0] * len(layers),
        checks.test_no_marker_comes_after_wax_and_the_white_pen_is_last_on_the_whole_sheet,
    ),
    "whites reserved before neighbours": (
        steps, "_kept_bare", lambda bench, areas: [], over_studies(checks.test_bare_areas_are_kept_before_anything_is_laid),
    ),
    "masking at a hard edge of dye": (
        steps, "_kept_bare", reserved, checks.test_white_beside_a_hard_edge_of_dye_is_masked_and_beside_a_soft_one_reserved,
    ),
    "wet together": (
        make, "runs_of", lambda layers, stages: [Run((i,), (getattr(x, "colour", -1),), (0, 0)) for i, x in enumerate(layers)],
        over_studies(checks.test_what_goes_wet_follows_at_once_and_what_goes_dry_finds_it_dry, "colour"),
    ),
    "drying between": (
        steps._Paper, "_damp", lambda self, here: [], checks.test_dye_waits_for_the_other_side_of_a_hard_edge_to_dry,
    ),
    "crumbs off before pale passes": (steps, "_DARK", 0.0, checks.test_crumbs_come_off_between_a_dark_and_a_pale_colour),
    "from the clean side": (make, "_sided", lambda step, side: step, checks.test_the_hand_moves_from_the_clean_side_on),
    "burnish last, and room for the last layer": (
        make, "_conflicts", lambda bench, areas, seen: [],
        checks.test_what_a_recipe_asks_against_the_paper_is_a_conflict_with_a_way_out,
    ),
    "sittings end where one can stop": (
        make, "_stops", lambda every: [True] * len(every),
        checks.test_sittings_are_whole_no_longer_than_asked_and_end_where_one_can_stop,
    ),
    "fewest changes of colour": (
        order, "_few_changes", order._together,
        lambda: [checks.test_the_colour_route_is_near_the_fewest_changes_there_are(seed) for seed in range(12)],
    ),
    "layers carried over edges": (
        make, "_crossings", lambda bench, areas, every, labs: {},
        checks.test_a_layer_is_carried_over_a_soft_edge_by_the_step_that_lays_it,
    ),
    "a signal to stop": (
        make, "_explained", lambda bench, areas, every, seen, anchor: every,
        checks.test_every_step_of_a_colour_says_when_to_stop_and_blends_keep_their_place,
    ),
    "cautions": (
        make, "safety", lambda media, layers: (), checks.test_dust_alcohol_and_knives_are_warned_of_and_the_label_comes_first,
    ),
}  # fmt: skip


@pytest.mark.parametrize("rule", TAKEN_OUT)
def test_taken_out_the_rule_is_missed(rule, monkeypatch):
    where, name, instead, check = TAKEN_OUT[rule]
    check()
    monkeypatch.setattr(where, name, instead)
    with pytest.raises((AssertionError, ValueError)):
        check()
