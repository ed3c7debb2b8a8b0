from django.apps import AppConfig


class Accounts(AppConfig):
    name = "accounts"

    def ready(self) -> None:
        from accounts import patience, signals  # noqa: F401  # connected by being read
