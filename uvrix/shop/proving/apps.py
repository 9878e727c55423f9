"""The app `proving`."""

from django.apps import AppConfig


class ProvingConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.proving"
    label = "proving"
