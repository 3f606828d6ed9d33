"""Pictures at the door: every format whole and cut off, lying headers, odd modes, profiles, and what must be left outside."""

import io
import struct

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from caltin_core.colour.spaces import SRGB_TO_XYZ50, decode_srgb, encode_srgb
from caltin_core.errors import UnreadablePicture
from caltin_core.reference.picture import open_picture, write_jpeg
from tests.core.pictures import encoded

FORMS = ("JPEG", "PNG", "WEBP", "TIFF", "HEIF")


def smooth(width=160, height=120):
    y, x = np.mgrid[0:height, 0:width]
    return np.stack([120 + 60 * x / width, 90 + 50 * y / height, 80 + 0 * x], axis=-1).astype(np.uint8)


@pytest.mark.parametrize("form", FORMS)
def test_every_format_is_read(form):
    pixels = open_picture(encoded(smooth(), form))
    assert pixels.shape == (120, 160, 3)
    assert np.abs(pixels.astype(int) - smooth()).mean() < 4


@pytest.mark.parametrize("form", FORMS)
@pytest.mark.parametrize("share", [0.02, 0.3, 0.6, 0.9])
def test_every_format_cut_off_gets_a_sentence(form, share):
    noise = np.random.default_rng(3).integers(0, 256, (200, 240, 3)).astype(np.uint8)
    content = encoded(noise, form)
    with pytest.raises(UnreadablePicture, match=r"whole|damaged"):
        open_picture(content[: int(len(content) * share)])


@given(st.binary(max_size=400))
def test_noise_is_no_picture(content):
    for head in (
        b"",
        b"\xff\xd8\xff\xe0",
        b"\x89PNG\r\n\x1a\n",
        b"RIFF\x10\x00\x00\x00WEBP",
        b"II*\x00",
        b"\x00\x00\x00\x18ftypheic",
    ):
        with pytest.raises(UnreadablePicture):
            open_picture(head + content)


def tiff_header(width, height):
    """A TIFF that promises a size and holds one strip of nothing."""
    entries = [(256, 4, 1, width), (257, 4, 1, height), (258, 3, 1, 8), (259, 3, 1, 1), (262, 3, 1, 1), (273, 4, 1, 8),
               (277, 3, 1, 1), (278, 4, 1, height), (279, 4, 1, 4)]  # fmt: skip
    body = b"".join(struct.pack("<HHII", *e) for e in entries)
    return b"II*\x00" + struct.pack("<I", 8) + struct.pack("<H", len(entries)) + body + struct.pack("<I", 0)


def test_a_header_of_sixty_thousand_squared_is_refused_before_it_is_decoded():
    with pytest.raises(UnreadablePicture, match="50 megapixels"):
        open_picture(tiff_header(60_000, 60_000))


@pytest.mark.parametrize("form", ["PNG", "TIFF"])
def test_sixteen_bits_are_read(form):
    deep = np.full((20, 30, 3), 0x8080, dtype=np.uint16)
    deep[:, 15:] = 0x2020
    ok, content = cv2.imencode("." + form.lower(), deep)
    assert ok
    pixels = open_picture(content.tobytes())
    assert (pixels[5, 5].tolist(), pixels[5, 25].tolist()) == ([128] * 3, [32] * 3)


@pytest.mark.parametrize("mode", ["CMYK", "P", "L", "LA", "1", "RGBA", "YCbCr", "LAB"])
def test_tiffs_of_every_mode_become_rgb(mode):
    pixels = open_picture(encoded(Image.fromarray(smooth()).convert("RGB").convert(mode) if mode != "LAB" else lab_image(), "TIFF"))
    assert pixels.shape == (120, 160, 3)


def lab_image():
    from PIL import ImageCms

    to_lab = ImageCms.buildTransform(ImageCms.createProfile("sRGB"), ImageCms.createProfile("LAB"), "RGB", "LAB")
    return ImageCms.applyTransform(Image.fromarray(smooth()), to_lab)


