"""The one page: what Vite built, found through its manifest."""

import json
from functools import lru_cache
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.templatetags.static import static
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_safe


@lru_cache(maxsize=2)
def _entry(stamp: float) -> dict[str, Any]:
    """The scripts and styles of the entry; `stamp` is the manifest's time, so that a new build is seen."""
    manifest = json.loads((settings.WEB_DIST / ".vite" / "manifest.json").read_text())
    entry = manifest["src/main.tsx"]
    return {
        "script": static(entry["file"]),
        "styles": [static(name) for name in entry.get("css", [])],
        "preloads": [static(manifest[name]["file"]) for name in entry.get("imports", [])],
    }


@ensure_csrf_cookie
@require_safe
def page(request: HttpRequest) -> HttpResponse:
    """The application, or how to come in."""
    if not request.user.is_authenticated:
        return render(request, "door.html", {"door": settings.DOOR}, status=200 if request.path == "/" else 401)
    manifest = settings.WEB_DIST / ".vite" / "manifest.json"
    response = render(request, "page.html", _entry(manifest.stat().st_mtime))
    response.headers["Cache-Control"] = "no-cache"
    return response


@require_safe
def health(request: HttpRequest) -> HttpResponse:
    """That the server answers."""
    return HttpResponse("ok", content_type="text/plain")
