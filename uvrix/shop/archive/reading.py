"""Reading an archive back: everything into an empty database as it was, or one job into a shop that has others.

Into an empty database every key is kept. A job comes beside others: people, models, editions, cards and files that are
there already by their own names (username, slug, serial, hash) are used; numbers are given here.
"""

from __future__ import annotations

import hashlib
import itertools
import json
import zipfile
from collections.abc import Callable, Iterator, Mapping
from collections.abc import Set as AbstractSet
from dataclasses import dataclass
from typing import IO, Any

from django.apps import apps
from django.core.exceptions import FieldDoesNotExist, ObjectDoesNotExist, ValidationError
from django.core.files.base import File
from django.core.management.color import no_style
from django.core.serializers.base import DeserializationError
from django.core.serializers.python import Deserializer
from django.db import DatabaseError, connection, models, transaction

from uvrix.core.errors import Refusal, quoted
from uvrix.core.values.zips import NO_ZIP
from uvrix.language import gettext
from uvrix.shop.archive.elsewhere import HASH, LONGEST_LINE, MOST_LINES, check_sizes, check_values, fits, named_in
from uvrix.shop.archive.graph import models_of_a_job, shop_models
from uvrix.shop.archive.older import OLDER, SAYS, translated
from uvrix.shop.archive.writing import FORMAT, VERSION
from uvrix.shop.bench.services import judge_again
from uvrix.shop.config.contents import is_whole, save
from uvrix.shop.config.problems import Problem
from uvrix.shop.jobs.models import Card, Customer, Job, of_the_shop
from uvrix.shop.library.models import Edition

LARGEST_MANIFEST = 16 * 1024 * 1024
# What rows that no shop of ours wrote make of the code that stores them.
ODD: tuple[type[Exception], ...] = (KeyError, TypeError, ValueError, AttributeError, OverflowError, RecursionError)
ODD += (DatabaseError, ValidationError, DeserializationError, FieldDoesNotExist, ObjectDoesNotExist)


@dataclass(frozen=True, slots=True)
class Entry:
    """A row of an archive."""

    model: type[models.Model]
    pk: Any
    fields: dict[str, Any]


class Archive:
    """An archive that was checked: its manifest, and every entry against its hash."""

    def __init__(self, source: IO[bytes]) -> None:
        try:
            self.zip = zipfile.ZipFile(source)
            info = self.zip.getinfo("manifest.json")
            if info.file_size > LARGEST_MANIFEST:
                raise Refusal(
                    "manifest.json",
                    gettext("{file_size} bytes", file_size=info.file_size),
                    gettext("at most {largest_manifest}", largest_manifest=LARGEST_MANIFEST),
                )
            self.manifest: dict[str, Any] = json.loads(self.zip.read(info))
        except NO_ZIP as error:
            raise Refusal(
                "1", gettext("no archive ({error})", error=error), gettext("an archive that this program wrote")
            ) from None
        if not isinstance(self.manifest, dict) or self.manifest.get("format") != FORMAT:
            raise Refusal("manifest.json", gettext("another format"), FORMAT)
        if self.manifest.get("version") != VERSION:
            raise Refusal(
                "manifest.json",
                gettext("version {repr}", repr=repr(self.manifest.get("version"))),
                gettext("version {version}", version=VERSION),
            )
        self.what = str(self.manifest.get("what", ""))
        hashes = self.manifest.get("sha256")
        if not isinstance(hashes, dict) or not all(isinstance(digest, str) for digest in hashes.values()):
            raise Refusal("manifest.json", gettext("no list of hashes"), gettext('"sha256", a hash by name'))
        self.hashes: dict[str, str] = hashes
        if self.what == "job":
            check_sizes(self.zip)
        self._check()

    def _check(self) -> None:
        """Every entry is as it was written, none is added or missing."""
        names = {name for name in self.zip.namelist() if name != "manifest.json"}
        if odd := sorted(names ^ set(self.hashes)):
            raise Refusal(
                odd[0],
                gettext("an entry that the manifest lacks, or the other way round"),
                gettext("entries as written"),
            )
        for name, expected in self.hashes.items():
            if name.startswith("/") or ".." in name.split("/"):
                raise Refusal(
                    name, gettext("a name that leads out of the archive"), "rows/, tables/ or files/ and a name"
                )
            digest = hashlib.sha256()
            try:
                with self.zip.open(name) as entry:
                    while chunk := entry.read(1 << 20):
                        digest.update(chunk)
            except NO_ZIP as error:
                raise Refusal(
                    name, gettext("a broken entry ({error})", error=error), gettext("an entry as it was written")
                ) from None
            if digest.hexdigest() != expected:
                raise Refusal(
                    name, gettext("contents that were changed"), gettext("SHA-256 {expected}…", expected=expected[:12])
                )

    def rows(self) -> Iterator[Entry]:
        """Every row, model by model, in an order in which most of what is pointed at comes first."""
        known = {model._meta.label_lower: model for model in shop_models()}
        given = {name.removeprefix("rows/").removesuffix(".jsonl") for name in self.hashes if name.startswith("rows/")}
        if unknown := sorted(given - set(known) - set(OLDER)):
            raise Refusal(
                f"rows/{unknown[0]}",
                gettext("rows of {quoted}", quoted=quoted(unknown[0])),
                gettext("rows of a model of this version"),
            )
        said: dict[tuple[str, str], Any] = {}
        # those of an older version after all that they point at
        for label in [*(label for label in known if label in given), *sorted(given - set(known))]:
            for place, key, fields in self._lines(label):
                if label in SAYS:
                    said[label, str(key)] = fields.get(SAYS[label])
                for now, own, kept in translated(label, key, fields, said):
                    yield _entry(known[now], own, kept, place)

    def _lines(self, label: str) -> Iterator[tuple[str, Any, dict[str, Any]]]:
        """The rows of a model as they stand in the archive, each with its place."""
        with self.zip.open(f"rows/{label}.jsonl") as lines:
            number = 0
            while line := lines.readline(LONGEST_LINE + 1):
                number += 1
                place = f"rows/{label}.jsonl:{number}"
                if len(line) > LONGEST_LINE:
                    raise Refusal(
                        place,
                        gettext("a longer line"),
                        gettext("at most {longest_line} bytes", longest_line=LONGEST_LINE),
                    )
                try:
                    row = json.loads(line)
                    key, fields = row["pk"], dict(row["fields"])
                except (ValueError, KeyError, TypeError, RecursionError):
                    raise _no_row(place) from None
                yield place, key, fields

    def take_files(self, named: AbstractSet[str] | None = None) -> None:
        """Store every file that is not there yet; of a job's those alone whose hash its rows name."""
        for name in self.hashes:
            stored = name.removeprefix("files/")
            if named is not None and name.startswith("files/") and not named & set(HASH.findall(name)):
                raise Refusal(name, gettext("a file that no row names"), gettext("files of the job's rows alone"))
            if name.startswith("files/") and not is_whole(stored, self.hashes[name]):
                with self.zip.open(name) as entry:
                    save(stored, File(entry))


