"""The kit on the table: files, sheets, charts, and a colour that runs dry, in a real browser. Invented colours."""

import re

import numpy as np
import pytest
from playwright.sync_api import expect

from caltin_core.colour.spectra import reflectance_from_lab
from caltin_core.standins.camera import Shot, corners_of, photograph
from tests.journeys.desk import photographed

TEN = """name,L,a,b,medium
Tally Ochre,62,14,46,wax_pencil
Bilge,24,6,8,wax_pencil
Pale Hatch,86,6,14,wax_pencil
Quarter Rose,66,30,18,wax_pencil
Flare,not measured,50,40,wax_pencil
"""


def new_kit(page, caltin):
    page.goto(caltin.address)
    page.get_by_role("button", name="Add a kit").click()
    expect(page.get_by_role("button", name="Add the first colour")).to_be_visible()


def from_file(page, tmp_path):
    file = tmp_path / "ten.csv"
    file.write_text(TEN)
    page.get_by_role("button", name="From a file").click()
    page.get_by_label("The file").set_input_files(file)


def test_a_file_with_a_bad_row_is_mended_and_taken_in_and_goes_out_again(page, caltin, tmp_path):
    new_kit(page, caltin)
    from_file(page, tmp_path)
    expect(page.get_by_role("alert")).to_contain_text("“not measured” is not a number")
    page.get_by_label("L", exact=True).fill("54")
    page.get_by_role("button", name="Look at it again").click()
    expect(page.get_by_role("alert")).to_have_count(0)
    page.get_by_role("button", name="Put 5 colours in the rack").click()
    expect(page.get_by_role("button", name=re.compile("Flare"))).to_be_visible()
    page.get_by_label("Find a colour").fill("rose")
    expect(page.locator(".kit-colour")).to_have_count(1)
    page.get_by_text("Take it along as").click()
    with page.expect_download() as download:
        page.get_by_role("link", name="a table (CSV)").click()
    text = open(download.value.path(), encoding="utf-8-sig").read()
    assert "Flare" in text
    assert text.count("\n") == 6


def test_a_printed_sheet_becomes_a_calibrated_kit(page, caltin, tmp_path):
    new_kit(page, caltin)
    from_file(page, tmp_path)
    page.get_by_role("button", name="Put 4 colours in the rack").click()
    page.get_by_role("link", name="Measure it").click()
    page.get_by_role("combobox", name="Paper").select_option(label="Chart-room vellum")
    page.get_by_label("How long have you got?").select_option("24")
    page.get_by_role("button", name="Lay it out").click()
    expect(page.locator(".sheet-cells li")).to_have_count(24, timeout=60_000)
    sheet_id = page.get_by_role("link", name="Print").get_attribute("href").split("/")[-2]
    photo, darker = tmp_path / "sheet.jpg", tmp_path / "darker.jpg"
    for file, taken in zip((photo, darker), photographed(page, caltin.address, sheet_id, "wax_pencil"), strict=True):
        file.write_bytes(taken)
    expect(page.get_by_text("Its darker photograph")).to_have_count(0)
    page.locator(".sheet-list input[type=file]").set_input_files(photo)
    expect(page.get_by_text(re.compile("2[0-4] of 24 cells read"))).to_be_visible(timeout=60_000)
    # What was photographed is read again in the light that is said, and with a second photograph.
    with page.expect_response("**/photo") as lit:
        page.get_by_label("Photographed in").select_option(label="LED")
    assert lit.value.ok
    page.get_by_label("Its darker photograph").set_input_files(darker)
    expect(page.get_by_text("Read by two photographs")).to_be_visible(timeout=60_000)
    page.get_by_role("button", name=re.compile("Calibrate by")).click()
    expect(page.get_by_text("have new versions")).to_be_visible(timeout=60_000)
    expect(page.get_by_text("4 colours of 4 measured by patches")).to_be_visible()


