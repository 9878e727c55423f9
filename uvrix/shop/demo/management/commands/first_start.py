"""What a first start does: the demo shop, or with --empty a one-time link for the first lead."""

from __future__ import annotations

import os
import secrets
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
        """`--empty` leaves the demo data out; `--network` says that others than this machine can sign in."""
        parser.add_argument("--empty", action="store_true")
        parser.add_argument("--network", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        """Do it where nobody can sign in yet; say how to sign in."""
        if User.objects.exists():
            self._say_people(network=options["network"])
        elif options["empty"] or Invitation.objects.exists():  # begun empty, stays empty
            link = f"{os.environ.get('UVRIX_LINK', '')}/welcome/{invite(Role.LEAD)}"
            self.stdout.write(f"The first lead signs up once at {link}")
        else:
            with transaction.atomic():
                fill()
            self._say_people(network=options["network"])

    def _say_people(self, *, network: bool) -> None:
        """How the demo's people sign in; passwords that everybody can read here are not left on a network."""
        found = {
            user.username: user
            for user in User.objects.filter(username__in=[candidate.username for candidate in PEOPLE])
        }
        for person in PEOPLE:
            user = found.get(person.username)
            if user is None or not user.check_password(person.password):
                continue  # theirs by now, or made anew at an earlier start and said then
            password = person.password
            if network:
                password = secrets.token_urlsafe(12)
                user.set_password(password)
                user.save(update_fields=["password"])
            self.stdout.write(f"Demo sign-in ({person.role.label.lower()}): {person.username} / {password}")
