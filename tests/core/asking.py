"""Requests to the command line, and asking it. Invented colours."""

import copy
import json
import subprocess
import sys
from pathlib import Path

import pytest

from caltin_core.cli import answer
from caltin_core.errors import BadRequest

SURFACE = {"name": "vellum", "lab": [95, 0, 2], "tooth": "vellum"}
COLOURS = [
    {"id": "brown", "lab": [31, 18, 21], "medium": "wax_pencil"},
    {"id": "cream", "hex": "#f0e2c4", "medium": "oil_pencil", "handling": {"hardness": 4, "chalky": True}},
    {
        "id": "red",
        "reflectance": {"start": 380, "step": 20, "values": [0.05] * 10 + [0.3, 0.5] + [0.6] * 5},
        "medium": "wax_pencil",
    },
    {"id": "black", "lab": [22, 0, 0], "medium": "wax_pencil", "on": {"name": "card", "hex": "#ffffff", "tooth": "card"}},
]
PREDICT = {
    "surface": SURFACE,
    "colours": COLOURS,
    "stacks": [
        {"id": "b", "layers": [{"colour": "brown", "pressure": "light", "passes": 2, "point": "side", "turned": True}]},
        {
            "id": "a",
            "layers": [
                {"repeat": [{"colour": "red", "pressure": "firm", "passes": 1}, {"blend": "stump"}], "times": 2},
                {"lift": "stick"},
            ],
        },
        {"id": "empty", "layers": []},
    ],
}
PLAN = {
    "surface": SURFACE,
    "colours": COLOURS,
    "route": "colour",
    "sitting_minutes": 30,
    "areas": [
        {
            "id": "cheek",
            "share": 0.4,
            "layers": [{"colour": "red", "pressure": "light", "passes": 2}, {"repeat": [{"blend": "stump"}], "times": 2}],
            "neighbours": [{"area": "jaw", "edge": "soft"}],
        },
        {"id": "jaw", "share": 0.2, "layers": [{"colour": "brown", "pressure": "firm", "passes": 1}], "x": 0.2, "y": 0.9},
        {"id": "glint", "share": 0.01, "layers": []},
    ],
}
MATCH = {
    "surface": SURFACE,
    "colours": COLOURS,
    "targets": [
        {"role": "base", "lab": [62, 18, 20]},
        {
            "role": "shadow",
            "hex": "#4a3028",
            "black": "under",
            "start": {"layers": [{"colour": "cream", "pressure": "light", "passes": 1}]},
        },
        {"role": "light", "lab": [70, 12, 14], "start": {"hex": "#e8d8c8", "tooth_used": 0.2, "medium": "wax_pencil"}},
        {"role": "dark", "lab": [4, 0, 0]},
    ],
    "rules": {"max_layers": 3, "max_colours": 2, "prefer": ["brown"], "avoid": ["red"]},
}


LIGHT = {
    "base": {"lab": [68, 16, 20]},
    "key": {"kelvin": 3000, "elevation": 30, "azimuth": 50},
    "fill": {"kelvin": 7000, "stops_below": 2},
    "bounce": {"hex": "#a03020", "strength": 0.6},
}
CALIBRATE = {
    "surface": SURFACE,
    "colours": COLOURS,
    "patches": [
        {"layers": [{"colour": "brown", "pressure": "light", "passes": 3}], "lab": [76, 6, 9]},
        {"layers": [{"colour": "brown", "pressure": "firm", "passes": 2}], "hex": "#8a6650"},
        {"layers": [{"colour": "red", "pressure": "medium", "passes": 2}, {"blend": "stump"}], "lab": [66, 26, 18]},
        {
            "layers": [{"repeat": [{"colour": "cream", "pressure": "medium", "passes": 1}], "times": 2}],
            "reflectance": {"start": 380, "step": 10, "values": [0.6] * 10 + [0.75] * 26},
        },
    ],
}


def ask(command, request):
    return answer(command, json.dumps(request).encode())


def fault(command, request):
    with pytest.raises(BadRequest) as found:
        answer(command, request if isinstance(request, bytes) else json.dumps(request).encode())
    return found.value


def changed(request, path, value):
    """The request with the value at a path such as ``colours.0.lab`` replaced, or removed for KeyError."""
    out = copy.deepcopy(request)
    *way, last = [int(p) if p.isdigit() else p for p in path.split(".")]
    place = out
    for part in way:
        place = place[part]
    if value is KeyError:
        del place[last]
    elif isinstance(place, list) and last == len(place):
        place.append(value)
    else:
        place[last] = value
    return out


def run(*arguments, text=b""):
    return subprocess.run(
        [sys.executable, "-m", "caltin_core", *arguments], input=text, capture_output=True, cwd=Path(__file__).parents[2]
    )


def pressed(colour, pressure, passes):
    return {"colour": colour, "pressure": pressure, "passes": passes}


MARKERS = {
    "surface": {"name": "card", "lab": [96, 0, 1], "tooth": "card"},
    "colours": [
        {"id": "skin", "lab": [84, 10, 16], "medium": "alcohol_marker"},
        {"id": "grey", "lab": [66, -1, -4], "medium": "alcohol_marker"},
        {"id": "cream", "lab": [90, 1, 18], "medium": "wax_pencil"},
    ],
    "stacks": [
        {"id": "coats", "layers": [{"colour": "skin", "passes": 2}, {"colour": "grey", "passes": 1, "wet": True}]},
        {"id": "both", "layers": [{"colour": "skin", "passes": 1}, {"colour": "cream", "pressure": "light", "passes": 2}]},
    ],
}


def read_request(picture):
    points = [{"role": "light", "x": 20, "y": 20, "radius": 6}, {"role": "shadow", "x": 100, "y": 50, "radius": 0}]
    return {"image": picture, "points": points, "values": 4, "white": [20, 60]}