def test_of_an_animation_the_first_frame_is_taken():
    frames = [Image.fromarray(np.full((40, 40, 3), v, dtype=np.uint8)) for v in (200, 20, 20)]
    content = encoded(frames[0], "WEBP", save_all=True, append_images=frames[1:], lossless=True)
    assert open_picture(content)[0, 0].tolist() == [200, 200, 200]


def test_what_hangs_behind_a_picture_is_left_behind():
    content = encoded(smooth(), "JPEG") + b"PK\x03\x04<script>alert(1)</script>"
    assert b"script" not in write_jpeg(open_picture(content))


@pytest.mark.parametrize("form", ["JPEG", "TIFF", "WEBP", "HEIF"])
def test_location_tags_are_gone(form):
    image = Image.fromarray(smooth())
    exif = image.getexif()
    exif.get_ifd(0x8825)[2] = (60.0, 10.0, 14.6)
    exif[0x010E] = "the third berth"
    content = encoded(image, form, exif=exif.tobytes())
    assert b"the third berth" in content
    again = write_jpeg(open_picture(content))
    assert b"the third berth" not in again
    assert not Image.open(io.BytesIO(again)).getexif()


def icc(primaries_to_xyz50):
    """A minimal version 2 matrix profile whose curves are a gamma of 2.2, as ICC.1:2001-04 lays it out."""

    def number(v):
        return struct.pack(">i", round(v * 65536))

    def xyz(column):
        return b"XYZ \0\0\0\0" + b"".join(number(v) for v in column)

    curve = b"curv\0\0\0\0" + struct.pack(">IH", 1, round(2.2 * 256)) + b"\0\0"
    text = b"desc\0\0\0\0" + struct.pack(">I", 5) + b"wide\0" + b"\0" * 78
    tags = [(b"desc", text), (b"wtpt", xyz((0.9642, 1, 0.8249))), (b"cprt", b"text\0\0\0\0none\0")]
    tags += [(name, xyz(primaries_to_xyz50[:, i])) for i, name in enumerate((b"rXYZ", b"gXYZ", b"bXYZ"))]
    tags += [(name, curve) for name in (b"rTRC", b"gTRC", b"bTRC")]
    at, table, body = 128 + 4 + 12 * len(tags), b"", b""
    for name, data in tags:
        data += b"\0" * (-len(data) % 4)
        table += name + struct.pack(">II", at + len(body), len(data))
        body += data
    head = struct.pack(">I4sI4s4s4s12s4s4s", 0, b"none", 0x02100000, b"mntr", b"RGB ", b"XYZ ", b"\0" * 12, b"acsp", b"\0" * 4)
    head += struct.pack(">IIIQI", 0, 0, 0, 0, 0)
    head += number(0.9642) + number(1.0) + number(0.8249) + b"\0" * 48
    out = head + struct.pack(">I", len(tags)) + table + body
    return struct.pack(">I", len(out)) + out[4:]


def test_a_wide_gamut_profile_is_honoured():
    # Primaries wider than sRGB (those of Display P3: SMPTE RP 431-2 with a D65 white), gamma 2.2.
    primaries = np.array([[0.680, 0.265, 0.150], [0.320, 0.690, 0.060], [0.0, 0.045, 0.790]])
    from caltin_core.colour.spaces import WHITE_D50, WHITE_D65, adaptation

    to_xyz = adaptation(WHITE_D65, WHITE_D50) @ (primaries * np.linalg.solve(primaries, WHITE_D65))
    wanted = np.array([196, 140, 112])
    wide = np.linalg.solve(to_xyz, SRGB_TO_XYZ50 @ decode_srgb(wanted / 255.0))
    codes = np.rint(255 * wide ** (1 / 2.2)).astype(np.uint8)
    image = Image.fromarray(np.broadcast_to(codes, (20, 20, 3)).copy())
    pixels = open_picture(encoded(image, "PNG", icc_profile=icc(to_xyz)))
    assert np.abs(pixels[0, 0].astype(int) - wanted).max() <= 2
    assert np.abs(codes.astype(int) - wanted).max() > 2
    assert encode_srgb(np.array([1.0]))[0] == pytest.approx(1)
