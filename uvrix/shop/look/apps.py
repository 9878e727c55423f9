"""The app `look`."""

from django.apps import AppConfig


class LookConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.look"
    label = "look"
