"""What is kept in the library: a recipe or a whole family by a name, in versions, each with its conditions."""

from django.db import models

from caltin_site.kits.models import HandVersion, KitVersion, PaperVersion
from caltin_site.ownership import Owned


class Keepsake(Owned):
    """A recipe or a family by its name."""

    name = models.CharField(max_length=120)
    note = models.TextField(blank=True)


class KeepsakeVersion(Owned):
    """What was kept at one time: each role with its recipe and its look; and the kit, paper and hand it was made with."""

    keepsake = models.ForeignKey(Keepsake, on_delete=models.CASCADE, related_name="versions")
    number = models.PositiveIntegerField()
    data = models.JSONField()
    kit_version = models.ForeignKey(KitVersion, on_delete=models.PROTECT, related_name="+")
    paper_version = models.ForeignKey(PaperVersion, on_delete=models.PROTECT, related_name="+")
    hand_version = models.ForeignKey(HandVersion, on_delete=models.PROTECT, related_name="+")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["keepsake", "number"], name="keepsake_number_once")]
