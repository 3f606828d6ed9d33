"""Errors as RFC 9457 problem details, in the artist's words."""

from typing import Any

from django.http import HttpRequest, HttpResponse, JsonResponse
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError

from caltin_core.contract.faults import path_of
from caltin_core.errors import CaltinError

TITLES = {400: "This cannot be done as it was asked", 401: "Nobody is signed in", 403: "This is not allowed from here"}
TITLES |= {404: "There is no such thing here", 409: "This was changed elsewhere in the meantime", 413: "This is too large"}


class Late(Exception):
    """A write that saw an older revision; carries what has changed since."""

    def __init__(self, revision: int, changed: list[str]) -> None:
        super().__init__("a stale revision")
        self.revision, self.changed = revision, changed


def problem(status: int, detail: str, **more: Any) -> HttpResponse:
    """A problem-details answer."""
    body = {
        "type": "about:blank",
        "title": TITLES.get(status, "Something went wrong here"),
        "status": status,
        "detail": detail,
        **more,
    }
    return JsonResponse(body, status=status, content_type="application/problem+json")


GONE = "It may have been deleted, or it belongs to somebody else"


def csrf_failure(request: HttpRequest, reason: str = "") -> HttpResponse:
    """Django's CSRF refusal."""
    return problem(403, "This page is out of date; reload it and try again")


def install(api: NinjaAPI) -> None:
    """Teach the API to answer every error as a problem."""

    @api.exception_handler(CaltinError)
    def core_fault(request: HttpRequest, fault: CaltinError) -> HttpResponse:
        return problem(400, fault.what, where=fault.where)

    @api.exception_handler(ValidationError)
    def wrong_shape(request: HttpRequest, fault: ValidationError) -> HttpResponse:
        first = fault.errors[0]
        if first["loc"][0] == "path" and first["type"].startswith("uuid"):
            # What cannot be anybody's is nowhere.
            return problem(404, GONE)
        where = path_of(tuple(first["loc"][2:]) or tuple(first["loc"]))
        return problem(400, str(first["msg"]), where=where)

    @api.exception_handler(AuthenticationError)
    def nobody(request: HttpRequest, fault: AuthenticationError) -> HttpResponse:
        return problem(401, "Open the front page on this machine to begin")

    @api.exception_handler(Late)
    def late(request: HttpRequest, fault: Late) -> HttpResponse:
        return problem(409, "Another window changed this first", revision=fault.revision, changed=fault.changed)

    @api.exception_handler(HttpError)
    def refused(request: HttpRequest, fault: HttpError) -> HttpResponse:
        return problem(fault.status_code, fault.message)

    from django.http import Http404

    @api.exception_handler(Http404)
    def nothing(request: HttpRequest, fault: Http404) -> HttpResponse:
        return problem(404, GONE)
