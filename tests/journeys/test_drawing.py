"""Drawing, in a real browser: by one key over two sittings, and what goes wrong at the table."""

import os
import re
import signal
import time

from playwright.sync_api import expect

from tests.journeys.conftest import PURSER
from tests.journeys.steps import again

SOLVE = 120_000


def from_tones(page, caltin, tones):
    """A small study of these tones, matched and put in order."""
    page.goto(caltin.address)
    page.get_by_role("button", name="From a planned light or tones").click()
    page.get_by_role("button", name="Tones I know").click()
    for tone in tones:
        page.locator(".tones-add input").last.fill(tone)
        page.locator(".tones-add").get_by_role("button").last.click()
    page.get_by_role("link", name="Match").click()
    settled = page.get_by_role("button", name=re.compile("Put all in order"))
    expect(settled).to_be_enabled(timeout=SOLVE)
    settled.click()
    expect(page.get_by_role("heading", name=re.compile("steps, whole sheet together"))).to_be_visible()
    page.get_by_role("button", name="Begin to draw").click()
    expect(page.locator(".draw-name")).to_be_visible()
    page.wait_for_load_state("networkidle")


def at(page):
    """Number of the step due, and of all."""
    return tuple(map(int, re.findall(r"\d+", page.locator(".draw-count").inner_text())[:2]))


def drawn(page):
    return page.evaluate(
        "fetch(location.pathname.replace('/studies', '/api/studies').replace('/draw', '/drawn')).then(r => r.json())"
    )


def test_a_whole_small_drawing_by_one_key_over_two_sittings(browser, caltin, watched):
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    page = watched(context.new_page(), caltin.address, known=("Failed to load resource", "ERR_CONNECTION"))
    from_tones(page, caltin, ["62 20 24", "40 18 16"])
    _, steps = at(page)
    half = steps // 2
    for n in range(half):
        expect(page.locator(".draw-count")).to_contain_text(f"Step {n + 1} of {steps}")
        page.keyboard.press(" ")
    expect(page.locator(".draw-count")).to_contain_text(f"Step {half + 1} of {steps}")
    page.reload()
    expect(page.locator(".draw-count")).to_contain_text(f"Step {half + 1} of {steps}")
    caltin.stop(signal.SIGTERM)
    caltin.start()
    page.reload()
    for n in range(half, steps):
        expect(page.locator(".draw-count")).to_contain_text(f"Step {n + 1} of {steps}")
        page.keyboard.press(" ")
    expect(page.get_by_role("heading", name="Step back and look.")).to_be_visible()
    lightest, darkest = page.locator(".draw-end-tones small").all_text_contents()
    assert float(lightest.removeprefix("value ")) > float(darkest.removeprefix("value "))
    page.keyboard.press(" ")
    expect(page.get_by_text("not sent yet")).to_have_count(0)
    page.wait_for_load_state("networkidle")
    assert len(drawn(page)) == steps
    context.close()


def test_layer_opens_where_the_drawing_stands(page, caltin):
    page.set_viewport_size({"width": 1280, "height": 500})
    page.goto(caltin.address)
    page.get_by_role("link", name="The pilot, low sun").first.click()
    page.get_by_role("link", name=re.compile("Layer")).click()
    now = page.locator(".step.is-selected")
    expect(now).to_be_in_viewport()
    assert int(now.locator(".step-number").inner_text()) > 7
    expect(page.locator(".step").first).not_to_be_in_viewport()


def test_a_key_pressed_the_moment_a_stage_stands_there_acts_on_that_stage(page, caltin):
    from_tones(page, caltin, ["62 20 24"])
    page.get_by_role("link", name="Layer").click()
    expect(page.get_by_role("heading", name=re.compile("steps, whole sheet together"))).to_be_visible()
    page.evaluate(
        """new MutationObserver((_, seen) => {
             if (!document.querySelector(".draw-done")) return;
             seen.disconnect();
             window.dispatchEvent(new KeyboardEvent("keydown", { key: " ", bubbles: true, cancelable: true }));
           }).observe(document.body, { childList: true, subtree: true })"""
    )
    page.keyboard.press(" ")
    expect(page.locator(".draw-count")).to_contain_text("Step 2 of")


