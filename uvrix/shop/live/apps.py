"""The app `live`."""

from django.apps import AppConfig


class LiveConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.live"
    label = "live"
