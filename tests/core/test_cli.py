"""The command line as scripts call it: a process, its exit code, one line on stderr."""

from __future__ import annotations

import json
import resource
import subprocess
import sys
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
        (
            ["simulate", "memory", "--board", str(BOARD), "--fault", "x", "--errors", "0", "--seed", "1", "--out", "o"],
            "--errors",
        ),
        (
            ["simulate", "memory", "--board", str(BOARD), "--fault", "x", "--errors", "5", "--seed", "1", "--out", "o"],
            "--fault",
        ),
        (["teach", str(SAMPLE), "--mark", "nothing"], "--mark"),
        (["teach", str(SAMPLE), "--mark", "A1=colour"], "--mark"),
        (["teach", "none.txt", "--mark", "A1=channel"], "none.txt"),
        (["locate", str(SAMPLE), "--board", str(BOARD), "--reader", str(BOARD)], str(BOARD)),
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


def test_a_reader_that_stops_reading_sees_no_traceback():
    command = f"{PROGRAM} walk --board {ROOT / 'data/boards/scaup-24.board.json'} | true"
    done = subprocess.run(["bash", "-c", command], capture_output=True, text=True, check=False)
    assert done.stderr == ""


def test_simulate_writes_a_report_and_the_truth_beside_it(tmp_path):
    out = tmp_path / "sim.csv"
    done = run(
        *("simulate", "memory", "--board", BOARD, "--fault", "dq-bridge:U12:3:17"),
        *("--errors", 60, "--seed", 4, "--out", out, "--json"),
    )
    truth = json.loads((tmp_path / "sim.csv.truth.json").read_text())
    assert (truth["kind"], truth["designators"], truth["dq"], truth["seed"]) == ("dq-bridge", ["U12"], [3, 17], 4)
    assert json.loads(done.stdout)["errors"] == {"U12": 60} == truth["errors"]
    found = json.loads(run("locate", out, "--board", BOARD, "--json").stdout)["finding"]
    assert (found["kind"], found["designators"], found["dq"]) == ("dq-bridge", ["U12"], [3, 17])


def test_teach_prints_a_reader_that_locate_takes(tmp_path):
    sample = ROOT / "docs/formats/samples/readers/lapwing-wide.txt"
    done = run("teach", sample, "--mark", "A0=channel", "0=errors", "--mark", "0=dq0", "cold=condition", "--json")
    reader = tmp_path / "lapwing.reader.json"
    reader.write_text(done.stdout)
    found = json.loads(run("locate", sample, "--board", BOARD, "--reader", reader, "--json").stdout)
    assert found["reports"][0]["format"] == "lapwing-wide"
    assert found["finding"]["designators"] == ["U12"]


def processor_seconds(*arguments):
    before = resource.getrusage(resource.RUSAGE_CHILDREN)
    assert run(*arguments).returncode == 0
    after = resource.getrusage(resource.RUSAGE_CHILDREN)
    return after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime


def test_help_loads_nothing_heavy():
    # by the program's own processor time: on a crowded machine it waits for its turn, which is not its doing
    assert min(processor_seconds("--help") for _ in range(3)) < 0.5
    loaded = subprocess.run(
        [sys.executable, "-c", "import sys, uvrix.cli; print('polars' in sys.modules or 'numpy' in sys.modules)"],
        capture_output=True,
        text=True,
        check=True,
    )
    assert loaded.stdout.strip() == "False"
