"""The app `volts`."""

from django.apps import AppConfig


class VoltsConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.volts"
    label = "volts"
