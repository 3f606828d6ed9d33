"""Look, in a real browser: every way of seeing, zones by touch and by keys, light, range, paper, odd pictures."""

import io
import re

import numpy as np
import pytest
from playwright.sync_api import expect
from pypdf import PdfReader

from tests.core.pictures import encoded, line_drawing, portrait, sphere
from tests.journeys.steps import add_place, begin, touch

VIEWS = {"q": "Squint", "v": "Values", "n": "Two masses", "x": "Ends", "h": "Hue", "w": "Warm, cool", "c": "Hidden",
         "o": "One value", "u": "Undertone", "m": "Melanin", "b": "Blood", "i": "As it is"}  # fmt: skip


def upload(page, caltin, pixels, name="made.png"):
    page.goto(caltin.address)
    expect(page.get_by_role("button", name="Choose a picture")).to_be_enabled()
    page.locator("input[type=file]").first.set_input_files({"name": name, "mimeType": "image/png", "buffer": encoded(pixels)})
    expect(page.locator(".board-picture")).to_be_visible()


def tab(page, name):
    page.get_by_role("group", name="What to look at").get_by_role("button", name=name).click()


def drag(page, path):
    """Drag over the picture, through points in its own pixels."""
    board = page.locator(".board > svg")
    box = board.bounding_box()
    scale, left, top = (float(board.get_attribute(f"data-{k}")) for k in ("scale", "x", "y"))
    (x, y), *rest = [(box["x"] + left + px * scale, box["y"] + top + py * scale) for px, py in path]
    page.mouse.move(x, y)
    page.mouse.down()
    for px, py in rest:
        page.mouse.move(px, py, steps=4)
    page.mouse.up()


def zones(page):
    return page.locator(".place-list li")


def propose(page):
    page.get_by_role("button", name="Propose zones").click()
    expect(page.get_by_role("heading", name="Zones", exact=True)).to_be_visible(timeout=20_000)


def measured(page):
    """What a zone measures, once that is of the zones as they now are."""
    expect(page.get_by_text("saved", exact=True)).to_be_visible()
    expect(page.locator(".tone .measure")).to_have_attribute("aria-busy", "false")
    return page.locator(".tone .measure")


def test_every_way_of_seeing_has_one_key_and_shows_itself(page, caltin):
    begin(page, caltin)
    for key, name in VIEWS.items():
        page.keyboard.press(key)
        expect(page.get_by_role("button", name=name, exact=True)).to_have_attribute("aria-pressed", "true")
        picture = page.locator(".board-picture")
        if key != "i":
            expect(picture).to_have_attribute("href", re.compile("/views/"))
        found = page.evaluate(
            "href => fetch(href).then(r => [r.status, r.headers.get('content-type')])", picture.get_attribute("href")
        )
        assert found == [200, "image/jpeg"], name
    page.keyboard.press("v")
    expect(page.locator(".rail-share")).to_have_count(5)
    page.get_by_role("button", name="More steps").click()
    expect(page.locator(".rail-share")).to_have_count(6)
    page.keyboard.press("c")
    expect(page.locator(".board-word").first).to_contain_text("here")
    page.keyboard.press("o")
    page.locator(".rail svg").click(position={"x": 20, "y": 200})
    expect(page.locator(".rail-band")).to_have_count(1)


def test_zones_by_touch_proposed_parted_merged_painted_and_taken_back(page, caltin):
    begin(page, caltin)
    # From the first words of Look, before any place was touched.
    propose(page)
    many = zones(page).count()
    assert many >= 6
    page.wait_for_load_state("networkidle")
    touch(page, 420, 615)
    expect(page.get_by_role("button", name="Part it")).to_be_visible()
    page.get_by_role("button", name="Part it").click()
    page.get_by_role("button", name="All zones").click()
    expect(zones(page)).to_have_count(many + 1)
    zones(page).first.get_by_role("button").click()
    page.get_by_label("Make one with").select_option(index=1)
    page.get_by_role("button", name="All zones").click()
    expect(zones(page)).to_have_count(many)
    zones(page).first.get_by_role("button").click()
    share = measured(page)
    expect(share).to_contain_text("of the work")
    before = share.inner_text()
    page.get_by_role("button", name="Brush on").click()
    drag(page, [(200, 1300), (500, 1300), (900, 1350)])
    expect(share).not_to_have_text(before)
    page.get_by_role("button", name="Lasso on").click()
    drag(page, [(200, 1100), (500, 1100), (500, 1200), (200, 1200)])
    expect(page.get_by_text("saved", exact=True)).to_be_visible()
    for _ in range(2):
        page.get_by_role("button", name="Undo").click()
    expect(measured(page)).to_have_text(before)
    page.get_by_role("link", name="Match").click()
    expect(page.get_by_role("link", name=re.compile(rf"Match {many} of {many}"))).to_be_visible(timeout=60_000)


