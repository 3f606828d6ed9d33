"""The endpoint for the plan."""

from uuid import UUID

from django.http import HttpRequest
from ninja import Router

from caltin_site.ownership import mine
from caltin_site.plans import services
from caltin_site.plans.schemas import PlanOut
from caltin_site.studies.models import Study

router = Router(tags=["plans"])


@router.get("/studies/{id}/plan", response=PlanOut)
def plan(request: HttpRequest, id: UUID, left_handed: bool = False) -> PlanOut:
    """The ordered list of presses."""
    return services.plan(mine(Study, request.user, id), left_handed)
