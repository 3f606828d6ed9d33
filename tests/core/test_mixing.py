"""The hue of two-colour mixtures, beside a general-purpose mixing library."""

import json
import subprocess
from pathlib import Path

import numpy as np
import pytest

from caltin_core.colour.difference import chroma, hue_angle
from caltin_core.colour.spaces import hex_from_lab, lab_from_hex
from caltin_core.media.layers import Lay, Stroke
from caltin_core.media.predict import predict
from caltin_core.media.workbench import Workbench
from tests.core.builders import PLAIN, ground, swatch

MIX = Path(__file__).resolve().parents[1] / "sources" / "mix.mjs"
PAIRS = [
    ("yellow", "blue"),
    ("yellow", "pink"),
    ("blue", "pink"),
    ("yellow", "red"),
    ("red", "violet"),
    ("green", "yellow"),
    ("blue", "violet"),
]


@pytest.fixture(scope="module")
def mixtures():
    """What spectral.js makes of equal parts of the solids."""
    asked = [[hex_from_lab(np.array(PLAIN[n], dtype=float))[0] for n in pair] for pair in PAIRS]
    done = subprocess.run(["node", str(MIX)], input=json.dumps(asked), capture_output=True, text=True, check=True, timeout=60)
    return dict(zip(PAIRS, (lab_from_hex(h) for h in json.loads(done.stdout)), strict=True))


@pytest.mark.parametrize("medium", ["wax_pencil", "oil_pencil", "soft_pastel", "alcohol_marker"])
@pytest.mark.parametrize("pair", PAIRS)
def test_two_colours_mix_to_the_hue_a_mixing_library_gives(pair, medium, mixtures):
    sheet = ground("vellum" if "pencil" in medium else "card")
    bench = Workbench(tuple(swatch(n, PLAIN[n], medium, sheet) for n in pair), sheet)
    stroke = Stroke("coat", 1) if medium == "alcohol_marker" else Stroke("medium", 2)
    orders = [[Lay(0, stroke), Lay(1, stroke)], [Lay(1, stroke), Lay(0, stroke)]]
    # The library stirs, layers do not: both orders together stand for what is stirred.
    seen = np.mean([p.lab for p in predict(bench, orders)], axis=0)
    apart = abs((float(hue_angle(seen)) - float(hue_angle(mixtures[pair])) + 180) % 360 - 180)
    assert chroma(seen) > 3
    assert apart < 35
