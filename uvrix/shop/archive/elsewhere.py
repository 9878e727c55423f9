"""What a row from another shop must fit before it is stored: whoever writes an archive can make its hashes agree."""

from __future__ import annotations

import re
import zipfile
from collections.abc import Callable, Mapping
from typing import Any

from django.core.exceptions import ValidationError
from django.db import models

from uvrix.core.boards.document import read_board
from uvrix.core.boards.families import read_family
from uvrix.core.boards.packages import read_package
from uvrix.core.errors import Refusal
from uvrix.core.memory.reader_file import read_reader
from uvrix.core.memory.recipes import read_recipe
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.archive.writing import NOBODY
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.models import BoardEdition, FamilyEdition, Package, ReaderEdition, RecipeEdition

# The largest job of the shop's own figures is far below each: reports of 1 GB, a few thousand entries.
MOST_BYTES, MOST_LINES, LONGEST_LINE = 4 * 2**30, 100_000, 8 * 2**20
# Text of rows compresses about tenfold; what unpacks to a multiple of that was made to.
MOST_TIMES, SMALL = 200, 2**20
HASH = re.compile(r"[0-9a-f]{64}")
# Whoever comes with a job from elsewhere is a name in its history, and signs in nowhere.
NAME_ALONE = {"password": NOBODY, "is_superuser": False, "is_staff": False, "is_active": False, "role": ""}
READ: Mapping[type[models.Model], Callable[[bytes, str], Any]] = {
    BoardEdition: lambda text, _: read_board(text),
    ReaderEdition: lambda text, _: read_reader(text),
    FamilyEdition: lambda text, _: read_family(text),
    RecipeEdition: lambda text, _: read_recipe(text),
    Package: read_package,
}


def check_sizes(archive: zipfile.ZipFile) -> None:
    """Raise Refusal where an archive of a job would unpack to more than one can hold."""
    whole = sum(info.file_size for info in archive.infolist())
    if whole > MOST_BYTES:
        raise Refusal(
            "1",
            gettext("an archive that unpacks to {whole} bytes", whole=whole),
            gettext("at most {most_bytes}", most_bytes=MOST_BYTES),
        )
    for info in archive.infolist():
        times = info.file_size / max(info.compress_size, 1)
        if info.filename.startswith("rows/") and info.file_size > SMALL and times > MOST_TIMES:
            found = gettext(
                "{file_size} bytes out of {compress_size}", file_size=info.file_size, compress_size=info.compress_size
            )
            raise Refusal(
                info.filename,
                found,
                gettext("rows that unpack to at most {most_times} times their size", most_times=MOST_TIMES),
            )


def fits(model: type[models.Model], fields: dict[str, Any], place: str) -> dict[str, Any]:
    """The fields of a row as they may be stored here. Raises Refusal where they do not fit."""
    if model is User:
        return fields | NAME_ALONE
    if model is Job:
        # made anew from the runs: what it would say of them is not believed
        return fields | {"located": None}
    if model in READ:
        text = fields.get("text")
        if not isinstance(text, str):
            raise Refusal(place, gettext("no text"), gettext("the text of a document"))
        try:
            READ[model](text.encode(), str(fields.get("name", "")))
        except Refusal as refusal:
            raise Refusal(f"{place} {refusal.place}", refusal.found, refusal.expected) from None
    return fields


def check_values(row: models.Model, place: str) -> None:
    """Raise Refusal where a value is none that a form would take: a word that is no choice, a text that is too long."""
    for field in row._meta.concrete_fields:
        value = getattr(row, field.attname)
        if field.is_relation or field.primary_key or value in field.empty_values:
            continue
        try:
            field.clean(value, row)
        except ValidationError as error:
            raise Refusal(f"{place}.{field.name}", " ".join(error.messages), gettext("a value that fits")) from None


def named_in(values: Any, found: set[str]) -> None:
    """Add the hashes that a row names, at whatever depth."""
    if isinstance(values, str):
        found.update(HASH.findall(values))
    elif isinstance(values, Mapping):
        for value in values.values():
            named_in(value, found)
    elif isinstance(values, list):
        for value in values:
            named_in(value, found)
