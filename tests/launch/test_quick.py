"""What ./test --quick runs first, and what it leaves out."""

from __future__ import annotations

import subprocess

import pytest

from tests.quick import BESIDE, FAR, NAMED, Nearness, changed_files

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
