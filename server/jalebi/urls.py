"""Two kinds of address: the API, and the interface for everything else."""

from django.urls import path, re_path

from .api import api
from .interface import interface

urlpatterns = [
    path("api/", api.urls),
    re_path(r"^(?!api/|assets/).*$", interface),
]
