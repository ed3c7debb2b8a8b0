"""Routes: the API, and the web application for everything else."""

from django.urls import path, re_path
from readers import views as readers

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
    path("read/style.css", readers.style),
    path("read/archivo.woff2", readers.font),
    path("read/<uuid:link>/<str:code>", readers.page),
    path("read/<uuid:link>/<str:code>/paper.pdf", readers.paper),
    path("read/<uuid:link>/<str:code>/dates.ics", readers.dates),
    path("read/<uuid:link>/<str:code>/<str:line>", readers.page),
    path("read/<uuid:link>/<str:code>/<str:line>/paper.pdf", readers.paper),
    re_path(r"^(?!api/|assets/).*$", web),
]
