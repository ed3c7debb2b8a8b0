from django.apps import AppConfig


class Weeks(AppConfig):
    name = "weeks"
