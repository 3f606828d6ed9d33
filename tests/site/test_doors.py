"""Who comes in, what they may see, and what an answer allows the page to do."""

import io
import json
import re
import uuid

import numpy as np
import pytest
from django.conf import settings
from django.core.management import CommandError, call_command
from django.test import Client
from PIL import Image

from caltin_core.media.hand import HANDS
from caltin_site.accounts.doors import DEMO_ARTIST, OWN_ARTIST
from caltin_site.api import api
from caltin_site.journal.models import Entry
from caltin_site.library.models import Keepsake
from caltin_site.references.models import Picture
from demo.load import load

DOOR = "127.0.0.1:8000"
VISIT = {
    "HTTP_HOST": DOOR,
    "HTTP_SEC_FETCH_SITE": "none",
    "HTTP_SEC_FETCH_MODE": "navigate",
    "HTTP_SEC_FETCH_DEST": "document",
}


@pytest.fixture
def demo_door(db, settings, django_user_model):
    settings.DOOR, settings.DOOR_ARTIST = DOOR, DEMO_ARTIST
    return django_user_model.objects.create_user(DEMO_ARTIST)


def signed_in(path="/", **headers):
    client = Client()
    client.get(path, **headers)
    return client.get("/api/me", HTTP_HOST=DOOR).status_code == 200


def test_the_demo_artist_is_let_in_at_the_front_page(demo_door):
    assert signed_in(**VISIT)
    assert signed_in(**{**VISIT, "HTTP_SEC_FETCH_SITE": "same-origin"})


@pytest.mark.parametrize(
    "headers",
    [
        {"HTTP_SEC_FETCH_SITE": "cross-site"},
        {"HTTP_SEC_FETCH_SITE": "same-site"},
        {"HTTP_SEC_FETCH_MODE": "no-cors"},
        {"HTTP_SEC_FETCH_DEST": "iframe"},
        {"HTTP_HOST": "localhost:8000"},
        {"HTTP_HOST": "127.0.0.1:8001"},
        {"HTTP_X_FORWARDED_FOR": "10.0.0.1"},
        {"HTTP_X_FORWARDED_HOST": DOOR},
        {"HTTP_FORWARDED": "for=10.0.0.1"},
        {"HTTP_VIA": "1.1 somewhere"},
    ],
)
def test_nobody_is_let_in_any_other_way(demo_door, headers):
    assert not signed_in(**{**VISIT, **headers})


def test_nobody_is_let_in_at_another_page_without_fetch_metadata_or_without_the_flag(demo_door, settings):
    assert not signed_in("/studies/1/look", **VISIT)
    assert not signed_in(HTTP_HOST=DOOR)
    settings.DOOR = ""
    assert not signed_in(**VISIT)


def test_who_typed_another_name_of_this_machine_is_told_the_address(demo_door, settings):
    said = Client().get("/", **{**VISIT, "HTTP_HOST": "localhost:8000"}).content.decode()
    assert f"http://{DOOR}/" in said
    settings.DOOR = ""
    assert "http://" not in Client().get("/", **VISIT).content.decode()


def test_who_came_in_by_another_door_is_let_out_and_in_again_as_the_artist_of_this_one(demo_door, settings, django_user_model):
    client = Client()
    client.get("/", **VISIT)
    assert client.get("/api/me", HTTP_HOST=DOOR).json()["name"] == DEMO_ARTIST
    django_user_model.objects.create_user(OWN_ARTIST)
    settings.DOOR_ARTIST = OWN_ARTIST
    assert client.get("/api/rack", HTTP_HOST=DOOR).status_code == 401
    client.get("/", **VISIT)
    assert client.get("/api/me", HTTP_HOST=DOOR).json()["name"] == OWN_ARTIST


def test_whoever_comes_in_has_hands_to_start_from_and_has_them_once(demo_door):
    for _ in range(2):
        client = Client()
        client.get("/", **VISIT)
        rack = client.get("/api/rack", HTTP_HOST=DOOR).json()
        assert (len(rack["hands"]), rack["kits"], rack["papers"]) == (len(HANDS), [], [])


def test_the_launcher_lets_nobody_in_by_itself_on_any_address_but_loopback():
    for flag in ("--demo-artist", "--own-shelf"):
        for address in ("0.0.0.0", "192.168.0.4", "::", "example.org"):
            with pytest.raises(CommandError, match=f"{flag} .*this machine only"):
                call_command("launch", flag, address=address)
    with pytest.raises(CommandError, match="not allowed with"):
        call_command("launch", "--own-shelf", "--demo-artist")


def test_cookies_are_strict_and_the_session_is_not_for_scripts(demo_door):
    client = Client()
    client.get("/", **VISIT)
    session = client.cookies["sessionid"]
    assert (session["samesite"], session["httponly"]) == ("Strict", True)
    assert client.cookies["csrftoken"]["samesite"] == "Strict"


