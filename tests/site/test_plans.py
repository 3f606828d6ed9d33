"""A study's plan over the API: routes, sittings, an order of one's own. All kits and tones here are invented."""

import pytest


@pytest.fixture
def chosen(artist):
    """A study of three places with recipes in two colours each."""
    study = artist.begin()
    rows = {
        "base": [("slipway-rose", 2), ("lamp-glass", 1)],
        "shadow": [("clinker", 3), ("slipway-rose", 1)],
        "light": [("lamp-glass", 2)],
    }
    for lab, (role, layers) in zip(((62, 18, 20), (40, 16, 14), (80, 10, 18)), rows.items(), strict=True):
        study = artist.add(study, role, lab)
        laid = [{"colour": c, "pressure": "light", "passes": n, "point": "sharp", "turned": False} for c, n in layers]
        study = artist.change(study, do="set_recipe", place=role, layers=laid, kind="own")
    return study


@pytest.fixture
def artist(artist):
    names = {c["id"] for c in artist.get(f"kits/{artist.kit.thing_id}").json()["colours"]}
    if not {"slipway-rose", "lamp-glass", "clinker"} <= names:
        from caltin_site.kits import services as kits
        from caltin_site.kits.schemas import KitColour
        from caltin_site.shapes import Lab
        from demo.kits import WAX_24

        # What labels say, and a second stick that is called like the first of another colour.
        says = {"clinker": {"harmful": "lead"}, "lamp-glass": {"lightfast": "poor"}, "weir": {"name": "Clinker", "harmful": "zinc"}}
        colours = [
            KitColour(**{"id": i, "name": n, "medium": "wax_pencil", "tone": Lab(l=l, a=a, b=b), **says.get(i, {})})
            for i, n, (l, a, b) in WAX_24
        ]
        artist.kit = kits.begin_kit(artist.user, "Whole box", colours)
    return artist


def plan(artist, study, left=False):
    return artist.get(f"studies/{study['id']}/plan?left_handed={str(left).lower()}").json()


def laid(found):
    return [(s["colour"], [t["place"] for t in s["places"]]) for s in found["steps"]]


def test_each_route_lays_everything_once_and_the_colour_route_changes_least(artist, chosen):
    changes = {}
    for route in ("feature", "sheet", "colour"):
        study = artist.change(chosen, do="set_route", route=route)
        found = plan(artist, study)
        assert sorted((t["place"], t["layer"]) for s in found["steps"] for t in s["places"]) == sorted(
            [("base", 0), ("base", 1), ("shadow", 0), ("shadow", 1), ("light", 0)]
        )
        changes[route], chosen = found["changes"], study
    assert changes["colour"] == 2
    assert changes["colour"] <= min(changes.values())
    assert laid(found)[0] == ("clinker", ["shadow"])


def test_a_step_says_how_long_when_to_stop_and_why_and_a_sitting_ends(artist, chosen):
    whole = plan(artist, chosen)
    assert all(s["minutes"] > 0 and s["stop_when"] for s in whole["steps"])
    assert "darkest dark" in whole["steps"][0]["why"]
    assert len(whole["sittings"]) == 1
    short = plan(artist, artist.change(chosen, do="set_route", route="sheet", sitting_minutes=5))
    assert len(short["sittings"]) > 1
    assert sum(s["steps"] for s in short["sittings"]) == len(short["steps"])
    assert [s["sitting"] for s in short["steps"]] == sorted(s["sitting"] for s in short["steps"])


def test_what_labels_say_of_the_colours_used_is_told_and_what_one_is_taken_for(artist, chosen):
    found = plan(artist, chosen)
    assert "Clinker contains lead: make no dust" in " ".join(found["cautions"])
    assert "zinc" not in " ".join(found["cautions"])
    assert "Lamp Glass fades in light" in " ".join(found["cautions"])
    assert "label" in found["cautions"][-1]
    for step in found["steps"]:
        assert ("another stick is called so too" in step["beware"]) == (step["colour"] == "clinker")


def test_crumbs_come_off_before_the_pale_colour(artist, chosen):
    found = plan(artist, chosen)
    pale = next(s for s in found["steps"] if s["colour"] == "lamp-glass")
    assert pale["first"][0].startswith("Crumbs off")


def test_an_order_of_ones_own_stays_until_another_route_is_chosen(artist, chosen):
    steps = [s["places"] for s in plan(artist, chosen)["steps"]]
    turned = {"seen": chosen["revision"], "op": {"do": "order_steps", "steps": steps[::-1]}}
    refused = artist.post(f"studies/{chosen['id']}/changes", turned)
    assert refused.status_code == 400
    assert refused.json()["where"].startswith("steps[")
    mine = artist.change(chosen, do="order_steps", steps=steps[::-1], mend=True)
    found = plan(artist, mine)
    assert found["own_order"]
    assert found["steps"][0]["places"] != steps[0]
    same = artist.change(mine, do="set_route", route="sheet", sitting_minutes=30)
    assert plan(artist, same)["own_order"]
    other = artist.change(same, do="set_route", route="feature")
    assert not plan(artist, other)["own_order"]


def test_a_recipe_that_burnishes_early_is_a_conflict_with_a_way_out(artist, chosen):
    layers = [
        {"colour": "clinker", "pressure": "burnish", "passes": 2, "point": "sharp", "turned": False},
        {"colour": "lamp-glass", "pressure": "light", "passes": 1, "point": "sharp", "turned": False},
    ]
    found = plan(artist, artist.change(chosen, do="set_recipe", place="shadow", layers=layers, kind="own"))
    assert "burnished before" in found["conflicts"][0]["what"]
    assert found["conflicts"][0]["nearest"]
