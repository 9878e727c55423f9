"""The databases that tests are cloned from: one migrated and empty, one that holds the demo shop.

Each is made once, in a test cluster that a clone keeps between runs, and is made anew when what it was made from has
changed. PostgreSQL copies a template in about a second; migrating takes half a minute, filling the demo shop as long.
"""

from __future__ import annotations

import fcntl
import hashlib
import os
import shutil
import subprocess
import sys
import time
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    import psycopg

ROOT = Path(__file__).resolve().parents[2]
NOBODY = "TCPIP0::127.0.0.1::9::SOCKET"
SCHEMA, DEMO = "uvrix_template_schema", "uvrix_template_demo"
# What filling the demo shop printed.
FIRST_START = "first-start.txt"
# The demo shop's times are told from the moment it was filled: an old one has other jobs overdue.
DEMO_LASTS_S = 2 * 3600


def demo_files(folder: Path) -> Path:
    """Where the demo shop's files are kept; copied beside every clone of it."""
    return folder / "demo-files"


def clone(template: str, name: str) -> None:
    """Make the database `name` as a copy of a template, in place of one that has that name."""
    with _server() as connection:
        connection.execute(f'drop database if exists "{name}" with (force)')
        connection.execute(f'create database "{name}" template "{template}" strategy file_copy')


def drop(name: str) -> None:
    """Remove a database that was cloned."""
    with _server() as connection:
        connection.execute(f'drop database if exists "{name}" with (force)')


def ensure(folder: Path, template: str) -> None:
    """Make a template unless it is there and still true; of several callers one makes it and the others wait."""
    with (folder / f"{template}.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        wanted = _stamp(template)
        if _fresh(folder, template, wanted):
            return
        (folder / template).unlink(missing_ok=True)
        if template == SCHEMA:
            _make_schema()
        else:
            ensure(folder, SCHEMA)
            _make_demo(folder)
        (folder / template).write_text(wanted)


def copy_demo(folder: Path, database: str, files: Path) -> None:
    """The demo shop as it was filled: its database under a name, its files in a folder."""
    ensure(folder, DEMO)
    clone(DEMO, database)
    shutil.rmtree(files, ignore_errors=True)
    shutil.copytree(demo_files(folder), files)


def _fresh(folder: Path, template: str, wanted: str) -> bool:
    kept = folder / template
    if not kept.exists() or kept.read_text() != wanted:
        return False
    return template == SCHEMA or time.time() - kept.stat().st_mtime < DEMO_LASTS_S


def _make_schema() -> None:
    clone("template0", SCHEMA)
    _django(SCHEMA, {}, "migrate", "--no-input", "-v0")


def _make_demo(folder: Path) -> None:
    making = f"{DEMO}_making"
    clone(SCHEMA, making)
    shutil.rmtree(demo_files(folder), ignore_errors=True)
    # a meter as ./start names one; nobody answers there
    said = _django(making, {"UVRIX_DATA": str(demo_files(folder)), "UVRIX_METER": NOBODY}, "first_start")
    (folder / FIRST_START).write_text(said)
    with _server() as connection:
        connection.execute(f'drop database if exists "{DEMO}" with (force)')
        connection.execute(f'alter database "{making}" rename to "{DEMO}"')


def _django(database: str, more: dict[str, str], *command: str) -> str:
    done = django_command({**os.environ, "UVRIX_DB_NAME": database, **more}, *command)
    if done.returncode:
        raise RuntimeError(f"found that `{command[0]}` failed, expected a template database:\n{done.stderr}")
    return done.stdout


def django_command(environment: dict[str, str], *command: str) -> subprocess.CompletedProcess[str]:
    """What a command of Django's said, in an environment of its own, and how it ended."""
    called = [sys.executable, "-m", "django", *command]
    return subprocess.run(
        called, env=environment, cwd=ROOT, text=True, capture_output=True, stdin=subprocess.DEVNULL, check=False
    )


def _stamp(template: str) -> str:
    """What a template is made from, as one hash."""
    folders = ["uvrix/shop/*/migrations"] if template == SCHEMA else ["uvrix", "data"]
    digest = hashlib.sha256()
    for path in _files([*folders, "requirements.txt"]):
        digest.update(str(path.relative_to(ROOT)).encode() + b"\0" + path.read_bytes())
    return digest.hexdigest()


def _files(patterns: Iterable[str]) -> Iterator[Path]:
    for pattern in patterns:
        for found in sorted(ROOT.glob(pattern)):
            below = sorted(found.rglob("*")) if found.is_dir() else [found]
            yield from (path for path in below if path.is_file() and "__pycache__" not in path.parts)


@contextmanager
def _server() -> Iterator[psycopg.Connection[tuple[object, ...]]]:
    import psycopg

    named = {
        "host": os.environ["UVRIX_DB_HOST"],
        "port": os.environ["UVRIX_DB_PORT"],
        "user": os.environ["UVRIX_DB_USER"],
        "password": os.environ["UVRIX_DB_PASSWORD"],
    }
    dsn = " ".join(f"{word}={value}" for word, value in named.items())
    with psycopg.connect(f"{dsn} dbname=postgres", autocommit=True) as connection:
        yield connection
