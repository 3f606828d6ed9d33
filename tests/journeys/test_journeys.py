"""An artist's way from a picture to a card, in a real browser against the real server."""

import itertools
import re
import signal

import pytest
from playwright.sync_api import expect

from tests.journeys.conftest import PURSER
from tests.journeys.steps import add_place, begin, saved_card

STAGES = ("look", "match", "layer", "draw", "keep")


def test_picture_to_card_by_mouse(page, caltin):
    begin(page, caltin)
    for x, y, role in ((420, 615, "base"), (700, 640, "shadow"), (450, 400, "highlight")):
        add_place(page, x, y, role)
    page.get_by_role("link", name="Match").click()
    expect(page.get_by_test_id("sentence")).to_be_visible(timeout=60_000)
    expect(page.get_by_role("link", name=re.compile("Match 3 of 3"))).to_be_visible(timeout=60_000)
    before = page.get_by_test_id("against").inner_text()
    page.locator("[data-press='burnish 5']").first.click()
    expect(page.get_by_test_id("against")).not_to_have_text(before)
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_test_id("against")).to_have_text(before)
    page.get_by_role("button", name="Rules").click()
    page.get_by_role("radio", name="never").check()
    expect(page.get_by_text("saved")).to_be_visible()
    page.get_by_role("button", name="Back to the recipe").click()
    expect(page.get_by_role("link", name=re.compile("Match 3 of 3"))).to_be_visible(timeout=60_000)
    page.get_by_role("button", name="Put all in order").click()
    expect(page.get_by_role("heading", name=re.compile("steps, whole sheet together"))).to_be_visible()
    first = page.locator(".step-name b").first.inner_text()
    page.get_by_role("button", name="Begin to draw").click()
    expect(page.locator(".draw-name")).to_have_text(first)
    page.get_by_role("button", name="Done").click()
    expect(page.get_by_text(re.compile(r"Step 2 of"))).to_be_visible()
    page.get_by_role("link", name="Keep").click()
    page.get_by_role("button", name="Make it").click()
    expect(page.get_by_test_id("card-link")).to_be_visible(timeout=30_000)
    text = saved_card(page)
    assert first in text
    assert "shadow" in text


def test_picture_to_card_by_keys_alone(page, caltin):
    page.goto(caltin.address)
    expect(page.get_by_role("button", name="Choose a picture")).to_be_enabled()
    with page.expect_file_chooser() as chooser:
        page.get_by_role("button", name="Choose a picture").press("Enter")
    chooser.value.set_files(PURSER)
    expect(page.locator(".board-picture")).to_be_visible()
    page.locator("body").focus()
    ready = page.get_by_test_id("touched-tone")
    for way in ((), ("Shift+ArrowLeft",) * 3, ("Shift+ArrowUp",) * 3):
        page.keyboard.press("Escape")
        page.keyboard.press("Enter")
        for key in way:
            page.keyboard.press(key)
        expect(ready).to_have_attribute("data-ready", "yes")
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="Remove")).to_be_visible()
    page.keyboard.press("2")
    expect(page.get_by_role("link", name=re.compile("Match 3 of 3"))).to_be_visible(timeout=60_000)
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowRight")
    expect(page.get_by_text("saved", exact=True)).to_be_visible()
    page.keyboard.press(" ")
    expect(page.get_by_role("heading", name=re.compile("steps, whole sheet together"))).to_be_visible()
    expect(page.locator(".steps ol")).to_have_attribute("aria-busy", "false")
    served = page.locator(".step-places").all_inner_texts()
    free = next(i for i, (a, b) in enumerate(itertools.pairwise(served)) if not set(a.split("\n")) & set(b.split("\n")))
    for _ in range(free):
        page.keyboard.press("ArrowDown")
    page.keyboard.press("l")
    expect(page.get_by_role("heading", name=re.compile("in your order"))).to_be_visible()
    page.keyboard.press(" ")
    expect(page.get_by_text(re.compile("Step 1 of"))).to_be_visible()
    page.keyboard.press(" ")
    expect(page.get_by_text(re.compile("Step 2 of"))).to_be_visible()
    page.keyboard.press("3")
    expect(page.get_by_text(re.compile("Step 2 of"))).to_be_visible()
    page.keyboard.press("Backspace")
    expect(page.get_by_text(re.compile("Step 1 of"))).to_be_visible()
    page.get_by_role("link", name="Keep").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Take it along")).to_be_visible()
    page.keyboard.press(" ")
    expect(page.get_by_test_id("card-link")).to_be_visible(timeout=30_000)
    page.get_by_test_id("card-link").focus()
    with page.expect_download() as download:
        page.keyboard.press("Enter")
    assert open(download.value.path(), "rb").read(5) == b"%PDF-"


