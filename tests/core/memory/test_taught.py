"""Taught readers: their files, what they read, and readers learned from marks."""

from __future__ import annotations

import io
import json
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.memory.cases import lines_of, six
from uvrix.core.boards.document import read_board
from uvrix.core.errors import Refusal
from uvrix.core.memory.locate import as_json, locate
from uvrix.core.memory.reader_file import read_reader
from uvrix.core.memory.reading import read_report
from uvrix.core.memory.sites import board_channels
from uvrix.core.memory.taught import Fit, explain, fit_of
from uvrix.core.memory.teaching import Mark, find_marks, teach

ROOT = Path(__file__).parents[3]
SAMPLES = ROOT / "docs/formats/samples/readers"
ERRORS = r"^(?P<channel>\w+) (?P<expected>[0-9A-F]+)/(?P<actual>[0-9A-F]+)(?: x(?P<count>\d+))?$"


def reader(*rules, **more):
    lines = [dict(zip(("use", "pattern", "means"), rule, strict=False)) for rule in rules]
    return read_reader(
        json.dumps({"format": "uvrix-reader", "version": 1, "name": "Mine", "lines": lines, **more}).encode()
    )


def read(text, taught, board=None):
    return read_report(io.BytesIO(text.encode()), board_channels(board or six()), 256, reader=taught)


def sites(text, taught, board=None):
    board = board or six()
    found = as_json(locate(board, [("r", read(text, taught, board))]))
    return {site["designator"]: site for site in found["sites"]}, found


def test_the_first_rule_that_fits_wins_and_other_lines_are_counted():
    taught = reader(("skip", "^again "), ("error", ERRORS.replace("^", "(?:again )?")), ("skip", "never"))
    report = read("A0 0/1\nagain A0 0/1\n\n?? lost\nA1 0/2 x5\n  \n", taught)
    assert (report.rows, report.errors, report.unread.count) == (2, 6, 1)
    assert report.unread.quotes == [(4, "?? lost")]
    assert report.format == "Mine"


def test_names_of_channels_are_matched_whole_and_others_stand_for_themselves():
    found, everything = sites("quill 0/1\nquills 0/1\nA1 0/1\n", reader(("error", ERRORS), channels={"quill": "B0"}))
    assert (found["M2"]["errors"], found["M1"]["errors"]) == (1, 1)
    assert any("quills" in warning and "1 error" in warning for warning in everything["warnings"])


def test_words_may_stand_the_other_way_round_and_in_another_base():
    taught = reader(("error", r"^(?P<channel>\w+) (?P<bits>[01]{32})$"), number_base=2, word_order="dq0-left")
    found, _ = sites(f"A0 1{'0' * 30}1\nA0 {'0' * 25}1000000\n", taught)
    assert lines_of(found["M0"]) == {0: 1, 31: 1, 25: 1}


@given(st.integers(1, 2**32 - 1))
def test_turning_words_round_is_what_a_slow_hand_does(mask):
    taught = reader(("error", r"^(?P<channel>\w+) (?P<bits>[0-9A-F]{8})$"), word_order="dq0-left")
    found, _ = sites(f"A0 {mask:08X}\n", taught)
    assert set(lines_of(found["M0"])) == {31 - line for line in range(32) if mask >> line & 1}


def test_keys_refusals_and_tallies():
    rules = [
        ("meta", r"^set (?P<key>\w+) = (?P<value>.+)$"),
        ("refusal", "^stopped, code 4", "wrong-build"),
        ("tally", r"^(?P<channel>\w+): (?P<errors>\d+) \[(?P<dq3>\d+)\]$"),
    ]
    refused = read("set condition = warm, flexed up\nstopped, code 4\n", reader(*rules))
    assert (refused.meta.result, refused.meta.refusal) == ("refused", "wrong-build")
    assert refused.meta.condition == ("warm", "flexed up")
    found, everything = sites("A0: 7 [7]\nA1: x\nB0: 0 [0]\n", reader(*rules))
    assert (found["M0"]["errors"], lines_of(found["M0"])) == (7, {3: 7})
    assert everything["reports"][0]["unread"] == 1


def test_counts_are_decimal_and_bad_cells_are_unread():
    report = read("A0 0/1 x10\nA0 0/1 x0\nA0 100000000/0\n", reader(("error", ERRORS)))
    assert (report.rows, report.errors, report.unread.count) == (1, 10, 2)


def test_a_text_that_fits_no_line_is_refused():
    with pytest.raises(Refusal) as refused:
        read("Dear shop,\nplease repair.\n", reader(("error", ERRORS)))
    assert "Mine" in refused.value.found


def test_a_failed_run_of_which_no_error_can_be_read_is_refused():
    taught = reader(("error", ERRORS), ("meta", r"^(?P<key>\w+) = (?P<value>\w+)$"))
    with pytest.raises(Refusal):
        read("result = fail\nA0 was wrong\n", taught)
    assert read("result = pass\nnothing to tell\n", taught).rows == 0


