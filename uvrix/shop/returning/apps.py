"""The app `returning`."""

from django.apps import AppConfig


class ReturningConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.returning"
    label = "returning"
