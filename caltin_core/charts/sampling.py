"""What boxes of a photographed page look like: means of linear light, and how even they are."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from caltin_core.charts.geometry import Geometry
from caltin_core.charts.layout import Box
from caltin_core.colour.spaces import decode_srgb
from caltin_core.colour.tables import Bools, Floats
from caltin_core.reference.picture import Pixels

_LINEAR = decode_srgb(np.arange(256) / 255).astype(np.float32)
# Points a side in a box, and blocks a side they are gathered in.
_POINTS, BLOCKS = 48, 6
_BURNT = 254


@dataclass(frozen=True)
class Sampled:
    """N boxes: linear light of their blocks (N, 36, 3) and of the whole (N, 3), the share of points that are burnt out (N,),
    and whether a box lies inside the picture (N,)."""

    blocks: Floats
    whole: Floats
    burnt: Floats
    inside: Bools


def sampled(pixels: Pixels, geometry: Geometry, boxes: Sequence[Box]) -> Sampled:
    """Read boxes of the page. The whole is the median of the blocks' means, so that a speck does not count."""
    ramp = (np.arange(_POINTS) + 0.5) / _POINTS
    corner = np.array([[b.x, b.y] for b in boxes])
    size = np.array([[b.w, b.h] for b in boxes])
    grid = np.stack(np.meshgrid(ramp, ramp, indexing="xy"), axis=-1)
    at = geometry.pixels(corner[:, None, None] + size[:, None, None] * grid)
    x, y = np.rint(at[..., 0]).astype(int), np.rint(at[..., 1]).astype(int)
    height, width = pixels.shape[:2]
    inside = ((x >= 0) & (x < width) & (y >= 0) & (y < height)).all(axis=(1, 2))
    seen = pixels[np.clip(y, 0, height - 1), np.clip(x, 0, width - 1)]
    light = _LINEAR[seen].reshape(len(boxes), BLOCKS, _POINTS // BLOCKS, BLOCKS, _POINTS // BLOCKS, 3)
    blocks = light.mean(axis=(2, 4)).reshape(len(boxes), -1, 3).astype(float)
    burnt = (seen >= _BURNT).any(axis=-1).mean(axis=(1, 2))
    return Sampled(blocks, np.median(blocks, axis=1), burnt, inside)
