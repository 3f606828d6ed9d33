"""A study, its linear history of changes, and the predictions kept beside it."""

from django.db import models

from caltin_site.kits.models import HandVersion, KitVersion, PaperVersion
from caltin_site.ownership import Owned
from caltin_site.references.models import Picture


class Study(Owned):
    """A drawing to be made. `revision` counts every write, undo and redo too; `head` is the change in force.

    The pinned versions are those of the head's state, repeated here so that the database protects them.
    """

    title = models.CharField(max_length=200)
    picture = models.ForeignKey(Picture, null=True, blank=True, on_delete=models.PROTECT, related_name="+")
    # Every picture that undo can bring back.
    pictures = models.ManyToManyField(Picture, related_name="studies")
    kit_version = models.ForeignKey(KitVersion, on_delete=models.PROTECT, related_name="+")
    paper_version = models.ForeignKey(PaperVersion, on_delete=models.PROTECT, related_name="+")
    hand_version = models.ForeignKey(HandVersion, on_delete=models.PROTECT, related_name="+")
    revision = models.PositiveIntegerField(default=0)
    head = models.PositiveIntegerField(default=0)
    changed = models.DateTimeField(auto_now=True)


class Change(Owned):
    """One step of the history: what was done, and the whole state after it."""

    study = models.ForeignKey(Study, on_delete=models.CASCADE, related_name="changes")
    number = models.PositiveIntegerField()
    revision = models.PositiveIntegerField()
    label = models.CharField(max_length=200)
    state = models.JSONField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["study", "number"], name="change_number_once")]


class OwnSchool(Owned):
    """A school of the artist's own, to choose in any study; studies keep it as it was when they chose it."""

    name = models.CharField(max_length=60)
    data = models.JSONField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="own_school_name_once")]


class Prediction(models.Model):
    """A kept answer of the core, found by what it was asked. May be thrown away at any time."""

    key = models.CharField(max_length=64, primary_key=True)
    owner = models.ForeignKey("auth.User", on_delete=models.CASCADE, related_name="+")
    body = models.JSONField()
    made = models.DateTimeField(auto_now_add=True)
