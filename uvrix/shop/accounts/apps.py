"""The app `accounts`."""

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.accounts"
    label = "accounts"
