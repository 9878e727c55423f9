"""Data of older versions comes up to date with every row as it was; data of newer ones is refused."""

from __future__ import annotations

import lzma
import os
import subprocess
import sys
from pathlib import Path

import psycopg
import pytest
from psycopg import sql

from tests.conftest import THOROUGH
from uvrix.launch import templates
from uvrix.launch.cluster import pg_bin

ROOT = Path(__file__).parents[2]
# Each is the demo shop as a version of that day filled it (pg_dump, plain).
DUMPS = sorted((Path(__file__).parent / "dumps").glob("*.sql.xz"))
# Django's own notes, which migrating adds to.
NOT_OURS = ("django_migrations", "django_content_type", "auth_permission", "procrastinate_")
# Pages that failed where a migration had been edited in place, and a few that read most tables.
READ = """
import django; django.setup()
from django.test import Client
from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.models import Job
client = Client(); client.force_login(User.objects.filter(role="lead").first())
pages = ["/api/v1/shelf", "/api/v1/stock/parts", "/api/v1/supplies"]
pages += [f"/api/v1/jobs/{job.pk}/{room}" for job in Job.objects.order_by("pk")[:3]
          for room in ("rework", "ohms", "volts", "proof")]
for page in pages:
    answer = client.get(page)
    assert answer.status_code in (200, 404), (page, answer.status_code, answer.content[:300])
    print(page, answer.status_code)
"""


def dsn(name):
    named = {word: os.environ[f"UVRIX_DB_{word.upper()}"] for word in ("host", "port", "user", "password")}
    return " ".join(f"{word}={value}" for word, value in {**named, "dbname": name}.items())


def django(name, *arguments):
    environment = {**os.environ, "UVRIX_DB_NAME": name}
    command = [sys.executable, *arguments]
    return subprocess.run(command, cwd=ROOT, env=environment, capture_output=True, text=True, check=False)


@pytest.fixture
def loaded(process):
    name = f"uvrix_{process}_older"

    def load(dump):
        templates.clone("template0", name)
        text = lzma.decompress(dump.read_bytes())
        program = [str(pg_bin() / "psql"), "-q", "-v", "ON_ERROR_STOP=1", dsn(name)]
        done = subprocess.run(program, input=text, capture_output=True, check=False)
        assert done.returncode == 0, done.stderr[-500:]
        return name

    yield load
    templates.drop(name)


def rows(name):
    """Every row of every table of ours, as text by column."""
    found = {}
    with psycopg.connect(dsn(name)) as connection:
        tables = connection.execute("select tablename from pg_tables where schemaname = 'public'").fetchall()
        for (table,) in tables:
            if table.startswith(NOT_OURS):
                continue
            cursor = connection.execute(sql.SQL("select * from {}").format(sql.Identifier(table)))
            columns = [column.name for column in cursor.description or ()]
            found[table] = [{k: repr(v) for k, v in zip(columns, row, strict=True)} for row in cursor]
    return found


def of_columns(many, columns):
    return sorted(tuple(sorted((key, value) for key, value in row.items() if key in columns)) for row in many)


@pytest.mark.parametrize("dump", DUMPS if THOROUGH else DUMPS[:1], ids=lambda dump: dump.name.split(".")[0])
def test_older_data_comes_up_to_date_with_every_row_as_it_was(loaded, dump):
    name = loaded(dump)
    before = rows(name)
    assert sum(map(len, before.values())) > 500
    done = django(name, "-m", "django", "migrate", "--no-input", "-v0")
    assert done.returncode == 0, done.stderr[-2000:]
    after = rows(name)
    for table, older in before.items():
        assert table in after, "a table went"
        if older:
            columns = set(older[0]) & set(after[table][0] if after[table] else ())
            assert of_columns(older, columns) == of_columns(after[table], columns), table
            assert set(older[0]) - columns == set(), f"columns of {table} went"
    read = django(name, "-c", READ)
    assert read.returncode == 0, read.stderr[-2000:] + read.stdout
    assert read.stdout.count(" 200") >= 12


def test_data_of_a_newer_version_is_refused(loaded):
    name = loaded(DUMPS[-1])
    with psycopg.connect(dsn(name), autocommit=True) as connection:
        connection.execute(
            "insert into django_migrations (app, name, applied) values ('rework', '0999_from_tomorrow', now())"
        )
    done = django(name, "-m", "django", "migrate", "--no-input", "-v0")
    assert done.returncode != 0
    assert "found data of a newer version (rework.0999_from_tomorrow), expected this version's" in done.stderr
    with psycopg.connect(dsn(name)) as connection:
        assert connection.execute("select to_regclass('volts_supplyoutput')").fetchone() == (None,), "nothing was done"