def test_zones_by_keys_alone(page, caltin):
    begin(page, caltin)
    page.keyboard.press("z")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Zones", exact=True)).to_be_visible(timeout=20_000)
    asked = page.locator(".place-list b", has_text="?").count()
    assert asked > 0
    # From one that wants a look to the next, until all were looked at; each can be taken back.
    page.keyboard.press("Enter")
    for _ in range(asked):
        expect(page.get_by_role("button", name="Yes, it is")).to_be_visible()
        here = page.locator("section[aria-label^='Zone '] h2").inner_text()
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name=here, exact=True)).to_have_count(0)
    expect(page.get_by_text("Touch one, on the picture or here.")).to_be_visible()
    expect(page.locator(".place-list b", has_text="?")).to_have_count(0)
    expect(page.get_by_role("link", name=re.compile("Find the recipes"))).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.locator(".place-list b", has_text="?")).to_have_count(1)
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Delete")
    expect(page.get_by_text("saved", exact=True)).to_be_visible()


def test_a_line_drawing_becomes_zones_and_prints_pale(browser, caltin, watched):
    context = browser.new_context(viewport={"width": 1280, "height": 800}, accept_downloads=True)
    page = watched(context.new_page(), caltin.address, known=("400",))
    upload(page, caltin, line_drawing())
    tab(page, "Zones")
    expect(page.get_by_role("heading", name="A line drawing")).to_be_visible()
    page.get_by_role("button", name="Touch an area").click()
    touch(page, 250, 150)
    expect(page.get_by_role("heading", name=re.compile("1 · base"))).to_be_visible()
    page.get_by_role("textbox", name=re.compile("The tone it shall have")).fill("58 18 22")
    page.get_by_role("button", name="Give it this tone").click()
    expect(page.locator(".tone .measure")).to_contain_text("value 5.7")
    page.get_by_role("button", name="All zones").click()
    touch(page, 10, 300)
    expect(page.get_by_role("alert")).to_contain_text("No line closes an area here")
    page.get_by_role("button", name="Understood").click()
    tab(page, "Paper")
    page.get_by_role("button", name="Make the pages").click()
    with page.expect_download() as download:
        page.get_by_test_id("page-link").click(timeout=30_000)
    assert len(PdfReader(io.BytesIO(open(download.value.path(), "rb").read())).pages) >= 1
    context.close()


def test_a_picture_without_a_face_asks_for_one_touch(page, caltin):
    sea = np.zeros((300, 400, 3), dtype=np.uint8)
    sea[:160], sea[160:] = (150, 178, 205), (40, 84, 80)
    upload(page, caltin, sea)
    tab(page, "Skin")
    expect(page.get_by_text("No skin was found by its colour")).to_be_visible()
    tab(page, "Zones")
    propose(page)
    expect(page.get_by_text(re.compile("want a look"))).to_be_visible()


def test_a_monochrome_picture_is_read_by_value_and_from_a_touch(page, caltin):
    grey = np.repeat(portrait("deckhand", 500).mean(axis=2, keepdims=True).astype(np.uint8), 3, axis=2)
    upload(page, caltin, grey)
    tab(page, "Zones")
    propose(page)
    page.get_by_role("button", name="From a touch").click()
    touch(page, 210, 190)
    expect(page.get_by_text("saved", exact=True)).to_be_visible(timeout=20_000)
    expect(page.locator(".place-list b", has_text="?").first).to_be_visible()
    tab(page, "Places")
    touch(page, 210, 190)
    expect(page.get_by_test_id("touched-tone")).to_contain_text("neutral")
    page.keyboard.press("Escape")
    number = page.locator(".spot").first
    called = number.text_content().rstrip("?")
    number.click()
    expect(page.get_by_role("button", name="All zones")).to_be_visible()
    expect(page.get_by_role("heading", name=re.compile(f"^{called} · "))).to_be_visible()