def test_every_answer_carries_the_headers(artist):
    for path in ("/", "/api/me", "/health", "/nowhere/at/all"):
        headers = artist.client.get(path).headers
        assert headers["Content-Security-Policy"] == (
            "default-src 'self'; img-src 'self' data: blob:; object-src 'none'; base-uri 'none'; frame-ancestors 'none'"
        )
        assert headers["X-Content-Type-Options"] == "nosniff"
        assert headers["Cross-Origin-Resource-Policy"] == "same-origin"


def test_a_write_without_the_csrf_token_is_refused(artist):
    strict = Client(enforce_csrf_checks=True)
    strict.force_login(artist.user)
    answer = strict.post("/api/kits", "{}", content_type="application/json")
    assert answer.status_code == 403
    assert artist.get("rack").json()["kits"][0]["name"] == "Box"


def test_nobody_signed_in_gets_a_problem_from_the_api_and_the_door_from_a_page(db):
    answer = Client().get("/api/studies")
    assert (answer.status_code, answer["Content-Type"]) == (401, "application/problem+json")
    assert b"front page" in Client().get("/studies/x/look").content


def _paths():
    for path, item in api.get_openapi_schema()["paths"].items():
        for method in item:
            if "{" in path:
                yield method, path
    yield from (("get", f"/api/pictures/{{id}}/{name}.jpg") for name in ("view", "thumbnail"))
    files = ("card.pdf", "page.pdf", "study.json", "recipes.csv", "palette.gpl", "card.png", "views/x/values.jpg")
    yield from (("get", f"/api/studies/{{id}}/{name}") for name in files)
    yield "get", "/api/maps/{id}.png"
    yield "get", "/api/sheets/{id}/page.pdf"


BUOY = {"colour": "buoy", "pressure": "light", "passes": 1}
SCHOOL = {"name": "Mine", "medium": "pencil", "stages": [{"families": ["red", "brown"]}]}
BODIES = {
    "changes": {"seen": 1, "op": {"do": "rename", "title": "Taken"}},
    "undo": {"seen": 1},
    "redo": {"seen": 1},
    "predict": {"place": "base", "layers": [BUOY]},
    "cure": {"place": "base", "done": []},
    "drawn": {"client_id": str(uuid.uuid4()), "kind": "done", "laid": [{"place": "p", "number": 0, "layer": BUOY}]},
    "entries": {"client_id": str(uuid.uuid4()), "text": "seen"},
    "library": {"name": "Kept"},
    "from-library": {"place": "base", "keepsake": str(uuid.uuid4()), "member": 0},
    "jobs": {"kind": "match"},
    "read": {"x": 1, "y": 1, "radius": 1},
    "near": {"l": 50, "a": 0, "b": 0},
    "planned-light": {"base": {"l": 50, "a": 10, "b": 15}},
    "sheets": {"paper": str(uuid.uuid4())},
    "span": {"x1": 1, "y1": 1, "x2": 9, "y2": 9},
}


def _asked(artist, method, path):
    """The path with what it must be asked with, and the body."""
    noun, last = path.split("/")[2], path.rsplit("/", 1)[-1]
    query = {
        "further": f"?paper={artist.paper.thing_id}",
        "from-library": "?seen=1",
        **dict.fromkeys(("under", "ways", "edges"), "?place=base"),
        "coverage": f"?paper={artist.paper.thing_id}&hand={artist.hand.id}",
        "ramp": "?place=base&to=base",
    }
    body = BODIES.get(last)
    if (noun, last) == ("kits", "jobs"):
        body = BODIES["sheets"]
    elif last in ("carry", "begin"):
        body = {k: str(uuid.uuid4()) for k in ("kit", "paper", "hand")}
    elif last == "strips":
        body = {**BODIES["predict"], "tone": BODIES["near"]}
    elif last == "charts":
        body = {"seen": 1, "paper": str(artist.paper.thing_id), "medium": "wax_pencil", "columns": 1, "names": ["A"]}
        body["tones"] = [BODIES["near"]]
    elif last == "states":
        body = {"colour": "buoy", "state": "dry"}
    elif (noun, method) == ("library", "put"):
        body = BODIES["library"]
    elif (noun, method) == ("schools", "put"):
        body = SCHOOL
    elif method == "put":
        body = (
            {"seen": 1, "name": "Taken", "colours": []}
            if noun == "kits"
            else {"seen": 1, "name": "Taken", "tone": {"l": 9, "a": 0, "b": 0}, "tooth": "card"}
        )
    return path + query.get(last, ""), body


