"""The one door to pictures: taken in at the door, read, given back, really deleted."""

import io
import shutil
import uuid
from pathlib import Path
from typing import Any

import numpy as np
from django.conf import settings
from django.db import transaction
from django.db.models import ProtectedError
from PIL import Image

from caltin_core.colour.spaces import hex_from_lab
from caltin_core.errors import BadRequest, UnreadablePicture
from caltin_core.reference.areas import Labels, map_size
from caltin_core.reference.develop import PLAIN, Develop
from caltin_core.reference.line_art import is_line_art
from caltin_core.reference.picture import open_picture, write_jpeg
from caltin_core.reference.points import Tone, extremes, histogram, proxy, tone
from caltin_site.ownership import mine
from caltin_site.references import looking
from caltin_site.references.models import AreaMap, Picture

VIEW, THUMBNAIL, QUICK = 1600, 360, 640


def take_in(owner: Any, name: str, content: bytes) -> Picture:
    """Check, decode and keep a picture; only its pixels. Raises UnreadablePicture with a sentence."""
    if len(content) > settings.UPLOAD_MOST_BYTES:
        raise UnreadablePicture("picture", "the file is larger than 120 MB")
    pixels = open_picture(content, "picture")
    if min(pixels.shape[:2]) < 8:
        raise UnreadablePicture("picture", "the picture is smaller than 8 pixels across")
    small = proxy(pixels, VIEW)
    scale = pixels.shape[1] / small.shape[1]
    dark, light = extremes(small, longest=QUICK)
    reading = {
        "darkest": {
            "x": round(dark.x * scale),
            "y": round(dark.y * scale),
            "l": round(float(dark.lab[0]), 3),
            "hex": hex_from_lab(dark.lab)[0],
        },
        "lightest": {
            "x": round(light.x * scale),
            "y": round(light.y * scale),
            "l": round(float(light.lab[0]), 3),
            "hex": hex_from_lab(light.lab)[0],
        },
        "histogram": [round(float(v), 6) for v in histogram(small)],
        "line_art": is_line_art(PLAIN.of_pixels(proxy(small, QUICK))),
    }
    height, width = pixels.shape[:2]
    picture = Picture(owner=owner, name=Path(name).name[:200] or "picture", width=width, height=height, reading=reading)
    picture.folder.mkdir(parents=True)
    try:
        np.save(picture.folder / "pixels.npy", pixels)
        np.save(picture.folder / "proxy.npy", small)
        (picture.folder / "view.jpg").write_bytes(write_jpeg(small, VIEW))
        (picture.folder / "thumbnail.jpg").write_bytes(write_jpeg(small, THUMBNAIL, 84))
        with transaction.atomic():
            picture.save()
    except BaseException:
        shutil.rmtree(picture.folder, ignore_errors=True)
        raise
    return picture


def read_tone(picture: Picture, x: float, y: float, radius: float, develop: Develop = PLAIN) -> Tone:
    """The tone of a disc of the full picture, as it is developed. Raises BadRequest at x, y or radius."""
    if not 0 <= radius <= max(picture.width, picture.height):
        raise BadRequest("radius", "the disc must be smaller than the picture")
    return tone(looking.pixels_of(str(picture.folder / "pixels.npy")), x, y, radius, develop)


def map_of(picture: Picture, labels: Labels) -> AreaMap:
    """Keep a map of areas. Raises BadRequest where it has not the picture's map size."""
    if labels.shape[::-1] != map_size(picture.width, picture.height):
        raise BadRequest("areas", "these areas belong to a picture of another size")
    out = io.BytesIO()
    Image.fromarray(labels).save(out, "PNG")
    return AreaMap.objects.create(owner=picture.owner, picture=picture, png=out.getvalue())


def labels_of(owner: Any, id: uuid.UUID) -> Labels:
    """The labels (h, w) of a map of this owner's."""
    with Image.open(io.BytesIO(bytes(mine(AreaMap, owner, id).png)), formats=("PNG",)) as image:
        return np.array(image, dtype=np.uint8)


def file_of(owner: Any, id: uuid.UUID, size: str) -> Path:
    """The JPEG to show, of this owner's picture."""
    return mine(Picture, owner, id).folder / f"{size}.jpg"


def delete_unused(picture: Picture) -> None:
    """Delete a picture, unless a study uses it now or may go back to it (BadRequest)."""
    with transaction.atomic():
        if picture.studies.exists():
            raise BadRequest("id", "a study uses this picture; delete the study instead")
        try:
            delete(picture)
        except ProtectedError:
            raise BadRequest("id", "a journal shows this picture; take it out there first") from None


def delete(picture: Picture) -> None:
    """Delete the row and, once that is committed, its files."""
    folder = picture.folder
    picture.delete()

    def gone() -> None:
        looking.forget()
        shutil.rmtree(folder, ignore_errors=True)

    transaction.on_commit(gone)
