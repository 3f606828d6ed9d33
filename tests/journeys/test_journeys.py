"""An artist's way from a picture to a card, in a real browser against the real server."""

import io
import itertools
import re
import signal

import pytest
from playwright.sync_api import expect
from pypdf import PdfReader

from tests.journeys.conftest import PURSER

STAGES = ("look", "match", "layer", "draw", "keep")


def touch(page, x, y):
    """Touch a place of the picture, in its own pixels."""
    board = page.locator(".board > svg")
    box = board.bounding_box()
    scale, left, top = (float(board.get_attribute(f"data-{k}")) for k in ("scale", "x", "y"))
    page.mouse.click(box["x"] + left + x * scale, box["y"] + top + y * scale)


def begin(page, caltin):
    page.goto(caltin.address)
    with page.expect_file_chooser() as chooser:
        page.get_by_role("button", name="Choose a picture").click()
    chooser.value.set_files(PURSER)
    expect(page.locator(".board-picture")).to_be_visible()


def add_place(page, x, y, role):
    touch(page, x, y)
    tone = page.get_by_test_id("touched-tone")
    expect(tone).to_have_attribute("data-ready", "yes")
    page.get_by_role("button", name=role, exact=True).click()
    page.get_by_role("button", name=re.compile(f"Keep as {role}")).click()
    expect(page.get_by_role("heading", name=re.compile(f"· {role}"))).to_be_visible()


def saved_card(page):
    with page.expect_download() as download:
        page.get_by_test_id("card-link").click()
    text = " ".join(p.extract_text() for p in PdfReader(io.BytesIO(open(download.value.path(), "rb").read())).pages)
    return text


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


def test_a_family_for_a_whole_face_under_a_school_and_a_cure_for_what_went_wrong(page, caltin):
    page.goto(caltin.address)
    page.get_by_role("button", name="From a planned light or tones").click()
    page.get_by_role("button", name="Tones I know").click()
    for typed in ("84 9 20", "62 20 24", "36 16 14"):
        page.locator(".tones-add input").last.fill(typed)
        page.locator(".tones-add").get_by_role("button").last.click()
        page.wait_for_timeout(300)
    expect(page.get_by_role("link", name=re.compile("Look 3 places"))).to_be_visible()
    page.get_by_role("link", name="Match").click()
    expect(page.get_by_test_id("sentence")).to_be_visible(timeout=60_000)
    page.get_by_role("button", name="Rules").click()
    more = page.locator(".rule-number", has_text="whole family").get_by_role("button", name="One more")
    for count in ("2", "3", "4"):
        more.click()
        expect(page.locator(".rule-number", has_text="whole family").locator("output")).to_have_text(count)
    note = page.locator(".family-note")
    expect(note).to_contain_text("for 3 places", timeout=60_000)
    assert int(note.inner_text().split()[0]) <= 4
    page.get_by_label("School").select_option("dark_first")
    expect(page.get_by_text("Good for strong modelling from the start")).to_be_visible()
    expect(note).to_contain_text("for 3 places", timeout=60_000)
    page.get_by_role("button", name="Back to the recipe").click()
    expect(page.get_by_role("button", name=re.compile("Put all in order"))).to_be_enabled(timeout=60_000)
    page.wait_for_load_state("networkidle")
    page.locator(".tray .stick").first.click()
    banned = page.locator(".tray-open b").inner_text()
    page.get_by_role("button", name="Leave it in the box").click()
    expect(page.locator(".stick.is-out")).to_contain_text(banned)
    expect(note).to_contain_text("for 3 places", timeout=60_000)
    expect(page.get_by_role("button", name=re.compile("Put all in order"))).to_be_enabled(timeout=60_000)
    expect(page.get_by_test_id("sentence")).not_to_contain_text(banned)
    page.get_by_role("button", name=re.compile("Put all in order")).click()
    page.get_by_role("link", name="Draw").click()
    expect(page.get_by_role("button", name=re.compile("^Done"))).to_be_visible(timeout=20_000)
    page.get_by_role("button", name=re.compile("^Done")).click()
    expect(page.get_by_text("Step 2 of")).to_be_visible()
    page.keyboard.press("w")
    page.get_by_label("What?").select_option("too dark")
    page.get_by_role("button", name="Find the smallest cure").click()
    expect(page.locator(".cures li").or_(page.get_by_text("Beyond cure")).first).to_be_visible(timeout=30_000)
    page.get_by_role("button", name="Back to drawing").click()
    expect(page.get_by_text("Step 2 of")).to_be_visible()


