from django.apps import AppConfig


class Installs(AppConfig):
    name = "installs"
