"""``manage.py launch``: the database brought up to date, then server and worker, until one is told to stop."""

import ipaddress
import os
import signal
import sqlite3
import subprocess
import sys
import time
import urllib.error
import urllib.request
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from caltin_core.lanes import open_lanes
from caltin_site.accounts.doors import DEMO_ARTIST, OWN_ARTIST

KEPT_BACKUPS = 10


class Command(BaseCommand):
    """Starts Caltin."""

    help = "Start Caltin: server and worker."

    def add_arguments(self, parser: CommandParser) -> None:
        """Where to listen, and which artist is let in."""
        parser.add_argument("--address", default="127.0.0.1")
        parser.add_argument("--port", type=int, default=int(os.environ.get("PORT", "8000")))
        who = parser.add_mutually_exclusive_group()
        who.add_argument("--demo-artist", action="store_true", help="sign the demo artist in, on this machine only")
        who.add_argument("--own-shelf", action="store_true", help="sign you in to a shelf of your own, on this machine only")
        parser.add_argument("--dev", action="store_true", help="reload on changes, and build the pages as they change")

    def handle(self, *args: Any, **options: Any) -> None:
        """Prepare, start, watch, and stop both when either ends."""
        address, port = options["address"], options["port"]
        who = DEMO_ARTIST if options["demo_artist"] else OWN_ARTIST if options["own_shelf"] else ""
        if who and not _loopback(address):
            flag = "--demo-artist" if options["demo_artist"] else "--own-shelf"
            raise CommandError(f"{flag} signs anybody in: it listens on this machine only, not on {address}")
        _copy_aside()
        call_command("migrate", verbosity=0, interactive=False)
        if options["demo_artist"]:
            from demo.load import load

            # This process has nothing else to do yet.
            open_lanes()
            load()
        elif who:
            get_user_model().objects.get_or_create(username=who)
        call_command("collectstatic", verbosity=0, interactive=False, clear=True)
        environment = {**os.environ, "CALTIN_DOOR": f"{address}:{port}" if who else "", "CALTIN_DOOR_ARTIST": who}
        server = [
            sys.executable, "-m", "gunicorn", "caltin_site.wsgi", "--bind", f"{address}:{port}", "--worker-class", "gthread",
            "--workers", "1", "--threads", "6", "--log-level", "warning", "--no-control-socket",
        ]  # fmt: skip
        # Long work gives way to what the artist waits for.
        worker = ["nice", "-n", "10", sys.executable, "manage.py", "work"]
        commands = [[*server, "--reload"] if options["dev"] else server, worker]
        if options["dev"]:
            commands.append(["npm", "--prefix", "web", "run", "build", "--", "--watch"])
        running = [subprocess.Popen(c, env=environment, cwd=settings.ROOT) for c in commands]
        signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
        try:
            _wait_for(address, port, running)
            self.stdout.write(f"Caltin is at http://{address}:{port}/   (Ctrl+C stops it)")
            self.stdout.flush()
            while running[0].poll() is None:
                time.sleep(0.3)
                for index, process in enumerate(running[1:], 1):
                    if process.poll() is not None:
                        self.stderr.write("The worker ended by itself and is started again.")
                        time.sleep(1)
                        running[index] = subprocess.Popen(commands[index], env=environment, cwd=settings.ROOT)
            raise CommandError("the server ended by itself; see above")
        except KeyboardInterrupt:
            pass
        finally:
            for process in running:
                process.terminate()
            for process in running:
                try:
                    process.wait(8)
                except subprocess.TimeoutExpired:
                    process.kill()


def _loopback(address: str) -> bool:
    try:
        return ipaddress.ip_address(address).is_loopback
    except ValueError:
        return address == "localhost"


def _copy_aside() -> None:
    """Copy the database beside itself when a migration is going to change it; the last few copies are kept."""
    path = Path(str(settings.DATABASES["default"]["NAME"]))
    if not path.exists() or path.stat().st_size == 0:
        return
    executor = MigrationExecutor(connection)
    if not executor.migration_plan(executor.loader.graph.leaf_nodes()):
        return
    folder = settings.VAR / "backups"
    folder.mkdir(exist_ok=True)
    there = folder / f"caltin-{datetime.now(UTC):%Y%m%d-%H%M%S}.sqlite3"
    with sqlite3.connect(path) as source, sqlite3.connect(there) as copy:
        source.backup(copy)
    for old in sorted(folder.glob("caltin-*.sqlite3"))[:-KEPT_BACKUPS]:
        old.unlink()


def _wait_for(address: str, port: int, running: list[subprocess.Popen[bytes]]) -> None:
    """Wait until the server answers. Raises CommandError when it ends first."""
    for _ in range(300):
        if any(p.poll() is not None for p in running):
            raise CommandError(f"Caltin could not start on {address}:{port}; is something else listening there?")
        try:
            with urllib.request.urlopen(f"http://{address}:{port}/health", timeout=1):
                return
        except (urllib.error.URLError, OSError):
            time.sleep(0.1)
    raise CommandError("the server did not answer within thirty seconds")
