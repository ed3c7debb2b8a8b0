from django.apps import AppConfig


class Accounts(AppConfig):
    name = "accounts"
