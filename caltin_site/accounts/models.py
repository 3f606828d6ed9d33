"""What has been loaded for an artist once, so that it is never loaded again."""

from django.db import models

from caltin_site.ownership import Owned


class Loaded(Owned):
    """A piece of demo data that was loaded; it stays when the artist deletes or changes what it made."""

    key = models.CharField(max_length=60)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "key"], name="loaded_once")]
