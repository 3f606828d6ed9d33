"""A frame: the part of a picture one works from, cropped and straightened. The picture itself stays as it is."""

from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from caltin_core.colour.tables import Floats
from caltin_core.errors import BadRequest
from caltin_core.reference.areas import Labels

_LEAST = 8.0
_MOST_TURN = 45.0


@dataclass(frozen=True)
class Frame:
    """A box of `width` by `height` about (`x`, `y`), its middle, in pixels of the picture, turned by `angle` degrees clockwise."""

    x: float
    y: float
    width: float
    height: float
    angle: float = 0.0

    def __post_init__(self) -> None:
        if min(self.width, self.height) < _LEAST:
            raise BadRequest("frame", f"a crop must be at least {_LEAST:g} pixels wide and high")
        if abs(self.angle) > _MOST_TURN:
            raise BadRequest("angle", f"a picture can be straightened by up to {_MOST_TURN:g} degrees")

    def to_picture(self) -> Floats:
        """The matrix (2, 3) from pixels of the frame to pixels of the picture."""
        turn = np.radians(self.angle)
        cos, sin = float(np.cos(turn)), float(np.sin(turn))
        half = np.array([self.width / 2, self.height / 2])
        rotation = np.array([[cos, -sin], [sin, cos]])
        return np.column_stack([rotation, np.array([self.x, self.y]) - rotation @ half])

    def cut(self, image: NDArray[Any], scale: float, longest: float) -> NDArray[Any]:
        """The framed part of an image (h, w, n) that is `scale` times the picture's size, at most `longest` pixels long."""
        size = min(scale, longest / max(self.width, self.height))
        width, height = max(1, round(self.width * size)), max(1, round(self.height * size))
        matrix = self.to_picture()
        inside = np.column_stack([matrix[:, :2] * scale / size, matrix[:, 2] * scale])
        flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
        out = cv2.warpAffine(image, inside, (width, height), flags=flags, borderMode=cv2.BORDER_REPLICATE)
        return np.asarray(out)

    def put_back(self, labels: Labels, size: tuple[int, int], scale: float) -> Labels:
        """Labels of the frame (h, w) laid back on a map of `size` (width, height), `scale` times the picture; 0 outside."""
        here = labels.shape[1] / self.width
        matrix = self.to_picture()
        outside = np.column_stack([matrix[:, :2] * scale / here, matrix[:, 2] * scale])
        # Forward map from label pixels to map pixels.
        out = cv2.warpAffine(labels, outside, size, flags=cv2.INTER_NEAREST, borderMode=cv2.BORDER_CONSTANT, borderValue=0.0)
        return np.asarray(out, dtype=np.uint8)


def whole(width: float, height: float) -> Frame:
    """The frame of an uncropped picture."""
    return Frame(width / 2, height / 2, width, height)