def test_picture_to_card_on_a_tablet_held_upright(browser, caltin, watched):
    context = browser.new_context(viewport={"width": 820, "height": 1180}, has_touch=True, accept_downloads=True)
    page = watched(context.new_page(), caltin.address)
    begin(page, caltin)
    board = page.locator(".board > svg")
    for x, y in ((420, 615), (700, 640)):
        box = board.bounding_box()
        scale, left, top = (float(board.get_attribute(f"data-{k}")) for k in ("scale", "x", "y"))
        page.touchscreen.tap(box["x"] + left + x * scale, box["y"] + top + y * scale)
        expect(page.get_by_test_id("touched-tone")).to_have_attribute("data-ready", "yes")
        page.get_by_role("button", name=re.compile("Keep as")).tap()
        expect(page.get_by_role("button", name="Remove")).to_be_visible()
        page.evaluate("scrollTo(0, 0)")
    page.get_by_role("link", name="Match").tap()
    expect(page.get_by_role("link", name=re.compile("Match 2 of 2"))).to_be_visible(timeout=60_000)
    page.get_by_role("button", name="Put all in order").tap()
    page.get_by_role("button", name="Begin to draw").tap()
    page.get_by_role("button", name="Done").tap()
    expect(page.get_by_text(re.compile("Step 2 of"))).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= 820
    page.get_by_role("link", name="Keep").tap()
    page.get_by_role("button", name="Make it").tap()
    expect(page.get_by_test_id("card-link")).to_be_visible(timeout=30_000)
    assert "light" in saved_card(page)
    context.close()


def test_killed_in_the_midst_of_drawing_and_started_again_nothing_is_lost_or_done_twice(browser, caltin, watched):
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    page = watched(context.new_page(), caltin.address, known=("Failed to load resource", "ERR_CONNECTION"))
    page.goto(caltin.address)
    page.get_by_role("link", name="The pilot, low sun").first.click()
    count = page.locator(".draw-count")
    expect(count).to_contain_text("Step")
    number, all_steps = map(int, re.findall(r"\d+", count.inner_text())[:2])
    page.keyboard.press(" ")
    expect(count).to_contain_text(f"Step {number + 1} of")
    page.wait_for_load_state("networkidle")
    caltin.stop(signal.SIGKILL)
    page.keyboard.press(" ")
    expect(page.get_by_role("alert")).to_contain_text("kept here until it answers")
    expect(count).to_contain_text(f"Step {number + 2} of")
    caltin.start()
    expect(page.get_by_text("not sent yet")).to_have_count(0, timeout=15_000)
    page.reload()
    expect(count).to_contain_text(f"Step {number + 2} of {all_steps}")
    log = page.evaluate(
        "fetch(location.pathname.replace('/studies', '/api/studies').replace('/draw', '/drawn')).then(r => r.json())"
    )
    assert len(log) == number + 1
    context.close()


def test_a_second_window_that_is_late_is_told_and_loses_nothing(browser, caltin, watched):
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    one = watched(context.new_page(), caltin.address, known=("409",))
    one.goto(caltin.address)
    one.get_by_role("link", name="The purser").first.click()
    one.get_by_role("link", name="Keep").click()
    two = watched(context.new_page(), caltin.address, known=("409",))
    two.goto(one.url)
    expect(two.get_by_label("Title")).to_be_visible()
    one.get_by_label("Title").fill("The purser, again")
    one.get_by_label("Title").blur()
    expect(one.get_by_role("heading", name="The purser, again")).to_be_visible()
    two.get_by_label("Note").fill("Typed in the second window.")
    two.get_by_label("Note").blur()
    expect(two.get_by_role("alert")).to_contain_text("renamed to The purser, again")
    two.get_by_role("button", name="Add mine on top").click()
    expect(two.get_by_role("heading", name="The purser, again")).to_be_visible()
    expect(two.get_by_text("saved", exact=True)).to_be_visible()
    one.reload()
    expect(one.get_by_label("Note")).to_have_value("Typed in the second window.")
    context.close()


def test_a_study_from_tones_without_a_picture(page, caltin):
    page.goto(caltin.address)
    page.get_by_role("button", name="From a planned light or tones").click()
    page.get_by_role("button", name="Tones I know").click()
    for text, called in (("62 18 20", "1 base"), ("#5a3a30", "2 light")):
        page.get_by_role("textbox", name="Tone").fill(text)
        page.get_by_role("button", name="Add this tone").click()
        expect(page.get_by_role("button", name=re.compile(called))).to_be_visible()
    page.get_by_role("textbox", name="Tone").fill("no colour at all")
    expect(page.get_by_role("alert")).to_contain_text("Type three numbers")
    page.get_by_role("link", name="Match").click()
    expect(page.get_by_role("link", name=re.compile("Match 2 of 2"))).to_be_visible(timeout=60_000)


