"""How alike two boards are, by what can be counted."""

from __future__ import annotations

from tests.api.conftest import BOARDS
from uvrix.core.boards.alike import alike_words, counts
from uvrix.core.boards.document import read_board

TEAL, SCAUP = (read_board((BOARDS / f"{name}.board.json").read_bytes()) for name in ("teal-8", "scaup-24"))


def test_what_both_have_is_counted_on_either_side():
    found = {count.name: (count.here, count.there) for count in counts(TEAL, SCAUP)}
    assert found["chips"] == (sum(site.fitted for site in TEAL.sites), sum(site.fitted for site in SCAUP.sites))
    assert found["plugs"][0] == 2
    assert {count.name: (count.there, count.here) for count in counts(SCAUP, TEAL)} == found


def test_the_same_board_is_alike_in_all():
    assert " where " not in alike_words(TEAL, TEAL)
    assert "8 chips on both" in alike_words(TEAL, TEAL)
    assert "8 chips where it has" in alike_words(TEAL, SCAUP)
