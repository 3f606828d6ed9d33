"""Media side by side, on one another and in other lights, over the command line."""

import pytest

from caltin_core.media.hand import HANDS
from tests.core.asking import CALIBRATE, MARKERS, PREDICT, SURFACE, ask, pressed


def test_coats_and_passes_stand_side_by_side_and_warnings_are_told():
    coats, both = ask("predict", MARKERS)["results"]
    assert "dead" in coats["cautions"][0]
    assert "cautions" not in both
    assert 0 < coats["tooth_used"] < 1


def test_markers_are_matched_in_coats():
    request = {k: MARKERS[k] for k in ("surface",)} | {
        "colours": MARKERS["colours"][:2],
        "targets": [{"role": "base", "lab": [72, 8, 10]}],
    }
    best = ask("match", request)["matches"][0]["recipes"][0]
    assert all("pressure" not in layer for layer in best["layers"])
    again = ask("predict", {**{k: request[k] for k in ("surface", "colours")}, "stacks": [{"id": "a", "layers": best["layers"]}]})
    assert again["results"][0]["lab"] == pytest.approx(best["lab"], abs=0.01)


def test_other_lights_are_told_where_the_spectra_were_measured():
    spectrum = {"start": 400, "step": 20, "values": [0.1] * 8 + [0.5] * 8}
    request = {
        "surface": SURFACE,
        "colours": [
            {"id": "red", "reflectance": spectrum, "medium": "wax_pencil"},
            {"id": "tan", "lab": [66, 16, 26], "medium": "wax_pencil"},
        ],
        "targets": [{"role": "base", "reflectance": spectrum}],
        "rules": {"avoid": ["tan"]},
        "lights": ["A", "LED-B3"],
    }
    recipe = ask("match", request)["matches"][0]["recipes"][0]
    assert [light["illuminant"] for light in recipe["lights"]] == ["A", "LED-B3"]
    assert all(light["de00"] >= 0 and light["words"] for light in recipe["lights"])
    unknown = ask("match", {**request, "rules": {"avoid": ["red"]}})["matches"][0]["recipes"][0]["lights"][0]
    assert unknown == {"illuminant": "A", "words": "not known"}

    started = {"lab": [80, 4, 12], "tooth_used": 0.1, "medium": "wax_pencil"}
    (target,) = request["targets"]
    on = ask("match", {**request, "targets": [{**target, "start": started}]})["matches"][0]["recipes"][0]["lights"][0]
    assert on == {"illuminant": "A", "words": "not known"}


_ON = {
    "wax_pencil": [pressed("pale", "medium", 3), pressed("red", "burnish", 1)],
    "soft_pastel": [pressed("pale", "firm", 2), pressed("red", "light", 2), {"blend": "stump"}],
    "alcohol_marker": [{"colour": "pale", "passes": 2}, {"colour": "red", "passes": 1, "wet": True}],
}


@pytest.mark.parametrize("command", ["match", "family"])
@pytest.mark.parametrize("medium", _ON)
def test_what_is_laid_on_known_layers_is_predicted_as_if_all_were_laid_at_once(medium, command):
    labs = {"pale": [84, 8, 20], "red": [58, 34, 26], "dark": [44, 14, -16]}
    kit = {
        "surface": {"name": "sheet", "lab": [93, 0, 4], "tooth": "vellum"},
        "colours": [{"id": name, "lab": lab, "medium": medium} for name, lab in labs.items()],
    }
    target = {"role": "shadow", "lab": [50, 22, 14], "start": {"layers": _ON[medium]}}
    found = ask(command, {**kit, "targets": [target], "rules": {"max_layers": 2}})["matches"][0]["recipes"]
    stacks = [{"id": str(i), "layers": [*_ON[medium], *r["layers"]]} for i, r in enumerate(found)]
    for recipe, seen in zip(found, ask("predict", {**kit, "stacks": stacks})["results"], strict=True):
        assert recipe["lab"] == pytest.approx(seen["lab"], abs=2e-3)
        assert recipe["uncertainty_de00"] == pytest.approx(seen["uncertainty_de00"], abs=2e-3)
        assert recipe["tooth_used"] == pytest.approx(seen["tooth_used"], abs=1e-4)
        assert [a["hex"] for a in recipe["after"]] == [a["hex"] for a in seen["after"]][-len(recipe["layers"]) :]


def test_layers_are_warned_of_together_with_what_is_drawn_already():
    start = {"layers": [{"colour": "dye", "passes": 6}]}
    request = {"surface": SURFACE, "colours": [{"id": "dye", "lab": [50, 30, 20], "medium": "alcohol_marker"}]}
    warned, not_warned = (
        ask("match", {**request, "targets": [{"role": "base", "lab": [20, 40, 26], **on}]})["matches"][0]["recipes"][0]
        for on in ({"start": start}, {})
    )
    assert any("coats in one place" in said for said in warned["cautions"])
    assert not any("coats in one place" in said for said in not_warned.get("cautions", ()))


_MIXED = [
    {"id": "wax", "lab": [66, 16, 26], "medium": "wax_pencil"},
    {"id": "pale wax", "lab": [88, 3, 14], "medium": "oil_pencil"},
    {"id": "dye", "lab": [45, 20, 24], "medium": "alcohol_marker"},
    {"id": "red dye", "lab": [55, 40, 25], "medium": "alcohol_marker"},
    {"id": "pen", "lab": [97, 0, 0], "medium": "white_pen"},
]


