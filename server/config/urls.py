"""Two kinds of address: the API, and the interface for everything else."""

from django.urls import path, re_path

from config.api import api
from config.page import interface

urlpatterns = [
    path("api/", api.urls),
    re_path(r"^(?!api/|assets/).*$", interface),
]
