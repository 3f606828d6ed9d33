"""Every row has an owner, and every query is scoped to one."""

import uuid
from typing import Any, Self, TypeVar

from django.conf import settings
from django.db import models
from django.http import Http404


class OwnedQuerySet(models.QuerySet[Any]):
    """Rows of one owner."""

    def of(self, owner: Any) -> Self:
        """Only this owner's rows."""
        return self.filter(owner=owner)


class Owned(models.Model):
    """A row that belongs to somebody."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    made = models.DateTimeField(auto_now_add=True)

    objects = OwnedQuerySet.as_manager()

    class Meta:
        abstract = True


T = TypeVar("T", bound=Owned)


def mine(model: type[T], owner: Any, id: uuid.UUID) -> T:
    """One row of this owner, or 404: another's row is no different from none."""
    found = model.objects.filter(owner=owner, pk=id).first()
    if found is None:
        raise Http404
    return found
