"""Backups that are made by themselves: one a day, of which some are kept, fewer the older they are."""

from __future__ import annotations

import fcntl
import os
import re
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from django.conf import settings

from uvrix.shop.archive.writing import Writer, write_shop

EVERY = timedelta(hours=24)
# The newest backup of each of this many days, weeks and months is kept.
DAYS, WEEKS, MONTHS = 7, 5, 12
NAME = re.compile(r"uvrix-(\d{8}T\d{6})Z\.zip")
WRITTEN = "uvrix-%Y%m%dT%H%M%SZ.zip"


@dataclass(frozen=True, slots=True)
class Backup:
    """A backup in the folder: when it was made, how large it is."""

    path: Path
    at: datetime
    size: int


def write_backup(target: Path) -> Writer:
    """Everything of the shop into one file, with passwords and links.

    A former file of that name stays until the new one is whole. Raises OSError where it cannot be written, and leaves
    nothing half written.
    """
    half = target.with_name(f"{target.name}.half")
    half.unlink(missing_ok=True)
    try:
        # password hashes are in it: nobody else reads it, from its first byte on
        with os.fdopen(os.open(half, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as out:
            written = write_shop(out, secret=True)
            out.flush()
            os.fsync(out.fileno())
        half.replace(target)
    finally:
        half.unlink(missing_ok=True)
    return written


def backups() -> list[Backup]:
    """The backups in the folder that were made automatically, newest first."""
    found = []
    for path in settings.BACKUPS.glob("*.zip"):
        if said := NAME.fullmatch(path.name):
            at = datetime.strptime(said[1], "%Y%m%dT%H%M%S").replace(tzinfo=UTC)
            found.append(Backup(path, at, path.stat().st_size))
    return sorted(found, key=lambda backup: backup.at, reverse=True)


def make_if_due(now: datetime) -> Path | None:
    """A backup where the newest is a day old, and those gone that are not kept; its path, None where none is due."""
    settings.BACKUPS.mkdir(mode=0o700, parents=True, exist_ok=True)
    with _alone() as alone:
        known = backups()
        if not alone or (known and known[0].at > now - EVERY):
            return None
        target: Path = settings.BACKUPS / now.astimezone(UTC).strftime(WRITTEN)
        write_backup(target)
        every = backups()
        wanted = kept([backup.at for backup in every])
        for backup in every:
            if backup.at not in wanted:
                backup.path.unlink()
        return target


def kept(made: Sequence[datetime]) -> set[datetime]:
    """Which of the backups made at these moments are kept: the newest of each of the last days, weeks and months.

    Days, weeks and months are those in which one was made, so that a shop that was closed loses none.
    """
    of_day: Callable[[datetime], object] = datetime.date
    spans: list[tuple[Callable[[datetime], object], int]] = [
        (of_day, DAYS),
        (lambda at: at.isocalendar()[:2], WEEKS),
        (lambda at: (at.year, at.month), MONTHS),
    ]
    found: set[datetime] = set()
    for span, many in spans:
        newest: dict[object, datetime] = {}
        for at in sorted(made, reverse=True):
            newest.setdefault(span(at), at)
        found |= set(list(newest.values())[:many])
    return found


@contextmanager
def _alone() -> Iterator[bool]:
    """Whether nobody else makes a backup into this folder at this moment."""
    with (settings.BACKUPS / "making").open("w") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            yield False
            return
        yield True
