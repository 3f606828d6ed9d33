"""Kits, papers, hands: a name that may change, and numbered versions that never do."""

from typing import Any

from django.db import models

from caltin_site.ownership import Owned


class Versioned(Owned):
    """Something whose content has versions."""

    name = models.CharField(max_length=120)

    class Meta:
        abstract = True

    @property
    def newest(self) -> Any:
        """The latest version."""
        return self.versions.order_by("-number").first()  # type: ignore[attr-defined]

    @property
    def newest_bare(self) -> Any:
        """The latest version, its content left in the database until it is asked for."""
        return self.versions.order_by("-number").defer("data").select_related("thing").first()  # type: ignore[attr-defined]

    @property
    def newest_number(self) -> int:
        """The number of the latest version."""
        number: int = self.versions.order_by("-number").values_list("number", flat=True)[0]  # type: ignore[attr-defined]
        return number


class Version(Owned):
    """One version: written once. A trigger in the database refuses to change it; see the first migration."""

    number = models.PositiveIntegerField()
    data = models.JSONField()

    class Meta:
        abstract = True


def _once(name: str) -> list[models.BaseConstraint]:
    return [models.UniqueConstraint(fields=["thing", "number"], name=f"{name}_number_once")]


class Kit(Versioned):
    """A box of colours. `states` says which of its sticks are not full, by their ids: it is of now, and of no version."""

    states = models.JSONField(default=dict)


class KitVersion(Version):
    """The colours of a kit as they were at one time."""

    thing = models.ForeignKey(Kit, on_delete=models.CASCADE, related_name="versions")

    class Meta:
        constraints = _once("kit")


class Paper(Versioned):
    """A sheet."""


class PaperVersion(Version):
    """A sheet's tone and tooth."""

    thing = models.ForeignKey(Paper, on_delete=models.CASCADE, related_name="versions")

    class Meta:
        constraints = _once("paper")


class SwatchSheet(Owned):
    """A printed sheet of swatches of a kit on a paper: where its cells are, what is laid in each, and what was read.

    `layout` is as the command line's `sheet`; `cells` names the layers of each cell; `patches` are the cells as read.
    """

    kit = models.ForeignKey(Kit, on_delete=models.CASCADE, related_name="sheets")
    paper = models.ForeignKey(Paper, on_delete=models.CASCADE, related_name="sheets")
    title = models.CharField(max_length=200)
    page = models.CharField(max_length=10)
    layout = models.JSONField()
    cells = models.JSONField()
    patches = models.JSONField(default=list)
    # A few cells laid before, to see whether hand and paper are still what they were.
    control = models.BooleanField(default=False)
    read = models.DateTimeField(null=True, blank=True)


class Hand(Versioned):
    """A way of pressing; of one that was measured, with which kit and on which paper that was."""

    kit = models.ForeignKey(Kit, null=True, blank=True, on_delete=models.SET_NULL, related_name="hands")
    paper = models.ForeignKey(Paper, null=True, blank=True, on_delete=models.SET_NULL, related_name="hands")


class HandVersion(Version):
    """What each pressure deposits in this hand."""

    thing = models.ForeignKey(Hand, on_delete=models.CASCADE, related_name="versions")

    class Meta:
        constraints = _once("hand")
