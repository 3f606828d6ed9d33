"""Whole faces, in a real browser: families, schools, pins and bans, a colour run dry, a plan taken another way."""

import re

import pytest
from playwright.sync_api import expect

from tests.journeys.steps import again, press

# The sitters of the demo whose complexions are deepest and lightest by ITA°; and one in pastel on dark paper.
SITTERS = {"The pilot": 10, "The purser": 8, "The engineer": 9}


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
