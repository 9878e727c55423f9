"""The app `hypotheses`."""

from django.apps import AppConfig


class HypothesesConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.hypotheses"
    label = "hypotheses"
