"""The app `archive`."""

from django.apps import AppConfig


class ArchiveConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.archive"
    label = "archive"
