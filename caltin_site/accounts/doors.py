"""The door: the artist whom the launcher was told of is signed in by itself, on this machine."""

from collections.abc import Callable

from django.conf import settings
from django.contrib.auth import get_user_model, login, logout
from django.http import HttpRequest, HttpResponse

# Whose shelf holds the demo, and whose is their own.
DEMO_ARTIST, OWN_ARTIST = "demo-artist", "artist"
_FORWARDED = (
    "HTTP_FORWARDED",
    "HTTP_VIA",
    "HTTP_X_FORWARDED_FOR",
    "HTTP_X_FORWARDED_HOST",
    "HTTP_X_FORWARDED_PROTO",
    "HTTP_X_REAL_IP",
)


def opens(request: HttpRequest, door: str) -> bool:
    """Whether this is a browser's own top-level visit of the front page, from nowhere or from here.

    The exact host and port, no forwarded headers, and the browser's fetch metadata must all agree.
    """
    meta = request.META
    return (
        bool(door)
        and request.method == "GET"
        and request.path == "/"
        and meta.get("HTTP_HOST") == door
        and meta.get("HTTP_SEC_FETCH_SITE") in ("none", "same-origin")
        and meta.get("HTTP_SEC_FETCH_MODE") == "navigate"
        and meta.get("HTTP_SEC_FETCH_DEST") == "document"
        and not any(name in meta for name in _FORWARDED)
    )


def door(get_response: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Sign the artist of this door in where `opens` says so, and out again who came in by another."""

    def answer(request: HttpRequest) -> HttpResponse:
        who = settings.DOOR_ARTIST
        if who and request.user.is_authenticated and request.user.get_username() != who:
            logout(request)
        if who and not request.user.is_authenticated and opens(request, settings.DOOR):
            artist = get_user_model().objects.filter(username=who).first()
            if artist is not None:
                login(request, artist, backend="django.contrib.auth.backends.ModelBackend")
        return get_response(request)

    return answer
