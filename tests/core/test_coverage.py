"""What complexions a kit serves. The roles' factors are invented; common practice orders them."""

import numpy as np
import pytest

from caltin_core.colour.spectra import lab_from_reflectance
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.coverage import DEPTHS, HUES, ROLE_FACTORS, coverage, role_tones
from caltin_core.recipes.match import matches
from caltin_core.recipes.reach import IN_REACH
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.targets import Target
from tests.core.builders import demo_bench, ground, plain_bench, swatch


def test_roles_fall_from_highlight_to_accent_and_the_flush_is_redder():
    tones = role_tones(np.array([60.0, 14.0, 20.0]))
    falling = [tones[r][0] for r in ("highlight", "light", "base", "half-tone", "shadow", "accent")]
    assert falling == sorted(falling, reverse=True)
    assert tones["flush"][1] > tones["base"][1] + 4


@pytest.fixture
def two_undertones(monkeypatch):
    monkeypatch.setattr("caltin_core.recipes.coverage.HUES", HUES[::3])


@pytest.mark.usefixtures("two_undertones")
def test_a_kit_without_darks_serves_no_deep_complexion_and_says_so():
    pale = Workbench(tuple(s for s in plain_bench().swatches if s.id in ("white", "cream", "yellow", "pink", "ochre")), ground())
    seen = coverage(pale, Rules())
    deepest = seen.complexions[-2:]
    assert all("accent" not in c.reached() for c in deepest)
    assert any("dark" in w or "deep" in w for w in seen.words[-2:])


@pytest.mark.usefixtures("two_undertones")
def test_what_fails_most_often_and_what_lies_furthest_off_are_told_apart():
    dark = Workbench(tuple(s for s in plain_bench().swatches if s.id in ("orange", "violet", "brown")), ground())
    seen = coverage(dark, Rules())
    lost = {r: [c.missed[r] for c in seen.complexions if r not in c.reached()] for r in ROLE_FACTORS}
    often = max(lost, key=lambda r: len(lost[r]))
    furthest = max(lost, key=lambda r: max(lost[r], default=0.0))
    assert often != furthest
    assert seen.words[1] == (
        f"Missed most often is the {often}, by up to ΔE00 {max(lost[often]):.0f}; "
        f"furthest off is the {furthest}, by ΔE00 {max(lost[furthest]):.0f}."
    )


def test_it_agrees_with_match_on_what_is_in_reach():
    bench = demo_bench()
    seen = coverage(bench, Rules())
    assert len(seen.complexions) == len(DEPTHS) * len(HUES)
    for c in seen.complexions[8::36]:
        found = matches(bench, [Target(r, lab) for r, lab in c.tones.items()], Rules())
        for m in found:
            # Match looks longer: it may reach a role that was just missed here, never the other way about.
            assert m.reach.ok or m.role in c.beyond or c.missed[m.role] > IN_REACH["colour"] - 0.2


def test_an_empty_box_serves_nobody():
    bench = Workbench((swatch("one", tuple(lab_from_reflectance(ground().reflectance))),), ground())
    seen = coverage(bench, Rules(avoid=frozenset({0})))
    assert all(c.reached() == [] for c in seen.complexions)
    assert seen.words == ("No complexion is wholly in reach.", "No colour of this kit may be used.")
    assert set(seen.complexions[0].missed) == set(ROLE_FACTORS)
