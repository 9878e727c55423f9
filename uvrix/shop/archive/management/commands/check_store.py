"""The whole store against its hashes: which kept files are missing or are not what their name says."""

from __future__ import annotations

from typing import Any

from django.apps import apps
from django.core.management.base import BaseCommand, CommandError

from uvrix.language import gettext
from uvrix.shop.config.contents import is_whole


class Command(BaseCommand):
    """Reads every file that a row names."""

    help = gettext("Check that every kept file is there and whole; names those that are not.")

    def handle(self, *args: Any, **options: Any) -> None:
        """Check them; an error where one is missing or damaged."""
        checked, wrong = 0, 0
        for model in apps.get_models():
            if not any(field.name == "stored_as" for field in model._meta.concrete_fields):
                continue
            for digest, stored_as in model._default_manager.values_list("pk", "stored_as").iterator():
                checked += 1
                if not is_whole(stored_as, str(digest)):
                    wrong += 1
                    self.stdout.write(
                        gettext(
                            "{stored_as} ({verbose_name}): missing or damaged; send it again",
                            stored_as=stored_as,
                            verbose_name=model._meta.verbose_name,
                        )
                    )
        if wrong:
            raise CommandError(
                gettext("{wrong} of {checked} files are missing or damaged.", wrong=wrong, checked=checked)
            )
        self.stdout.write(gettext("{checked} files are whole.", checked=checked))
