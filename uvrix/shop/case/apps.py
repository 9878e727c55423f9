"""The app `case`."""

from importlib import import_module
from importlib.util import find_spec

from django.apps import AppConfig, apps


class CaseConfig(AppConfig):
    """Lets every step give its rows to the thread."""

    name = "uvrix.shop.case"
    label = "case"

    def ready(self) -> None:
        """Load each app's `ledger.py`, where it has one."""
        for app in apps.get_app_configs():
            if app.name.startswith("uvrix.shop.") and find_spec(f"{app.name}.ledger"):
                import_module(f"{app.name}.ledger")
        import_module("uvrix.shop.case.watch")
