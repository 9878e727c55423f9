"""Data of older versions comes up to date with every row as it was; data of newer ones is refused."""

from __future__ import annotations

import lzma
import os
import re
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
# Tables that became one: where their rows are, and how their columns are called there ("": it is said otherwise).
MOVED = {
    "jobs_job": ("jobs_job", {"lie_side": "orientation_side", "lie_turns": "orientation_turns"}),
    "rework_rework": ("acts_act", {"photograph_id": ""}),
    "rework_reworkwithdrawal": ("acts_actwithdrawal", {"rework_id": "act_id", "id": ""}),
    "shorts_takenoff": ("acts_act", {"part": "site"}),
    "shorts_cutout": ("acts_act", {"rail": "", "phases": ""}),
    "ohms_fuseswap": ("acts_act", {"point": "site", "reason": ""}),
    "volts_parttried": ("acts_act", {"part": "site", "done": ""}),
    "rework_imagewrite": ("rework_imagewrite", {"id": "act_id", "note": "", "job_id": "", "by_id": "", "at": ""}),
    "shorts_injection": ("shorts_injection", {"wire": ""}),
}
# Letters lost the link that let whoever reads them in; all else of them stayed.
LINK = re.compile(r"https?://[^\s']+?/c/[A-Za-z0-9_-]+")
# A promise that was about a part became the act it was, and a waiver names that act.
BECAME_ACTS = ("promises_promise", "promises_promisekept", "promises_waiver")
# Pages that failed where a migration had been edited in place, and a few that read most tables.
READ = """
import django; django.setup()
from django.test import Client
from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.models import Job
client = Client(); client.force_login(User.objects.filter(role="lead").first())
pages = ["/api/v1/shelf", "/api/v1/stock/parts", "/api/v1/supplies"]
pages += [f"/api/v1/jobs/{job.pk}/{step}" for job in Job.objects.order_by("pk")[:3]
          for step in ("rework", "ohms", "volts", "proof")]
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
            found[table] = [
                {column: LINK.sub("{link}", repr(value)) for column, value in zip(columns, row, strict=True)}
                for row in cursor
            ]
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
        now, called = MOVED.get(table, (table, {}))
        assert now in after, "a table went"
        if older and table not in BECAME_ACTS:
            was = [{called.get(key, key): value for key, value in row.items()} for row in older]
            columns = set(was[0]) - {""}
            assert after[now], f"the rows of {table} went"
            assert columns <= set(after[now][0]), f"columns of {table} went"
            left = of_columns(after[now], columns)
            assert [row for row in of_columns(was, columns) if row not in left] == [], table
            assert table in MOVED or len(older) == len(left), table
    read = django(name, "-c", READ)
    assert read.returncode == 0, read.stderr[-2000:] + read.stdout
    assert read.stdout.count(" 200") >= 12


SPOKEN_OF = """
insert into shorts_takenoff (id, job_id, by_id, at, part, rails, note)
  select md5('off' || n)::uuid, job, by, now() - interval '5 hours', 'C' || n, '["in12a"]', 'warm'
  from generate_series(1, 3) n, who;
insert into shorts_cutout (id, job_id, by_id, at, rail, phases, note)
  select md5('cut')::uuid, job, by, now() - interval '4 hours', 'in12a', '["U71", "U72"]', '' from who;
insert into ohms_fuseswap (id, job_id, by_id, at, point, rating, reason)
  select md5('fuse')::uuid, job, by, now() - interval '4 hours', 'F1', '10 A', 'it is read again' from who;
insert into volts_parttried (id, job_id, by_id, at, node, part, done, came_of, note)
  select md5('tried')::uuid, job, by, now() - interval '4 hours', 'v18', 'U62', 'replaced', 'no-change', '' from who;
insert into promises_promise (id, job_id, by_id, at, kind, words, part, side)
  select md5(kind || part)::uuid, job, by, now() - interval '3 hours', kind, 'as it was said', part, ''
  from who, (values ('coil-lifted', 'L5'), ('wire-on', 'PL1'), ('part-off', 'C9'), ('part-off', ''),
  ('coil-lifted', 'L6')) as said (kind, part);
insert into promises_promisekept (promise_id, by_id, at)
  select md5(name)::uuid, by, now() - interval '2 hours'
  from who, (values ('coil-liftedL5'), ('part-offC9')) as kept (name);
insert into promises_waiver (job_id, key, reason, by_id, at)
  select job, md5('coil-liftedL6')::uuid::text, 'He wants it so.', by, now() from who;
"""
ACTS_NOW = """
select step, "do", site, rails, node, came_of, rating, chip <> '' from acts_act
where job_id = (select min(id) from jobs_job) and at < now() and site in
  ('C1', 'C2', 'C3', 'C9', 'U71', 'U72', 'F1', 'U62', 'L5', 'L6', 'PL1') order by site, at
"""


def test_what_six_screens_kept_apart_is_one_table_of_acts(loaded):
    name = loaded(DUMPS[-1])
    who = "(select min(id) as job, (select min(id) from accounts_user) as by from jobs_job) who"
    with psycopg.connect(dsn(name), autocommit=True) as connection:
        connection.execute("delete from rework_reworkwithdrawal; delete from rework_rework;")
        for statement in SPOKEN_OF.split(";")[:-1]:
            connection.execute(statement.replace("from who", f"from {who}").replace(", who", f", {who}"))
    done = django(name, "-m", "django", "migrate", "--no-input", "-v0")
    assert done.returncode == 0, done.stderr[-2000:]
    with psycopg.connect(dsn(name)) as connection:
        found = connection.execute(ACTS_NOW).fetchall()
        left = connection.execute("select kind, part from promises_promise where words = 'as it was said'").fetchall()
        waived = "select key from promises_waiver where reason = 'He wants it so.'"
        lifted = "select id from acts_act where site = 'L6'"
        [[key], [lifted_id]] = [connection.execute(statement).fetchall()[0] for statement in (waived, lifted)]
    nothing = ([], "", "", "")
    assert found == [
        *[("ohms", "remove", site, ["in12a"], "", "", "", True) for site in ("C1", "C2", "C3")],
        ("ohms", "remove", "C9", *nothing, True),
        ("ohms", "place", "C9", *nothing, False),
        ("ohms", "swap", "F1", [], "", "", "10 A", True),
        ("ohms", "lift-coil", "L5", *nothing, False),
        ("ohms", "fit-coil", "L5", *nothing, False),
        ("ohms", "lift-coil", "L6", *nothing, False),
        ("ohms", "solder-lead", "PL1", *nothing, False),
        ("volts", "swap", "U62", [], "v18", "no-change", "", True),
        ("ohms", "cut-layers", "U71", ["in12a"], "", "", "", False),
        ("ohms", "cut-layers", "U72", ["in12a"], "", "", "", False),
    ]
    assert left == [("part-off", "")], "one that names no part stays a promise"
    assert key == f"act:{lifted_id}"


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
        assert connection.execute("select to_regclass('acts_act')").fetchone() == (None,), "nothing was done"
