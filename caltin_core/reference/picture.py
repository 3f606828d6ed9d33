"""A picture at the door: checked before it is decoded, turned upright, brought to sRGB, metadata dropped."""

import io
import warnings
from pathlib import Path
from typing import BinaryIO

import numpy as np
import pillow_heif
from numpy.typing import NDArray
from PIL import Image, ImageCms, ImageFile, ImageOps

from caltin_core.errors import UnreadablePicture

pillow_heif.register_heif_opener(thumbnails=False)

MOST_PIXELS = 50_000_000
FORMATS = ("JPEG", "PNG", "WEBP", "TIFF", "HEIF")
_NOT_A_PICTURE = "this file is not a whole JPEG, PNG, WebP, HEIC or TIFF picture"

Pixels = NDArray[np.uint8]


def open_picture(source: BinaryIO | Path | bytes, where: str = "image") -> Pixels:
    """The upright picture as sRGB pixels (height, width, 3).

    Its ICC profile is honoured, transparency lies on white, orientation is applied, and nothing but the
    pixels is kept; of several frames or pages, the first. Raises UnreadablePicture, at `where`, for anything
    that is not a whole JPEG, PNG, WebP, HEIC or TIFF of at most 50 megapixels.
    """
    stream = io.BytesIO(source) if isinstance(source, bytes) else source
    opened = False
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            # Other packages in the process may have told Pillow to make do with half a picture.
            ImageFile.LOAD_TRUNCATED_IMAGES = False
            with Image.open(stream, formats=FORMATS) as image:
                opened = True
                width, height = image.size
                if width * height > MOST_PIXELS:
                    raise UnreadablePicture(where, f"the picture has {width} × {height} pixels; up to 50 megapixels can be read")
                return _upright_srgb(image)
    except UnreadablePicture:
        raise
    except FileNotFoundError:
        raise UnreadablePicture(where, "there is no such file") from None
    except Image.DecompressionBombError:
        raise UnreadablePicture(where, "the picture has far more than 50 megapixels") from None
    except Image.UnidentifiedImageError:
        raise UnreadablePicture(where, _NOT_A_PICTURE) from None
    except (OSError, ValueError, SyntaxError, MemoryError, EOFError, KeyError, IndexError, TypeError, RuntimeError) as fault:
        # Each decoder says it in its own way; a picture that could be opened and not read is damaged.
        cut = opened or isinstance(fault, EOFError)
        raise UnreadablePicture(where, "the picture is cut off or damaged" if cut else _NOT_A_PICTURE) from None


def _upright_srgb(image: Image.Image) -> Pixels:
    profile = image.info.get("icc_profile")
    image.load()
    # In place, and without copies where nothing changes: a large picture is heavy.
    ImageOps.exif_transpose(image, in_place=True)
    turned: Image.Image = image
    if turned.mode.startswith("I") or turned.mode == "F":
        deep = np.asarray(turned, dtype=np.float64)
        grey = np.clip(np.rint(deep / 257), 0, 255).astype(np.uint8)
        return np.repeat(grey[:, :, None], 3, axis=2)
    if turned.mode in ("P", "PA", "1") or "transparency" in turned.info:
        turned = turned.convert("RGBA")
    alpha = turned.getchannel("A") if turned.mode in ("RGBA", "LA", "La", "RGBa") else None
    flat = turned.convert({"LA": "L", "La": "L"}.get(turned.mode, "RGB")) if alpha is not None else turned
    srgb = _to_srgb(flat, profile)
    if alpha is not None:
        paper = Image.new("RGB", srgb.size, "white")
        paper.paste(srgb, mask=alpha)
        srgb = paper
    return np.asarray(srgb, dtype=np.uint8)


def _to_srgb(image: Image.Image, profile: bytes | None) -> Image.Image:
    """The same picture in sRGB; without a profile, or with one that cannot be read, it is taken as sRGB."""
    if profile:
        try:
            source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
            intent = ImageCms.Intent.RELATIVE_COLORIMETRIC
            done = ImageCms.profileToProfile(image, source, ImageCms.createProfile("sRGB"), intent, outputMode="RGB")
            if done is not None:
                return done
        except (ImageCms.PyCMSError, OSError):
            pass
    return image if image.mode == "RGB" else image.convert("RGB")


def write_jpeg(pixels: Pixels, longest: int | None = None, quality: int = 90) -> bytes:
    """`pixels` as a JPEG without metadata, its longer side at most `longest` pixels."""
    image = Image.fromarray(pixels)
    if longest and max(image.size) > longest:
        scale = longest / max(image.size)
        image = image.resize((max(1, round(image.width * scale)), max(1, round(image.height * scale))), Image.Resampling.LANCZOS)
    out = io.BytesIO()
    image.save(out, "JPEG", quality=quality, subsampling=0)
    return out.getvalue()
