"""Long work, cards, data in and out, deletion, backups."""

import io
import json
import sqlite3

import pytest
from django.conf import settings
from pypdf import PdfReader

from caltin_site.accounts.management.commands import launch
from caltin_site.cards import services as cards
from caltin_site.jobs import services as jobs
from caltin_site.jobs import tasks
from caltin_site.jobs.models import Job
from caltin_site.jobs.tasks import perform
from caltin_site.references.models import Picture
from caltin_site.studies.models import Study


def state(job):
    return Job.objects.get(pk=job["id"]).state


def test_a_match_job_tells_how_far_it_is_and_keeps_what_it_finds(artist):
    study = artist.add(artist.add(artist.begin()), "shadow", (35, 15, 15))
    job = artist.post(f"studies/{study['id']}/jobs", {"kind": "match"}).json()
    assert job["state"] == "waiting"
    perform(job["id"])
    job = artist.get(f"jobs/{job['id']}").json()
    assert (job["state"], job["done"], job["of"]) == ("done", 2, 2)
    assert artist.get(f"studies/{study['id']}/matches").json()["missing"] == []


def test_newer_work_supersedes_older_and_a_stopped_job_does_nothing(artist):
    study = artist.add(artist.begin())
    first, second = (artist.post(f"studies/{study['id']}/jobs", {"kind": "match"}).json() for _ in range(2))
    assert (state(first), state(second)) == ("superseded", "waiting")
    assert artist.post(f"jobs/{second['id']}/stop").json()["state"] == "stopped"
    for job in (first, second):
        perform(job["id"])
    assert artist.get(f"studies/{study['id']}/matches").json()["missing"] == ["base"]


def test_a_job_stopped_in_the_midst_ends_there_and_keeps_what_was_found(artist, monkeypatch):
    study = artist.begin()
    for n, lab in enumerate([(60, 18, 20), (40, 15, 15), (75, 12, 16)]):
        study = artist.add(study, "light", lab, id=f"p{n}")
    job = artist.post(f"studies/{study['id']}/jobs", {"kind": "match"}).json()

    def stopped_after_one(work):
        def wrapped(study, asked):
            for done, of in work(study, asked):
                if done == 1:
                    jobs.stop(Job.objects.get(pk=job["id"]))
                yield done, of

        return wrapped

    monkeypatch.setattr(tasks, "WORK", {"match": stopped_after_one(tasks.WORK["match"])})
    perform(job["id"])
    assert state(job) == "stopped"
    assert len(artist.get(f"studies/{study['id']}/matches").json()["missing"]) == 2


def test_work_left_by_a_worker_that_died_is_taken_up_again(artist):
    study = artist.add(artist.begin())
    job = artist.post(f"studies/{study['id']}/jobs", {"kind": "match"}).json()
    Job.objects.filter(pk=job["id"]).update(state="running", done=1)
    assert jobs.recover() == 1
    assert state(job) == "waiting"
    perform(job["id"])
    assert state(job) == "done"


def test_work_that_fails_says_so_in_a_sentence(artist, monkeypatch):
    def broken(study, asked):
        yield 0, 1
        raise RuntimeError("the roof fell in")

    monkeypatch.setattr(tasks, "WORK", {"match": broken})
    job = artist.post(f"studies/{artist.begin()['id']}/jobs", {"kind": "match"}).json()
    perform(job["id"])
    said = artist.get(f"jobs/{job['id']}").json()
    assert said["state"] == "failed"
    assert "roof" not in said["says"]
    assert len(said["says"]) > 10


