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
from caltin_core.recipes.schools import FAMILIES, checked, families_of, zones_of
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
    [((23, 0, 0), {"black"}), ((96, 0, 1), {"white", "pale", "grey"}), ((64, 18, 30), {"tan", "skin"}), ((86, 2, 22), {"pale tint"}),
     ((60, 44, 50), {"vivid", "bright"}), ((34, 6, -40), {"blue", "dark"}), ((40, 24, -26), {"violet"}), ((30, 14, 14), {"brown", "dark"})],
)  # fmt: skip
def test_colours_belong_to_the_families_one_would_say(lab, named):
    assert named <= families_of(np.array(lab, dtype=float)) <= set(FAMILIES)


@pytest.mark.parametrize(
    ("change", "where"),
    [({"families": ("mauve",)}, "stages[0].families"), ({"families": ()}, "stages[0].families"),
     ({"pressures": ("hard",)}, "stages[0].pressures"), ({"zones": ("noon",)}, "stages[0].zones"), ({"most": 0}, "stages[0].most")],
)  # fmt: skip
def test_a_school_that_cannot_be_followed_is_refused_at_its_stage(change, where):
    school = SCHOOLS["few_colours"]
    with pytest.raises(BadRequest) as fault:
        checked(replace(school, stages=(replace(school.stages[0], **change),)))
    assert fault.value.where == where
    with pytest.raises(BadRequest, match="one stage"):
        checked(replace(school, stages=()))
