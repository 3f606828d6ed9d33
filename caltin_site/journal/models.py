"""The log of what was drawn. Rows are only ever added; a trigger refuses to change one."""

from django.db import models

from caltin_site.ownership import Owned
from caltin_site.studies.models import Study


class Drawn(Owned):
    """One mark in the log: a press done, or a mark taken back because it was made in error."""

    study = models.ForeignKey(Study, on_delete=models.CASCADE, related_name="drawn")
    client_id = models.UUIDField()
    kind = models.CharField(max_length=10, choices=[("done", "done"), ("back", "taken back")])
    colour = models.CharField(max_length=120)
    words = models.CharField(max_length=200)
    tokens = models.JSONField()

    class Meta:
        ordering = ["made"]
        constraints = [
            models.UniqueConstraint(fields=["study", "client_id"], name="drawn_once"),
            models.CheckConstraint(condition=models.Q(kind__in=["done", "back"]), name="drawn_kind_known"),
        ]