def test_the_card_is_a_pdf_with_steps_places_and_note_and_fetches_nothing_else(artist, matched):
    study = artist.change(matched, do="note", note="Mind <b>the</b> light & air", drawn_on="2026-11-24")
    study = artist.change(study, do="settle")
    study = artist.change(study, do="rename", title='<img src="http://127.0.0.1:1/x.png">The cook')
    assert artist.get(f"studies/{study['id']}/card.pdf").status_code == 404
    job = artist.post(f"studies/{study['id']}/jobs", {"kind": "card"}).json()
    perform(job["id"])
    assert state(job) == "done"
    answer = artist.get(f"studies/{study['id']}/card.pdf")
    assert answer["Content-Disposition"].endswith('.pdf"')
    pages = PdfReader(io.BytesIO(b"".join(answer.streaming_content))).pages
    text = " ".join(page.extract_text() for page in pages)
    assert "The cook" in text
    assert "Mind <b>the</b> light & air" in text
    assert "24 November 2026" in text
    for step in artist.get(f"studies/{study['id']}/plan").json()["steps"]:
        assert step["name"] in text
    assert float(pages[0].mediabox.width) == pytest.approx(595.3, abs=1)


@pytest.mark.parametrize("url", ["http://127.0.0.1:9/x.png", "file:///etc/passwd", "caltin:other"])
def test_the_pdf_maker_is_refused_everything_but_our_assets(url, caplog):
    pdf = cards._pdf(f'<p>x</p><img src="{url}">', {})
    assert len(PdfReader(io.BytesIO(pdf)).pages[0].images) == 0


def test_json_is_read_back_without_loss(artist, png):
    study = artist.begin(artist.upload(png).json()["id"])
    study = artist.change(study, do="add_place", id="p1", role="base", name="=cheek", x=20, y=40, radius=5)
    study = artist.change(
        study, do="set_recipe", place="p1", layers=[{"colour": "buoy", "pressure": "light", "passes": 2, "turned": True}]
    )
    artist.post(
        f"studies/{study['id']}/drawn",
        {
            "client_id": "0" * 31 + "1",
            "kind": "done",
            "colour": "buoy",
            "words": "w",
            "minutes": 2.5,
            "laid": [
                {"place": "p1", "number": 0, "layer": {"colour": "buoy", "pressure": "light", "passes": 2, "turned": True}},
            ],
        },
    )
    saved = artist.get(f"studies/{study['id']}/study.json").content
    again = artist.upload(saved, "saved.json", "read-back", "file")
    assert again.status_code == 201
    back = again.json()
    assert back["id"] != study["id"]
    assert back["state"] | {"picture": None} == study["state"] | {"picture": None}
    assert back["picture"]["id"] != study["picture"]["id"]
    second = json.loads(artist.get(f"studies/{back['id']}/study.json").content)
    assert second == json.loads(saved)
    assert len(artist.get("rack").json()["kits"]) == 1


def test_csv_is_read_back_without_loss(artist, matched):
    study = artist.change(matched, do="edit_place", id="base", name="=SUM(A1)")
    study = artist.change(study, do="settle")
    saved = artist.get(f"studies/{study['id']}/recipes.csv").content
    assert b",=SUM" not in saved
    back = artist.upload(saved, "From a sheet.csv", "read-back", "file").json()
    assert back["state"]["places"] == study["state"]["places"]
    assert back["state"]["recipes"] == study["state"]["recipes"]
    assert back["state"]["title"] == "From a sheet"
    assert artist.get(f"studies/{back['id']}/recipes.csv").content == saved


def test_a_stranger_reads_a_csv_back_into_a_kit_of_its_own_colours(artist, stranger, matched):
    study = artist.change(matched, do="settle")
    for recipe in study["state"]["recipes"].values():
        recipe["layers"][0]["colour"]
    saved = artist.get(f"studies/{study['id']}/recipes.csv").content
    back = stranger.upload(saved, "sheet.csv", "read-back", "file").json()
    assert back["state"]["recipes"] == study["state"]["recipes"]


