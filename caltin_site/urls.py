"""Addresses: the API, and the one page for everything else."""

from django.urls import path, re_path

from caltin_site.api import api
from caltin_site.page import health, page

urlpatterns = [
    path("api/", api.urls),
    path("health", health),
    re_path(r"^(?!api/|static/).*$", page),
]
