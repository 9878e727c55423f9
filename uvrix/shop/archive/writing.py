"""Writing an archive: a zip of JSON lines by model, the same as CSV to look at, the files, and a manifest.

`rows/APP.MODEL.jsonl` holds a row a line, {"pk", "fields"}; `tables/APP.MODEL.csv` the same for a spreadsheet, never
read back; `files/…` what is stored as files; `manifest.json` the format, counts and the SHA-256 of every entry.
"""

from __future__ import annotations

import csv
import hashlib
import io
import json
import zipfile
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from datetime import date, datetime
from typing import IO, Any
from uuid import UUID

from django.core.files.storage import default_storage
from django.core.serializers.python import Serializer
from django.db import connection, models, transaction
from django.utils import timezone

from uvrix.shop.accounts.models import User
from uvrix.shop.archive.graph import every_row, rows_of_job
from uvrix.shop.case.threads import thread
from uvrix.shop.jobs.models import Job

# Django takes a password that begins so as one that nobody has.
NOBODY = "!"
FORMAT, VERSION = "uvrix-archive", 1
CHUNK = 1 << 20
# A spreadsheet takes a cell that begins so as a formula.
FORMULA = ("=", "+", "-", "@", "\t", "\r")


def plain(value: Any) -> Any:
    """What JSON has no word for, without loss."""
    if isinstance(value, datetime | date):
        return value.isoformat()
    if isinstance(value, UUID):
        return str(value)
    raise TypeError(type(value).__name__)


def cell(value: Any) -> str:
    """A cell that is safe to open in a spreadsheet: text that would be a formula begins with an apostrophe."""
    if value is None:
        return ""
    if isinstance(value, bool | int | float):
        return str(value)
    text = value if isinstance(value, str) else json.dumps(value, default=plain, ensure_ascii=False)
    return f"'{text}" if text.startswith(FORMULA) else text


class Writer:
    """An archive being written; entries' hashes are gathered for the manifest."""

    def __init__(self, target: IO[bytes], what: str, *, secret: bool) -> None:
        self.zip = zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED, allowZip64=True)
        self.what, self.secret = what, secret
        self.counts: dict[str, int] = {}
        self.hashes: dict[str, str] = {}
        self.stored: set[str] = set()
        self.missing: list[str] = []

    def rows(self, model: type[models.Model], rows: Iterable[models.Model]) -> None:
        """The rows of a model, and the files that they name."""
        label, count = model._meta.label_lower, 0
        table = io.StringIO()
        names = [field.name for field in model._meta.concrete_fields]
        sheet = csv.writer(table)
        sheet.writerow(names)
        digest = hashlib.sha256()
        with self.zip.open(f"rows/{label}.jsonl", "w", force_zip64=True) as out:
            for row in rows:
                fields = self._fields(row)
                line = json.dumps({"pk": row.pk, "fields": fields}, default=plain, ensure_ascii=False).encode() + b"\n"
                out.write(line)
                digest.update(line)
                sheet.writerow([cell(row.pk if name == model._meta.pk.name else fields.get(name)) for name in names])
                count += 1
                if stored := getattr(row, "stored_as", ""):
                    self.stored.add(stored)
        self.hashes[f"rows/{label}.jsonl"], self.counts[label] = digest.hexdigest(), count
        self.entry(f"tables/{label}.csv", table.getvalue().encode())

    def _fields(self, row: models.Model) -> dict[str, Any]:
        fields: dict[str, Any] = Serializer().serialize([row], use_natural_foreign_keys=False)[0]["fields"]
        if isinstance(row, User) and not self.secret:
            fields["password"] = NOBODY
        return fields

    def entry(self, name: str, data: bytes) -> None:
        """A file of its own in the archive."""
        self.zip.writestr(name, data)
        self.hashes[name] = hashlib.sha256(data).hexdigest()

    def close(self) -> None:
        """The files, then the manifest."""
        for name in sorted(self.stored):
            digest = hashlib.sha256()
            try:
                source = default_storage.open(name)
            except FileNotFoundError:
                # the rest is worth keeping all the more
                self.missing.append(name)
                continue
            with source, self.zip.open(f"files/{name}", "w", force_zip64=True) as out:
                while chunk := source.read(CHUNK):
                    out.write(chunk)
                    digest.update(chunk)
            self.hashes[f"files/{name}"] = digest.hexdigest()
        manifest = {"format": FORMAT, "version": VERSION, "what": self.what, "made_at": timezone.now().isoformat()}
        manifest |= {"counts": self.counts, "sha256": self.hashes, "missing": self.missing}
        self.zip.writestr("manifest.json", json.dumps(manifest, indent=1))
        self.zip.close()


def write_job(job: Job, target: IO[bytes]) -> None:
    """One job, with all that its rows rest on, and its case as `uvrix next` reads it; passwords and links stay here."""
    writer = Writer(target, "job", secret=False)
    for model, rows in rows_of_job(job).items():
        writer.rows(model, rows.values())
    writer.entry(f"{job.label}.case.json", json.dumps(thread(job).document(), ensure_ascii=False, indent=1).encode())
    writer.close()


def write_shop(target: IO[bytes], *, secret: bool) -> Writer:
    """Everything as of one moment; `secret` with passwords and links, as a backup has them.

    The writer says how many rows of each model, and which files are missing from the store.
    """
    with one_moment():
        writer = Writer(target, "shop", secret=secret)
        for model, rows in every_row(secret=secret):
            writer.rows(model, rows)
        writer.close()
    return writer


@contextmanager
def one_moment() -> Iterator[None]:
    """Everything that is read inside is of one moment, whatever others write meanwhile."""
    outermost = not connection.in_atomic_block
    with transaction.atomic():
        if outermost:
            with connection.cursor() as cursor:
                cursor.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ")
        yield


def csv_of(heads: Iterable[str], rows: Iterable[Iterable[Any]]) -> Iterator[str]:
    """Lines of a CSV that is safe to open in a spreadsheet."""
    out = io.StringIO()
    sheet = csv.writer(out)
    for row in ([*heads], *rows):
        sheet.writerow([cell(entry) for entry in row])
        yield out.getvalue()
        out.seek(0)
        out.truncate()
