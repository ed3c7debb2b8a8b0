from django.apps import AppConfig


class BenchApp(AppConfig):
    name = "bench"
