"""What a first start does: the demo shop, or with --empty a one-time link for the first lead."""

from __future__ import annotations

import os
from typing import Any

from django.core.management.base import BaseCommand, CommandParser
from django.db import transaction

from uvrix.shop.accounts.models import Invitation, User
from uvrix.shop.accounts.services import invite
from uvrix.shop.config.roles import Role
from uvrix.shop.demo.shop import PEOPLE, fill


class Command(BaseCommand):
    """Fills an empty database once; prints the sign-ins."""

    help = "Fill an empty database with the demo shop, or invite the first lead."

    def add_arguments(self, parser: CommandParser) -> None:
        """`--empty` leaves the demo data out."""
        parser.add_argument("--empty", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        """Do it where nobody can sign in yet; say how to sign in."""
        if User.objects.exists():
            self._say_people()
        elif options["empty"] or Invitation.objects.exists():  # begun empty, stays empty
            link = f"{os.environ.get('UVRIX_LINK', '')}/welcome/{invite(Role.LEAD)}"
            self.stdout.write(f"The first lead signs up once at {link}")
        else:
            with transaction.atomic():
                fill()
            self._say_people()

    def _say_people(self) -> None:
        names = set(User.objects.values_list("username", flat=True))
        for person in PEOPLE:
            if person.username in names:
                self.stdout.write(f"Demo sign-in ({person.role.label.lower()}): {person.username} / {person.password}")
