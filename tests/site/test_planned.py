"""A planned light over the API: shown, taken as places in one step, and taken again."""

import base64
import io

import numpy as np
import pytest
from PIL import Image

from caltin_core.recipes.coverage import complexions

BASE = {"l": 66.0, "a": 15.0, "b": 18.0}
ROLES = ["light", "base", "shadow"]


def test_a_planned_light_shows_its_tones_and_a_ball_and_keeps_nothing(artist):
    seen = artist.post("planned-light", {"base": BASE, "azimuth": 90, "elevation": 0}).json()
    values = {t["role"]: t["tone"]["value"] for t in seen["tones"]}
    assert values["highlight"] > values["light"] > values["base"] > values["shadow"]
    assert seen["direction"] == 0
    head, data = seen["ball"].split(",")
    assert head == "data:image/png;base64"
    ball = np.asarray(Image.open(io.BytesIO(base64.b64decode(data))).convert("RGBA")).astype(int)
    middle = ball[ball.shape[0] // 2]
    assert middle[180, :3].sum() > middle[30, :3].sum() + 100
    assert (ball[0, 0, 3], middle[100, 3]) == (0, 255)
    assert artist.get("studies").json() == []


def test_its_tones_are_taken_as_places_and_taken_again_in_one_step(artist):
    planned = {"base": BASE, "azimuth": -45, "elevation": 30}
    study = artist.change(artist.add(artist.begin(), "flush"), do="plan_light", planned=planned, roles=ROLES)
    assert [p["role"] for p in study["places"]] == ["flush", *ROLES]
    assert study["state"]["light"] == pytest.approx(140.8, abs=0.1)
    assert study["state"]["planned"]["azimuth"] == -45
    again = artist.change(study, do="plan_light", planned={**planned, "stops_below": 4}, roles=["shadow", "half_tone"])
    places = {p["role"]: p for p in again["places"]}
    assert len(places) == len(again["places"]) == 5
    assert places["shadow"]["id"] == "shadow"
    assert places["shadow"]["tone"]["value"] < study["places"][3]["tone"]["value"] - 0.5
    back = artist.post(f"studies/{again['id']}/undo", {"seen": again["revision"]}).json()
    assert back["places"] == study["places"]


@pytest.mark.parametrize(
    ("planned", "roles"),
    [({}, ["pupil"]), ({"base": {"l": 1, "a": 0, "b": 0}}, ROLES), ({"kelvin": 500}, ROLES), ({"azimuth": 200}, ROLES), ({}, [])],
)
def test_what_cannot_be_lit_says_so_and_changes_nothing(artist, planned, roles):
    study = artist.begin()
    op = {"do": "plan_light", "planned": {"base": BASE, **planned}, "roles": roles}
    answer = artist.post(f"studies/{study['id']}/changes", {"seen": study["revision"], "op": op})
    assert answer.status_code in (400, 422)
    assert artist.get(f"studies/{study['id']}").json()["places"] == []


def test_the_complexions_to_choose_from_are_those_looked_at_everywhere(artist):
    offered = artist.get("usual").json()["complexions"]
    assert [(c["undertone"], c["tone"]["lab"]["l"]) for c in offered] == [(name, lab[0]) for name, lab in complexions()]
    begin = artist.get("usual").json()["planned"]
    assert begin["base"] in [c["tone"]["lab"] for c in offered]
    assert artist.post("planned-light", begin).status_code == 200
    depths = [c["tone"]["value"] for c in offered]
    assert depths == pytest.approx(sorted(depths, reverse=True), abs=0.01)
