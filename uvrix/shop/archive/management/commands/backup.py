"""Everything of the shop into one file, with passwords and links: a backup."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from uvrix.shop.archive.writing import write_shop


class Command(BaseCommand):
    """Writes to a name beside the target first, so that a backup that breaks off leaves the last one whole."""

    help = "Write everything into FILE, to be brought back by `restore`."

    def add_arguments(self, parser: CommandParser) -> None:
        """The file."""
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        """Write it."""
        target: Path = options["file"]
        half = target.with_name(f"{target.name}.half")
        with half.open("wb") as out:
            counts = write_shop(out, secret=True)
        half.replace(target)
        self.stdout.write(f"{sum(counts.values())} rows of {len(counts)} kinds in {target}")
