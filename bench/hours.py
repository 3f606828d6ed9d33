"""The hours at the table: a step shown after the key, a card made; and a server killed at a hundred moments of a drawing."""

import http.client
import json
import os
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
import uuid
from pathlib import Path
from statistics import median
from typing import Any

import numpy as np
from playwright.sync_api import sync_playwright

from bench.table import Row
from caltin_core.plan.drawn import Mark, lies
from tests.journeys.conftest import CHROMIUM, ROOT, Caltin

KILLS, PLACES, LAYERS = 100, 20, 10
STEPS, CARDS, FRAMES = 12, 4, 120
_TOKEN = "k" * 32

_STEP = """async () => {
  const said = () => document.querySelector('.draw-count').innerText;
  const before = said();
  const begun = performance.now();
  window.dispatchEvent(new KeyboardEvent('keydown', { key: ' ', bubbles: true }));
  while (said() === before) {
    if (performance.now() - begun > 3000) return NaN;
    await new Promise(requestAnimationFrame);
  }
  return performance.now() - begun;
}"""
# Milliseconds between frames while the slider of the growing portrait goes to and fro, a step a frame.
_SCRUB = """async (frames) => {
  const slider = document.querySelector('.grow-at input');
  const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
  const most = Number(slider.max);
  const out = [];
  let last = await new Promise(requestAnimationFrame);
  for (let i = 0; i < frames; i++) {
    const at = i % (2 * most);
    set.call(slider, at > most ? 2 * most - at : at);
    slider.dispatchEvent(new Event('input', { bubbles: true }));
    const now = await new Promise(requestAnimationFrame);
    out.push(now - last);
    last = now;
  }
  return out;
}"""
# A study of many layers and a session to draw it in, made in a folder of its own; says the study and the session.
_PREPARE = f"""
import django; django.setup()
from django.core.management import call_command
call_command("migrate", verbosity=0, interactive=False)
from django.contrib.auth import get_user_model, BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY
from django.contrib.sessions.backends.db import SessionStore
from caltin_site.kits import services as kits
from caltin_site.kits.schemas import KitColour, PaperData
from caltin_site.shapes import Lab
from caltin_site.studies import services as studies
from caltin_site.studies.ops import AddPlace, SetRecipe
from caltin_site.studies.schemas import NewStudy
from demo.kits import WAX_24
user = get_user_model().objects.create_user("bench")
kits.begin_hands(user)
colours = [KitColour(id=i, name=n, medium="wax_pencil", tone=Lab(l=l, a=a, b=b)) for i, n, (l, a, b) in WAX_24]
kit = kits.begin_kit(user, "Box", colours)
paper = kits.begin_paper(user, "Sheet", PaperData(tone=Lab(l=95, a=0, b=2), tooth="vellum"))
study = studies.begin(user, NewStudy(title="Killed", kit=kit.thing_id, paper=paper.thing_id, hand=kits.rack(user).hands[0].id))
for n in range({PLACES}):
    op = AddPlace(do="add_place", id=f"p{{n}}", role="light", tone=Lab(l=70 - n, a=15, b=20))
    study = studies.change(user, study.pk, study.revision, op)
    layers = [{{"colour": colours[(n + k) % 20].id, "pressure": "light", "passes": 1}} for k in range({LAYERS})]
    study = studies.change(user, study.pk, study.revision, SetRecipe(do="set_recipe", place=f"p{{n}}", layers=layers))
session = SessionStore()
session[SESSION_KEY] = str(user.pk)
session[BACKEND_SESSION_KEY] = "django.contrib.auth.backends.ModelBackend"
session[HASH_SESSION_KEY] = user.get_session_auth_hash()
session.save()
print(study.pk, session.session_key)
"""


class _Server:
    """Only the server, on a folder of its own, killed and started again."""

    def __init__(self, var: Path) -> None:
        self.environment = {**os.environ, "CALTIN_VAR": str(var), "DJANGO_SETTINGS_MODULE": "caltin_site.settings"}
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]

    def prepare(self) -> tuple[str, str]:
        said = subprocess.run(
            [sys.executable, "-c", _PREPARE], cwd=ROOT, env=self.environment, capture_output=True, text=True, check=True
        )
        study, session = said.stdout.split()[-2:]
        return study, session

    def start(self) -> None:
        command = [
            sys.executable, "-m", "gunicorn", "caltin_site.wsgi", "--bind", f"127.0.0.1:{self.port}", "--worker-class", "gthread",
            "--threads", "4", "--log-level", "critical", "--no-control-socket",
        ]  # fmt: skip
        self.process = subprocess.Popen(command, cwd=ROOT, env=self.environment, stderr=subprocess.DEVNULL, start_new_session=True)
        for _ in range(600):
            try:
                with socket.create_connection(("127.0.0.1", self.port), timeout=0.5):
                    return
            except OSError:
                time.sleep(0.05)
        raise RuntimeError("the server did not start")

    def kill(self) -> None:
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait()


