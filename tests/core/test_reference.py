"""Reading pictures: places, values, undertone, the range map, and what stands at the door."""

import io
import struct
import zlib

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image, ImageCms, ImageFile

from caltin_core.colour.spaces import lab_from_srgb
from caltin_core.errors import BadRequest, UnreadablePicture
from caltin_core.reference.develop import Develop
from caltin_core.reference.picture import open_picture, write_jpeg
from caltin_core.reference.points import balance, extremes, histogram, tone, zones
from caltin_core.reference.range_map import propose
from caltin_core.skin.undertone import individual_typology_angle, undertone


def flat(colour=(200, 150, 120), size=(60, 40)):
    return np.full((size[1], size[0], 3), colour, dtype=np.uint8)


def encoded(image, form="PNG", **more):
    out = io.BytesIO()
    image.save(out, form, **more)
    return out.getvalue()


def png(width, height):
    """A PNG whose header promises a size, with no pixels behind it."""

    def chunk(kind, body):
        return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))

    header = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", header) + chunk(b"IDAT", zlib.compress(b"\0")) + chunk(b"IEND", b"")


def test_a_flat_disc_reads_as_its_colour_without_spread():
    found = tone(flat(), 30, 20, 8)
    assert found.lab == pytest.approx(lab_from_srgb(np.array([200, 150, 120]) / 255), abs=1e-9)
    assert found.spread == 0


def test_the_median_is_not_moved_by_a_few_stray_pixels():
    pixels = flat()
    pixels[18:20, 28:31] = 0
    assert tone(pixels, 30, 20, 10).lab == pytest.approx(tone(flat(), 30, 20, 10).lab)


def test_a_disc_at_the_edge_reads_what_lies_inside_and_one_outside_is_refused():
    assert tone(flat(), 0, 0, 12).spread == 0
    assert tone(flat(), 59, 39, 0).spread == 0
    for x, y, where in ((-1, 5, "x"), (60, 5, "x"), (5, 40, "y")):
        with pytest.raises(BadRequest) as fault:
            tone(flat(), x, y, 3)
        assert fault.value.where == where


@given(st.tuples(*[st.integers(60, 250)] * 3))
def test_balance_makes_the_place_neutral_and_keeps_its_lightness(colour):
    pixels = flat(colour)
    before, after = tone(pixels, 30, 20, 5), tone(pixels, 30, 20, 5, Develop(balance(pixels, 30, 20)))
    assert after.lab[1:] == pytest.approx([0, 0], abs=1e-6)
    assert after.lab[0] == pytest.approx(before.lab[0], abs=1e-6)


def test_zones_are_equal_munsell_steps_whose_shares_add_up():
    pixels = flat((20, 20, 20), (100, 10))
    pixels[:, 70:] = 235
    found = zones(pixels, 5)
    assert [z.value for z in found] == [1, 3, 5, 7, 9]
    assert sum(z.share for z in found) == pytest.approx(1)
    assert found[0].share == pytest.approx(0.7)
    assert found[4].share == pytest.approx(0.3)
    assert histogram(pixels).sum() == pytest.approx(1)


def test_darkest_and_lightest_are_found_where_they_lie():
    pixels = flat((120, 120, 120), (300, 200))
    pixels[30:60, 40:70] = 10
    pixels[140:170, 220:250] = 250
    dark, light = extremes(pixels)
    assert (40 <= dark.x < 70, 30 <= dark.y < 60) == (True, True)
    assert (220 <= light.x < 250, 140 <= light.y < 170) == (True, True)
    assert dark.lab[0] < 5 < 95 < light.lab[0]


def test_ita_is_chardon_cretois_and_hourseau_1991():
    # ITA° = arctan((L* - 50) / b*) · 180/π: L* 70, b* 20 gives 45°; L* 40, b* 10 gives -45°.
    assert individual_typology_angle(np.array([70.0, 10, 20])) == pytest.approx(45)
    assert individual_typology_angle(np.array([40.0, 10, 10])) == pytest.approx(-45)


@pytest.mark.parametrize("lightness", [25, 40, 60, 80])
@pytest.mark.parametrize(
    ("hue", "strength", "word"),
    [(40, 0.4, "pink"), (55, 0.4, "orange"), (70, 0.45, "yellow"), (75, 0.2, "olive"), (60, 0.05, "neutral")],
)
def test_undertone_words_are_the_same_for_deep_and_light_skin(lightness, hue, strength, word):
    chroma = strength * lightness
    lab = np.array([lightness, chroma * np.cos(np.radians(hue)), chroma * np.sin(np.radians(hue))])
    assert undertone(lab).word == word


