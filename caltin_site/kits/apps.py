"""What lies on an artist's table from the start."""

from typing import Any

from django.apps import AppConfig
from django.contrib.auth.signals import user_logged_in


class KitsConfig(AppConfig):
    """Kits, papers and hands."""

    name = "caltin_site.kits"

    def ready(self) -> None:
        """Whoever comes in has the hands one can start from."""
        from caltin_site.kits.services import begin_hands

        def come_in(user: Any, **_: Any) -> None:
            begin_hands(user)

        user_logged_in.connect(come_in, weak=False, dispatch_uid="hands to start from")
