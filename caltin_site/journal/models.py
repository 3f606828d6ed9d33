"""The log of what was drawn, whose rows are only ever added; a trigger refuses to change one. And what is kept beside it."""

from django.db import models
from django.utils import timezone

from caltin_site.ownership import Owned
from caltin_site.references.models import Picture
from caltin_site.studies.models import Study

KINDS = {"done": "done", "wrong": "laid the wrong one", "lifted": "lifted off", "dry": "ran dry", "back": "taken back"}


class Drawn(Owned):
    """One mark in the log: layers laid as meant or in error, some lifted off, a colour run dry, or a mark taken back because it
    was made in error.

    `laid` has, for each layer, its place, its number there and the layer itself. `undoes` is the mark taken back;
    `used` the colour it took of this artist's sticks, by id, in square centimetres of one even medium pass.
    """

    # When it was drawn; a study read back keeps its hours.
    made = models.DateTimeField(default=timezone.now, editable=False)
    study = models.ForeignKey(Study, on_delete=models.CASCADE, related_name="drawn")
    client_id = models.UUIDField()
    kind = models.CharField(max_length=10, choices=list(KINDS.items()))
    colour = models.CharField(max_length=120)
    words = models.CharField(max_length=200)
    laid = models.JSONField(default=list)
    undoes = models.UUIDField(null=True)
    used = models.JSONField(default=dict)
    # What the plan thought it would take.
    minutes = models.FloatField(null=True)

    class Meta:
        ordering = ["made"]
        constraints = [
            models.UniqueConstraint(fields=["study", "client_id"], name="drawn_once"),
            models.CheckConstraint(condition=models.Q(kind__in=list(KINDS)), name="drawn_kind_known"),
        ]


class Entry(Owned):
    """What the artist keeps beside the log: a note, a photograph of the drawing, or what a place came out as (D50 Lab)."""

    made = models.DateTimeField(default=timezone.now, editable=False)
    study = models.ForeignKey(Study, on_delete=models.CASCADE, related_name="entries")
    client_id = models.UUIDField()
    text = models.TextField(blank=True)
    picture = models.ForeignKey(Picture, null=True, on_delete=models.PROTECT, related_name="+")
    place = models.CharField(max_length=40, blank=True)
    tone = models.JSONField(null=True)

    class Meta:
        ordering = ["made"]
        constraints = [models.UniqueConstraint(fields=["study", "client_id"], name="entry_once")]
        verbose_name_plural = "entries"