def _entry(model: type[models.Model], key: Any, fields: dict[str, Any], place: str) -> Entry:
    try:
        hash(model._meta.pk.to_python(key))  # a list is no key
    except (ValueError, TypeError, ValidationError):
        raise _no_row(place) from None
    return Entry(model, key, fields)


def _no_row(place: str) -> Refusal:
    return Refusal(place, gettext("a line that is no row"), '{"pk", "fields"}')


@transaction.atomic
def restore(archive: Archive) -> int:
    """Everything into an empty database, every key kept; how many rows.

    Raises Problem 409 `not-empty` where the database holds anything, Refusal where a row does not fit.
    """
    if archive.what != "shop":
        raise Refusal(
            "manifest.json", gettext("an archive of a {what}", what=archive.what), gettext("one of a whole shop")
        )
    if held := [model._meta.label for model in shop_models() if model._default_manager.exists()]:
        raise Problem(409, "not-empty", gettext("found rows of {held}, expected an empty database", held=held[0]))
    count = 0
    for entry in archive.rows():
        _save(entry.model, entry.pk, entry.fields)
        count += 1
    archive.take_files()
    _reset_sequences()
    return count


def import_job(archive: Archive) -> Job:
    """A job beside those that are here, under a number of this shop's.

    Raises Problem 409 `already-here` where it is, Refusal where rows do not fit; nothing of it is stored then.
    """
    if archive.what != "job":
        raise Refusal("manifest.json", gettext("an archive of a {what}", what=archive.what), gettext("one of a job"))
    try:
        with transaction.atomic():
            job = _import(archive)
            with connection.cursor() as cursor:
                # what points at nothing is found here, and not when all seems done
                cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")
                cursor.execute("SET CONSTRAINTS ALL DEFERRED")
            return job
    except ODD as error:
        raise Refusal(
            "rows",
            gettext("rows that do not fit ({name})", name=type(error).__name__),
            gettext("rows as this program wrote"),
        ) from error