def test_a_machine_that_slept_in_the_midst_of_a_mark(browser, caltin, watched):
    """The server hangs, as when the machine is put to sleep; the page is frozen and hidden, and wakes again."""
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    page = watched(context.new_page(), caltin.address)
    page.add_init_script(
        "window.locks = 0; navigator.wakeLock.request = async () => { window.locks += 1; return { release: async () => {} }; }"
    )
    from_tones(page, caltin, ["62 20 24", "40 18 16"])
    assert page.evaluate("window.locks") == 1
    os.killpg(caltin.process.pid, signal.SIGSTOP)
    page.keyboard.press(" ")
    expect(page.locator(".draw-count")).to_contain_text("Step 2 of")
    page.keyboard.press(" ")
    expect(page.locator(".draw-count")).to_contain_text("2 not sent yet")
    asleep = context.new_cdp_session(page)
    asleep.send("Page.setWebLifecycleState", {"state": "frozen"})
    time.sleep(3)
    asleep.send("Page.setWebLifecycleState", {"state": "active"})
    os.killpg(caltin.process.pid, signal.SIGCONT)
    page.evaluate("document.dispatchEvent(new Event('visibilitychange'))")
    expect(page.locator(".draw-count")).not_to_contain_text("not sent")
    expect(page.locator(".draw-count")).to_contain_text("Step 3 of")
    page.wait_for_function("window.locks >= 2")
    page.reload()
    expect(page.locator(".draw-count")).to_contain_text("Step 3 of")
    page.wait_for_load_state("networkidle")
    assert [m["kind"] for m in drawn(page)] == ["done", "done"]
    context.close()


def test_the_wrong_colour_laid_and_then_the_mark_taken_back(page, caltin):
    from_tones(page, caltin, ["62 20 24"])
    first = page.locator(".draw-name").inner_text()
    page.keyboard.press("l")
    other = page.locator(".wrong-colours button").nth(5)
    name = other.inner_text()
    other.click()
    expect(page.get_by_text("Solved again.")).to_be_visible(timeout=SOLVE)
    expect(page.locator(".draw-count")).to_contain_text("Step 2 of")
    page.keyboard.press("p")
    plan = page.get_by_role("region", name="The whole plan")
    expect(plan.locator("li").first).to_contain_text(name)
    expect(plan.locator("li").first).to_contain_text("drawn")
    page.keyboard.press("Escape")
    page.keyboard.press("Backspace")
    # What was solved from it goes too: the plan asks for what it asked for at first.
    expect(page.locator(".draw-count")).to_contain_text("Step 1 of")
    expect(page.locator(".draw-name")).to_have_text(first)
    page.wait_for_load_state("networkidle")
    assert [m["kind"] for m in drawn(page)] == ["wrong", "back"]


def test_a_colour_runs_dry_in_the_midst_and_something_is_lifted_off(page, caltin):
    from_tones(page, caltin, ["58 22 26", "35 14 12"])
    page.keyboard.press(" ")
    expect(page.locator(".draw-count")).to_contain_text("Step 2 of")
    dry = page.locator(".draw-name").inner_text()
    page.keyboard.press("d")
    page.get_by_role("region", name="It has run dry").get_by_role("button", name="It has run dry").click()
    try:
        expect(page.get_by_text("Solved again.")).to_be_visible(timeout=SOLVE)
        expect(page.locator(".draw-name")).not_to_have_text(dry)
        page.keyboard.press("p")
        rows = page.get_by_role("region", name="The whole plan").locator("li:not(.is-done)")
        expect(rows.filter(has_text=dry)).to_have_count(0)
        page.keyboard.press("Escape")
        page.keyboard.press("k")
        page.get_by_role("button", name="Kneaded eraser").click()
        expect(page.get_by_text("Solved again.")).to_be_visible(timeout=SOLVE)
        page.wait_for_load_state("networkidle")
        assert [m["kind"] for m in drawn(page)] == ["done", "dry", "lifted"]
    finally:
        page.evaluate(
            """async () => {
                const token = document.cookie.match(/csrftoken=([^;]+)/)[1];
                const study = await (await fetch(location.pathname.replace('/studies', '/api/studies').replace('/draw', ''))).json();
                const kit = await (await fetch(`/api/kits/${study.kit.id}`)).json();
                for (const c of kit.colours.filter((c) => c.state === "dry"))
                    await fetch(`/api/kits/${kit.id}/states`, {method: "PUT", headers: {"X-CSRFToken": token},
                        body: JSON.stringify({colour: c.id, state: "full"})});
            }"""
        )


