from django.apps import AppConfig


class Photos(AppConfig):
    name = "photos"
