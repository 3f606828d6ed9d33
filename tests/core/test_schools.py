"""Schools: their order, zones and pressures hold in every recipe. All of it is common practice, without a source."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from caltin_core.errors import BadRequest
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.family import Member, family
from caltin_core.recipes.match import matches
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.school_list import SCHOOLS
from caltin_core.recipes.schools import FAMILIES, checked, families_of, leaves_out, left_out, stage_table, zones_of
from caltin_core.recipes.targets import Target
from tests.core.builders import demo_bench, random_bench

FACE = ((84, 9, 20), (66, 18, 24), (50, 22, 22), (34, 16, 14), (26, 8, 8))
MEDIUM = {"pencil": "wax_pencil", "marker": "alcohol_marker", "pastel": "soft_pastel"}
SLUGS = [
    "dark_first",
    "map_in_light",
    "white_guard",
    "cool_under",
    "deep_hard_leads",
    "vivid_base",
    "few_colours",
    "shadows_first",
    "coloured_base",
    "few_brights",
    "light_to_dark",
    "cool_shadow_first",
    "full_under_painting",
    "values_first",
    "light_and_glaze",
    "dark_first_pale_last",
    "all_over_tan",
]


def targets(labs=FACE):
    return [Target(str(i), np.array(lab, dtype=float)) for i, lab in enumerate(labs)]


def kit_of(school, seed, many=16):
    rng = np.random.default_rng(seed)
    some = random_bench(rng, many, blacks=1)
    return Workbench(tuple(replace(s, medium=MEDIUM[school.medium]) for s in some.swatches), some.ground)


def stages_of(school, bench, recipe, zone):
    """The stage of every layer, each the earliest that takes it; a failure where one finds none."""
    at, out = 0, []
    for layer in recipe.layers:
        swatch_, stroke = bench.swatches[layer.colour], layer.stroke
        at = next(
            i
            for i, stage in list(enumerate(school.stages))[at:]
            if families_of(swatch_.lab) & set(stage.families)
            and (swatch_.kind != "film" or stroke.pressure in stage.pressures)
            and stroke.passes <= stage.most
            and (zone is None or zone in stage.zones)
        )
        out.append(at)
    return out


def test_every_school_of_the_trade_is_there_with_what_it_is_good_for():
    assert list(SCHOOLS) == SLUGS
    for school in SCHOOLS.values():
        assert checked(school) is school
        assert school.good_for and school.danger and school.medium in MEDIUM  # noqa: PT018


@settings(max_examples=4, deadline=None)
@given(seed=st.integers(0, 500), slug=st.sampled_from(sorted(SCHOOLS)))
def test_every_recipe_keeps_to_its_school_wherever_it_lies(seed, slug):
    school = SCHOOLS[slug]
    bench = kit_of(school, seed)
    rng = np.random.default_rng(seed)
    labs = sorted((rng.uniform(20, 88), rng.uniform(5, 30), rng.uniform(5, 35)) for _ in range(3))
    zones = zones_of(np.array([lab[0] for lab in labs]))
    for found, zone in zip(matches(bench, targets(labs), Rules(school=school, black="allowed")), zones, strict=True):
        for recipe in found.recipes:
            assert stages_of(school, bench, recipe, zone) == sorted(stages_of(school, bench, recipe, zone))


@pytest.mark.parametrize("slug", ["white_guard", "deep_hard_leads"])
def test_a_family_keeps_to_its_school_too(slug):
    school, bench = SCHOOLS[slug], demo_bench()
    found = family(bench, [Member(t) for t in targets()], Rules(school=school, black="allowed", max_colours=9))
    zones = zones_of(np.array([lab[0] for lab in FACE]))
    for match, zone in zip(found.matches, zones, strict=True):
        assert match.recipes
        for recipe in match.recipes:
            stages_of(school, bench, recipe, zone)


# In a study of these targets: the place among them, its zone, and what lies there first of all, or last.
@pytest.mark.parametrize(
    ("slug", "at", "zone", "layer", "families"),
    [("dark_first", 1, "light", -1, {"pale", "white"}), ("map_in_light", 4, "shade", 0, {"pale", "light"}),
     ("white_guard", 0, "light", 0, {"white"}), ("cool_under", 3, "shade", 0, {"blue", "grey"}),
     ("vivid_base", 2, "middle", 0, {"vivid"}), ("few_colours", 1, "light", 0, {"yellow"})],
)  # fmt: skip
def test_what_a_school_is_chosen_for_is_laid(slug, at, zone, layer, families):
    school, bench = SCHOOLS[slug], demo_bench()
    assert zones_of(np.array([lab[0] for lab in FACE]))[at] == zone
    recipe = list(matches(bench, targets(), Rules(school=school, black="allowed")))[at].recipes[0]
    assert left_out(bench, recipe.layers, school, zone) == []
    assert families_of(bench.swatches[recipe.layers[layer].colour].lab) & families


def test_a_school_s_recipes_have_what_it_is_chosen_for_and_miss_by_little_more():
    missing, away = [], []
    for slug in ("coloured_base", "dark_first_pale_last"):
        school = SCHOOLS[slug]
        bench = kit_of(school, 5)
        zones = zones_of(np.array([lab[0] for lab in FACE]))
        indifferent = replace(school, stages=tuple(replace(s, wanted=()) for s in school.stages))
        for asked in (school, indifferent):
            found = [m.recipes[0] for m in matches(bench, targets(), Rules(school=asked, black="allowed"))]
            missing.append(sum(len(left_out(bench, r.layers, school, z)) for r, z in zip(found, zones, strict=True)))
            away.append(np.mean([r.difference.de00 for r in found]))
    assert sum(missing[::2]) <= sum(missing[1::2]) / 2
    assert np.mean(away[::2]) < np.mean(away[1::2]) + 0.3


def test_all_that_is_offered_has_what_the_closest_has_where_it_can():
    school = SCHOOLS["coloured_base"]
    bench = kit_of(school, 6)
    zones = zones_of(np.array([lab[0] for lab in FACE]))
    found = list(matches(bench, targets(), Rules(school=school, black="allowed")))
    left = [[len(left_out(bench, r.layers, school, z)) for r in m.recipes] for m, z in zip(found, zones, strict=True)]
    assert sum(len(each) for each in left) > len(FACE)
    assert sum(max(each) > each[0] for each in left) <= 1


def test_no_school_binds_what_is_not_of_skin():
    school = SCHOOLS["vivid_base"]
    bench, zone = demo_bench(), "middle"
    eye, skin = ([*targets(), Target("iris", np.array([50.0, -4, -12]), skin=skin)] for skin in (False, True))
    (_, _, _, _, _, blue), (_, _, _, _, _, other) = (list(matches(bench, t, Rules(school=school))) for t in (eye, skin))
    assert not left_out(bench, other.recipes[0].layers, school, zone)
    (free,) = matches(bench, eye[-1:], Rules())
    assert [r.layers for r in blue.recipes] == [r.layers for r in free.recipes]
    assert blue.recipes[0].difference.de00 < 1 < other.recipes[0].difference.de00


@settings(max_examples=60, deadline=None)
@given(seed=st.integers(0, 10_000))
def test_whether_a_stage_is_left_out_is_told_by_every_way_to_give_the_layers_stages(seed):
    rng = np.random.default_rng(seed)
    bench, school = kit_of(SCHOOLS["cool_under"], seed % 7), SCHOOLS["cool_under"]
    table = stage_table(school, bench)
    colour, stroke = rng.integers(0, len(bench.swatches), (12, 4)), rng.integers(0, 24, (12, 4))
    colour[:4, 3] = -1
    for stage in range(len(school.stages)):
        for row, said in enumerate(leaves_out(colour, stroke, table, stage)):
            ways = [()]
            for c, s in zip(colour[row], stroke[row], strict=True):
                if c >= 0:
                    takes = [k for k in range(len(school.stages)) if table[k, c, s] == k]
                    ways = [(*way, k) for way in ways for k in takes if not way or k >= way[-1]]
            assert said == (not any(stage in way for way in ways))


def test_zones_are_the_study_s_own_so_that_a_deep_complexion_has_lights_too():
    assert zones_of(np.array([44.0, 30, 18])) == ["light", "middle", "shade"]
    assert zones_of(np.array([90.0, 70, 40])) == ["light", "middle", "shade"]
    assert zones_of(np.array([60.0, 20])) == [None, None]
    assert zones_of(np.array([50.0, 50, 50])) == [None, None, None]


def test_white_guard_keeps_white_out_of_the_shades_and_light_and_glaze_begins_with_it():
    white = {
        s: [i for i, st_ in enumerate(SCHOOLS[s].stages) if "white" in st_.families] for s in ("white_guard", "light_and_glaze")
    }
    assert all("shade" not in SCHOOLS["white_guard"].stages[i].zones for i in white["white_guard"])
    assert white["light_and_glaze"][0] == 0
    assert len(white["light_and_glaze"]) == 2


def test_the_under_painting_is_crossed_once_only():
    skin = next(s for s in SCHOOLS["full_under_painting"].stages if "skin" in s.families)
    assert skin.most == 1


def test_schools_find_skin_in_the_demo_kit_each_in_its_own_order():
    bench = demo_bench()
    for slug, lab in (("dark_first", (40, 20, 20)), ("few_colours", (52, 24, 32)), ("vivid_base", (38, 22, 22))):
        (free,), (bound,) = (
            list(matches(bench, targets([lab]), r)) for r in (Rules(), Rules(school=SCHOOLS[slug], black="allowed"))
        )
        # The closest of many that miss alike is the surest, within ΔE00 0.3.
        assert free.recipes[0].difference.de00 <= bound.recipes[0].difference.de00 + 0.4
        assert bound.recipes[0].difference.de00 < 4
    dark = Rules(school=SCHOOLS["dark_first"], black="allowed")
    layers = next(iter(matches(bench, targets([(40, 20, 20)]), dark))).recipes[0].layers
    lightness = [bench.swatches[x.colour].lab[0] for x in layers]
    assert lightness[0] <= lightness[-1]


@pytest.mark.parametrize(
    ("lab", "named"),
    [((23, 0, 0), {"black"}), ((96, 0, 1), {"white", "pale"}), ((62, 0, 2), {"grey", "middle"}), ((64, 18, 30), {"tan", "skin"}), ((86, 2, 22), {"pale tint"}),
     ((60, 44, 50), {"vivid", "bright"}), ((34, 6, -40), {"blue", "dark"}), ((40, 24, -26), {"violet"}), ((30, 14, 14), {"brown", "dark"})],
)  # fmt: skip
def test_colours_belong_to_the_families_one_would_say(lab, named):
    assert named <= families_of(np.array(lab, dtype=float)) <= set(FAMILIES)


@pytest.mark.parametrize(
    ("change", "where"),
    [({"families": ("mauve",)}, "stages[0].families"), ({"families": ()}, "stages[0].families"),
     ({"pressures": ("hard",)}, "stages[0].pressures"), ({"zones": ("noon",)}, "stages[0].zones"), ({"most": 0}, "stages[0].most"),
     ({"zones": ("light",), "wanted": ("light", "shade")}, "stages[0].wanted")],
)  # fmt: skip
def test_a_school_that_cannot_be_followed_is_refused_at_its_stage(change, where):
    school = SCHOOLS["few_colours"]
    with pytest.raises(BadRequest) as fault:
        checked(replace(school, stages=(replace(school.stages[0], **change),)))
    assert fault.value.where == where
    with pytest.raises(BadRequest, match="one stage"):
        checked(replace(school, stages=()))