@given(st.floats(0, 45), st.floats(55, 100), st.floats(20, 35), st.floats(85, 97), st.floats(0, 100))
def test_the_range_map_is_monotone_and_stays_in_what_can_be_shown(dark, light, low, high, held):
    carried = propose((dark, light), (low, high), held)
    lightness = np.linspace(dark, light, 60)
    shown = carried(np.column_stack([lightness, np.full((60, 2), 10.0)]))
    assert np.all(np.diff(shown[:, 0]) >= -1e-9)
    assert low - 1e-6 <= shown[0, 0] <= shown[-1, 0] <= high + 1e-6
    assert np.arctan2(shown[:, 2], shown[:, 1]) == pytest.approx(np.pi / 4)


def test_a_range_that_can_be_shown_stays_as_it_is():
    carried = propose((35.0, 85.0), (22.0, 95.0), 60.0)
    lab = np.array([[35.0, 10, 10], [50, 12, 14], [85, 5, 5]])
    assert carried(lab) == pytest.approx(lab)


def test_the_skins_own_middle_is_held_when_it_can_be():
    carried = propose((2.0, 99.0), (22.0, 95.0), 60.0)
    assert carried(np.array([60.0, 20, 20])) == pytest.approx([60, 20, 20])
    assert carried(np.array([2.0, 0, 0]))[0] == pytest.approx(22)


def test_a_picture_is_turned_upright_and_loses_its_metadata():
    image = Image.fromarray(flat(size=(60, 40)))
    exif = image.getexif()
    exif[0x0112] = 6
    exif[0x010E] = "where I live"
    content = encoded(image, "JPEG", exif=exif)
    pixels = open_picture(content)
    assert pixels.shape == (60, 40, 3)
    assert b"where I live" in content
    again = write_jpeg(pixels)
    assert b"where I live" not in again
    assert not Image.open(io.BytesIO(again)).getexif()


def test_an_icc_profile_is_honoured():
    profile = ImageCms.ImageCmsProfile(ImageCms.createProfile("LAB")).tobytes()
    srgb = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    image = Image.fromarray(flat((180, 90, 60)))
    kept = open_picture(encoded(image, icc_profile=srgb))
    assert np.abs(kept.astype(int) - (180, 90, 60)).max() <= 1
    # A profile that does not fit the picture is left aside rather than refused.
    assert open_picture(encoded(image, icc_profile=profile)).shape == (40, 60, 3)


@pytest.mark.parametrize("mode", ["L", "1", "P", "RGBA", "LA", "CMYK", "I;16"])
def test_every_kind_of_jpeg_and_png_becomes_rgb(mode):
    image = (
        Image.fromarray(np.full((20, 30), 30000, dtype=np.uint16))
        if mode == "I;16"
        else Image.fromarray(flat((128, 128, 128), (30, 20))).convert(mode)
    )
    content = encoded(image, "JPEG" if mode == "CMYK" else "PNG")
    pixels = open_picture(content)
    assert pixels.shape == (20, 30, 3)
    assert pixels.dtype == np.uint8


def test_transparency_lies_on_white():
    assert open_picture(encoded(Image.new("RGBA", (8, 8), (0, 0, 0, 0))))[0, 0].tolist() == [255, 255, 255]


WHOLE = encoded(Image.fromarray(flat(size=(300, 200))), "JPEG")


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"this is a letter, not a picture", "not a whole JPEG"),
        (b"", "not a whole JPEG"),
        (encoded(Image.fromarray(flat()), "GIF"), "not a whole JPEG"),
        (encoded(Image.fromarray(flat()), "BMP"), "not a whole JPEG"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'/>", "not a whole JPEG"),
        (WHOLE[: len(WHOLE) // 2], "cut off or damaged"),
        (png(60_000, 60_000), "50 megapixels"),
        (png(8_000, 6_251), "50 megapixels"),
        (png(100, 100), "damaged|not a whole JPEG"),
    ],
)
def test_what_is_not_a_whole_picture_gets_a_sentence(content, says, monkeypatch):
    # As a PDF maker in the same process leaves it.
    monkeypatch.setattr(ImageFile, "LOAD_TRUNCATED_IMAGES", True)
    with pytest.raises(UnreadablePicture, match=says):
        open_picture(content)
