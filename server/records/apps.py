from django.apps import AppConfig


class Records(AppConfig):
    name = "records"

    def ready(self) -> None:
        """Keep the board's words with every revision that is written."""
        from installs.signals import revision_written

        from records.board import on_revision

        revision_written.connect(on_revision)