@pytest.mark.parametrize(
    ("rule", "place", "expected"),
    [
        ({"use": "dance", "pattern": "x"}, "$.lines[0].use", "error"),
        ({"use": "skip"}, "$.lines[0]", "pattern"),
        ({"use": "skip", "pattern": "("}, "$.lines[0].pattern", "look-around"),
        ({"use": "skip", "pattern": "(?=x)"}, "$.lines[0].pattern", "look-around"),
        ({"use": "skip", "pattern": r"(a)\1"}, "$.lines[0].pattern", "look-around"),
        ({"use": "error", "pattern": "x"}, "$.lines[0].pattern", "channel or address"),
        ({"use": "error", "pattern": "(?P<chanel>x)"}, "$.lines[0].pattern", "channel"),
        ({"use": "tally", "pattern": "(?P<channel>x)"}, "$.lines[0].pattern", "errors"),
        ({"use": "meta", "pattern": "(?P<key>x)"}, "$.lines[0].pattern", "value"),
        ({"use": "refusal", "pattern": "x", "means": "sulking"}, "$.lines[0].means", "not-found"),
    ],
)
def test_a_reader_that_does_not_fit_is_refused(rule, place, expected):
    document = {"format": "uvrix-reader", "version": 1, "name": "x", "lines": [rule]}
    with pytest.raises(Refusal) as refused:
        read_reader(json.dumps(document).encode())
    assert refused.value.place == place
    assert expected in refused.value.expected


def test_a_pattern_made_to_run_for_ever_does_not():
    report = read("A0 0/1\n" + "a" * 40_000 + "!\n", reader(("skip", "^(a+)+$"), ("error", ERRORS)))
    assert report.unread.count == 1


MARKS = {
    "lapwing-counts": [("A1", "channel"), ("12", "errors"), ("warm", "condition")],
    "lapwing-lines": [("B1", "channel"), ("FFFFFFFF", "expected"), ("FFFFDFFF", "actual"), ("cold", "condition")],
    "lapwing-wide": [("A0", "channel"), ("0", "errors"), ("0", "dq0"), ("cold", "condition")],
}


@pytest.mark.parametrize(
    ("name", "rows", "errors", "channel", "lines"),
    [
        ("lapwing-counts", 8, 15, "A1", set()),
        ("lapwing-lines", 5, 5, "B1", {13}),
        ("lapwing-wide", 8, 510, "C1", set(range(8, 16))),
    ],
)
def test_a_few_marks_teach_each_of_three_layouts(name, rows, errors, channel, lines):
    sample = (SAMPLES / f"{name}.txt").read_text()
    document = teach(sample, find_marks(sample, MARKS[name]), name)
    taught = read_reader(json.dumps(document).encode())
    board = read_board((ROOT / "data/boards/teal-8.board.json").read_bytes())
    report = read(sample, taught, board)
    assert (report.rows, report.errors) == (rows, errors)
    assert {n for n, count in enumerate(report.evidence.channels[channel].lines) if count} == lines
    assert report.meta.condition in (("warm",), ("cold",))


def test_words_that_hide_further_lines_are_loosened():
    sample = "read A0 at 10 want 00 saw 01\nwrite A1 at 20 want 00 saw 02\nread B0 at 30 want 00 saw 04\n"
    marks = find_marks(sample, [("A0", "channel"), ("00", "expected"), ("01", "actual")])
    taught = read_reader(json.dumps(teach(sample, marks, "x")).encode())
    assert [line.use for line in explain(sample, taught)] == ["error"] * 3
    assert explain(sample, taught)[1].cells == {"channel": "A1", "expected": "00", "actual": "02"}
    assert fit_of(sample.encode(), taught) == Fit(3, 3, 3)


@pytest.mark.parametrize(
    ("marks", "says"),
    [
        ([("zz", "channel")], "in no line"),
        ([("A0", "colour")], "colour"),
        ([("A0", "channel"), ("A1", "expected")], "no line that holds"),
        ([("00", "expected")], "expected"),
        ([("read", "condition")], "condition"),
    ],
)
def test_marks_that_make_no_reader_are_refused(marks, says):
    sample = "read A0 want 00 saw 01\nread A1 want 00 saw 02\n"
    with pytest.raises(Refusal) as refused:
        teach(sample, find_marks(sample, marks), "x")
    assert says in str(refused.value)


signs = st.text(st.sampled_from("A0B1 x/=:()[]{}.*+?\\^$|#é\t"), min_size=1, max_size=30)


@given(st.lists(signs, min_size=1, max_size=6), st.data())
def test_any_mark_on_any_sample_teaches_or_refuses(lines, data):
    sample = "\n".join(lines)
    kept = sample.splitlines()
    line = data.draw(st.integers(0, len(kept)))
    columns = ["channel", "errors", "bits", "skip", "refusal", "condition", "dq0", "nothing"]
    marks = [
        Mark(line, start, start + data.draw(st.integers(0, 4)), data.draw(st.sampled_from(columns)))
        for start in data.draw(st.lists(st.integers(0, 20), min_size=1, max_size=3))
    ]
    try:
        taught = read_reader(json.dumps(teach(sample, marks, "x")).encode())
        read(sample, taught)
    except Refusal as refusal:
        assert "\n" not in str(refusal)


