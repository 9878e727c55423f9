"""The app `ohms`."""

from django.apps import AppConfig


class OhmsConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.ohms"
    label = "ohms"
