from django.apps import AppConfig


class Documents(AppConfig):
    name = "documents"

    def ready(self) -> None:
        """Have the package made of what is signed."""
        from records.signals import record_signed

        from documents.sheets import on_signature

        record_signed.connect(on_signature)
