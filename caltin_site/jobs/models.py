"""A piece of long work for a study or a kit."""

from django.db import models

from caltin_site.kits.models import Kit
from caltin_site.ownership import Owned
from caltin_site.studies.models import Study

OPEN = ("waiting", "running")
STATES = (*OPEN, "done", "stopped", "superseded", "failed")


class Job(Owned):
    """What is to be done, how far it is, and how it ended."""

    study = models.ForeignKey(Study, on_delete=models.CASCADE, related_name="jobs", null=True, blank=True)
    kit = models.ForeignKey(Kit, on_delete=models.CASCADE, related_name="jobs", null=True, blank=True)
    kind = models.CharField(max_length=20)
    asked = models.JSONField(default=dict)
    state = models.CharField(max_length=20, default="waiting")
    done = models.PositiveIntegerField(default=0)
    of = models.PositiveIntegerField(default=0)
    says = models.CharField(max_length=300, blank=True, default="")
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [
            models.CheckConstraint(condition=models.Q(state__in=STATES), name="job_state_known"),
            models.CheckConstraint(condition=models.Q(study=None) ^ models.Q(kit=None), name="job_for_one_thing"),
            models.UniqueConstraint(fields=["study", "kind"], condition=models.Q(state__in=OPEN), name="job_open_once"),
            models.UniqueConstraint(fields=["kit", "kind"], condition=models.Q(state__in=OPEN), name="job_open_once_for_kit"),
        ]
