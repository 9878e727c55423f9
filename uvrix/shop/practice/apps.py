"""The app `practice`."""

from django.apps import AppConfig


class PracticeConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.practice"
    label = "practice"

    def ready(self) -> None:
        """The case asks it whether the advice is shown."""
        import uvrix.shop.practice.advice  # noqa: F401
