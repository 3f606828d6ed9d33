"""A photograph in a journal goes when its entry goes."""

from typing import Any

from django.apps import AppConfig
from django.db.models.signals import post_delete


def _entry_gone(sender: Any, instance: Any, **kwargs: Any) -> None:
    from caltin_site.references import services as references

    if instance.picture is not None and not instance.picture.studies.exists():
        references.delete(instance.picture)


class JournalConfig(AppConfig):
    """Listens for deleted entries."""

    name = "caltin_site.journal"

    def ready(self) -> None:
        """Connect."""
        post_delete.connect(_entry_gone, sender="journal.Entry", dispatch_uid="photograph of a deleted entry")
