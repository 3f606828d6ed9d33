"""The one door to long work: begun, told of, stopped, superseded, and taken up again after a restart."""

from typing import Any

from django.db import transaction

from caltin_site.jobs.models import OPEN, Job
from caltin_site.jobs.tasks import run
from caltin_site.kits.models import Kit
from caltin_site.studies.models import Study


def begin(thing: Study | Kit, kind: str, asked: dict[str, Any] | None = None) -> Job:
    """Begin work of a kind; unfinished work of that kind for the same study or kit is superseded."""
    of = {"study": thing} if isinstance(thing, Study) else {"kit": thing}
    with transaction.atomic():
        Job.objects.filter(**of, kind=kind, state__in=OPEN).update(state="superseded")
        job = Job.objects.create(owner=thing.owner, **of, kind=kind, asked=asked or {})
        run.enqueue(str(job.pk))
    return job


def stop(job: Job) -> None:
    """Stop work that has not ended; what it has found so far stays."""
    Job.objects.filter(pk=job.pk, state__in=OPEN).update(state="stopped")


def recover() -> int:
    """After a restart: take up again what a worker had begun and not ended. Gives how many."""
    left = list(Job.objects.filter(state="running"))
    for job in left:
        with transaction.atomic():
            Job.objects.filter(pk=job.pk).update(state="waiting", done=0)
            run.enqueue(str(job.pk))
    return len(left)