def again(page, caltin, title, together=None):
    """A study of one's own of a sitter of the demo, whatever others made of that; `together` in one family of so many colours."""
    page.goto(caltin.address)
    page.get_by_role("link", name=title).first.wait_for()
    return page.evaluate(
        """async ([title, together]) => {
            const token = document.cookie.match(/csrftoken=([^;]+)/)[1];
            const send = async (path, body) => (await fetch(`/api/studies/${path}`, {
                method: "POST", headers: {"X-CSRFToken": token}, body: JSON.stringify(body)})).json();
            const studies = await (await fetch("/api/studies")).json();
            const first = studies.filter((s) => s.title.startsWith(title)).at(-1);
            let study = await send(`${first.id}/copy`, {});
            const change = async (op) => { study = await send(`${study.id}/changes`, {seen: study.revision, op}); };
            if (together) {
                await change({do: "clear_recipe"});
                await change({do: "set_rules", rules: {...study.state.rules, together}});
            }
            return study.id;
        }""",
        [title, together],
    )


def press(page, locator, key="Enter"):
    locator.focus()
    page.keyboard.press(key)


# The sitters of the demo whose complexions are deepest and lightest by ITA°; and one in pastel on dark paper.
SITTERS = {"The pilot": 10, "The purser": 8, "The engineer": 9}


def test_the_deepest_and_the_lightest_sitter_are_those_taken(page, caltin):
    page.goto(caltin.address)
    page.get_by_role("link", name="The pilot").first.wait_for()
    found = page.evaluate(
        """async () => {
            const out = {};
            for (const card of await (await fetch("/api/studies")).json()) {
                if (!card.picture) continue;
                const seen = await (await fetch(`/api/studies/${card.id}/overview`)).json();
                if (seen.complexion) out[card.title] = seen.complexion.ita;
            }
            return out;
        }"""
    )
    ita = {title: angle for title, angle in found.items() if title.startswith("The ")}
    assert min(ita, key=ita.get).startswith("The pilot")
    assert max(ita, key=ita.get).startswith("The purser")


@pytest.mark.parametrize("title", SITTERS)
def test_a_whole_face_by_keys_one_recipe_pinned_and_a_colour_banned(page, caltin, title):
    id = again(page, caltin, title, SITTERS[title])
    page.goto(f"{caltin.address}/studies/{id}/match")
    settled = page.get_by_role("button", name=re.compile("Put all in order"))
    expect(settled).to_be_enabled(timeout=120_000)
    sentence = page.get_by_test_id("sentence")
    against = page.get_by_test_id("against")
    pad = page.get_by_role("slider", name="Pressure and passes").first
    pad.focus()
    before = against.inner_text()
    page.keyboard.press("ArrowRight" if pad.get_attribute("aria-valuenow") != "6" else "ArrowLeft")
    expect(against).not_to_have_text(before, timeout=20_000)
    expect(page.get_by_role("button", name="As proposed")).to_be_visible()
    pinned = sentence.inner_text()
    expect(settled).to_be_enabled(timeout=120_000)
    stick = page.locator(".tray .stick").filter(has_not_text=re.compile("|".join(re.escape(n) for n in pinned_names(pinned)))).first
    name = stick.locator(".stick-name").inner_text()
    press(page, stick)
    press(page, page.get_by_role("button", name="Leave it in the box"))
    expect(page.locator(".stick.is-out")).to_contain_text(name)
    expect(settled).to_be_enabled(timeout=120_000)
    expect(sentence).to_have_text(pinned)
    press(page, page.get_by_role("button", name=re.compile("^Undo")))
    expect(page.locator(".stick.is-out")).to_have_count(0)
    expect(settled).to_be_enabled(timeout=120_000)


def test_the_same_face_is_seen_in_fewer_colours_and_under_another_school_by_keys(page, caltin):
    page.goto(f"{caltin.address}/studies/{again(page, caltin, 'The cook on an overcast morning')}/match")
    settled = page.get_by_role("button", name=re.compile("Put all in order"))
    expect(settled).to_be_enabled(timeout=120_000)
    note = page.locator(".family-note")
    expect(note).to_contain_text("each matched by itself")
    share = page.get_by_role("button", name=re.compile("^Share"))
    most = int(re.search(r"[0-9]+", share.inner_text()).group())
    press(page, share)
    expect(note).to_contain_text("on average", timeout=120_000)
    assert int(note.inner_text().split()[0]) <= most
    expect(settled).to_be_enabled(timeout=120_000)
    page.keyboard.press("b")
    other = page.get_by_label("The other school")
    expect(other.locator("option").nth(2)).to_be_attached()
    other.focus()
    page.keyboard.press("ArrowDown")
    expect(page.locator(".beside-table tbody td:nth-child(3) .beside-cell").first).to_be_visible(timeout=120_000)
    expect(page.get_by_role("button", name=re.compile("^Take (?!out)"))).to_be_visible()


