"""What several tests of the core begin with."""

import numpy as np
import pytest
from PIL import Image


@pytest.fixture
def picture(tmp_path):
    pixels = np.zeros((80, 120, 3), dtype=np.uint8)
    pixels[:, :60] = (210, 160, 130)
    pixels[:, 60:] = (70, 45, 35)
    Image.fromarray(pixels).save(tmp_path / "two.png")
    return str(tmp_path / "two.png")
