"""The one door to long work: begun, told of, stopped, superseded, and taken up again after a restart."""

import logging
import uuid
from typing import Any

from django.db import transaction

from caltin_core.errors import CaltinError
from caltin_site.jobs.models import OPEN, Job
from caltin_site.jobs.work import WORK
from caltin_site.kits.models import Kit
from caltin_site.studies.models import Study

log = logging.getLogger(__name__)


def begin(thing: Study | Kit, kind: str, asked: dict[str, Any] | None = None) -> Job:
    """Begin work of a kind; unfinished work of that kind for the same study or kit is superseded."""
    from caltin_site.jobs.tasks import run

    of = {"study": thing} if isinstance(thing, Study) else {"kit": thing}
    with transaction.atomic():
        Job.objects.filter(**of, kind=kind, state__in=OPEN).update(state="superseded")
        job = Job.objects.create(owner=thing.owner, **of, kind=kind, asked=asked or {})
        run.enqueue(str(job.pk))
    return job


def stop(job: Job) -> None:
    """Stop work that has not ended; what it has found so far stays."""
    Job.objects.filter(pk=job.pk, state__in=OPEN).update(state="stopped")


def perform(id: uuid.UUID) -> None:
    """Do the work, telling how far it is; ends quietly when it was stopped, superseded or deleted meanwhile."""
    if not Job.objects.filter(pk=id, state__in=OPEN).update(state="running"):
        return
    job = Job.objects.select_related("study", "kit").get(pk=id)
    work: Any = WORK[job.kind](job.study or job.kit, job.asked)
    try:
        for done, of in work:
            if not Job.objects.filter(pk=id, state="running").update(done=done, of=of):
                work.close()
                return
        Job.objects.filter(pk=id, state="running").update(state="done")
    except CaltinError as fault:
        Job.objects.filter(pk=id).update(state="failed", says=fault.what)
    except Exception:
        log.exception("a job of kind %s failed", job.kind)
        Job.objects.filter(pk=id).update(state="failed", says="This went wrong here and nothing was changed; try it again")


def recover() -> int:
    """After a restart: take up again what a worker had begun and not ended. Gives how many."""
    from caltin_site.jobs.tasks import run

    left = list(Job.objects.filter(state="running"))
    for job in left:
        with transaction.atomic():
            Job.objects.filter(pk=job.pk).update(state="waiting", done=0)
            run.enqueue(str(job.pk))
    return len(left)
