"""The app `promises`."""

from django.apps import AppConfig


class PromisesConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.promises"
    label = "promises"