def test_how_far_a_place_is_drawn_is_said_by_a_touch_on_the_picture(page, caltin):
    id = again(page, caltin, "The lamp trimmer at dusk")
    page.goto(f"{caltin.address}/studies/{id}/match")
    settled = page.get_by_role("button", name=re.compile("Put all in order"))
    expect(settled).to_be_enabled(timeout=SOLVE)
    settled.click()
    page.get_by_role("button", name="Begin to draw").click()
    mark = page.locator(".lit-mark:not(.is-lit)").first
    called = mark.get_attribute("aria-label")
    # The picture is shown about its places, and each mark lies on its own.
    frame, whole, box = page.locator(".lit").bounding_box(), page.locator(".lit img").bounding_box(), mark.bounding_box()
    assert whole["height"] > 1.05 * frame["height"]
    at = page.evaluate(
        """async ([id, said]) => {
            const study = await (await fetch(`/api/studies/${id}`)).json();
            const place = study.places.find((p) => said.startsWith(`${p.number} ${p.called}`));
            return [place.x / study.picture.width, place.y / study.picture.height];
        }""",
        [id, called],
    )
    assert abs(box["x"] + box["width"] / 2 - whole["x"] - at[0] * whole["width"]) < 20
    assert abs(box["y"] + box["height"] / 2 - whole["y"] - at[1] * whole["height"]) < 20
    # A lit mark may cover another: what is touched is what lies nearest.
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    place = called.split(":")[0].split(" ", 1)[1]
    rows = page.get_by_role("region", name=f"How far {place} is drawn").locator("li")
    expect(rows.first).to_be_visible()
    count = rows.count()
    rows.nth(count - 1).get_by_role("button").click()
    page.get_by_role("button", name=called).click()
    expect(page.locator(".so-far li.is-done")).to_have_count(count)
    page.keyboard.press("Escape")
    page.keyboard.press("Backspace")
    page.get_by_role("button", name=called).click()
    expect(page.locator(".so-far li.is-done")).to_have_count(0)
    page.wait_for_load_state("networkidle")
    assert [m["kind"] for m in drawn(page)] == ["done", "back"]


# One wall each; the other stages are looked at on both.
def test_draw_has_no_accessibility_violation_in_any_of_its_panels(page, caltin):
    from axe_playwright_python.sync_playwright import Axe

    page.goto(caltin.address)
    page.evaluate("localStorage.setItem('caltin.settings', JSON.stringify({wall: 'evening'}))")
    page.goto(caltin.address)
    page.get_by_role("link", name="The pilot, low sun").first.click()
    page.get_by_role("link", name="Draw").click()
    expect(page.locator(".draw-count")).to_be_visible()
    for key in ("", "l", "d", "k", "w", "p"):
        if key:
            page.keyboard.press(key)
        page.wait_for_load_state("networkidle")
        found = Axe().run(page)
        assert found.violations_count == 0, f"{key}: {found.generate_report()}"
        page.keyboard.press("Escape")


def test_a_family_kept_in_the_library_is_found_and_carried_to_another_kit(page, caltin):
    from_tones(page, caltin, ["62 20 24", "40 18 16"])
    page.get_by_role("link", name="Keep").click()
    page.get_by_label("Name", exact=True).fill("Two tones by the hatch")
    page.get_by_role("button", name="Keep it there").click()
    page.get_by_role("link", name="Open the library").click()
    page.get_by_label("With these words").fill("hatch")
    expect(page.locator(".library-list li")).to_have_count(1)
    expect(page.locator(".library-one h2")).to_have_text("Two tones by the hatch")
    page.locator("label:has-text('Kit') select").select_option(label="Night ferry pastels, 30")
    # The kit's own paper and hand come along.
    expect(page.locator("label:has-text('Paper') select option:checked").first).to_have_text("Hold paper, dark")
    expect(page.locator("label:has-text('Hand') select option:checked")).to_have_text("My hand on dark paper")
    page.get_by_role("button", name="See what is lost there").click()
    expect(page.get_by_role("region", name="Carried there").locator("li")).to_have_count(2, timeout=SOLVE)
    page.get_by_role("button", name="Begin a study with it").click()
    expect(page.get_by_test_id("sentence")).to_be_visible(timeout=SOLVE)
    expect(page.get_by_text("Night ferry pastels, 30")).to_be_visible()


def test_another_kit_brings_the_hand_it_was_measured_with_along(page, caltin):
    page.goto(caltin.address)
    page.get_by_role("button", name="From a planned light or tones").click()
    page.get_by_role("button", name="Tones I know").click()
    page.get_by_role("link", name="Keep").click()
    hand, paper = (page.get_by_role("combobox", name=name).locator("option:checked") for name in ("Hand", "Paper"))
    for kit, own in (("Night ferry pastels, 30", "My hand on dark paper"), ("Night ferry wax box, 24", "My hand, measured")):
        sheet = paper.inner_text()
        page.get_by_role("combobox", name="Kit").select_option(label=kit)
        expect(hand).to_have_text(own)
        expect(paper).to_have_text(sheet)


