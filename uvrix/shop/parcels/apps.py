"""The app `parcels`."""

from django.apps import AppConfig


class ParcelsConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.parcels"
    label = "parcels"
