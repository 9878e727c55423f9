"""The app `case`."""

from importlib import import_module
from importlib.util import find_spec

from django.apps import AppConfig, apps
from django.db.models.signals import post_migrate


def told_anew(sender: AppConfig, **_: object) -> None:
    """After an update the rules may say something else: what was told of jobs is made anew when it is next read."""
    sender.get_model("JobTold")._default_manager.all().delete()


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
        post_migrate.connect(told_anew, sender=self)
