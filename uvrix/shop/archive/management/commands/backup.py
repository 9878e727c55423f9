"""Everything of the shop into one file, with passwords and links: a backup."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from uvrix.language import gettext
from uvrix.shop.archive.backups import write_backup


class Command(BaseCommand):
    """Writes to a name beside the target first, so that a backup that breaks off leaves the last one whole."""

    help = gettext("Write everything into FILE, to be brought back by `restore`.")

    def add_arguments(self, parser: CommandParser) -> None:
        """The file."""
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        """Write it."""
        target: Path = options["file"]
        written = write_backup(target)
        self.stdout.write(
            gettext(
                "{values} rows of {number} kinds in {target}",
                values=sum(written.counts.values()),
                number=len(written.counts),
                target=target,
            )
        )
        if written.missing:
            many = (
                gettext("1 file")
                if len(written.missing) == 1
                else gettext("{number} files", number=len(written.missing))
            )
            self.stderr.write(gettext("found {many} missing from the store; all else is in the backup:", many=many))
            for name in written.missing:
                self.stderr.write(f"  {name}")
