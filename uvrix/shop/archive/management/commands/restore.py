"""A backup into an empty database."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from uvrix.core.errors import Refusal
from uvrix.language import gettext
from uvrix.shop.archive.reading import Archive, restore
from uvrix.shop.config.problems import Problem


class Command(BaseCommand):
    """Brings everything back, or nothing."""

    help = gettext("Bring FILE, written by `backup`, back into an empty database.")

    def add_arguments(self, parser: CommandParser) -> None:
        """The file."""
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        """Read it; one line where it cannot be."""
        path: Path = options["file"]
        try:
            with path.open("rb") as source:
                count = restore(Archive(source))
        except OSError as error:
            raise CommandError(f"{path}: {error.strerror}") from None
        except (Refusal, Problem) as error:
            raise CommandError(f"{path}: {error}") from None
        self.stdout.write(gettext("{number} rows back from {path}", number=count, path=path))
