"""Firmware images: facts inside or beside, refused where they do not fit; which fits best; bytes side by side."""

from __future__ import annotations

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.errors import Refusal
from uvrix.core.rework.image_file import ImageFacts, byte_lines, facts_of, fit, made_image, texts_in

FACTS = {"bus": "256", "memory": "type G", "vendors": ["Ousel"], "core_mhz": 1500, "text": "TEAL 8 1.02"}


@given(st.binary(max_size=400))
def test_facts_come_back_whatever_follows_the_header(body):
    found = facts_of(made_image(FACTS, body))
    assert (found.bus, found.memory, found.vendors, found.core_mhz) == ("256", "type G", ("Ousel",), 1500.0)


@given(st.binary(max_size=400))
def test_any_other_bytes_say_no_more_than_the_texts_in_them_and_never_fail(data):
    if data.startswith(b"UVXFW1"):
        return
    assert facts_of(data) == ImageFacts(text=" ".join(texts_in(data)))


def test_the_json_beside_goes_before_what_is_inside():
    beside = json.dumps({"format": "uvrix-image", "version": 1, "bus": "128", "volts": 3.3}).encode()
    found = facts_of(made_image(FACTS, b""), beside)
    assert (found.bus, found.volts, found.memory) == ("128", 3.3, "")


@pytest.mark.parametrize(
    ("data", "beside", "found"),
    [
        (b"UVXFW1" + (9999).to_bytes(4, "big") + b"{}", None, "a header of 9999 bytes"),
        (b"anything", b'{"format": "uvrix-board", "version": 1}', "uvrix-board"),
        (b"anything", b'{"format": "uvrix-image", "version": 1, "vendors": "Ousel"}', "a list"),
    ],
)
def test_what_does_not_fit_is_refused(data, beside, found):
    with pytest.raises(Refusal) as refused:
        facts_of(data, beside)
    assert found in str(refused.value)


def test_the_image_with_the_right_bus_memory_and_maker_comes_first():
    want = ImageFacts("256", "type G", ("Ousel",), 1500.0, None, "TEAL 8 1.02")
    right = fit(want, facts_of(made_image(FACTS, b"")))
    other_maker = fit(want, facts_of(made_image({**FACTS, "vendors": ["Marram"]}, b"")))
    other_bus = fit(want, facts_of(made_image({**FACTS, "bus": "128"}, b"")))
    unknown = fit(want, ImageFacts())
    assert right.misfits == ()
    assert right.score > other_maker.score > unknown.score
    assert right.score > other_bus.score
    assert "carries no settings for Ousel" in other_maker.misfits
    assert any(misfit.startswith("bus 128") for misfit in other_bus.misfits)


def test_images_that_nobody_described_are_ranked_by_what_stands_in_them():
    want = ImageFacts("256", "type G", ("Ousel",), 1500.0)
    pad = b"\x00" * 40
    one = facts_of(pad + b"board bus 256, type G" + pad + b"memory by Ousel" + pad)
    other = facts_of(pad + b"board bus 128, type F" + pad + b"memory by Marram" + pad)
    # 2560 is another number
    longer = facts_of(pad + b"board bus 2560, type GX" + pad)
    said = facts_of(made_image(FACTS, b""))
    scores = [fit(want, facts).score for facts in (said, one, other, longer)]
    assert scores[0] > scores[1] > scores[2]
    assert scores[2] == scores[3]
    assert "bus 256 stands in its text" in fit(want, one).fits
    assert "Ousel stands in its text" in fit(want, one).fits


@given(st.binary(max_size=200), st.binary(max_size=200), st.integers(0, 220))
def test_lines_hold_every_byte_and_mark_exactly_those_that_differ(old, new, begin):
    lines = byte_lines(old, new, begin, 64)
    for line in lines:
        for at in range(16):
            place = line.offset + at
            assert (at in line.differs) == (old[place : place + 1] != new[place : place + 1])
    shown = b"".join(bytes.fromhex(line.old_hex) for line in lines)
    assert shown == old[begin // 16 * 16 :]


def test_texts_inside_leave_the_header_out():
    image = made_image(FACTS, b"\x00\x01READABLE TEXT HERE\x00short\x00")
    assert texts_in(image) == ("READABLE TEXT HERE",)
