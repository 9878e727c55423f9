"""The app `rework`."""

from django.apps import AppConfig


class ReworkConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.rework"
    label = "rework"