def test_a_kit_that_lacks_a_chosen_colour_is_taken_when_its_recipes_are_let_go(browser, caltin, watched):
    # What is refused is a 400, which the browser tells its console.
    page = watched(browser.new_page(), caltin.address, known=("400",))
    page.goto(f"{caltin.address}/studies/{again(page, caltin, 'The pilot, low sun')}/keep")
    kit = page.get_by_role("combobox", name="Kit")
    kit.select_option(label="Night ferry pastels, 30")
    expect(page.get_by_role("alert")).to_contain_text("takes a colour that this kit has not")
    expect(kit.locator("option:checked")).to_have_text("Night ferry wax box, 24")
    page.get_by_role("button", name="Take it, and let go of the recipes it cannot lay").click()
    expect(kit.locator("option:checked")).to_have_text("Night ferry pastels, 30")
    expect(page.get_by_role("alert")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(kit.locator("option:checked")).to_have_text("Night ferry wax box, 24")
    page.get_by_role("button", name="Delete this study").click()
    page.get_by_role("button", name="Delete for good").click()
    expect(page.get_by_role("heading", name="Begin with a picture")).to_be_visible()
    page.context.close()


def test_what_is_kept_beside_the_log_is_found_again_over_all_studies(page, caltin):
    from_tones(page, caltin, ["62 20 24"])
    page.keyboard.press(" ")
    expect(page.locator(".draw-count")).to_contain_text("Step 2 of")
    page.get_by_role("link", name="Keep").click()
    expect(page.locator(".keep-tabs")).to_be_visible()
    page.keyboard.press("j")
    expect(page.get_by_role("list", name="What was drawn").locator("li")).to_have_count(1)
    page.get_by_label("Note", exact=True).fill("Gorse yellow under the temple")
    page.get_by_label("Photograph of the drawing").set_input_files(PURSER)
    page.get_by_role("button", name="Keep it", exact=True).click()
    expect(page.locator(".journal img")).to_be_visible()
    page.keyboard.press("b")
    expect(page.get_by_role("heading", name="Colours truly used")).to_be_visible()
    page.get_by_role("link", name="Shelf").click()
    page.get_by_label("Look in the journals for").fill("gorse temple")
    page.get_by_role("list", name="Found in the journals").get_by_role("link").click()
    expect(page.locator(".journal-note")).to_have_text("Gorse yellow under the temple")


def test_journal_look_back_and_library_have_no_accessibility_violation(page, caltin):
    from axe_playwright_python.sync_playwright import Axe

    page.goto(caltin.address)
    page.evaluate("localStorage.setItem('caltin.settings', JSON.stringify({wall: 'day'}))")
    page.goto(caltin.address)
    page.get_by_role("link", name="The deckhand, carried through").first.click()
    page.get_by_role("link", name="Keep").click()
    expect(page.locator(".keep-tabs")).to_be_visible()
    for key, seen in (("c", ".card-table"), ("j", ".journal img"), ("b", ".learnt")):
        page.keyboard.press(key)
        expect(page.locator(seen).first).to_be_visible()
        found = Axe().run(page)
        assert found.violations_count == 0, f"{key}: {found.generate_report()}"
    page.goto(f"{caltin.address}/library")
    expect(page.locator(".library-one h2")).to_be_visible()
    found = Axe().run(page)
    assert found.violations_count == 0, found.generate_report()


def test_a_place_that_was_measured_while_it_is_drawn_goes_on_from_there(page, caltin):
    from_tones(page, caltin, ["52 20 24"])
    page.keyboard.press(" ")
    expect(page.get_by_text("Step 2 of").or_(page.get_by_role("heading", name="Step back and look."))).to_be_visible()
    expect(page.get_by_text("not sent yet")).to_have_count(0)
    page.wait_for_load_state("networkidle")
    page.keyboard.press("w")
    page.get_by_text("Measure what it looks like").click()
    page.get_by_label("Its tone").fill("74 20 30")
    page.get_by_role("button", name="Find the smallest cure").click()
    expect(page.get_by_text("That is kept in the journal")).to_be_visible(timeout=SOLVE)
    page.get_by_role("button", name="Put it next in the plan").first.click()
    expect(page.locator(".draw-name")).to_be_visible()
    page.get_by_role("link", name="Match").click()
    expect(page.get_by_test_id("against")).to_contain_text("From what you measured after 1 layer")
    page.get_by_role("link", name="Keep").click()
    expect(page.get_by_label("Title")).to_be_visible()
    page.keyboard.press("j")
    expect(page.locator(".came-out")).to_be_visible()
