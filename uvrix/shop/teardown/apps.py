"""The app `teardown`."""

from django.apps import AppConfig


class TeardownConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.teardown"
    label = "teardown"
