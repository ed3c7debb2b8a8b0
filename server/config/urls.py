"""Routes: the API, and the web application for everything else."""

from django.urls import path, re_path

from config.api import api
from config.views import web

handler500 = "config.views.server_error"

urlpatterns = [path("api/", api.urls), re_path(r"^(?!api/|assets/).*$", web)]
