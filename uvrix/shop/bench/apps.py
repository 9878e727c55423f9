"""The app `bench`."""

from django.apps import AppConfig


class BenchConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.bench"
    label = "bench"
