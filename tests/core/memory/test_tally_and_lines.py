"""The tally and the lines report."""

from __future__ import annotations

import json

import pytest

from tests.core.memory.cases import clamshell, lines_of, located, read, sites_of
from uvrix.core.errors import Refusal
from uvrix.core.memory.stored import report_from_json, report_to_json

LINES = ",".join(f"dq{n}" for n in range(32))


def counts(**lines):
    return ",".join(str(lines.get(f"dq{n}", 0)) for n in range(32))


def test_a_tally_counts_by_channel_and_line():
    report = read(f"channel,errors,{LINES}\nB0,0,{counts()}\nA0,12,{counts(dq3=12)}\n")
    assert (report.format, report.rows, report.errors) == ("tally", 2, 12)
    assert list(report.evidence.channels) == ["B0", "A0"]
    assert report.evidence.channels["A0"].lines[3] == 12


def test_a_tally_on_a_clamshell_counts_for_chips_whose_lines_have_a_count():
    text = f"channel,errors,{LINES}\nA0,9,{counts(dq3=9)}\n"
    found = sites_of(located(text, board=clamshell()))
    assert (found["F0"]["errors"], found["R0"]["errors"]) == (9, 0)
    assert lines_of(found["F0"]) == {3: 9}
    both = sites_of(located(text.replace(counts(dq3=9), counts(dq3=5, dq20=4)), board=clamshell()))
    assert (both["F0"]["errors"], both["R0"]["errors"]) == (9, 9)


def test_a_tally_whose_lines_are_all_zero_counts_for_neither_chip_and_says_so():
    found = located(f"channel,errors,{LINES}\nA0,9,{counts()}\n", board=clamshell())
    assert [site["errors"] for site in found["sites"]] == [0, 0, 0, 0]
    assert any("A0" in warning and "9 errors" in warning for warning in found["warnings"])


def test_a_tally_without_lines_cannot_tell_front_from_back_and_says_so():
    found = located("channel,errors\nA0,7\nB0,0\n", board=clamshell())
    assert (sites_of(found)["F0"]["errors"], sites_of(found)["R0"]["errors"]) == (7, 7)
    assert any("front from back" in reason for reason in found["finding"]["why"])


@pytest.mark.parametrize("row", ["A0,", "A0,x", "A0,-1", "A0,1.5", ",3", "?!,3", "A0,99999999999999999999"])
def test_tally_rows_that_cannot_be_read(row):
    report = read(f"channel,errors\nA1,1\n{row}\n")
    assert (report.rows, report.unread.count, report.unread.quotes[0][0]) == (1, 1, 3)


FIRST = '{"format": "uvrix-report", "version": 1, "condition": "cold", "result": "fail"}\n'


def test_lines_are_objects_with_the_columns_of_the_full_report():
    rows = [{"channel": "A0", "bits": "3", "count": 4}, {"Channel": "A1", "expected": "0x0", "actual": "10"}]
    found = located(FIRST + "\n".join(map(json.dumps, rows)))
    assert found["reports"][0]["format"] == "lines"
    assert lines_of(sites_of(found)["M0"]) == {0: 4, 1: 4}
    assert lines_of(sites_of(found)["M1"]) == {4: 1}


@pytest.mark.parametrize(
    "row",
    [
        '{"channel": "A0"',
        "[1]",
        '"A0"',
        '{"channel": 3}',
        '{"channel": "A0", "bits": 16}',
        '{"count": 1}',
        '{"channel": "A0", "count": true}',
        '{"channel": "A0", "count": 1e9}',
        "[" * 5000,
    ],
)
def test_lines_that_cannot_be_read(row):
    report = read(FIRST + '{"channel": "A0"}\n' + row + "\n")
    assert (report.rows, report.unread.count, report.unread.quotes[0][0]) == (1, 1, 3)


@pytest.mark.parametrize("first", ['{"format": "other", "version": 1}', '{"format": "uvrix-report"}', "{"])
def test_a_lines_report_begins_with_its_own_object(first):
    with pytest.raises(Refusal) as refused:
        read(first + "\n")
    assert refused.value.place == "1"
    assert "uvrix-report" in refused.value.expected


@pytest.mark.parametrize(
    ("text", "kind"),
    [
        ("# result: pass\nchannel\n", "no-errors"),
        ("channel\n", "unclear"),
        ("# result: fail\nchannel\n", "unclear"),
        ("channel,errors\nA0,0\nA1,0\n", "no-errors"),
        ("# result: fail\nchannel,errors\nA0,0\n", "unclear"),
        ("channel,errors\n", "unclear"),
        ("# result: refused\n# refusal: not-found\nchannel\n", "refused"),
        ("# result: refused\n# refusal: other: no fan\nchannel\n", "refused"),
        ("# result: pass\nchannel,bits\nD9,1\n", "unclear"),
    ],
)
def test_reports_without_an_error_in_any_chip(text, kind):
    found = located(text)["finding"]
    assert (found["kind"], found["designators"]) == (kind, [])
    assert found["why"]


def test_a_report_is_the_same_after_storing():
    report = read("# condition: cold\nchannel,address,expected,actual\nA0,40,0,1\nA1,,0,3\n?,,,\n", clamshell())
    # a database may keep an object's keys in another order
    kept = report_from_json(json.loads(json.dumps(report_to_json(report), sort_keys=True)))
    assert kept == report
    assert list(kept.evidence.channels) == list(report.evidence.channels)
