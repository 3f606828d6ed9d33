"""What the worker process runs."""

import logging
from typing import Any
from uuid import UUID

from django_tasks import task

from caltin_core.errors import CaltinError
from caltin_site.jobs.models import OPEN, Job
from caltin_site.jobs.work import WORK

log = logging.getLogger(__name__)


@task()
def run(job: str) -> None:
    """Perform a job."""
    perform(UUID(job))


def perform(id: UUID) -> None:
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
