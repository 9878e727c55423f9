"""The app `shorts`."""

from django.apps import AppConfig


class ShortsConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.shorts"
    label = "shorts"
