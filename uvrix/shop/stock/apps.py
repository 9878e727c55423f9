"""The app `stock`."""

from django.apps import AppConfig


class StockConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.stock"
    label = "stock"