def _import(archive: Archive) -> Job:
    entries = list(itertools.islice(archive.rows(), MOST_LINES + 1))
    if len(entries) > MOST_LINES:
        raise Refusal("rows", gettext("more rows"), gettext("at most {most_lines}", most_lines=MOST_LINES))
    if strange := {entry.model._meta.label_lower for entry in entries if entry.model not in models_of_a_job()}:
        name = min(strange)
        raise Refusal(
            f"rows/{name}.jsonl", gettext("rows of {name}", name=quoted(name)), gettext("rows that belong to a job")
        )
    jobs = [entry for entry in entries if entry.model is Job]
    if len(jobs) < 1:
        raise Refusal("rows/jobs.job.jsonl", gettext("no job"), gettext("a job"))
    if known := Job.objects.filter(entry__in=[entry.fields.get("entry") for entry in jobs]).first():
        raise Problem(409, "already-here", gettext("{label} is here already.", label=known.label))
    keys: dict[tuple[type[models.Model], Any], Any] = {}
    newest: dict[type[models.Model], int] = {}
    fresh, named = [], set[str]()
    for entry in entries:
        named_in(entry.fields, named)
        fields = _mapped(entry.model, entry.fields, keys)
        there = _there(entry, fields)
        if there is not None:
            keys[entry.model, entry.pk] = there
            continue
        keys[entry.model, entry.pk] = _key_here(entry, newest)
        fresh.append(entry)
    for entry in fresh:
        place = f"rows/{entry.model._meta.label_lower} {entry.pk}"
        fields = fits(entry.model, _mapped(entry.model, entry.fields, keys), place)
        if issubclass(entry.model, Edition):
            fields["number"] = _free_number(entry.model, fields)
        _save(entry.model, keys[entry.model, entry.pk], fields, check_values)
    archive.take_files(named)
    _reset_sequences()
    job = Job.objects.get(pk=keys[Job, jobs[0].pk])
    for number in [keys[Job, entry.pk] for entry in jobs if entry in fresh]:
        judge_again(Job.objects.get(pk=number))
    job.refresh_from_db()
    return job


def _mapped(model: type[models.Model], fields: Mapping[str, Any], keys: Mapping[Any, Any]) -> dict[str, Any]:
    """Fields that point at rows by the keys that those have here; what has none yet keeps its own."""
    found = dict(fields)
    for field in model._meta.concrete_fields:
        if field.is_relation and found.get(field.name) is not None:
            related: Any = field.related_model
            found[field.name] = keys.get((related, found[field.name]), found[field.name])
    return found


def _there(entry: Entry, fields: Mapping[str, Any]) -> Any:
    """The key of the row that is here already and means the same; None where there is none."""
    manager = entry.model._default_manager
    if not isinstance(entry.model._meta.pk, models.AutoField | models.BigAutoField):
        return entry.pk if manager.filter(pk=entry.pk).exists() else None
    for query in _names(entry.model, fields):
        if (found := manager.filter(**query).values_list("pk", flat=True).first()) is not None:
            return found
    return None


def _names(model: type[models.Model], fields: Mapping[str, Any]) -> Iterator[dict[str, Any]]:
    """The ways in which a row is the same in every shop."""
    if model is Customer:
        yield {"name__iexact": fields["name"], "contact__iexact": fields["contact"]}
        return
    if issubclass(model, Edition):
        parent = next(
            field.name for field in model._meta.concrete_fields if field.is_relation and field.name != "added_by"
        )
        yield {parent: fields[parent], "sha256": fields["sha256"]}
        return
    for field in model._meta.concrete_fields:
        if field.unique and not field.primary_key and fields.get(field.name) is not None:
            yield {field.name: fields[field.name]}
    for constraint in model._meta.constraints:
        if isinstance(constraint, models.UniqueConstraint) and constraint.condition is None:
            yield {name: fields[name] for name in constraint.fields}


def _key_here(entry: Entry, newest: dict[type[models.Model], int]) -> Any:
    """A key of this shop's: the next number; what is numbered by a text or an id of its own keeps it."""
    if not isinstance(entry.model._meta.pk, models.AutoField | models.BigAutoField):
        return entry.pk
    if entry.model not in newest:
        newest[entry.model] = entry.model._default_manager.aggregate(most=models.Max("pk"))["most"] or 0
    newest[entry.model] += 1
    return newest[entry.model]


def _free_number(model: Any, fields: Mapping[str, Any]) -> int:
    parent = next(field.name for field in model._meta.concrete_fields if field.is_relation and field.name != "added_by")
    numbers = set(model._default_manager.filter(**{parent: fields[parent]}).values_list("number", flat=True))
    number: int = fields["number"]
    return number if number not in numbers else max(numbers) + 1


def _save(
    model: type[models.Model], pk: Any, fields: dict[str, Any], check: Callable[[models.Model, str], None] | None = None
) -> None:
    try:
        for found in Deserializer([{"model": model._meta.label_lower, "pk": pk, "fields": fields}]):
            if check:
                check(found.object, f"rows/{model._meta.label_lower}")
            found.save(force_insert=True)
    except (TypeError, ValueError, LookupError) as error:
        raise Refusal(
            f"rows/{model._meta.label_lower}",
            gettext("the row {pk} ({error})", pk=pk, error=error),
            gettext("a row that fits"),
        ) from None


def _reset_sequences() -> None:
    """The next key after those that were given."""
    ours = [model for model in apps.get_models() if model.__module__.startswith("uvrix.shop")]
    with connection.cursor() as cursor:
        for statement in connection.ops.sequence_reset_sql(no_style(), ours):
            cursor.execute(statement)
        # the numbers of Practice are given by hand, far above those of the shop
        for model in (Job, Card, Customer):
            newest = of_the_shop(model._base_manager.all(), "pk").aggregate(most=models.Max("pk"))["most"]
            cursor.execute(
                "select setval(pg_get_serial_sequence(%s, 'id'), %s, %s)",
                [model._meta.db_table, newest or 1, newest is not None],
            )
