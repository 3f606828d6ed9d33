"""Pictures over the command line: read and analyse."""

import io
import json
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from tests.core.asking import ask, changed, fault, read_request
from tests.core.pictures import sphere


def test_read_reads_places_values_and_ends(picture):
    found = ask("read", read_request(picture))
    assert [p["role"] for p in found["points"]] == ["light", "shadow"]
    assert found["points"][0]["lab"][1:] == pytest.approx([0, 0], abs=1e-3)
    assert len(found["zones"]) == 4
    assert sum(z["share"] for z in found["zones"]) == pytest.approx(1)
    assert found["darkest"]["x"] >= 60 > found["lightest"]["x"]


def test_a_bad_read_says_where_and_what(picture, tmp_path):
    request = read_request(picture)
    (tmp_path / "letter.png").write_text("not a picture")
    assert fault("read", {**request, "image": str(tmp_path / "letter.png")}).where == "image"
    assert fault("read", {**request, "image": str(tmp_path / "nothing.png")}).where == "image"
    assert fault("read", {**request, "white": [500, 1]}).where == "white[0]"
    assert fault("read", changed(request, "points.1.x", 4000)).where == "points[1].x"
    assert fault("read", changed(request, "points.0.radius", -1)).where == "points[0].radius"


@pytest.fixture
def face(tmp_path):
    made = sphere(0.9, 0.3, direction=150, flush=0.4)
    path = tmp_path / "face.png"
    Image.fromarray(made.pixels).save(path)
    return path, made


def test_analyse_reads_skin_light_flush_and_zones(face):
    path, made = face
    found = ask("analyse", {"image": str(path)})
    assert found["skin_share"] == pytest.approx(made.mask.mean(), rel=0.2)
    assert abs((found["light"]["direction"] - 150 + 180) % 360 - 180) < 15
    assert found["flush"]
    assert made.spot[found["flush"][0]["y"], found["flush"][0]["x"]]
    assert sum(z["share"] for z in found["zones"]) == pytest.approx(1, abs=1e-3)
    for zone in found["zones"]:
        assert made.mask[zone["y"], zone["x"]]
    assert found["undertone"]["ita_class"] in ("very light", "light", "intermediate", "tan", "brown", "dark")


def test_analyse_in_a_box_tells_places_of_the_whole_picture(face, tmp_path):
    _, made = face
    wide = np.full((500, 900, 3), 110, dtype=np.uint8)
    wide[50:450, 420:820] = made.pixels
    Image.fromarray(wide).save(tmp_path / "wide.png")
    found = ask("analyse", {"image": str(tmp_path / "wide.png"), "box": [420, 50, 400, 400], "white": [10, 10]})
    assert all(420 <= z["x"] < 820 and 50 <= z["y"] < 450 for z in found["zones"])


@pytest.mark.parametrize(
    ("more", "where"),
    [
        ({"box": [0, 0, 3, 3]}, "box"),
        ({"box": [300, 300, 400, 400]}, "box"),
        ({"box": [0, 0, 10]}, "box[3]"),
        ({"white": [5000, 1]}, "white[0]"),
        ({"mood": "calm"}, "mood"),
        ({"image": "no/such/picture.png"}, "image"),
    ],
)
def test_what_is_wrong_with_an_analysis_is_told(face, more, where):
    assert fault("analyse", {"image": str(face[0]), **more}).where == where


def test_a_damaged_picture_leaves_the_error_stream_empty(tmp_path):
    out = io.BytesIO()
    Image.fromarray(sphere().pixels).save(out, "TIFF", compression="jpeg")
    (tmp_path / "cut.tif").write_bytes(out.getvalue()[:-900])
    command = [sys.executable, "-m", "caltin_core", "analyse"]
    done = subprocess.run(
        command,
        input=json.dumps({"image": str(tmp_path / "cut.tif")}),
        capture_output=True,
        text=True,
        cwd=Path(__file__).parents[2],
    )
    assert (done.returncode, done.stderr) == (2, "")
    assert json.loads(done.stdout)["error"]["where"] == "image"
