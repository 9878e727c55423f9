"""Databases cloned from templates, hypothesis in three strengths, and what the run took by kind.

The usual run is bounded in time; UVRIX_THOROUGH=1 looks longer; UVRIX_MUTANT=1 is short and the same every time.
"""

from __future__ import annotations

import gc
import os
import shutil
from collections import defaultdict
from pathlib import Path

import pytest
from hypothesis import HealthCheck, Phase, settings

from uvrix.launch import templates

# a run of tests makes many short-lived objects and few circles: looking for those less often saves a twentieth
gc.set_threshold(100_000, 50, 100)
THOROUGH = bool(os.environ.get("UVRIX_THOROUGH"))
SLOWEST = 10
# Long ones first, so that no process has one left when the others have ended.
ORDER = ("checks", "launch", "browser", "calibration", "api", "core", "standins")

usual = settings(max_examples=40, deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.register_profile("usual", usual)
settings.register_profile("thorough", usual, max_examples=1500)
settings.register_profile("mutant", usual, max_examples=30, derandomize=True, phases=[Phase.explicit, Phase.generate])
settings.load_profile("thorough" if THOROUGH else "mutant" if os.environ.get("UVRIX_MUTANT") else "usual")


def pytest_configure(config: pytest.Config) -> None:
    """The slowest tests are named at the end of every run."""
    if config.option.durations is None:
        config.option.durations = SLOWEST


def kind_of(nodeid: str) -> str:
    """The folder below tests/ that a test stands in."""
    return nodeid.split("/")[1] if "/" in nodeid else nodeid


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Long kinds first, so that two processes end together."""
    items.sort(key=lambda item: ORDER.index(kind_of(item.nodeid)) if kind_of(item.nodeid) in ORDER else len(ORDER))


def pytest_terminal_summary(terminalreporter) -> None:
    """The time that each kind of test took, over all processes."""
    seconds: dict[str, float] = defaultdict(float)
    counts: dict[str, int] = defaultdict(int)
    for reports in terminalreporter.stats.values():
        for report in reports:
            if isinstance(report, pytest.TestReport):
                seconds[kind_of(report.nodeid)] += report.duration
                counts[kind_of(report.nodeid)] += report.when == "call"
    terminalreporter.section("time by kind")
    for kind in sorted(seconds, key=lambda name: -seconds[name]):
        terminalreporter.write_line(f"{seconds[kind]:7.1f} s  {kind} ({counts[kind]} tests)")


@pytest.fixture(scope="session")
def process() -> str:
    """The name of this process among those that run tests side by side."""
    return os.environ.get("PYTEST_XDIST_WORKER", "alone")


@pytest.fixture(scope="session")
def template_folder() -> Path:
    """Where ./test keeps the templates that databases are cloned from."""
    return Path(os.environ["UVRIX_TEMPLATES"])


def _use(database: str) -> None:
    from django.db import connection

    connection.close()
    connection.settings_dict["NAME"] = database


@pytest.fixture(scope="session")
def django_db_setup(django_db_blocker, process, template_folder):
    """In place of pytest-django's own, which would migrate for half a minute in each process."""
    name = f"uvrix_{process}"
    templates.ensure(template_folder, templates.SCHEMA)
    templates.clone(templates.SCHEMA, name)
    with django_db_blocker.unblock():
        _use(name)
        yield
        _use("uvrix")
    templates.drop(name)


@pytest.fixture(scope="session")
def _demo_database(django_db_setup, process, template_folder, tmp_path_factory):
    name, files = f"uvrix_{process}_demo", tmp_path_factory.mktemp("demo")
    templates.copy_demo(template_folder, name, files)
    yield name, files
    templates.drop(name)


@pytest.fixture
def _demo_connection(_demo_database, process, settings, tmp_path):
    from django.db import connection

    assert not connection.in_atomic_block, "a test names the fixture demo before those that use a database"
    name, files = _demo_database
    settings.MEDIA_ROOT = tmp_path / "demo-files"
    shutil.copytree(files / "files", settings.MEDIA_ROOT, copy_function=os.link)
    _use(name)
    yield
    _use(f"uvrix_{process}")


@pytest.fixture
def demo(_demo_connection, db):
    """The demo shop in place of an empty database; what a test does to it is taken back."""


@pytest.fixture(scope="session")
def open_folder(tmp_path_factory):
    """Makes folders that the database user can enter; pytest's own are closed to others."""

    def made() -> Path:
        folder = tmp_path_factory.mktemp("open")
        for entry in (folder, *folder.parents):
            if entry.name.startswith(("open", "pytest-", "popen-")):
                entry.chmod(0o755)
        return folder

    return made
