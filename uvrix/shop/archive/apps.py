"""The app `archive`."""

from django.apps import AppConfig


class ArchiveConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.archive"
    label = "archive"

    def ready(self) -> None:
        """Register what is checked of a database."""
        import uvrix.shop.archive.checks  # noqa: F401
