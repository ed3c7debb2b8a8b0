from django.apps import AppConfig


class Documents(AppConfig):
    name = "documents"
