"""Placement files: headers, units and sides of every sort read alike; junk is refused or counted, never a crash."""

from __future__ import annotations

import json
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.boards.strategies import BOARDS
from uvrix.core.boards.document import board_from_document
from uvrix.core.boards.draft import draft
from uvrix.core.boards.edit import BLANK
from uvrix.core.boards.placement import MM, read_placement, suggested, taken_in
from uvrix.core.errors import Refusal

HEADERS = [
    ("Designator", "X", "Y", "Side", "Rotation", "Value", "Package"),
    ("REF", "pos_x", "pos_y", "LAYER", "rot", "VAL", "footprint"),
    ("Component", "Mid X", "Mid Y", "TB", "Angle", "Comment", "Pattern"),
    ("Name", "Centre-X", "Centre-Y", "Face", "Orientation (deg)", "Type", "Case"),
]
SIDES = [("front", "back"), ("Top", "Bottom"), ("T", "B"), ("TopLayer", "BottomLayer"), ("F", "B")]


def board_rows():
    """The demo board's chips and some small parts, as (designator, x, y, side, rotation, value, package)."""
    document = json.loads((BOARDS / "teal-8.board.json").read_text())
    chips = [
        (s["designator"], s["x_mm"], s["y_mm"], s["side"], s["rotation_deg"], "RAM", "FB180") for s in document["sites"]
    ]
    core = document["core"]
    small = [(f"C{n}", 20 + n * 3, 30, "front" if n % 2 else "back", 0, "100n", "0402") for n in range(12)]
    return [(core["designator"], core["x_mm"], core["y_mm"], "front", 0, "GPU-X", "BGA"), *chips, *small]


def written(rows, header, sides, *, unit="mm", separator=",", suffix=False, comma=False, in_header=True):
    def number(value):
        text = f"{value / MM[unit]:.4f}" + (unit if suffix else "")
        return text.replace(".", ",") if comma else text

    head = list(header)
    if in_header and not suffix:
        head[1], head[2] = f"{head[1]} ({unit})", f"{head[2]} ({unit})"
    lines = ["# made up", separator.join(head)]
    for name, x, y, side, turn, value, package in rows:
        cells = [name, number(x), number(y), sides[side == "back"], str(turn), value, package]
        lines.append(separator.join(cells))
    return "\n".join(lines).encode()


@pytest.mark.parametrize("header", HEADERS)
@pytest.mark.parametrize("sides", SIDES)
@pytest.mark.parametrize("unit", ["mm", "mil", "inch"])
def test_every_sort_of_header_side_and_unit_reads_alike(header, sides, unit):
    rows = board_rows()
    for more in ({}, {"suffix": True}, {"separator": ";", "comma": True}, {"separator": "\t"}, {"in_header": False}):
        read = read_placement(written(rows, header, sides, unit=unit, **more))
        assert read.unit == (unit if not more.get("suffix") else "mm"), more
        assert [placement.designator for placement in read.rows] == [row[0] for row in rows]
        for placement, row in zip(read.rows, rows, strict=True):
            assert placement.x_mm == pytest.approx(row[1], abs=0.01)
            assert (placement.side, placement.rotation_deg) == (row[3], row[4])


def test_memory_and_core_are_suggested():
    read = read_placement(written(board_rows(), HEADERS[0], SIDES[0]))
    assert set(read.memory) == {f"U{n}" for n in range(11, 19)}
    assert read.core == "U1"


def test_chips_of_any_letters_are_memory_and_holes_are_not():
    spots = [(10 * math.cos(n), 10 * math.sin(n)) for n in range(6)]
    for letters, found in (("M", 6), ("U1", 6), ("IC", 6), ("H", 0), ("TP", 0), ("C", 0)):
        rows = [f"{letters}{n + 2},{x},{y},top,0,same" for n, (x, y) in enumerate(spots)]
        read = read_placement("\n".join(["ref,x,y,side,rot,value", "U1,0,0,top,0,core", *rows]).encode(), "mm")
        assert (len(read.memory), read.core) == (found, "U1" if found else None), letters


def test_a_chosen_unit_overrides_what_the_file_says():
    read = read_placement(b"ref,x (mm),y (mm)\nR1,100,200\n", "mil")
    assert (read.rows[0].x_mm, read.unit, read.unit_why) == (2.54, "mil", "as chosen")


def test_rows_that_cannot_be_read_are_counted_and_quoted():
    read = read_placement(b"ref,x,y,side\nR1,1,50,top\nR2,one,2,top\nR3,1,2,inside\nR1,3,4,top\nR4\nC1,90,1,bottom\n")
    assert [placement.designator for placement in read.rows] == ["R1", "C1"]
    assert read.unread_count == 4
    assert read.unread[0] == (3, "R2,one,2,top")


@pytest.mark.parametrize(
    ("data", "found"),
    [
        (b"", "no line that names its columns"),
        (b"a,b,c\n1,2,3\n", "no line that names its columns"),
        (b"ref,x,y\n", "no row"),
        (b"ref,x,y\nR1,a,b\n", "1 rows of which none can be read"),
        (b"ref,x,y\nR1,1,\xff\n", "the byte 0xFF"),
    ],
)
def test_a_file_that_is_no_placement_is_refused(data, found):
    with pytest.raises(Refusal) as refused:
        read_placement(data)
    assert found in str(refused.value)


@given(st.binary(max_size=300) | st.text(alphabet='refxy,;\t\n"#0123456789.-RUC top', max_size=300).map(str.encode))
def test_any_bytes_are_read_or_refused(data):
    for content in (data, b"ref,x,y,side,rot\n" + data):
        try:
            read = read_placement(content)
        except Refusal:
            continue
        draft(taken_in({**BLANK, "id": "n", "name": "N"}, read.rows, read.memory, read.core))


def test_taken_into_a_blank_model():
    read = read_placement(written(board_rows(), HEADERS[1], SIDES[1], unit="mil"))
    document = taken_in({**BLANK, "id": "new", "name": "New"}, read.rows, read.memory, read.core)
    board = board_from_document(document)
    assert len(board.sites) == 8
    assert {part.kind for part in board.parts} == {"capacitor"}
    assert float(board.core.centre[0]) == pytest.approx(108, abs=0.01)


@given(st.floats(-50, 50), st.floats(-50, 50))
def test_a_file_with_another_origin_is_laid_onto_what_the_model_knows(dx, dy):
    model = json.loads((BOARDS / "teal-8.board.json").read_text())
    rows = [(name, x + dx, y + dy, *rest) for name, x, y, *rest in board_rows()]
    read = read_placement(written(rows, HEADERS[0], SIDES[0]))
    after = taken_in(model, read.rows, read.memory, read.core)
    for before, now in zip(model["sites"], after["sites"], strict=True):
        assert now["x_mm"] == pytest.approx(before["x_mm"], abs=0.001)
        assert now["dq"] == before["dq"]
    assert board_from_document(after).walk == board_from_document(model).walk


def test_no_memory_is_suggested_where_nothing_goes_round():
    assert suggested(read_placement(b"ref,x,y\nR1,1,50\nR2,60,9\n").rows) == ((), None)
