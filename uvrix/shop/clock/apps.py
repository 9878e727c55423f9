"""The app `clock`."""

from django.apps import AppConfig


class ClockConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.clock"
    label = "clock"
