"""A shelf of one's own, from nothing to the first recipe, in a real browser. Invented colours."""

import re

import cv2
import numpy as np
import pytest
from playwright.sync_api import expect

from tests.journeys.conftest import PURSER, Caltin


@pytest.fixture
def own(tmp_path):
    own = Caltin(tmp_path, "--own-shelf")
    own.start()
    yield own
    own.stop()


def test_a_shelf_of_ones_own_leads_from_nothing_to_the_first_recipe(browser, own, watched, tmp_path):
    from axe_playwright_python.sync_playwright import Axe

    context = browser.new_context()
    page = watched(context.new_page(), own.address, known=("400",))
    page.goto(own.address)
    expect(page.get_by_role("heading", name="Before the first picture")).to_be_visible()
    expect(page.get_by_text("No study yet.")).to_be_visible()
    expect(page.get_by_role("button", name="Choose a picture")).to_have_count(0)
    assert Axe().run(page).violations_count == 0
    # A kit may be added before the paper, but not measured.
    page.get_by_role("button", name="Add a kit").click()
    page.get_by_role("link", name="Measure it").click()
    expect(page.get_by_text("Swatches lie on a paper")).to_be_visible()
    page.get_by_role("link", name="To the shelf").click()
    page.locator(".rack-kit").click()
    page.get_by_role("button", name="Throw this kit away").click()
    page.get_by_role("button", name="Throw it away for good").click()
    page.get_by_role("button", name="Add your paper").click()
    page.get_by_label("Name", exact=True).fill("Galley card")
    page.get_by_role("button", name="sand").click()
    expect(page.get_by_label("Or exactly")).to_have_value("70 5 20")
    page.get_by_role("button", name="white").click()
    page.get_by_role("button", name="Add this paper").click()
    page.get_by_role("button", name="Add your kit").click()
    page.get_by_role("button", name="Add the first colour").wait_for()
    page.goto(own.address)
    page.get_by_role("link", name="Put colours in").click()
    page.get_by_role("button", name="Add the first colour").click()
    page.get_by_label("Medium").select_option("oil_pencil")
    for name, tone in (("Tally Ochre", "62 18 36"), ("Bilge", "#3a2c28")):
        page.get_by_label("Name", exact=True).fill(name)
        page.get_by_label(re.compile("Tone of the solid")).fill(tone)
        page.get_by_role("button", name="Put it in the box").click()
        expect(page.get_by_role("button", name=re.compile(name))).to_be_visible()
        # Who types in a box goes on with the next colour, of the same medium.
        expect(page.get_by_text(f"{name} is in the box.")).to_be_visible()
        expect(page.get_by_label("Name", exact=True)).to_be_focused()
        expect(page.get_by_label("Name", exact=True)).to_have_value("")
        expect(page.get_by_label("Medium")).to_have_value("oil_pencil")
    # Who has nothing to measure a colour with finds it with the eye.
    page.get_by_label("Name", exact=True).fill("Brick")
    page.get_by_text("Set it by eye").click()
    page.get_by_label("Value").press("ArrowRight")
    expect(page.get_by_label(re.compile("Tone of the solid"))).to_have_value(re.compile(r"^66\.\d+ 12\.62 18\.02$"))
    page.get_by_role("button", name="Put it in the box").click()
    expect(page.get_by_text("Brick is in the box.")).to_be_visible()
    # A photograph of swatches is read against the bare paper in it, however dark it was taken.
    dim = np.full((300, 400, 3), 150, dtype=np.uint8)
    dim[80:220, 40:160] = (60, 70, 110)
    dim[80:220, 240:360] = (90, 80, 60)
    cv2.imwrite(str(tmp_path / "swatches.png"), dim)
    page.get_by_text("Touch it on a photograph").click()
    page.get_by_label(re.compile("A photograph in even daylight")).set_input_files(tmp_path / "swatches.png")
    photo = page.get_by_alt_text("The photographed swatch")

    def touch(across, down):
        box = photo.bounding_box()
        photo.click(position={"x": box["width"] * across, "y": box["height"] * down})

    expect(page.get_by_text("Touch the bare paper first")).to_be_visible()
    touch(0.5, 0.5)
    for name, across in (("Copper", 0.25), ("Shoal", 0.75)):
        touch(across, 0.5)
        tone = page.get_by_label(re.compile("Tone of the solid"))
        expect(tone).not_to_have_value("")
        lightness, _, b = (float(v) for v in tone.input_value().split())
        # As they lie in the picture both are of L* 34.
        assert lightness > 50
        assert b > 5 if name == "Copper" else b < -5
        page.get_by_label("Name", exact=True).fill(name)
        page.get_by_role("button", name="Put it in the box").click()
        expect(page.get_by_text(f"{name} is in the box.")).to_be_visible()
    page.get_by_role("link", name="Shelf").click()
    expect(page.locator(".begin-with select").last.locator("option")).not_to_have_count(0)
    page.get_by_label("Picture").set_input_files(PURSER)
    page.get_by_role("tab", name="Zones").or_(page.get_by_role("button", name="Zones")).first.wait_for()
    page.goto(own.address)
    expect(page.get_by_role("heading", name="Begin with a picture")).to_be_visible()
    page.get_by_role("button", name="From a planned light or tones").click()
    page.get_by_role("button", name=re.compile("Take these")).click()
    page.get_by_role("link", name="Match").click()
    expect(page.get_by_role("link", name=re.compile("Match 8 of 8"))).to_be_visible(timeout=60_000)
    # What was begun by mistake is thrown away; what a study is planned with stays.
    page.goto(own.address)
    page.get_by_role("button", name="Add a kit").click()
    page.get_by_role("button", name="Throw this kit away").click()
    page.get_by_role("button", name="Keep it").click()
    page.get_by_role("button", name="Throw this kit away").click()
    page.get_by_role("button", name="Throw it away for good").click()
    expect(page.get_by_role("heading", name="Begin with a picture")).to_be_visible()
    expect(page.locator(".rack-kit")).to_have_count(1)
    page.locator(".rack-kit").click()
    page.get_by_role("button", name="Throw this kit away").click()
    page.get_by_role("button", name="Throw it away for good").click()
    expect(page.get_by_role("alert")).to_contain_text("is planned with in")
    page.get_by_role("link", name="Shelf").click()
    page.get_by_role("button", name=re.compile("Galley card")).click()
    page.get_by_role("button", name="Throw this paper away").click()
    page.get_by_role("button", name="Throw it away for good").click()
    expect(page.get_by_role("alert")).to_contain_text("is planned with in")
    context.close()
