"""The app `figures`."""

from django.apps import AppConfig


class FiguresConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.figures"
    label = "figures"