def test_a_chart_of_ones_own_becomes_a_kit(page, caltin, tmp_path):
    labs = np.array([(80, 10, 20), (60, 24, 26), (40, 20, 20), (70, 0, 0), (50, -8, -18), (30, 6, 8)], dtype=float)
    map_ = np.zeros((320, 480), dtype=np.uint8)
    for i in range(6):
        y, x = (int((v + 0.08) * 160) for v in divmod(i, 3))
        map_[y : y + 134, x : x + 134] = i + 1
    spectra = np.concatenate([reflectance_from_lab(np.array([[95.0, 0, 3]])), reflectance_from_lab(labs)])
    shot = Shot(size=(1200, 900), turn=4, tilt=8, odd=0.4)
    photo = tmp_path / "chart.jpg"
    photo.write_bytes(photograph(map_, 6.0, spectra, shot))
    new_kit(page, caltin)
    page.get_by_role("link", name="Measure it").click()
    # Of colours that are not there no sheet can be laid out.
    expect(page.get_by_role("button", name="Lay it out")).to_have_count(0)
    page.get_by_role("button", name="I have a chart already").click()
    page.get_by_label("The photograph").set_input_files(photo)
    image = page.get_by_alt_text("Your chart; touch its corners")
    expect(image).to_be_visible()
    image.evaluate("i => i.decode()")
    expect(page.get_by_text("Are corners, rows and columns right?")).to_be_visible(timeout=20_000)
    expect(page.get_by_label("Rows")).to_have_value("2")
    expect(page.get_by_label("Columns")).to_have_value("3")
    x, y = corners_of(map_.shape, shot)[0]
    box = image.bounding_box()
    image.click(position={"x": x / 1200 * box["width"], "y": y / 900 * box["height"]})
    page.get_by_role("button", name="Read the chart").click()
    expect(page.locator(".sheet-cells li")).to_have_count(6)
    page.get_by_role("button", name="2.2: touch its true place").click()
    x, y = corners_of(map_.shape, shot).mean(axis=0)
    image.click(position={"x": x / 1200 * box["width"], "y": y / 900 * box["height"]})
    expect(page.get_by_text("Touch the middle of cell 2.2")).to_be_visible()
    page.get_by_role("button", name="2.2: touch its true place").click()
    page.get_by_label(re.compile("Their names")).fill("Sail\nClay\nBark\nStone\nSquall\nPitch")
    put = page.get_by_role("button", name="Put 6 colours in the rack")
    put.click()
    expect(put).to_be_hidden()
    page.get_by_role("link", name="Rack").click()
    # The rack is put in order once its order is known.
    page.wait_for_load_state("networkidle")
    page.get_by_role("button", name="Clay").click()
    expect(page.get_by_text("from a photograph")).to_be_visible()
    page.get_by_role("button", name="by hand").click()
    names = page.locator(".kit-colour b")
    expect(names).to_have_text(["Sail", "Clay", "Bark", "Stone", "Squall", "Pitch"])
    page.locator(".kit-colour").first.focus()
    page.keyboard.press("Alt+ArrowRight")
    expect(names).to_have_text(["Clay", "Sail", "Bark", "Stone", "Squall", "Pitch"])
    page.locator(".kit-rack li").nth(5).drag_to(page.locator(".kit-rack li").first)
    expect(names).to_have_text(["Pitch", "Clay", "Sail", "Bark", "Stone", "Squall"])


def test_the_screen_is_dimmed_to_the_white_of_the_sheet_beside_it(page, caltin):
    page.goto(caltin.address)
    page.get_by_role("button", name="Keys and settings").click()
    page.get_by_text("Match the screen’s white").click()
    page.get_by_label("Brightness").fill("0.7")
    page.get_by_label("Blue").fill("0.8")
    page.reload()
    assert "sheet-white" in page.evaluate("document.documentElement.style.filter")
    values = page.locator("#sheet-white feColorMatrix").get_attribute("values").split()
    assert [float(values[i]) for i in (0, 6, 12)] == pytest.approx([0.7, 0.7, 0.56])
    page.get_by_role("button", name="Keys and settings").click()
    page.get_by_text("Match the screen’s white").click()
    page.get_by_role("button", name="The screen as it is").click()
    expect(page.locator("#sheet-white")).to_have_count(0)


def test_a_colour_that_runs_dry_in_the_midst_of_a_study_leaves_every_recipe(page, caltin):
    page.goto(caltin.address)
    page.get_by_role("button", name="From a planned light or tones").click()
    page.get_by_role("button", name="Tones I know").click()
    page.locator(".tones-add input").last.fill("62 18 20")
    page.locator(".tones-add").get_by_role("button").last.click()
    expect(page.get_by_role("link", name=re.compile("Look 1 place"))).to_be_visible()
    page.get_by_role("link", name="Match").click()
    sentence = page.get_by_test_id("sentence")
    expect(sentence).to_be_visible(timeout=60_000)
    colour = page.locator(".editor-head b").first.inner_text()
    study = page.url
    page.goto(caltin.address)
    page.locator(".rack-kit", has_text="Night ferry wax").click()
    page.locator(".kit-colour", has_text=colour).click()
    page.get_by_role("group", name="How full it is").get_by_role("button", name="dry", exact=True).click()
    expect(page.locator(".kit-colour.is-out")).to_have_count(1)
    page.goto(study)
    expect(sentence).to_be_visible(timeout=60_000)
    expect(sentence).not_to_contain_text(colour)
    page.goto(caltin.address)
    page.locator(".rack-kit", has_text="Night ferry wax").click()
    page.locator(".kit-colour", has_text=colour).click()
    page.get_by_role("group", name="How full it is").get_by_role("button", name="full", exact=True).click()
    expect(page.locator(".kit-colour.is-out")).to_have_count(0)
