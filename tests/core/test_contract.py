"""What scripts outside rely on: every key of docs/formats, on random boards and reports; and all that is shipped."""

from __future__ import annotations

import json
import math
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from jsonschema import Draft202012Validator

from tests.calibration.measure import chips_with_channels, fault_text
from tests.calibration.second import faults_on
from tests.core.memory.cases import located, read
from uvrix.core.boards.document import read_board
from uvrix.core.boards.drawing import draw
from uvrix.core.boards.packages import read_package
from uvrix.core.boards.pinouts import read_pinout
from uvrix.core.boards.walk import places
from uvrix.core.memory.reader_file import read_reader
from uvrix.core.rework.image_file import facts_of
from uvrix.core.virtual.boards import random_board
from uvrix.core.virtual.layouts import LAYOUTS
from uvrix.core.virtual.reports import simulate

ROOT = Path(__file__).parents[2]
KINDS = {
    *("no-errors", "refused", "dq-line", "dq-bridge", "byte-lane", "half", "site", "cells", "address-line"),
    *("controller", "rail-group", "everywhere", "joint", "unclear"),
}
DO = {"rerun", "measure-lines", "reball", "replace", "check-supply", "ohms", "volts", "lift-core", "recipe"}
REPORT_KEYS = {"file", "format", "condition", "result", "refusal", "rows", "unread", "errors"}
SITE_KEYS = {"designator", "side", "channel", "position", "fitted", "errors", "share", "dq"}


def made_at_random(seed, errors=30, layout="full"):
    rng = np.random.default_rng(seed)
    board = read_board(json.dumps(random_board(rng)).encode())
    chips = chips_with_channels(board, board.document)
    kinds = faults_on(chips)
    made = simulate(board, fault_text(kinds[seed % len(kinds)], chips, rng), errors, seed, noise=0.1, layout=layout)
    return board, made


def check_explanation(board, one):
    assert {"kind", "designators", "dq", "chance", "why"} <= set(one)
    assert one["kind"] in KINDS
    assert 0 <= one["chance"] <= 1
    assert one["why"]
    assert all(isinstance(reason, str) and reason for reason in one["why"])
    for name in one["designators"]:
        assert board.by_designator[name].fitted
    for line in one["dq"]:
        assert all(board.by_designator[name].lines >> line & 1 for name in one["designators"])


@given(st.integers(0, 2**31), st.integers(1, 60))
def test_locate_holds_every_key_and_adds_up(seed, errors):
    board, made = made_at_random(seed, errors)
    found = json.loads(json.dumps(located(made.report, made.report, board=board), allow_nan=False))
    assert {"reports", "sites", "finding", "others", "actions", "warnings"} <= set(found)
    assert all(set(report) == REPORT_KEYS for report in found["reports"])
    assert all(set(site) == SITE_KEYS for site in found["sites"])
    assert [site["designator"] for site in found["sites"]] == [
        place.site.designator for place in places(board.core, board.walk, board.sites)
    ]
    total = sum(site["errors"] for site in found["sites"])
    for entry in found["sites"]:
        lines = board.by_designator[entry["designator"]].lines
        assert len(entry["dq"]) == 32
        assert all(count == 0 or lines >> line & 1 for line, count in enumerate(entry["dq"]))
        assert entry["fitted"] or entry["errors"] == 0
        assert math.isclose(entry["share"], entry["errors"] / total if total else 0, abs_tol=1e-6)
    for entry in [found["finding"], *found["others"]]:
        check_explanation(board, entry)
    for action in found["actions"]:
        assert action["do"] in DO
        assert 0 <= action["chance"] <= 1
        assert action["minutes"] > 0
        assert action["why"]
    if found["finding"]["kind"] == "everywhere":
        fitted = {site.designator for site in board.sites if site.fitted}
        assert set(found["finding"]["designators"]) == fitted


@given(st.integers(0, 2**31))
def test_lines_that_a_finding_names_are_those_of_its_kind(seed):
    board, made = made_at_random(seed, 60)
    finding = located(made.report, board=board)["finding"]
    many = {"dq-line": 1, "dq-bridge": 2, "byte-lane": 8, "half": 16}.get(finding["kind"], 0)
    assert len(finding["dq"]) == many
    if finding["kind"] in ("controller", "rail-group", "everywhere"):
        assert len(finding["designators"]) > 1


