"""A case as a file: what it takes, what it refuses and by which path, names spelled loosely."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from tests.core.case.cards import BOARD, RAILS, READ, did, read, run
from uvrix.core.case.case_file import case_document, case_from, read_case
from uvrix.core.case.entries import Answered, Did, Glow, Measured, Run
from uvrix.core.case.schema import CASE_SCHEMA
from uvrix.core.errors import Refusal
from uvrix.core.values.shape import check_shape


def case(*entries, board=BOARD):
    return case_from(case_document(board.id if board else None, entries), board)


@pytest.mark.parametrize(
    ("entry", "path", "found"),
    [
        ({"felt": "warm"}, "$.entries[0]", "felt"),
        ({}, "$.entries[0]", "none of them"),
        ({"ticked": "F1", "looked": "all"}, "$.entries[0]", "ticked and looked"),
        ({"ticked": "F1", "site": "F1"}, "$.entries[0].site", "site"),
        ({"symptom": []}, "$.entries[0].symptom", "[]"),
        ({"symptom": ["tired"]}, "$.entries[0].symptom[0]", "tired"),
        ({"trial": {"changed": "cat", "shows": True}}, "$.entries[0].trial.changed", "cat"),
        ({"trial": {"changed": "plug", "shows": 1}}, "$.entries[0].trial.shows", "1"),
        ({"trial": {"changed": "plug"}}, "$.entries[0].trial", "shows"),
        ({"looked": "U999"}, "$.entries[0].looked", "U999"),
        ({"seen": {"kind": "burn"}}, "$.entries[0].seen", "neither part nor place"),
        ({"seen": {"kind": "smell", "part": "C1"}}, "$.entries[0].seen.kind", "smell"),
        ({"seen": {"kind": "burn", "side": "top", "x_mm": 1, "y_mm": 2}}, "$.entries[0].seen.side", "top"),
        ({"reading": {"point": "L1", "quantity": "resistance", "unit": "ohm"}}, "$.entries[0].reading", "value"),
        ({"reading": {**read("L9", "4k2")["reading"]}}, "$.entries[0].reading.point", "L9"),
        ({"reading": {**read("L1", "4q2")["reading"]}}, "$.entries[0].reading.value", "4q2"),
        ({"reading": {**read("L1", "4k2")["reading"], "unit": "V"}}, "$.entries[0].reading.unit", "V"),
        ({"reading": {**read("L1/L4", "1")["reading"], "to": "U9"}}, "$.entries[0].reading.to", "U9"),
        ({"ticked": "L1"}, "$.entries[0].ticked", "L1"),
        ({"injected": {"point": "L1", "volts": -1, "amps": 2}}, "$.entries[0].injected.volts", "-1"),
        ({"glow": {"side": "front", "x_mm": "3", "y_mm": 1}}, "$.entries[0].glow.x_mm", "3"),
        ({"power": "battery"}, "$.entries[0].power", "battery"),
        ({"draw": {"volts": 12}}, "$.entries[0].draw", "amps"),
        ({"rung": "fourth"}, "$.entries[0].rung", "fourth"),
        ({"run": {}}, "$.entries[0].run", "neither"),
        ({"run": {"result": "maybe"}}, "$.entries[0].run.result", "maybe"),
        ({"run": {"result": "pass", "condition": "cold"}}, "$.entries[0].run.condition", "cold"),
        ({"run": {"errors": {"A0": -1}}}, "$.entries[0].run.errors.A0", "-1"),
        ({"run": {"errors": {"A0": 1}, "dq": {"A0": [1]}}}, "$.entries[0].run.dq.A0", "1 counts"),
        ({"run": {"report": "x.csv"}}, "$.entries[0].run.report", "x.csv"),
        ({"pads": {"site": "U11", "verdict": "fine"}}, "$.entries[0].pads.verdict", "fine"),
        ({"checked": {"check": "smell", "passed": True}}, "$.entries[0].checked.check", "smell"),
        ({"did": "melt", "site": "U11"}, "$.entries[0].did", "melt"),
        ({"did": "remove"}, "$.entries[0].site", "no site"),
        ({"did": "remove", "site": "U999"}, "$.entries[0].site", "U999"),
        ({"did": "cooler-off", "site": "U11"}, "$.entries[0].site", "U11"),
        ({"looked": "all", "at": "2026-11-02T10:20:00"}, "$.entries[0].at", "10:20"),
        ({"looked": "all", "at": "yesterday"}, "$.entries[0].at", "yesterday"),
    ],
)
def test_what_does_not_fit_is_refused_by_its_path(entry, path, found):
    with pytest.raises(Refusal) as refused:
        case(entry)
    assert refused.value.place == path
    assert found in refused.value.found


def test_the_published_schema_takes_what_the_reader_takes():
    """Every sample, and every entry of the tests; and nothing with two keys or a strange one."""
    samples = list((Path(__file__).parents[3] / "docs/formats/samples").glob("*.case.json"))
    assert samples
    for path in samples:
        check_shape(json.loads(path.read_text("utf-8")), CASE_SCHEMA)
    kinds = [*READ, *RAILS, did("swap", "U71", chip="D1"), did("cooler-off"), run("fail", "cold", channel="B0", line=3)]
    kinds += [
        {"glow": None},
        {"answered": {"do": "ask", "answer": None}},
        {"trial": {"changed": "plug", "shows": True}},
    ]
    case(*kinds)
    check_shape(case_document("grebe-4", kinds), CASE_SCHEMA)
    for wrong in ({"felt": "warm"}, {}, {"ticked": "F1", "looked": "all"}):
        with pytest.raises(Refusal):
            check_shape(case_document("grebe-4", [wrong]), CASE_SCHEMA)


def test_time_never_goes_back_by_the_same_clock():
    first = {"looked": "all", "at": "2026-11-02T10:20:00Z"}
    case(first, {"looked": "all", "at": "2026-11-02T12:20:00+02:00"})
    with pytest.raises(Refusal) as refused:
        case(first, {"looked": "all"}, {"looked": "all", "at": "2026-11-02T12:19:59+02:00"})
    assert refused.value.place == "$.entries[2].at"


@pytest.mark.parametrize(
    ("document", "path"),
    [
        ([], "$"),
        ({"format": "uvrix-board", "version": 1, "board": None, "entries": []}, "$.format"),
        ({"format": "uvrix-case", "version": 2, "board": None, "entries": []}, "$.version"),
        ({"format": "uvrix-case", "version": True, "board": None, "entries": []}, "$.version"),
        ({"format": "uvrix-case", "version": 1, "entries": []}, "$.board"),
        ({"format": "uvrix-case", "version": 1, "board": "teal-8", "entries": []}, "$.board"),
        ({"format": "uvrix-case", "version": 1, "board": "grebe-4", "entries": {}}, "$.entries"),
        ({"format": "uvrix-case", "version": 1, "board": "grebe-4", "entries": [7]}, "$.entries[0]"),
    ],
)
def test_a_document_that_is_no_case_of_this_board(document, path):
    with pytest.raises(Refusal) as refused:
        read_case(json.dumps(document).encode(), BOARD)
    assert refused.value.place == path


def test_a_board_without_a_model_is_named_null():
    assert case({"did": "remove", "site": "anything 7"}, board=None).board is None
    with pytest.raises(Refusal):
        case_from(case_document("grebe-4", []), None)


def test_case_and_spaces_make_no_other_part():
    found = case(did("remove", "u 71"), did("swap", "OUTPUT4"), {"looked": "Front-1-1"}, did("contact-repaired", "b14"))
    assert [entry.what.site for entry in found.entries if isinstance(entry.what, Did)] == ["U71", "Output 4", "B14"]
    undrawn = case(did("remove", "output 4"), did("place", "OUTPUT  4"), board=None)
    assert [entry.what.site for entry in undrawn.entries if isinstance(entry.what, Did)] == ["output 4", "output 4"]


def test_readings_know_across_and_whose_pins():
    found = case(read("F1", "0R1"), read("RS1", "0R01"), read("L1/L4", "9", to="u72"), read("F1.1", "12", "voltage"))
    measured = [entry.what for entry in found.entries if isinstance(entry.what, Measured)]
    assert [measurement.reading.to for measurement in measured] == ["across", "across", "across", "ground"]
    assert [measurement.pins for measurement in measured] == ["", "", "U72", ""]


def test_null_is_an_answer_of_glow_and_ask():
    glow, asked = case({"glow": None}, {"answered": {"do": "ask", "answer": None}}).entries
    assert glow.what == Glow()
    assert asked.what == Answered("ask", None)


def test_a_run_from_a_file_beside_the_case(tmp_path):
    def report(name, channels):
        from uvrix.core.memory.reading import read_report

        with open(tmp_path / name, "rb") as stream:
            return read_report(stream, channels)

    (tmp_path / "run.csv").write_text("# result: fail\n# condition: cold\nchannel,errors\nB0,12\n")
    document = case_document("grebe-4", [{"run": {"report": "run.csv"}}, run("pass", "warm")])
    filed, typed = [entry.what for entry in case_from(document, BOARD, report).entries]
    assert isinstance(filed, Run)
    assert filed.failed
    assert filed.report.errors == 12
    assert isinstance(typed, Run)
    assert typed.clean
