"""What ./test --quick runs first, and what it leaves out."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from tests.quick import BESIDE, FAR, NAMED, Nearness, changed_files

ROOT = Path(__file__).parents[2]
CHANGED = {
    "uvrix/core/readings/morning.py",
    "uvrix/shop/stock/queries.py",
    "tests/core/boards/test_walk.py",
    "docs/trade/shorts.md",
}


@pytest.mark.parametrize(
    ("file", "text", "near"),
    [
        ("tests/core/boards/test_walk.py", "", NAMED),
        ("tests/api/test_morning.py", "from uvrix.core.readings.morning import judged", NAMED),
        ("tests/core/test_words.py", "from uvrix.core.readings import balls, morning", NAMED),
        ("tests/core/test_words.py", 'mocked("uvrix.shop.stock.queries.amount_of")', NAMED),
        ("tests/core/readings/test_balls.py", "from uvrix.core.readings.balls import lifted", BESIDE),
        ("tests/api/test_stock.py", "from uvrix.shop.jobs.models import Job", BESIDE),
        ("tests/core/test_words.py", "from uvrix.core.readings import balls", BESIDE),
        ("tests/core/test_words.py", "from uvrix.core.readings.balls import lifted", BESIDE),
        ("tests/core/test_words.py", "from uvrix.core.rework.pads import survey", FAR),
        ("tests/api/test_volts.py", "from uvrix.core.readings_made.morning import x", FAR),
        ("tests/core/rework/test_pads.py", "", FAR),
    ],
)
def test_a_test_is_near_to_what_it_names_or_stands_for(file, text, near):
    assert Nearness(CHANGED).of(file, text) == near


def test_where_nothing_is_open_the_last_commit_is_what_changed(tmp_path):
    def git(*command):
        who = ["-c", "user.name=Wren", "-c", "user.email=wren@reedmere.example"]
        subprocess.run(["git", *who, *command], cwd=tmp_path, check=True, capture_output=True)

    assert changed_files(tmp_path) == frozenset()
    git("init")
    for name in ("first", "second"):
        (tmp_path / name).write_text(name)
        git("add", "-A")
        git("commit", "-m", name)
    assert changed_files(tmp_path) == {"second"}
    (tmp_path / "first").write_text("changed")
    (tmp_path / "third").write_text("new")
    assert changed_files(tmp_path) == {"first", "third"}


def run(until="0", folder=None):
    """One file of the core's tests as pytest alone runs it; what it printed, once it went well."""
    without = ("UVRIX_TEMPLATES", "UVRIX_QUICK_UNTIL", "PYTEST_ADDOPTS")
    environment = {name: value for name, value in os.environ.items() if name not in without}
    environment |= {"UVRIX_SECRET_KEY": "for-tests-only", "UVRIX_QUICK_UNTIL": until}
    environment |= {"UVRIX_TEMPLATES": str(folder)} if folder else {}
    command = [sys.executable, "-m", "pytest", "-q", "-p", "no:cacheprovider", "tests/core/values/test_words.py"]
    done = subprocess.run(command, cwd=ROOT, env=environment, text=True, capture_output=True, check=False)
    assert done.returncode == 0, done.stdout + done.stderr
    return done.stdout


def test_what_ran_is_kept_and_after_its_time_nothing_is_begun(tmp_path):
    assert "left to the whole" not in run(folder=tmp_path)
    took = json.loads((tmp_path / "took.json").read_text())
    assert took
    assert all(name.startswith("tests/core/values/test_words.py::") for name in took)
    late = run("1", tmp_path)
    assert "left to the whole ./test" in late
    assert " passed" not in late
    assert json.loads((tmp_path / "took.json").read_text()) == took


def test_without_a_clones_folder_nothing_is_kept_and_tests_run_as_a_run_of_mutants_calls_them():
    assert " passed" in run()
