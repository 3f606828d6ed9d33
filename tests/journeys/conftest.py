"""The real server and worker, and a real browser that may ask nothing of the outside."""

import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path

import pytest
from playwright.sync_api import expect

# A busy machine is slow, not wrong.
expect.set_options(timeout=15_000)

ROOT = Path(__file__).resolve().parents[2]
PURSER = ROOT / "demo" / "pictures" / "purser.jpg"
CHROMIUM = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync",
]  # fmt: skip


def pytest_collection_modifyitems(items):
    """A journey that fails is walked once more, and the run says so: a browser, a server and a worker share two cores."""
    for item in items:
        if Path(item.path).parent == Path(__file__).parent:
            item.add_marker(pytest.mark.flaky(retries=1, delay=2))


class Caltin:
    """`manage.py launch` on a folder of its own, for the demo artist or whom it is told to let in."""

    def __init__(self, var, who="--demo-artist"):
        self.var, self.who = var, who
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        self.address = f"http://127.0.0.1:{self.port}"
        self.process = None

    def start(self):
        environment = {**os.environ, "CALTIN_VAR": str(self.var), "DJANGO_SETTINGS_MODULE": "caltin_site.settings"}
        command = [sys.executable, "manage.py", "launch", self.who, "--port", str(self.port)]
        with open(self.var / "log.txt", "ab") as log:
            self.process = subprocess.Popen(command, cwd=ROOT, env=environment, stdout=log, stderr=log, start_new_session=True)
        for _ in range(1800):
            if self.process.poll() is not None:
                break
            try:
                with urllib.request.urlopen(f"{self.address}/health", timeout=1):
                    return
            except (urllib.error.URLError, OSError):
                time.sleep(0.1)
        raise RuntimeError((self.var / "log.txt").read_text()[-3000:])

    def stop(self, how=signal.SIGTERM):
        """End the launcher, the server and the worker; SIGKILL gives them no time to tidy up."""
        if how == signal.SIGKILL:
            os.killpg(self.process.pid, how)
        else:
            self.process.send_signal(how)
        self.process.wait(20)


@pytest.fixture(scope="session")
def caltin(tmp_path_factory):
    caltin = Caltin(tmp_path_factory.mktemp("caltin"))
    caltin.start()
    yield caltin
    caltin.stop()


@pytest.fixture
def tmp_path(tmp_path_factory):
    """Pytest's own looks, when it is cleared away, for an outcome that a test walked once more no longer has."""
    return tmp_path_factory.mktemp("journey")


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args):
    return {**browser_type_launch_args, "executable_path": "/usr/bin/chromium", "args": CHROMIUM}


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args):
    return {**browser_context_args, "viewport": {"width": 1280, "height": 800}, "accept_downloads": True}


@pytest.fixture
def watched():
    """Watch a page: its console, its faults and its requests; all must be clean when the test ends."""
    pages = []

    def watch(page, address, known=()):
        seen = []
        page.on("console", lambda m: seen.append(m.text) if m.type in ("error", "warning") else None)
        page.on("pageerror", lambda e: seen.append(str(e)))
        page.on(
            "request", lambda r: seen.append(f"outside: {r.url}") if not r.url.startswith((address, "blob:", "data:")) else None
        )
        pages.append((seen, known))
        return page

    yield watch
    for seen, known in pages:
        assert [s for s in seen if not any(k in s for k in known)] == []


@pytest.fixture
def page(page, caltin, watched):
    return watched(page, caltin.address)
