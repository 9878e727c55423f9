"""The app `demo`."""

from django.apps import AppConfig


class DemoConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.demo"
    label = "demo"
