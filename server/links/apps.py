from django.apps import AppConfig


class Links(AppConfig):
    name = "links"
