"""The app `record`."""

from django.apps import AppConfig


class RecordConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.record"
    label = "record"