def test_light_and_balance_by_hand(page, caltin):
    upload(page, caltin, sphere(0.9, direction=150).pixels)
    tab(page, "Light")
    dial = page.get_by_role("slider", name="Where the light comes from")
    expect(dial).to_have_attribute("aria-valuetext", "from above left", timeout=20_000)
    dial.focus()
    for _ in range(12):
        page.keyboard.press("ArrowRight")
    expect(page.get_by_text("set by hand")).to_be_visible()
    expect(page.get_by_role("img", name="Light from above")).to_be_visible()
    page.get_by_role("button", name="As it is read").click()
    expect(dial).to_have_attribute("aria-valuetext", "from above left")
    page.get_by_role("button", name="Touch a white or grey").click()
    touch(page, 20, 20)
    expect(page.get_by_text("by a neutral place")).to_be_visible()
    before = page.get_by_role("button", name="Show before")
    before.click()
    expect(page.locator(".board-picture")).to_have_attribute("href", re.compile(r"/view\.jpg"))
    before.click()
    expect(page.locator(".board-picture")).to_have_attribute("href", re.compile(r"/picture\.jpg"))
    page.get_by_label("The light’s kelvin").select_option("2700")
    expect(page.get_by_text("by the light’s kelvin, 2700 K")).to_be_visible()
    page.get_by_role("button", name="As it came").click()
    expect(page.get_by_text("Now as it came.")).to_be_visible()


def test_range_is_bent_and_paper_laid_out_measured_cropped_and_replaced(page, caltin):
    begin(page, caltin)
    add_place(page, 420, 615, "base")
    tab(page, "Range")
    page.get_by_role("radio", name=re.compile("^the darks")).click()
    expect(page.get_by_text(re.compile("are pressed into")).first).to_be_visible()
    tab(page, "Paper")
    page.get_by_label("Its size").select_option("A3")
    expect(page.get_by_text(re.compile(r"The picture: 267 × 33\d mm"))).to_be_visible()
    page.get_by_role("checkbox", name="Grid").click()
    expect(page.locator(".over line").first).to_be_attached()
    page.get_by_role("button", name="Pick a unit").click()
    drag(page, [(400, 560), (480, 560)])
    expect(page.get_by_role("button", name="Another unit")).to_be_visible()
    drag(page, [(400, 400), (400, 800)])
    expect(page.get_by_test_id("span")).to_contain_text(re.compile(r"mm on the paper, [45]\.\d+ units, 0° from plumb"))
    page.get_by_role("button", name="Crop").click()
    drag(page, [(250, 250), (950, 1000)])
    expect(page.get_by_role("button", name="Whole again")).to_be_visible()
    expect(page.locator(".board-picture")).to_have_attribute("href", re.compile(r"/picture\.jpg"))
    page.get_by_role("button", name="Whole again").click()
    page.get_by_label("Another picture").set_input_files(
        {"name": "other.png", "mimeType": "image/png", "buffer": encoded(portrait("pilot", 700))}
    )
    expect(page.locator(".board > svg")).to_have_attribute("aria-label", re.compile("other.png"), timeout=20_000)
    tab(page, "Places")
    expect(page.locator(".place-list li")).to_have_count(1)


def test_one_may_guess_before_the_answer_is_shown(page, caltin):
    page.goto(caltin.address)
    page.evaluate("localStorage.setItem('caltin.settings', JSON.stringify({guessFirst: true}))")
    begin(page, caltin)
    touch(page, 420, 615)
    tone = page.get_by_test_id("touched-tone")
    expect(tone).to_contain_text("Which value do you believe")
    expect(tone).not_to_contain_text("pink")
    tone.get_by_role("button", name="8", exact=True).click()
    expect(tone).to_contain_text("You believed 8, it is")
    expect(tone).to_contain_text("1 so far")


