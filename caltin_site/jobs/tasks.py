"""The task that the worker process runs."""

from uuid import UUID

from django_tasks import task

from caltin_site.jobs.services import perform


@task()
def run(job: str) -> None:
    """Perform a job."""
    perform(UUID(job))
