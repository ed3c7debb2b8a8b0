from django.apps import AppConfig


class Records(AppConfig):
    name = "records"
