"""Everything of the shop into one file, with passwords and links: a backup."""

from __future__ import annotations

import os
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
        # password hashes are in it: nobody else reads it, from its first byte on
        half.unlink(missing_ok=True)
        with os.fdopen(os.open(half, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as out:
            written = write_shop(out, secret=True)
            out.flush()
            os.fsync(out.fileno())
        half.replace(target)
        self.stdout.write(f"{sum(written.counts.values())} rows of {len(written.counts)} kinds in {target}")
        if written.missing:
            many = "1 file" if len(written.missing) == 1 else f"{len(written.missing)} files"
            self.stderr.write(f"found {many} missing from the store; all else is in the backup:")
            for name in written.missing:
                self.stderr.write(f"  {name}")