def test_another_artists_row_is_no_different_from_none(artist, stranger, png):
    picture = artist.upload(png).json()
    study = artist.change(artist.add(artist.begin(picture["id"])), do="propose_areas")
    job = artist.post(f"studies/{study['id']}/jobs", {"kind": "match"}).json()
    made = artist.post(f"kits/{artist.kit.thing_id}/sheets", {"paper": str(artist.paper.thing_id), "many": 1}).json()
    artist.post(f"studies/{study['id']}/entries", BODIES["entries"])
    ids = {
        "library": str(Keepsake.objects.create(owner=artist.user, name="Kept").pk),
        "entries": str(Entry.objects.get(owner=artist.user).pk),
        "sheets": made["id"],
        "kits": str(artist.kit.thing_id),
        "papers": str(artist.paper.thing_id),
        "pictures": picture["id"],
        "studies": study["id"],
        "jobs": job["id"],
        "maps": study["state"]["areas"],
        "schools": artist.post("schools", SCHOOL).json()["id"],
    }
    named = {"view": "values", "illuminant": "A", "format": "csv", "colour": "buoy", "school": "dark_first"}
    for method, path in sorted(_paths()):
        asked, body = _asked(artist, method, path)
        for id in (ids[path.split("/")[2]], str(uuid.uuid4()), "1"):
            if asked.endswith("/photo"):
                answer = stranger.upload(png, path=f"sheets/{id}/photo", field="photo")
            else:
                said, filled = json.dumps(body or {}), asked.format(**named, id=id, other=id)
                answer = stranger.client.generic(method.upper(), filled, said, content_type="application/json")
            assert answer.status_code == 404, (method, path, answer.content)
            assert artist.get(f"studies/{study['id']}").json() == study, (method, path)


def test_another_artists_versions_and_pictures_cannot_be_borrowed(artist, stranger, png):
    theirs = stranger.upload(png).json()
    body = {
        "title": "T",
        "picture": theirs["id"],
        "kit": str(artist.kit.thing_id),
        "paper": str(artist.paper.thing_id),
        "hand": str(artist.hand.id),
    }
    assert artist.post("studies", body).status_code == 404
    assert artist.post("studies", {**body, "picture": None, "kit": str(stranger.kit.thing_id)}).status_code == 404
    study = artist.begin()
    op = {"do": "use_versions", "kit": str(stranger.kit.pk)}
    assert artist.post(f"studies/{study['id']}/changes", {"seen": study["revision"], "op": op}).status_code == 404


def test_a_picture_is_kept_as_pixels_only_and_shown_to_its_owner(artist):
    image = Image.fromarray(np.full((60, 80, 3), 130, dtype=np.uint8))
    exif = image.getexif()
    exif[0x0112], exif[0x010E] = 6, "49.5 N 6.1 E"
    content = io.BytesIO()
    image.save(content, "JPEG", exif=exif)
    taken = artist.upload(content.getvalue(), "face.jpg").json()
    assert (taken["width"], taken["height"]) == (60, 80)
    folder = Picture.objects.get(pk=taken["id"]).folder
    assert {p.name for p in folder.iterdir()} == {"pixels.npy", "proxy.npy", "view.jpg", "thumbnail.jpg"}
    assert not any(b"49.5 N" in p.read_bytes() or b"Exif" in p.read_bytes() for p in folder.iterdir())
    shown = artist.client.get(f"/api/pictures/{taken['id']}/view.jpg")
    assert (shown["Content-Type"], shown["X-Content-Type-Options"]) == ("image/jpeg", "nosniff")
    assert shown["Cross-Origin-Resource-Policy"] == "same-origin"


@pytest.mark.parametrize(
    ("content", "name"),
    [(b"hello", "face.jpg"), (b"GIF89a\x01\x00\x01\x00", "face.png"), (b"\x89PNG\r\n\x1a\n", "face.png"), (b"<html>", "face.jpeg")],
)
def test_a_hostile_upload_gets_a_sentence_and_leaves_nothing(artist, content, name):
    before = set(settings.PICTURES.glob("*")) if settings.PICTURES.exists() else set()
    answer = artist.upload(content, name)
    assert answer.status_code == 400
    assert re.search("picture", answer.json()["detail"])
    assert Picture.objects.count() == 0
    assert (set(settings.PICTURES.glob("*")) if settings.PICTURES.exists() else set()) == before


def test_the_demo_loads_once_and_never_over_what_the_artist_did(db, monkeypatch):
    for costly in ("_pilot", "_deckhand", "_cook", "_engineer", "_finished", "_lamp_trimmer"):
        monkeypatch.setattr(f"demo.load.{costly}", lambda artist: None)
    artist = load()
    client = Client()
    client.force_login(artist)
    purser, stoker = sorted(client.get("/api/studies").json(), key=lambda s: s["title"])
    revision = client.get(f"/api/studies/{stoker['id']}").json()["revision"]
    mine = {"seen": revision, "op": {"do": "rename", "title": "Mine"}}
    client.post(f"/api/studies/{stoker['id']}/changes", mine, content_type="application/json")
    client.delete(f"/api/studies/{purser['id']}")
    assert load() == artist
    assert [s["title"] for s in client.get("/api/studies").json()] == ["Mine"]
    assert len(client.get("/api/rack").json()["kits"]) == 3
