"""The app `pictures`."""

from django.apps import AppConfig


class PicturesConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.pictures"
    label = "pictures"