@given(st.integers(0, 2**31))
def test_our_three_formats_say_the_same_of_the_same_errors(seed):
    board, full = made_at_random(seed)
    sums = {}
    for layout in ("full", "lines", "tally"):
        _, made = made_at_random(seed, layout=layout)
        report = read(made.report, board)
        assert report.format == layout
        sums[layout] = {
            name: (entry.errors, tuple(entry.lines)) for name, entry in report.evidence.channels.items() if entry.errors
        }
    assert sums["full"] == sums["lines"] == sums["tally"]
    assert sum(errors for errors, _ in sums["full"].values()) == len(full.rows.channel)


def test_every_layout_of_the_virtual_card_is_text_that_ends_its_lines():
    for layout in LAYOUTS:
        _, made = made_at_random(11, layout=layout)
        assert made.report.endswith("\n")
        assert "\r" not in made.report


@pytest.mark.parametrize("path", sorted((ROOT / "data/boards").glob("*.json")), ids=lambda path: path.stem)
def test_shipped_boards_fit_the_published_schema_and_can_be_drawn(path):
    schema = json.loads((ROOT / "docs/formats/board.schema.json").read_text())
    Draft202012Validator.check_schema(schema)
    assert Draft202012Validator(schema).is_valid(json.loads(path.read_text()))
    board = read_board(path.read_bytes())
    assert f"{board.id}.board.json" == path.name
    drawing = draw(board)
    left, bottom, right, top = (float(number) for number in board.extents)
    for shape in drawing.sites:
        assert all(left <= x <= right and bottom <= y <= top for x, y in shape.corners)
    assert len({site.designator for site in board.sites}) == len(board.sites)


def test_shipped_boards_differ_in_mark_start_and_direction():
    boards = [read_board(path.read_bytes()) for path in (ROOT / "data/boards").glob("*.json")]
    assert len({board.core.mark_corner for board in boards}) == 4
    assert len({board.walk.start for board in boards if board.walk}) == 4
    assert len({board.walk.direction for board in boards if board.walk}) == 2


def test_shipped_readers_and_packages_are_taken():
    schema = json.loads((ROOT / "docs/formats/reader.schema.json").read_text())
    for path in (ROOT / "data/readers").glob("*.reader.json"):
        assert Draft202012Validator(schema).is_valid(json.loads(path.read_text()))
        assert read_reader(path.read_bytes()).name
    for path in (ROOT / "data/packages").glob("*.csv"):
        package = read_package(path.read_bytes(), path.stem)
        # of a memory chip, or of a core, whose data lines are named by channel
        chip = (sorted(package.lines), len(package.classes)) == (list(range(32)), 180)
        core = not package.lines and sum(".DQ" in name for name in package.signals.values()) == 256
        assert chip or core


def test_shipped_samples_show_what_the_readme_says():
    samples = ROOT / "docs/formats/samples"
    teal = read_board((ROOT / "data/boards/teal-8.board.json").read_bytes())
    found = located((samples / "teal-8-cold.csv").read_text(), board=teal)
    assert (found["finding"]["kind"], found["finding"]["designators"], found["finding"]["dq"]) == (
        "dq-line",
        ["U18"],
        [6],
    )
    assert found["warnings"] == []
    wigeon = read_board((ROOT / "data/boards/wigeon-4.board.json").read_bytes())
    assert located((samples / "wigeon-4.jsonl").read_text(), board=wigeon)["finding"]["designators"] == ["U502"]
    pinout = read_pinout(json.loads((samples / "gw7k.pinout.json").read_text()))
    assert [pin.use for pin in pinout.pins if pin.name == "EN"] == ["enable"]
    facts = facts_of(b"any image", (samples / "teal-8.image.json").read_bytes())
    assert (facts.bus, facts.vendors) == ("256", ("Ousel", "Marram"))


def test_a_fault_that_leaves_no_row_is_simulated_all_the_same():
    from uvrix.core.virtual.faults import on_channel

    board = next(board for board in (made_at_random(seed)[0] for seed in range(40)) if board.address_map)
    nothing = np.zeros(0, dtype=np.int64)
    assert on_channel(board, nothing, []).size == 0
