"""The API: every app's endpoints under one roof, signed in, CSRF-checked, errors as problem details."""

from typing import Any

from django.http import HttpRequest
from ninja import NinjaAPI, Router, Schema
from ninja.security import django_auth

from caltin_site import problems
from caltin_site.cards.api import router as cards
from caltin_site.jobs.api import router as jobs
from caltin_site.journal.api import router as journal
from caltin_site.kits.api import router as kits
from caltin_site.library.api import router as library
from caltin_site.plans.api import router as plans
from caltin_site.references.api import router as references
from caltin_site.studies.api import router as studies

api = NinjaAPI(title="Caltin", version="1", auth=django_auth, docs_url=None, openapi_url=None)
problems.install(api)
me = Router(tags=["accounts"])


class Artist(Schema):
    """Who is drawing."""

    name: str


@me.get("/me", response=Artist)
def whoami(request: HttpRequest) -> Any:
    """Who is drawing."""
    return {"name": request.user.get_username()}


for router in (me, kits, references, studies, plans, journal, library, jobs, cards):
    api.add_router("", router)
