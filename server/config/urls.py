"""Routes: the API, and the web application for everything else."""

from django.urls import path, re_path

from config.api import api
from config.telemetry import live, metrics, ready
from config.views import openapi, web

handler500 = "config.views.server_error"

urlpatterns = [
    path("health/live", live),
    path("health/ready", ready),
    path("metrics", metrics),
    path("api/openapi.json", openapi),
    path("api/", api.urls),
    re_path(r"^(?!api/|assets/).*$", web),
]
