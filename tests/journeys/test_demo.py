"""What the demo shows when it is opened for the first time; it comes before journeys that change it."""

from datetime import UTC, datetime

TITLES = [
    "The cook on an overcast morning",
    "The deckhand under a high sun",
    "The deckhand, carried through",
    "The engineer by a lamp below",
    "The lamp trimmer at dusk",
    "The pilot, low sun",
    "The purser at the north window",
    "The stoker by lantern, from memory",
]


def test_the_demo_has_studies_at_every_stage_and_measured_kits(page, caltin):
    began = datetime.fromtimestamp(caltin.var.stat().st_ctime, UTC).isoformat()
    page.goto(caltin.address)

    def got(path):
        return page.request.get(f"{caltin.address}/api/{path}").json()

    studies = sorted(got("studies"), key=lambda s: s["title"])
    cook, deckhand, finished, engineer, trimmer, pilot, purser, stoker = studies
    assert [s["title"] for s in studies] == TITLES
    assert (stoker["picture"], stoker["places"]) == (None, 8)
    journal = got(f"studies/{finished['id']}/journal")
    assert len(journal["sittings"]) == 2
    assert all(s["ended"] < began and not s["changes"] for s in journal["sittings"])
    assert all(any(e["picture"] for e in s["entries"]) for s in journal["sittings"])
    assert "press harder" in journal["review"]["learnt"]
    assert got("library")[0]["study"] == finished["title"]
    assert min(s["places"] for s in (cook, deckhand, engineer, trimmer)) >= 8
    assert ("pastels" in engineer["kit"], "markers" in trimmer["kit"]) == (True, True)
    assert (pilot["drawn"] > 0, purser["drawn"]) == (True, 0)
    rack = got("rack")
    assert [len(k["colours"]) for k in rack["kits"]] == [24, 36, 30]
    dry = [c["name"] for k in rack["kits"] for c in k["colours"] if c["state"] != "full"]
    assert dry == ["Brick Dust"]
    told = got(f"kits/{rack['kits'][1]['id']}/told")["pairs"]
    assert {"alike", "same name"} <= {p["why"] for p in told}
    assert "By day Rope End looks like Bench End" in told[0]["says"]
    pastels = got(f"kits/{rack['kits'][2]['id']}")["colours"]
    assert {c["name"] for c in pastels if c["harmful"]} == {"Ember", "Butter Lamp"}
