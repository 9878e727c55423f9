"""The app `library`."""

from django.apps import AppConfig


class LibraryConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.library"
    label = "library"
