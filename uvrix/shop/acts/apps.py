"""The app `acts`."""

from django.apps import AppConfig


class ActsConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.acts"
    label = "acts"
