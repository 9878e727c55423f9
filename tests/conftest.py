"""Databases cloned from templates, hypothesis in three strengths, what the run took by kind, and when a quick one ends.

The usual run is bounded in time; UVRIX_THOROUGH=1 looks longer; UVRIX_MUTANT=1 is short and the same every time;
UVRIX_QUICK_UNTIL is the second since 1970 after which no test is begun; UVRIX_TURN says which share of what goes over
many of a kind is taken (tests/turns.py).
"""

from __future__ import annotations

import gc
import json
import os
import shutil
import time
from collections import defaultdict
from pathlib import Path

import pytest
from hypothesis import HealthCheck, Phase, settings

from tests.quick import NAMED, Nearness, changed_files
from tests.turns import TURN, whose_turn
from uvrix.launch import templates

ROOT = Path(__file__).parents[1]
# a run of tests makes many short-lived objects and few circles: looking for those less often saves a twentieth
gc.set_threshold(100_000, 50, 100)
THOROUGH = bool(os.environ.get("UVRIX_THOROUGH"))
QUICK_UNTIL = float(os.environ.get("UVRIX_QUICK_UNTIL", "0"))
# Where a clone keeps what its tests took, and what a test is taken for that never ran.
TOOK, UNKNOWN_S = "took.json", 1.0
LEFT_OUT = "left to the whole ./test: the time of --quick was over"
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


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """Long kinds first, so that two processes end together; in a quick run what is near to the change."""
    if TURN:
        _leave_to_other_turns(config, items)
    if QUICK_UNTIL:
        _nearest_first(items)
    else:
        items.sort(key=lambda item: ORDER.index(kind_of(item.nodeid)) if kind_of(item.nodeid) in ORDER else len(ORDER))


def _leave_to_other_turns(config: pytest.Config, items: list[pytest.Item]) -> None:
    nearness = Nearness(changed_files(ROOT))

    def changed(item: pytest.Item) -> bool:
        return nearness.of(str(item.path.relative_to(ROOT)), item.path.read_text()) == NAMED

    items[:], left = whose_turn(items, int(TURN or 0), changed)
    if left:
        config.hook.pytest_deselected(items=left)


def _nearest_first(items: list[pytest.Item]) -> None:
    """Checks, then tests by their nearness to what changed, the short ones first by what they took in former runs.

    What waits for the demo shop comes last: filling it takes longer than there is time.
    """
    nearness, near, took = Nearness(changed_files(ROOT)), {}, took_before()
    for path in {item.path for item in items}:
        near[path] = nearness.of(str(path.relative_to(ROOT)), path.read_text())

    def place(item: pytest.Item) -> tuple[bool, bool, int, float]:
        demo = "demo" in getattr(item, "fixturenames", ())
        return kind_of(item.nodeid) != "checks", demo, near[item.path], took.get(item.nodeid, UNKNOWN_S)

    items.sort(key=place)


def took_before() -> dict[str, float]:
    """The seconds that each test of this clone took when it last ran, by its name; empty where none did."""
    try:
        return json.loads(Path(os.environ["UVRIX_TEMPLATES"], TOOK).read_text())
    except (FileNotFoundError, ValueError):  # or one that two runs wrote at once
        return {}


@pytest.hookimpl(tryfirst=True)
def pytest_runtest_setup() -> None:
    """After the time of a quick run no test is begun."""
    if QUICK_UNTIL and time.time() > QUICK_UNTIL:
        pytest.skip(LEFT_OUT)


def pytest_terminal_summary(terminalreporter) -> None:
    """The time that each kind of test took, over all processes."""
    seconds: dict[str, float] = defaultdict(float)
    counts: dict[str, int] = defaultdict(int)
    took: dict[str, float] = defaultdict(float)
    begun: set[str] = set()
    for reports in terminalreporter.stats.values():
        for report in reports:
            if isinstance(report, pytest.TestReport):
                seconds[kind_of(report.nodeid)] += report.duration
                counts[kind_of(report.nodeid)] += report.when == "call"
                took[report.nodeid] += report.duration
                begun |= {report.nodeid} if report.when == "call" else set()
    if folder := os.environ.get("UVRIX_TEMPLATES"):
        ran = {name: duration for name, duration in took.items() if name in begun}
        passing = Path(folder, f"{TOOK}.{os.getpid()}")
        passing.write_text(json.dumps(took_before() | ran))
        passing.replace(Path(folder, TOOK))
    skipped = terminalreporter.stats.get("skipped", [])
    if left := [report for report in skipped if LEFT_OUT in str(report.longrepr)]:
        terminalreporter.section(f"{len(left)} tests were {LEFT_OUT}")
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
