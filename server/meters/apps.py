from django.apps import AppConfig


class Meters(AppConfig):
    name = "meters"
