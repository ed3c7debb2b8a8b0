from django.apps import AppConfig


class Readers(AppConfig):
    name = "readers"
