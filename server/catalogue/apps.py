from django.apps import AppConfig


class Catalogue(AppConfig):
    name = "catalogue"
