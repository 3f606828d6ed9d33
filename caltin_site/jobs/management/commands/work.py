"""``manage.py work``: the worker process."""

from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand

from caltin_core.lanes import open_lanes
from caltin_site.jobs.services import recover


class Command(BaseCommand):
    """Takes up what was left unfinished, then waits for work."""

    help = "Do the long work: matches and cards."

    def handle(self, *args: Any, **options: Any) -> None:
        """Run until it is told to stop."""
        open_lanes()
        recover()
        call_command("db_worker", interval=0.1, startup_delay=False, reload=False)