class _Artist:
    """Marks a drawing step by step, as the browser does: each mark is sent until the server has it."""

    def __init__(self, port: int, study: str, session: str) -> None:
        self.port, self.study = port, study
        self.headers = {
            "Cookie": f"sessionid={session}; csrftoken={_TOKEN}",
            "X-CSRFToken": _TOKEN,
            "Content-Type": "application/json",
        }
        self.answered: list[dict[str, Any]] = []
        self.begun, self.over = threading.Event(), threading.Event()

    def ask(self, method: str, path: str, body: dict[str, Any] | None = None) -> Any:
        """Ask until it is answered."""
        while True:
            try:
                link = http.client.HTTPConnection("127.0.0.1", self.port, timeout=10)
                link.request(method, f"/api/studies/{self.study}/{path}", json.dumps(body) if body else None, self.headers)
                answer = link.getresponse()
                said = answer.read()
                if answer.status < 500:
                    return json.loads(said)
            except (OSError, http.client.HTTPException):
                time.sleep(0.02)

    def draw(self) -> None:
        """Draw all steps, take every tenth mark back and lay it again; take all back and begin anew, until told to stop."""
        steps = self.ask("GET", "plan")["steps"]
        self.begun.set()
        while not self.over.is_set():
            standing = []
            for number, step in enumerate(steps):
                standing.append(self.mark(kind="done", laid=step["laid"]))
                if number % 10 == 9:
                    self.mark(kind="back", undoes=standing.pop())
                    standing.append(self.mark(kind="done", laid=step["laid"]))
                if self.over.is_set():
                    return
            for mark in reversed(standing):
                self.mark(kind="back", undoes=mark)

    def mark(self, **given: Any) -> str:
        """Add a mark; gives its id."""
        body = {"client_id": str(uuid.uuid4()), "colour": "", "words": "", **given}
        self.ask("POST", "drawn", body)
        self.answered.append(body)
        return str(body["client_id"])


def _as_marks(rows: list[dict[str, Any]]) -> list[Mark[str]]:
    def laid(row: dict[str, Any]) -> tuple[tuple[str, int, str], ...]:
        return tuple((x["place"], x["number"], x["layer"]["colour"]) for x in row.get("laid") or [])

    return [Mark(r["client_id"], laid(r), r.get("undoes") or "") for r in rows]


def killed() -> list[Row]:
    """SIGKILL at a hundred random moments of a drawing: marks the server had answered that are lost, or stand twice."""
    rng = np.random.default_rng(11)
    with tempfile.TemporaryDirectory() as folder:
        server = _Server(Path(folder))
        study, session = server.prepare()
        server.start()
        artist = _Artist(server.port, study, session)
        drawing = threading.Thread(target=artist.draw)
        drawing.start()
        artist.begun.wait()
        for _ in range(KILLS):
            made = len(artist.answered)
            # A server that has only just begun is not in the midst of a drawing.
            while len(artist.answered) == made:
                time.sleep(0.005)
            time.sleep(float(rng.uniform(0.0, 0.5)))
            server.kill()
            server.start()
        artist.over.set()
        drawing.join()
        log = artist.ask("GET", "drawn")
        server.kill()
    ids = [row["client_id"] for row in log]
    answered = [m["client_id"] for m in artist.answered]
    wrong = lies(_as_marks(log)) != lies(_as_marks(artist.answered))
    return [
        Row(f"killed {KILLS} times while {len(answered)} marks were made: marks lost", len(set(answered) - set(ids)), "", 0),
        Row("the same: marks that stand twice, or that nobody made", len(ids) - len(set(answered) & set(ids)), "", 0),
        Row("the same: what lies there is not what was drawn", int(wrong), "", 0),
    ]


def hours() -> list[Row]:
    """A step shown after the key, frames while scrubbing, and a card made after the first, in a real browser."""
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as play:
        caltin = Caltin(Path(folder))
        caltin.start()
        try:
            chromium = play.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
            page = chromium.new_page(viewport={"width": 1280, "height": 800})
            page.goto(caltin.address)
            page.get_by_role("link", name="The pilot, low sun").first.click()
            page.get_by_role("link", name="Draw").click()
            page.locator(".draw-name").wait_for()
            page.wait_for_load_state("networkidle")
            left = int(page.locator("progress").first.get_attribute("max") or 0) - int(
                page.locator("progress").first.get_attribute("value") or 0
            )
            steps = []
            for _ in range(min(STEPS, left - 1)):
                steps.append(page.evaluate(_STEP))
                page.wait_for_timeout(250)
            page.goto(caltin.address)
            page.get_by_role("link", name="The deckhand, carried through").first.click()
            page.get_by_role("link", name="Layer").click()
            page.locator(".step").first.wait_for()
            page.keyboard.press("g")
            page.locator(".grow canvas").wait_for()
            page.wait_for_load_state("networkidle")
            frames = page.evaluate(_SCRUB, FRAMES)
            page.goto(caltin.address)
            page.get_by_role("link", name="The pilot, low sun").first.click()
            page.get_by_role("link", name="Keep").click()
            cards = []
            for index in range(CARDS + 1):
                page.locator("select").first.select_option("card")
                begun = time.perf_counter()
                page.get_by_role("button", name="Make it").click()
                page.get_by_role("button", name="Making it").wait_for()
                page.get_by_role("button", name="Make it").wait_for(timeout=60_000)
                if index:
                    cards.append(time.perf_counter() - begun)
            chromium.close()
        finally:
            caltin.stop()
    return [
        Row("a step in Draw is shown after the key, p95", float(np.nanpercentile(steps, 95)), "ms", 100),
        Row("frames a second while scrubbing, 19 of 20 frames", 1000 / float(np.percentile(frames, 95)), "", 30, True),
        Row("a card, after the first", median(cards), "s", 1.5),
    ]