@pytest.mark.parametrize(
    ("name", "content", "where"),
    [
        ("x.json", b"{}", "caltin"),
        ("x.json", b"not json", "file"),
        ("x.json", b"[1]", ""),
        ("x.csv", b"a,b\n1,2\n", "row 1"),
        ("x.csv", b"\xff\xfe\x00", "file"),
    ],
)
def test_a_file_that_is_no_study_gets_where_and_what_and_leaves_nothing(artist, name, content, where):
    answer = artist.upload(content, name, "read-back", "file")
    assert answer.status_code == 400
    assert answer.json()["where"] == where
    assert Study.objects.count() == 0


def test_a_wrong_row_is_named(artist, matched):
    study = artist.change(matched, do="settle")
    lines = artist.get(f"studies/{study['id']}/recipes.csv").content.decode("utf-8-sig").splitlines()
    lines[2] = (
        lines[2]
        .replace(",light,", ",hard,")
        .replace(",medium,", ",hard,")
        .replace(",firm,", ",hard,")
        .replace(",burnish,", ",hard,")
    )
    answer = artist.upload("\r\n".join(lines).encode(), "x.csv", "read-back", "file")
    assert answer.json()["where"] == "row 3"


def test_a_deleted_study_is_really_gone(artist, png, django_capture_on_commit_callbacks):
    study = artist.begin(artist.upload(png).json()["id"])
    perform(artist.post(f"studies/{study['id']}/jobs", {"kind": "card"}).json()["id"])
    folder = Picture.objects.get().folder
    assert folder.exists()
    assert list(settings.CARDS.glob(f"{study['id']}-*"))
    with django_capture_on_commit_callbacks(execute=True):
        assert artist.client.delete(f"/api/studies/{study['id']}").status_code == 204
    assert (Study.objects.count(), Picture.objects.count(), Job.objects.count()) == (0, 0, 0)
    assert not folder.exists()
    assert not list(settings.CARDS.glob(f"{study['id']}-*"))


def test_a_picture_two_studies_share_stays_until_the_last_is_gone(artist, png, django_capture_on_commit_callbacks):
    picture = artist.upload(png).json()["id"]
    one, two = artist.begin(picture), artist.begin(picture)
    for study, left in ((one, 1), (two, 0)):
        with django_capture_on_commit_callbacks(execute=True):
            artist.client.delete(f"/api/studies/{study['id']}")
        assert Picture.objects.count() == left


def test_the_database_is_copied_aside_before_it_migrates(tmp_path, settings, monkeypatch):
    path = tmp_path / "caltin.sqlite3"
    with sqlite3.connect(path) as old:
        old.execute("create table kept (x)")
        old.execute("insert into kept values (42)")
    monkeypatch.setitem(settings.DATABASES["default"], "NAME", path)
    settings.VAR = tmp_path

    class Pending:
        def __init__(self, connection):
            self.loader = self
            self.graph = self

        def leaf_nodes(self):
            return []

        def migration_plan(self, targets):
            return ["something"]

    monkeypatch.setattr(launch, "MigrationExecutor", Pending)
    launch._copy_aside()
    (copy,) = (tmp_path / "backups").iterdir()
    with sqlite3.connect(copy) as there:
        assert there.execute("select x from kept").fetchall() == [(42,)]


def test_the_published_api_description_is_that_of_the_code():
    from caltin_site.api import api

    stored = json.loads((settings.ROOT / "web" / "src" / "api" / "openapi.json").read_text())
    assert stored == json.loads(json.dumps(api.get_openapi_schema(), default=str))


def test_a_photograph_of_swatches_goes_when_it_is_no_longer_needed_but_never_a_studys_picture(
    artist, png, django_capture_on_commit_callbacks
):
    photo, portrait = (artist.upload(png).json()["id"] for _ in range(2))
    artist.begin(portrait)
    folder = Picture.objects.get(pk=photo).folder
    with django_capture_on_commit_callbacks(execute=True):
        assert artist.client.delete(f"/api/pictures/{photo}").status_code == 204
        assert artist.client.delete(f"/api/pictures/{portrait}").status_code == 400
    assert not folder.exists()
    assert [str(p.pk) for p in Picture.objects.all()] == [portrait]
