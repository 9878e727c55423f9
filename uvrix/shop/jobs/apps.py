"""The app `jobs`."""

from django.apps import AppConfig


class JobsConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.jobs"
    label = "jobs"
