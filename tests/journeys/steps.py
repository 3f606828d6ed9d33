"""What many journeys do: begin with a picture, touch it, take a sitter of the demo for oneself, save the card."""

import io
import re

from playwright.sync_api import expect
from pypdf import PdfReader

from tests.journeys.conftest import PURSER


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