@given(st.text(max_size=60), st.lists(st.text(max_size=30), max_size=5))
def test_any_pattern_on_any_text_is_read_or_refused(pattern, lines):
    try:
        taught = reader(("skip", pattern or "x"), ("error", "(?P<channel>[A-Z][0-9])" + pattern))
        read("\n".join(lines), taught)
    except Refusal as refusal:
        assert "\n" not in str(refusal)


def taught_on(sample, *marks):
    document = teach(sample, find_marks(sample, list(marks)), "mine")
    return read_reader(json.dumps(document).encode())


CHATTER = "".join(f"[{n:04}] step {n} of the bench, nothing of note\n" for n in range(400))


def test_a_line_of_a_key_alone_is_no_report():
    sample = "tester: heron\nread A0 at 10 want 00 saw 01\nresult: fail\n"
    reader = taught_on(sample, ("A0", "channel"), ("00", "expected"), ("01", "actual"), ("fail", "result"))
    assert fit_of(sample.encode(), reader).telling == 2
    text = "uptime: 12 days\n" + CHATTER
    fit = fit_of(text.encode(), reader)
    assert (fit.telling, fit.mostly_unread) == (0, True)
    with pytest.raises(Refusal) as refused:
        read(text, reader)
    assert "no line of an error, count or result" in refused.value.found
    # one error among chatter is read, and is mostly unread all the same
    fit = fit_of((text + "read B0 at 10 want 00 saw 01\n").encode(), reader)
    assert (fit.telling, fit.mostly_unread) == (1, True)


@pytest.mark.parametrize(
    ("sample", "mark", "other", "result"),
    [
        ("memory walk 12\nPASS\n", ("PASS", "result"), "memory walk 13\nPASS\n", "pass"),
        ("memory walk 12\n  clean  \n", ("clean", "result:pass"), "memory walk 7\n  clean  \n", "pass"),
        ("run 3\nverdict: dirty\n", ("dirty", "result:fail"), "run 8\nverdict: dirty\n", "fail"),
        ("run 3\nverdict: fail\n", ("fail", "result"), "run 8\nverdict: pass\n", "pass"),
        ("run 3\nThe card does not answer\n", ("not answer", "refusal"), "The card does not answer\n", "refused"),
        ("x\nno device 4\n", ("no device", "refusal:not-found"), "no device 9\n", "refused"),
    ],
)
def test_how_a_tester_ends_is_taught_by_its_own_words(sample, mark, other, result):
    reader = taught_on(sample, mark)
    report = read(other, reader)
    assert report.meta.result == result
    found = as_json(locate(six(), [("x", report)]))["finding"]
    # lines of it are unread, so nothing is called free of errors
    assert found["kind"] == ("refused" if result == "refused" else "unclear")


def test_words_of_a_result_say_which_they_mean():
    with pytest.raises(Refusal) as refused:
        taught_on("verdict: dirty\n", ("dirty", "result"))
    assert "result:fail" in refused.value.expected


def test_another_name_of_a_key_is_taught():
    sample = "Unit on bench: teal-8\nread A0 at 10 want 00 saw 01\n"
    reader = taught_on(sample, ("A0", "channel"), ("00", "expected"), ("01", "actual"), ("teal-8", "board"))
    assert read(sample.replace("teal-8", "teal-12"), reader).meta.board == "teal-12"


def test_a_table_without_a_total_counts_its_lines():
    cells = " ".join(f"{n % 3}" for n in range(32))
    sample = f"chan lines\nA0 {cells}\nA1 {' '.join(['0'] * 32)}\n"
    reader = taught_on(sample, ("A0", "channel"), ("0", "dq0"))
    report = read(sample, reader)
    assert report.evidence.channels["A0"].errors == sum(n % 3 for n in range(32))
    assert report.evidence.with_lines
    assert "no total" in report.warnings[0]


def test_a_part_that_passes_does_not_undo_one_that_fails():
    sample = "part 1 verdict: fail\nread A0 at 10 want 00 saw 01\npart 2 verdict: pass\n"
    reader = taught_on(sample, ("A0", "channel"), ("00", "expected"), ("01", "actual"), ("fail", "result"))
    assert read(sample, reader).meta.result == "fail"


@pytest.mark.parametrize(
    "rule",
    [
        {"use": "meta", "pattern": "x"},
        {"use": "meta", "pattern": "x", "means": "board"},
        {"use": "meta", "pattern": "x", "means": "result: dirty"},
        {"use": "tally", "pattern": "(?P<channel>..)"},
    ],
)
def test_rules_that_say_nothing_are_refused(rule):
    with pytest.raises(Refusal):
        read_reader(json.dumps({"format": "uvrix-reader", "version": 1, "name": "x", "lines": [rule]}).encode())
