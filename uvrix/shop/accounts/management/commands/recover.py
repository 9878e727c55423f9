"""A one-time link for a new password, for the only lead who lost theirs too."""

from __future__ import annotations

import os
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.accounts.services import RECOVERY_DAYS, recovery


class Command(BaseCommand):
    """Prints the link: whoever may run programs on the server may let anybody in."""

    help = gettext("Print a one-time link by which USERNAME chooses a new password.")

    def add_arguments(self, parser: CommandParser) -> None:
        """The name that the person signs in with."""
        parser.add_argument("username")

    def handle(self, *args: Any, **options: Any) -> None:
        """Make it; an error where nobody has that name."""
        user = User.objects.filter(username=options["username"]).first()
        if user is None:
            names = User.objects.filter(is_active=True).order_by("username").values_list("username", flat=True)
            raise CommandError(
                gettext(
                    "found nobody named {username}, expected one of {names}",
                    username=options["username"],
                    names=", ".join(names),
                )
            )
        link = f"{os.environ.get('UVRIX_LINK', '')}/welcome/{recovery(user)}"
        self.stdout.write(
            gettext(
                "{username} chooses a new password once, within {recovery_days} days, at {link}",
                username=user.username,
                recovery_days=RECOVERY_DAYS,
                link=link,
            )
        )
