"""Renew ``docs/screenshots/`` from the demo data: ``python -m scripts.screenshots``."""

import tempfile
from pathlib import Path

from playwright.sync_api import sync_playwright

from tests.journeys.conftest import CHROMIUM, ROOT, Caltin
from tests.journeys.desk import photographed

OUT = ROOT / "docs" / "screenshots"
STAGES = ("look", "match", "layer", "draw", "keep")
# Pictures of Look beside its first: name, the keys that lead there, and whether a zone is chosen.
LOOKS = (("zones", "z", True), ("paper", "pi", False))


def main() -> None:
    """Start Caltin on a fresh folder and take one picture of each main view, 1280×800."""
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as play:
        caltin = Caltin(Path(folder))
        caltin.start()
        try:
            page = play.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM).new_page(
                viewport={"width": 1280, "height": 800}
            )
            page.goto(caltin.address)
            page.locator(".study").first.wait_for()
            page.wait_for_load_state("networkidle")
            page.screenshot(path=OUT / "shelf.png")
            page.locator(".rack-kit", has_text="pastels").click()
            page.get_by_role("link", name="What it serves").click()
            page.get_by_label("On paper").select_option(label="Hold paper, dark")
            page.locator(".coverage").wait_for(timeout=60_000)
            page.get_by_role("button", name="misses").first.click()
            page.screenshot(path=OUT / "serves.png")
            page.goto(caltin.address)
            page.locator(".rack-kit", has_text="markers").click()
            page.get_by_role("button", name="Bench End value").click()
            page.locator(".without").wait_for()
            page.wait_for_load_state("networkidle")
            page.screenshot(path=OUT / "kit.png")
            page.get_by_role("link", name="Measure it").click()
            page.get_by_role("button", name="Lay it out").click()
            page.get_by_text("Its photograph").wait_for(timeout=60_000)
            sheet_id = page.locator("a", has_text="Print").first.get_attribute("href").split("/")[-2]
            file = Path(folder) / "sheet.jpg"
            file.write_bytes(photographed(page, caltin.address, sheet_id, "alcohol_marker")[0])
            page.get_by_label("Photographed in").select_option(label="LED")
            page.locator("input[type=file]").first.set_input_files(file)
            page.get_by_text("Photograph again").nth(1).wait_for(timeout=60_000)
            page.locator(".further li").first.wait_for(timeout=60_000)
            page.screenshot(path=OUT / "sheet.png")
            page.goto(caltin.address)
            page.get_by_role("link", name="The pilot, low sun").click()
            for stage in STAGES:
                page.get_by_role("link", name=stage.capitalize()).click()
                page.wait_for_load_state("networkidle")
                page.wait_for_timeout(400)
                if stage == "look":
                    page.get_by_role("button", name="Far cheek").click()
                page.screenshot(path=OUT / f"{stage}.png")
                if stage == "draw":
                    page.get_by_role("button", name="Something is wrong").click()
                    page.get_by_role("button", name="Find the smallest cure").click()
                    page.locator(".cures li").first.wait_for(timeout=60_000)
                    page.screenshot(path=OUT / "cure.png")
            page.goto(caltin.address)
            page.get_by_role("link", name="The lamp trimmer at dusk").click()
            page.get_by_role("link", name="Match").click()
            page.locator(".family-note").wait_for(timeout=180_000)
            page.keyboard.press("u")
            page.locator(".under-chart li").first.wait_for(timeout=60_000)
            page.locator(".tray .stick").first.wait_for(timeout=60_000)
            page.wait_for_timeout(400)
            page.screenshot(path=OUT / "under.png")
            page.keyboard.press("u")
            page.get_by_role("button", name="Rules").click()
            page.wait_for_timeout(400)
            page.screenshot(path=OUT / "family.png")
            page.get_by_role("link", name="Layer").click()
            page.locator(".step").first.wait_for(timeout=60_000)
            page.keyboard.press("g")
            page.locator(".grow canvas").wait_for()
            for _ in range(14):
                page.keyboard.press("ArrowRight")
            page.wait_for_timeout(500)
            page.screenshot(path=OUT / "grow.png")
            page.goto(caltin.address)
            page.get_by_role("link", name="The stoker by lantern").click()
            page.get_by_role("link", name="Look").click()
            page.get_by_role("button", name="A light I plan").click()
            page.locator(".ball image").wait_for()
            page.wait_for_load_state("networkidle")
            page.screenshot(path=OUT / "light.png")
            page.goto(caltin.address)
            page.get_by_role("link", name="The deckhand under a high sun").click()
            page.get_by_role("link", name="Look").click()
            for name, keys, selects in LOOKS:
                for key in keys:
                    page.keyboard.press(key)
                page.wait_for_load_state("networkidle")
                page.wait_for_timeout(1500)
                if selects:
                    page.locator(".place-list button").nth(1).click()
                    page.wait_for_timeout(500)
                page.mouse.move(640, 780)
                page.screenshot(path=OUT / f"{name}.png")
            page.goto(caltin.address)
            page.get_by_role("link", name="The deckhand, carried through").click()
            page.get_by_role("link", name="Keep").click()
            page.locator(".keep-tabs").wait_for()
            page.keyboard.press("j")
            page.locator(".journal img").last.wait_for()
            page.wait_for_load_state("networkidle")
            page.screenshot(path=OUT / "journal.png")
            page.goto(f"{caltin.address}/library")
            page.get_by_label("Near this tone").fill("52 20 24")
            page.locator(".library-tones .is-near").first.wait_for()
            page.locator("label", has_text="Kit").locator("select").select_option(label="Night ferry pastels, 30")
            page.get_by_role("button", name="See what is lost there").click()
            page.get_by_role("region", name="Carried there").wait_for(timeout=60_000)
            page.get_by_role("region", name="Carried there").scroll_into_view_if_needed()
            page.screenshot(path=OUT / "library.png")
            page.goto(f"{caltin.address}/compare")
            page.get_by_label("Left").select_option("The pilot, low sun")
            page.get_by_label("Right").select_option("The cook on an overcast morning")
            page.locator(".measures").nth(1).wait_for()
            page.wait_for_load_state("networkidle")
            page.wait_for_timeout(1500)
            page.screenshot(path=OUT / "compare.png")
        finally:
            caltin.stop()


if __name__ == "__main__":
    main()