def test_a_kit_made_by_hand(page, caltin):
    page.goto(caltin.address)
    page.get_by_role("button", name="Add a kit").click()
    page.get_by_role("button", name="Add the first colour").click()
    for name, tone in (("Tally Ochre", "62 14 46"), ("Bilge", "#3a2c28")):
        page.get_by_label("Name", exact=True).fill(name)
        page.get_by_label(re.compile("Tone of the solid")).fill(tone)
        page.get_by_role("button", name="Put it in the box").click()
        expect(page.get_by_role("button", name=re.compile(name))).to_be_visible()
        page.get_by_role("button", name="Add a colour").click()
    page.get_by_role("button", name=re.compile("Bilge")).click()
    page.get_by_role("button", name="Retire it").click()
    expect(page.get_by_text("1 colour · version 4")).to_be_visible()


def test_what_is_not_a_picture_gets_a_sentence_on_the_shelf(browser, caltin, watched, tmp_path):
    context = browser.new_context()
    page = watched(context.new_page(), caltin.address, known=("400",))
    (tmp_path / "letter.jpg").write_text("dear museum")
    page.goto(caltin.address)
    page.locator("input[type=file]").first.set_input_files(tmp_path / "letter.jpg")
    expect(page.get_by_role("alert")).to_contain_text("not a whole JPEG")
    context.close()


@pytest.mark.parametrize("path", ["studies/1/draw", "kits/1", "kits/1/sheets", "kits/1/serves"])
def test_an_address_that_leads_nowhere_says_so_and_leads_back(browser, caltin, watched, path):
    context = browser.new_context()
    page = watched(context.new_page(), caltin.address, known=("404",))
    page.goto(caltin.address)
    expect(page.get_by_role("heading", name="Studies")).to_be_visible()
    page.goto(f"{caltin.address}/{path}")
    expect(page.get_by_role("heading", name="cannot be opened")).to_be_visible()
    page.get_by_role("link", name="To the shelf").click()
    expect(page.get_by_role("heading", name="Studies")).to_be_visible()
    context.close()


@pytest.mark.parametrize("wall", ["day", "evening"])
def test_no_stage_has_an_accessibility_violation(page, caltin, wall):
    from axe_playwright_python.sync_playwright import Axe

    def check(name):
        page.wait_for_load_state("networkidle")
        found = Axe().run(page)
        assert found.violations_count == 0, f"{name}: {found.generate_report()}"

    page.goto(caltin.address)
    page.evaluate(f"localStorage.setItem('caltin.settings', JSON.stringify({{wall: '{wall}'}}))")
    page.reload()
    check("shelf")
    page.locator(".rack-kit", has_text="Night ferry wax").click()
    expect(page.get_by_role("button", name="Chalk Pier")).to_be_visible()
    check("kit")
    page.get_by_role("button", name="Quay Brick").click()
    expect(page.locator(".without")).to_be_visible()
    check("a colour of the kit")
    page.get_by_role("button", name="From a file").click()
    check("a file of colours")
    page.get_by_role("link", name="Measure it").click()
    expect(page.get_by_role("button", name="Lay it out")).to_be_visible()
    check("sheets")
    page.goto(caltin.address)
    page.get_by_role("link", name="The stoker by lantern").first.click()
    page.get_by_role("link", name=re.compile("Look")).click()
    page.get_by_role("button", name="A light I plan").click()
    expect(page.locator(".ball image")).to_have_count(1)
    check("a planned light")
    page.goto(caltin.address)
    page.get_by_role("link", name="The pilot, low sun").first.click()
    for stage in STAGES:
        page.get_by_role("link", name=stage.capitalize()).click()
        expect(page.locator(f".stage-{stage}")).to_be_visible()
        check(stage)
    page.get_by_role("button", name="Keys and settings").click()
    expect(page.get_by_role("dialog")).to_be_visible()
    page.wait_for_timeout(400)
    check("help")


def test_a_measured_box_tells_what_another_light_does_and_how_sure_the_hand_is(page, caltin):
    page.goto(caltin.address)
    page.get_by_role("link", name="The pilot, low sun").first.click()
    page.get_by_role("link", name=re.compile("Match")).click()
    expect(page.get_by_test_id("against")).to_contain_text("your measured hand may be")
    expect(page.locator(".rung-unsure")).to_have_count(8)
    lights = page.get_by_role("group", name="Looked at in")
    chip = page.locator(".rung-result .rung-chip").first
    daylight = chip.evaluate("e => e.style.background")
    lights.get_by_role("button", name="Lamp").click()
    expect(page.locator(".light-row")).to_contain_text("Beside itself in daylight")
    expect(page.locator(".light-row")).to_contain_text("What the sitter does there is not known")
    assert chip.evaluate("e => e.style.background") != daylight
    lights.get_by_role("button", name="Daylight").click()
    assert chip.evaluate("e => e.style.background") == daylight
