"""The app `offers`."""

from django.apps import AppConfig


class OffersConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.offers"
    label = "offers"
