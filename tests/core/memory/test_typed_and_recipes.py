"""Typed tables and recipes."""

from __future__ import annotations

import io
import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.boards.strategies import BOARDS
from uvrix.core.boards.document import read_board
from uvrix.core.errors import Refusal
from uvrix.core.memory.reading import read_report
from uvrix.core.memory.recipes import filled, fitting, from_job, read_recipe
from uvrix.core.memory.sites import board_channels
from uvrix.core.memory.typed import LINES, TotalDiffers, TypedRow, near, tally_file

CHANNELS = ["A0", "A1", "B0", "B1", "C0", "C1", "D0", "D1"]
COUNTS = st.lists(st.integers(0, 10**6), min_size=8, max_size=8)
RECIPE = {
    "format": "uvrix-recipe",
    "version": 1,
    "name": "Heron tester, host 2",
    "host": "bench 2",
    "build": "4.1",
    "boards": ["teal-8"],
    "blanks": [{"name": "bus", "label": "Bus index"}, {"name": "passes", "label": "Passes", "usual": "2"}],
    "steps": [
        {"note": "The other adapter is set as primary."},
        {"command": "heron --card {bus} --mib {amount_mib} --passes {passes}"},
    ],
    "refusals": {"wrong-index": "Take the other of the two functions."},
}


def teal():
    return read_board((BOARDS / "teal-8.board.json").read_bytes())


def typed(counts):
    return [TypedRow(channel, count) for channel, count in zip(CHANNELS, counts, strict=True)]


@given(COUNTS, st.booleans())
def test_a_typed_table_reads_as_the_tally_that_it_is(counts, with_total):
    data = tally_file(typed(counts), {"condition": "cold", "result": ""}, sum(counts) if with_total else None)
    report = read_report(io.BytesIO(data), board_channels(teal()))
    assert report.format == "tally"
    assert report.meta.condition == ("cold",)
    assert {name: evidence.errors for name, evidence in report.evidence.channels.items()} == dict(
        zip(CHANNELS, counts, strict=True)
    )


def test_lines_are_kept():
    lines = tuple(7 if line == 5 else 0 for line in range(LINES))
    data = tally_file([TypedRow("A1", 7, lines), TypedRow("B0", 0)], {})
    report = read_report(io.BytesIO(data), board_channels(teal()))
    assert report.evidence.channels["A1"].lines[5] == 7


def slipped(word, rng):
    """A number as a hurried person types it: a digit wrong, missing, doubled, or two swapped."""
    at = rng.randrange(len(word))
    kind = rng.choice(["wrong", "missing", "more", "swap"])
    if kind == "wrong":
        return word[:at] + rng.choice("0123456789") + word[at + 1 :]
    if kind == "missing" and len(word) > 1:
        return word[:at] + word[at + 1 :]
    if kind == "swap" and at + 1 < len(word):
        return word[:at] + word[at + 1] + word[at] + word[at + 2 :]
    return word[:at] + rng.choice("0123456789") + word[at:]


@given(st.lists(st.integers(100, 10**6), min_size=8, max_size=8), st.integers(0, 7), st.randoms(use_true_random=False))
def test_the_row_that_was_mistyped_is_among_those_named(counts, row, rng):
    wrong = list(counts)
    wrong[row] = int(slipped(str(counts[row]), rng))
    if sum(wrong) == sum(counts):
        return
    with pytest.raises(TotalDiffers) as refused:
        tally_file(typed(wrong), {}, sum(counts))
    named = {(slip.channel, slip.would) for slip in refused.value.slips}
    if str(wrong[row])[0] != "0" and near(str(wrong[row]), str(counts[row])):
        assert (CHANNELS[row], counts[row]) in named


@pytest.mark.parametrize(
    ("one", "other", "alike"),
    [
        ("120", "210", True),
        ("12", "123", True),
        ("123", "13", True),
        ("5", "9", True),
        ("123", "321", False),
        ("1", "111", False),
    ],
)
def test_single_slips(one, other, alike):
    assert near(one, other) is alike
    assert near(other, one) is alike


@pytest.mark.parametrize(
    ("rows", "place"),
    [
        ([], "rows"),
        ([TypedRow("A0", 1), TypedRow("A0", 2)], "rows[1].channel"),
        ([TypedRow("~", 1)], "rows[0].channel"),
        ([TypedRow("A0", -1)], "rows[0].errors"),
        ([TypedRow("A0", 1, (2, *[0] * 31))], "rows[0].lines[0]"),
        ([TypedRow("A0", 1, (1, 0))], "rows[0].lines"),
    ],
)
def test_a_table_that_does_not_fit_is_refused(rows, place):
    with pytest.raises(Refusal) as refused:
        tally_file(rows, {})
    assert refused.value.place == place


def recipe(**changed):
    return read_recipe(json.dumps({**RECIPE, **changed}).encode())


def test_blanks_are_filled_from_the_job_and_what_is_asked():
    values = {**from_job(teal(), "J-0007", "TL8-1"), "bus": "03:00.0"}
    steps = filled(recipe(), values)
    assert steps[1].missing == ()
    assert steps[1].command == f"heron --card 03:00.0 --mib {teal().memory_mib} --passes 2"
    assert steps[0].note == "The other adapter is set as primary."


def test_a_blank_that_nothing_fills_is_named():
    steps = filled(recipe(), {"job": "J-1", "serial": "x"})
    assert steps[1].missing == ("bus", "amount_mib")
    assert "{bus}" in steps[1].command


@given(st.text(max_size=20))
def test_no_value_breaks_out_of_its_word(value):
    try:
        steps = filled(recipe(), {"bus": value, "amount_mib": "1"})
    except Refusal:
        return
    words = steps[1].command.split(" ")
    assert len(words) == 7
    assert not set("'\"`$;&|<>\\\n(){}") & set(words[2]) or steps[1].missing == ("bus",)


def test_recipes_that_name_the_board_come_first():
    for_board, for_family, for_all = recipe(), recipe(boards=[], family="plover"), recipe(boards=[])
    other = recipe(boards=["wigeon-4"])
    assert fitting([other, for_all, for_family, for_board], "teal-8", "plover") == [for_board, for_family, for_all]
    assert fitting([other, for_family], "smew-1", "") == []


@pytest.mark.parametrize(
    ("changed", "place"),
    [
        ({"steps": [{"command": "run {ghost}"}]}, "$.steps[0].command"),
        ({"steps": [{}]}, "$.steps[0]"),
        ({"steps": []}, "$.steps"),
        ({"blanks": [{"name": "serial", "label": "x"}]}, "$.blanks[0].name"),
        ({"blanks": [{"name": "bus", "label": "x", "usual": "a b"}]}, "$.blanks[0].usual"),
        ({"refusals": {"sulking": "x"}}, "$.refusals.sulking"),
    ],
)
def test_a_recipe_that_does_not_fit_is_refused(changed, place):
    with pytest.raises(Refusal) as refused:
        recipe(**changed)
    assert refused.value.place == place


@given(st.binary(max_size=200))
def test_any_bytes_are_a_recipe_or_refused(data):
    with pytest.raises(Refusal):
        read_recipe(data)
