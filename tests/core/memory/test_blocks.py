"""A report in blocks of whole lines: every line keeps its number, and no file costs more than its report would."""

from __future__ import annotations

import io
import time

import pytest

from uvrix.core.errors import Refusal
from uvrix.core.memory.lines import TALLEST, blocks


def test_a_block_of_short_lines_is_cut_and_every_line_keeps_its_number():
    data = b"".join(b"%x\n" % (number % 16) for number in range(2 * TALLEST + 7))
    found = list(blocks(io.BytesIO(data), block_bytes=len(data)))
    assert [block.height for block in found] == [TALLEST, TALLEST, 7]
    assert [block.first_line for block in found] == [1, TALLEST + 1, 2 * TALLEST + 1]
    assert b"".join(block.data for block in found) == data
    without_end = list(blocks(io.BytesIO(data[:-1]), block_bytes=len(data)))
    assert sum(block.height for block in without_end) == 2 * TALLEST + 7


def test_what_is_mostly_blank_is_refused_before_it_costs_anything():
    begun = time.process_time()  # whoever else is on the machine costs it nothing
    with pytest.raises(Refusal, match="blank lines"):
        list(blocks(io.BytesIO(b"hello\n" + b"\n" * 40_000_000)))
    assert time.process_time() - begun < 2
