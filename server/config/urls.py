"""Two kinds of address: the API, and the interface for everything else."""

from django.urls import path, re_path

from config.api import api
from config.page import guest_interface, interface, service_worker

handler400 = "config.page.unreadable"
handler404 = "config.page.nowhere"
handler500 = "config.page.broken"

urlpatterns = [
    path("api/v1/", api.urls),
    path("service-worker.js", service_worker, {"name": "service-worker.js"}),
    path("guest-worker.js", service_worker, {"name": "guest-worker.js"}),
    re_path(r"^guest/[\w-]*$", guest_interface),
    re_path(r"^(?!api/|assets/).*$", interface),
]