def pinned_names(sentence):
    """The colours that a sentence names."""
    first = sentence.split(".")[0]
    return [re.split(r", (?:one|two|three|four|five|six) ", part)[0] for part in first.split("; over it ")]


def test_a_colour_that_has_run_dry_is_solved_around_and_a_finger_on_the_pad_is_answered_as_it_moves(page, caltin):
    page.goto(caltin.address)
    page.get_by_role("button", name="From a planned light or tones").click()
    page.get_by_role("button", name="Tones I know").click()
    page.locator(".tones-add input").last.fill("62 20 24")
    page.locator(".tones-add").get_by_role("button").last.click()
    page.get_by_role("link", name="Match").click()
    settled = page.get_by_role("button", name=re.compile("Put all in order"))
    expect(settled).to_be_enabled(timeout=60_000)
    pad, against = page.get_by_role("slider").first, page.get_by_test_id("against")
    box, before = pad.bounding_box(), against.inner_text()
    page.mouse.move(box["x"] + 5, box["y"] + 5)
    page.mouse.down()
    expect(against).not_to_have_text(before)
    hard = against.inner_text()
    page.mouse.move(box["x"] + box["width"] - 5, box["y"] + 5, steps=6)
    expect(against).not_to_have_text(hard)
    assert pad.get_attribute("aria-valuetext").endswith(("6 passes", "6 coats"))
    page.mouse.move(box["x"] + 5, box["y"] + box["height"] - 5, steps=6)
    page.mouse.up()
    expect(page.get_by_role("button", name="As proposed")).to_be_visible()
    page.get_by_role("button", name="As proposed").click()
    expect(settled).to_be_enabled(timeout=60_000)
    page.get_by_role("button", name="Without black, without skin sticks").click()
    expect(page.get_by_role("list", name="Ways that differ in kind").locator("li").first).to_be_visible(timeout=30_000)
    page.get_by_role("button", name=re.compile("Scrap strip")).click()
    page.get_by_role("region", name="The scrap strip").get_by_placeholder("62 18 20").fill("58 19 22")
    # The page has the study as it is now before that is undone.
    with page.expect_response(re.compile(r"/api/studies/[0-9a-f-]+$"), timeout=90_000):
        page.get_by_role("button", name="Refit the recipe to it").click()
        expect(page.get_by_text("the recipe was found again")).to_be_visible(timeout=90_000)
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(settled).to_be_enabled(timeout=60_000)


def test_a_plan_is_taken_another_way_in_sittings_and_seen_to_grow(browser, caltin, watched):
    # An order that cannot be is refused: that is part of the way.
    context = browser.new_context(viewport={"width": 1280, "height": 800}, accept_downloads=True)
    page = watched(context.new_page(), caltin.address, known=("400",))
    id = again(page, caltin, "The lamp trimmer at dusk")
    page.goto(f"{caltin.address}/studies/{id}/match")
    settled = page.get_by_role("button", name=re.compile("Put all in order"))
    expect(settled).to_be_enabled(timeout=120_000)
    settled.click()
    expect(page.get_by_role("heading", name=re.compile("steps, whole sheet together"))).to_be_visible()
    page.get_by_role("button", name="colour in the hand").click()
    expect(page.get_by_role("heading", name=re.compile("steps, colour in the hand"))).to_be_visible()
    page.get_by_label("A sitting").select_option("20")
    expect(page.get_by_text("Sitting 2")).to_be_visible()
    expect(page.locator(".steps ol")).to_have_attribute("aria-busy", "false")
    # The last step comes first, and cannot: the nearest order that can is taken.
    page.locator(".step-body").last.click()
    for _ in range(6):
        page.keyboard.press("e")
        page.wait_for_timeout(300)
        if page.get_by_role("button", name="Take the nearest that can").count():
            page.get_by_role("button", name="Take the nearest that can").click()
    expect(page.get_by_role("heading", name=re.compile("steps, in your order"))).to_be_visible()
    page.keyboard.press("g")
    portrait = page.get_by_role("img", name=re.compile("The portrait after 0 of"))
    expect(portrait).to_be_visible()
    bare = page.evaluate("document.querySelector('.grow canvas').toDataURL()")
    for _ in range(5):
        page.keyboard.press("ArrowRight")
    expect(page.get_by_text(re.compile("After step 5 of"))).to_be_visible()
    assert page.evaluate("document.querySelector('.grow canvas').toDataURL()") != bare
    with page.expect_download() as download:
        page.get_by_role("button", name="Save this step").click()
    assert download.value.suggested_filename == "step-5.png"
    page.get_by_role("button", name="Back to the steps").click()
    expect(page.locator(".step").first).to_be_visible()
    context.close()
