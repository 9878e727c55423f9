"""The command line as scripts call it: a process, its exit code, one line on stderr."""

from __future__ import annotations

import json
import subprocess
import sys
import time
from pathlib import Path

import pytest

PROGRAM = Path(sys.executable).parent / "uvrix"
ROOT = Path(__file__).parents[2]
BOARD = ROOT / "data/boards/teal-8.board.json"
SAMPLE = ROOT / "docs/formats/samples/teal-8-cold.csv"


def run(*arguments, cwd=None):
    return subprocess.run([PROGRAM, *map(str, arguments)], capture_output=True, text=True, cwd=cwd, check=False)


def test_locate_prints_one_object():
    done = run("locate", SAMPLE, "--board", BOARD, "--json")
    found = json.loads(done.stdout)
    assert (done.returncode, done.stderr) == (0, "")
    assert found["reports"][0]["file"] == str(SAMPLE)
    assert found["finding"]["designators"] == ["U18"]
    assert [site["position"] for site in found["sites"]] == list(range(1, 9))


def test_locate_sums_several_reports_and_prints_a_table():
    done = run("locate", SAMPLE, ROOT / "docs/formats/samples/teal-8-warm.csv", "--board", BOARD)
    assert done.returncode == 0
    assert "U18" in done.stdout
    assert "Finding: dq-line U18" in done.stdout


def test_walk_lists_every_place():
    found = json.loads(run("walk", "--board", ROOT / "data/boards/scaup-24.board.json", "--json").stdout)
    assert len(found["sites"]) == 24
    assert [site["side"] for site in found["sites"][:4]] == ["front", "back", "front", "back"]


@pytest.mark.parametrize(
    ("arguments", "where"),
    [
        (["walk"], "--board"),
        (["walk", "--board"], "--board"),
        (["walk", "--board", "none.board.json"], "none.board.json"),
        (["walk", "--board", "."], "."),
        (["walk", "--board", str(SAMPLE)], str(SAMPLE)),
        (["locate", "none.csv", "--board", str(BOARD)], "none.csv"),
        (["locate", str(BOARD), "--board", str(BOARD)], str(BOARD)),
        (["dance"], "COMMAND"),
        ([], "COMMAND"),
        (["locate", "--board", str(BOARD)], "REPORT"),
    ],
)
def test_a_refusal_is_one_line_and_exit_2(arguments, where, tmp_path):
    done = run(*arguments, cwd=tmp_path)
    assert done.returncode == 2
    assert done.stdout == ""
    assert len(done.stderr.splitlines()) == 1
    assert done.stderr.startswith(f"{where}:")
    assert "found" in done.stderr
    assert "expected" in done.stderr


def test_help_loads_nothing_heavy():
    run("--help")
    begun = time.perf_counter()
    done = run("--help")
    assert done.returncode == 0
    assert time.perf_counter() - begun < 0.5
    loaded = subprocess.run(
        [sys.executable, "-c", "import sys, uvrix.cli; print('polars' in sys.modules or 'numpy' in sys.modules)"],
        capture_output=True,
        text=True,
        check=True,
    )
    assert loaded.stdout.strip() == "False"