def test_no_recipe_and_no_cure_lays_marker_on_wax_or_anything_on_the_white_pen():
    # Both fail; common practice.
    lab = [80, 8, 16]
    medium = {c["id"]: c["medium"] for c in _MIXED}
    kit = {"surface": SURFACE, "colours": _MIXED}
    done = [pressed("wax", "medium", 3)]
    started = {"lab": [66, 14, 24], "tooth_used": 0.3, "medium": "wax_pencil"}
    on = [{"role": "on", "lab": lab, "start": {"layers": done}}, {"role": "on a colour", "lab": lab, "start": started}]
    found = ask("match", {**kit, "targets": on})["matches"]
    found += ask("family", {**kit, "targets": [{"role": "bare", "lab": lab}]})["matches"]
    cured = ask("cure", {**kit, "done": done, "target": {"lab": lab}})["cures"]
    stacks = [[*(done if "on" in m["role"] else []), *r["layers"]] for m in found for r in m["recipes"]]
    stacks += [[*done, *c["layers"]] for c in cured]
    assert stacks
    for layers in stacks:
        laid = [medium[x["colour"]] for x in layers if "colour" in x]
        for at, one in enumerate(laid):
            over = set(laid[at + 1 :])
            assert not ("pencil" in one and "alcohol_marker" in over), layers
            assert not (one == "white_pen" and over - {"white_pen"}), layers


@pytest.mark.parametrize(("role", "told"), [("base", True), ("Eye white", False), ("hair-in-light", False), ("my own", True)])
def test_a_grey_is_told_to_deaden_what_is_of_skin_and_nothing_else(role, told):
    # Common practice.
    kit = [
        {"id": "skin", "lab": [80, 12, 20], "medium": "alcohol_marker"},
        {"id": "grey", "lab": [66, 0, 0], "medium": "alcohol_marker"},
    ]
    request = {"surface": {"lab": [95, 0, 1], "name": "c", "tooth": "card"}, "colours": kit}
    layers = [{"colour": "skin", "passes": 1}, {"colour": "grey", "passes": 1}]
    (seen,) = ask("predict", {**request, "stacks": [{"id": "s", "layers": layers}]})["results"]
    (match,) = ask("match", {**request, "targets": [{"role": role, "lab": seen["lab"]}]})["matches"]
    grey = [r for r in match["recipes"] if [x["colour"] for x in r["layers"]][:2] == ["skin", "grey"]]
    assert all(any("looks dead" in c for c in r.get("cautions", ())) == told for r in grey)
    assert grey


def test_where_nothing_holds_on_what_lies_there_it_is_said():
    start = {"layers": [pressed("wax", "medium", 3)]}
    request = {"surface": SURFACE, "colours": _MIXED, "targets": [{"role": "base", "lab": [40, 18, 20], "start": start}]}
    (match,) = ask("match", {**request, "rules": {"avoid": ["wax", "pale wax", "pen"]}})["matches"]
    assert match["recipes"] == []
    assert match["reach"]["why"] == "nothing in use here holds on what lies there"


def test_a_sheet_said_again_is_the_same_sheet():
    again = [{**c, "on": SURFACE} if "on" not in c else c for c in CALIBRATE["colours"]]
    found, said = ask("calibrate", CALIBRATE), ask("calibrate", {**CALIBRATE, "colours": again})
    assert said["surface"] == found["surface"]
    assert said["residuals"] == found["residuals"]
    # And so it is when all that was found goes back: the sheet is then told of with its fit.
    asked, (brown, *_) = {**found, "stacks": PREDICT["stacks"][:1]}, found["colours"]
    del asked["residuals"]
    dark = {**SURFACE, "lab": [30, 0, 0]}
    alone, same, other = ([{**brown, **on}] for on in ({}, {"on": SURFACE}, {"on": dark}))
    alone, same, other = (ask("predict", {**asked, "colours": colours}) for colours in (alone, same, other))
    assert alone == same != other


def test_a_hand_measured_before_coats_were_known_is_taken():
    fitted = HANDS["heavy"].hand.fitted()
    without = {k: v for k, v in fitted.items() if k != "coat"}
    assert ask("predict", {**PREDICT, "hand": {"fitted": without}})["results"][0]["lab"] == pytest.approx(
        ask("predict", {**PREDICT, "hand": {"fitted": {**fitted, "coat": 1.0}}})["results"][0]["lab"]
    )


def test_what_is_out_of_reach_is_said_in_the_words_of_its_medium():
    def why(medium, lab, target):
        request = {
            "surface": SURFACE,
            "colours": [{"id": "a", "lab": lab, "medium": medium}],
            "targets": [{"role": "x", "lab": target}],
        }
        return ask("match", request)["matches"][0]["reach"]["why"]

    assert "darkest pencil" in why("wax_pencil", [40, 2, 2], [12, 1, 1])
    assert "darkest soft pastel" in why("soft_pastel", [40, 2, 2], [12, 1, 1])
    assert "pencil" not in why("alcohol_marker", [80, 2, 2], [8, 0, 0])
    assert "pencil" not in why("soft_pastel", [40, 2, 2], [99, 0, 0])
