"""Cards go when their study goes."""

from typing import Any

from django.apps import AppConfig
from django.db.models.signals import post_delete


def _study_gone(sender: Any, instance: Any, **kwargs: Any) -> None:
    from caltin_site.cards.services import delete_all

    delete_all(instance.pk)


class CardsConfig(AppConfig):
    """Listens for deleted studies."""

    name = "caltin_site.cards"

    def ready(self) -> None:
        """Connect."""
        post_delete.connect(_study_gone, sender="studies.Study", dispatch_uid="cards of a deleted study")
