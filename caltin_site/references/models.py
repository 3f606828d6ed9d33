"""Pictures, as pixels without metadata, and maps of their areas."""

from pathlib import Path

from django.conf import settings
from django.db import models

from caltin_site.ownership import Owned


class Picture(Owned):
    """A reference picture: its size, and what was read of it as a whole. The pixels lie in files beside."""

    name = models.CharField(max_length=200)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    reading = models.JSONField()

    class Meta:
        constraints = [models.CheckConstraint(condition=models.Q(width__gt=0, height__gt=0), name="picture_has_pixels")]

    @property
    def folder(self) -> Path:
        """Where its files lie."""
        return Path(settings.PICTURES) / str(self.pk)


class AreaMap(Owned):
    """Which area each place of a picture belongs to: one byte a pixel, as PNG. Written once; a change makes another."""

    picture = models.ForeignKey(Picture, on_delete=models.CASCADE, related_name="maps")
    png = models.BinaryField()