def test_two_sitters_side_by_side_on_one_rail(page, caltin):
    page.goto(caltin.address)
    page.get_by_role("link", name="Two side by side").click()
    page.get_by_role("combobox", name="Left").select_option("The pilot, low sun")
    page.get_by_role("combobox", name="Right").select_option("The cook on an overcast morning")
    expect(page.locator(".compare-apart")).to_contain_text("lighter", timeout=30_000)
    expect(page.locator(".measures")).to_have_count(2)
    assert page.locator(".compare-rail rect").count() > 12


@pytest.mark.parametrize("wall", ["day", "evening"])
def test_no_panel_of_look_has_an_accessibility_violation(page, caltin, wall):
    from axe_playwright_python.sync_playwright import Axe

    page.goto(caltin.address)
    page.evaluate(f"localStorage.setItem('caltin.settings', JSON.stringify({{wall: '{wall}'}}))")
    page.goto(caltin.address)
    page.get_by_role("link", name="The cook").first.click()
    page.get_by_role("link", name="Look").click()
    expect(page.locator(".board-picture")).to_be_visible()
    for key, name in zip("tzlkgp", ("places", "zones", "light", "skin", "range", "paper"), strict=True):
        page.keyboard.press(key)
        page.wait_for_load_state("networkidle")
        found = Axe().run(page)
        assert found.violations_count == 0, f"{name}: {found.generate_report()}"
    page.goto(f"{caltin.address}/compare")
    expect(page.locator(".measures")).to_have_count(2, timeout=30_000)
    found = Axe().run(page)
    assert found.violations_count == 0, found.generate_report()


def test_look_on_a_tablet_held_upright(browser, caltin, watched):
    context = browser.new_context(viewport={"width": 820, "height": 1180}, has_touch=True)
    page = watched(context.new_page(), caltin.address)
    page.goto(caltin.address)
    page.get_by_role("link", name="The deckhand").first.tap()
    page.get_by_role("link", name="Look").tap()
    expect(page.locator(".board-picture")).to_be_visible()
    page.get_by_role("group", name="What to look at").get_by_role("button", name="Zones").tap()
    expect(zones(page).first).to_be_visible()
    page.get_by_role("button", name="Values", exact=True).tap()
    expect(page.locator(".rail-share").first).to_be_attached()
    assert page.evaluate("document.documentElement.scrollWidth") <= 820
    context.close()


def test_a_light_is_planned_by_hand_and_by_key_and_its_tones_become_recipes(page, caltin):
    page.goto(caltin.address)
    page.get_by_role("button", name="From a planned light or tones").click()
    page.get_by_role("button", name="ruddy, value 3.5").click()
    ball = page.locator(".ball")
    box = ball.bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + 0.8 * box["width"], box["y"] + box["height"] / 2, steps=4)
    page.mouse.up()
    expect(page.get_by_text("From the right")).to_be_visible()
    height = page.get_by_label("Height")
    height.focus()
    for _ in range(4):
        height.press("ArrowUp")
    expect(page.get_by_text("From above right")).to_be_visible()
    page.get_by_label("Beside the sitter").select_option("red cloth")
    expect(page.locator(".rail-mark")).to_have_count(8)
    page.get_by_role("button", name="lower lip").click()
    expect(page.locator(".rail-mark")).to_have_count(9)
    page.get_by_role("button", name="Take these 9 tones").click()
    expect(page.get_by_role("link", name=re.compile("Look 9 places"))).to_be_visible()
    expect(page.get_by_role("img", name=re.compile("light from above right", re.IGNORECASE))).to_be_visible()
    page.keyboard.press("2")
    expect(page.get_by_role("link", name=re.compile("Match 9 of 9"))).to_be_visible(timeout=60_000)
    page.get_by_role("button", name="Undo").click()
    page.get_by_role("link", name=re.compile("Look plan the light")).click()
    expect(page.get_by_role("button", name=re.compile("Take these"))).to_be_visible()
