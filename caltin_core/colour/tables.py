"""The published tables behind every conversion: observer, light sources and the parts of daylight at 400-700 nm, 10 nm steps;
and what a usual camera's channels are to sRGB's.

Source: CIE 015:2018; Darrodi, Finlayson, Goodman & Mackiewicz 2015 for the camera; exported once by
``scripts/export_colour_tables.py``.
"""

import json
from pathlib import Path
from types import MappingProxyType
from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.floating[Any]]
Ints = NDArray[np.intp]
Bools = NDArray[np.bool_]

BAND_START, BAND_STOP, BAND_STEP = 400, 700, 10
WAVELENGTHS: Floats = np.arange(BAND_START, BAND_STOP + 1, BAND_STEP, dtype=float)
BANDS = WAVELENGTHS.size


def _load() -> tuple[Floats, MappingProxyType[str, Floats], Floats, Floats]:
    raw = json.loads((Path(__file__).parent / "tables.json").read_text())
    cmfs = np.array(raw["cmfs"])
    lights = {name: np.array(values) for name, values in raw["illuminants"].items()}
    daylight, sensor = np.array(raw["daylight"]), np.array(raw["sensor"])
    for array in (cmfs, *lights.values(), daylight, sensor):
        array.setflags(write=False)
    return cmfs, MappingProxyType(lights), daylight, sensor


# DAYLIGHT holds S0, S1 and S2 (3, 31), of which every phase of daylight is made; SENSOR_TO_SRGB (3, 3) is for linear channels
# that are 1 on white.
CMFS, ILLUMINANTS, DAYLIGHT, SENSOR_TO_SRGB = _load()
WAVELENGTHS.setflags(write=False)
