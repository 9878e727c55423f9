"""The app `arrive`."""

from django.apps import AppConfig


class ArriveConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.arrive"
    label = "arrive"
