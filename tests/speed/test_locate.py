"""Speed of reading reports, as ratios measured side by side in one run; `./test --speed` prints them."""

from __future__ import annotations

import json
import statistics
import subprocess
import sys
import time
from pathlib import Path

import numpy as np
import polars as pl
import pytest

from uvrix.core.boards.document import read_board
from uvrix.core.memory.locate import locate
from uvrix.core.memory.reader_file import read_reader
from uvrix.core.memory.reading import read_report
from uvrix.core.memory.sites import board_channels
from uvrix.core.memory.teaching import find_marks, teach

ROOT = Path(__file__).parents[2]
ROWS = 2_000_000
TIMES = 7


@pytest.fixture(scope="module")
def board():
    return read_board((ROOT / "data/boards/garganey-8.board.json").read_bytes())


def columns(rows):
    rng = np.random.default_rng(8417)
    channel = np.array(["A0", "A1", "B0", "B1", "C0", "C1"])
    stripe = rng.integers(0, 1 << 22, rows)
    which = rng.integers(0, 6, rows)
    address = ((stripe * 6 + which) * 256).tolist()
    expected = rng.integers(0, 1 << 32, rows)
    actual = (expected ^ (1 << rng.integers(0, 32, rows))).tolist()
    return channel[which].tolist(), address, expected.tolist(), actual


@pytest.fixture(scope="module")
def full(tmp_path_factory):
    path = tmp_path_factory.mktemp("speed") / "full.csv"
    with path.open("w") as file:
        file.write("channel,address,expected,actual,op,pattern,pass\n")
        file.writelines(
            f"{name},0x{where:010X},{want:08X},{saw:08X},read,walk,1\n"
            for name, where, want, saw in zip(*columns(ROWS), strict=True)
        )
    return path


@pytest.fixture(scope="module")
def text(tmp_path_factory):
    path = tmp_path_factory.mktemp("speed") / "own.txt"
    with path.open("w") as file:
        file.write("bench tester 2\n")
        file.writelines(
            f"pass 1 bank {name} at 0x{where:010X} want {want:08X} saw {saw:08X}\n"
            for name, where, want, saw in zip(*columns(ROWS), strict=True)
        )
    return path


def side_by_side(ours, theirs):
    """Ratio of the medians of times taken in turn, and both medians."""
    times = {ours: [], theirs: []}
    for _ in range(TIMES):
        for work in (theirs, ours):
            begun = time.perf_counter()
            work()
            times[work].append(time.perf_counter() - begun)
    mine, other = statistics.median(times[ours]), statistics.median(times[theirs])
    return mine / other, mine, other


def locating(board, path, reader=None):
    def work():
        with path.open("rb") as stream:
            return locate(board, [("x", read_report(stream, board_channels(board), reader=reader))])

    return work


def test_two_million_rows_against_a_plain_csv_reader(board, full):
    ratio, mine, other = side_by_side(locating(board, full), lambda: pl.read_csv(full, infer_schema=False))
    print(f"\nlocate, full CSV, {ROWS} rows: {ratio:.2f} x pl.read_csv ({mine:.2f} s, {other:.2f} s), bar 2.5")


def test_a_taught_reader_against_a_plain_csv_reader(board, text):
    sample = text.read_text()[:4000].rpartition("\n")[0]
    word = sample.splitlines()[1].split()
    marks = [(word[3], "channel"), (word[5], "address"), (word[7], "expected"), (word[9], "actual")]
    taught = read_reader(json.dumps(teach(sample, find_marks(sample, marks), "x")).encode())

    def plain():
        return pl.read_csv(text, infer_schema=False, has_header=False, separator="\x01", quote_char=None)

    ratio, mine, other = side_by_side(locating(board, text, taught), plain)
    print(f"\nlocate, taught reader, {ROWS} rows: {ratio:.2f} x pl.read_csv ({mine:.2f} s, {other:.2f} s), bar 5")


def test_a_large_report_in_bounded_memory(tmp_path):
    path = tmp_path / "giga.csv"
    row = b"".join(b"A0,0x%010X,FFFFFFFF,FFFFFFFB,read,walk,1\n" % (n * 1536) for n in range(100_000))
    with path.open("wb") as file:
        file.write(b"channel,address,expected,actual,op,pattern,pass\n")
        while file.tell() < 1 << 30:
            file.write(row)
    program = (
        "import re, sys; from uvrix.cli import main; main(sys.argv[1:]);"
        "high = re.search(r'VmHWM:\\s+(\\d+)', open('/proc/self/status').read());"
        "print(int(high[1]) // 1024, file=sys.stderr)"
    )
    board_file = ROOT / "data/boards/garganey-8.board.json"
    command = [sys.executable, "-c", program, "locate", str(path), "--board", str(board_file), "--json"]
    begun = time.perf_counter()
    done = subprocess.run(command, capture_output=True, text=True, check=True)
    size = path.stat().st_size / (1 << 30)
    print(
        f"\nlocate, {size:.2f} GiB: {done.stderr.strip()} MB at most, {time.perf_counter() - begun:.1f} s, bar 700 MB"
    )
    assert json.loads(done.stdout)["finding"]["kind"] == "dq-line"
