from django.apps import AppConfig


class Practice(AppConfig):
    name = "practice"
