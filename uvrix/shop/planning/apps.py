"""The app `planning`."""

from django.apps import AppConfig


class PlanningConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.planning"
    label = "planning"
