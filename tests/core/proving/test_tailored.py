"""The protocol by what was repaired, and a card held against its like under load."""

from __future__ import annotations

from datetime import UTC, datetime
from types import SimpleNamespace

import numpy as np
import pytest

from tests.core.proving.test_steady import heated
from uvrix.core.case.proof import _after_warm, _memory
from uvrix.core.proving.judge import Evidence, Said, judge, under_load, usual_most
from uvrix.core.proving.protocol import AGAIN, EMPTY, read_protocol
from uvrix.core.proving.tailored import Repaired, repaired, tailored

CHECKS = read_protocol(EMPTY)
NOW = datetime(2026, 5, 1, 9, tzinfo=UTC)
SOCKETS = ("output 1", "output 2", "output 3")


def asked(done):
    return {check.id: check for check in tailored(CHECKS, done)}


def board():
    mark = SimpleNamespace
    connectors = [mark(kind="display-socket", text=name) for name in SOCKETS]
    connectors += [mark(kind="power-plug", text="plug 1"), mark(kind="fan-plug", text="fan")]
    return mark(connectors=connectors, sites=[mark(designator="U14")])


@pytest.mark.parametrize(
    ("acts", "expected"),
    [
        ([], Repaired()),
        ([("remove", "U14"), ("place", "U14")], Repaired(memory=True)),
        ([("clean-pads", "u14")], Repaired(memory=True)),
        ([("write", "")], Repaired()),
        ([("baked", "U14")], Repaired()),
        ([("swap", "OUTPUT 2")], Repaired(sockets=SOCKETS)),
        ([("renew-joint", "plug 1")], Repaired(plugs=("plug 1",))),
        ([("wire", "plug 1"), ("swap", "fan")], Repaired(plugs=("plug 1",))),
    ],
)
def test_what_was_repaired_follows_from_the_acts(acts, expected):
    assert repaired(board(), acts) == expected
    assert repaired(None, acts) == Repaired(), "of a board that nobody drew nothing is known"


def test_a_card_that_was_not_opened_there_keeps_the_usual_protocol():
    assert tailored(CHECKS, Repaired()) == CHECKS


def test_memory_is_tried_cold_again_after_it_was_warm():
    names = [check.id for check in tailored(CHECKS, Repaired(memory=True))]
    assert names.index(AGAIN) == names.index("memory-warm") + 1
    assert [name for name in names if name != AGAIN] == [check.id for check in CHECKS]


def run(*condition, refused=False):
    meta = SimpleNamespace(condition=condition)
    report = SimpleNamespace(meta=meta, errors=0)
    return SimpleNamespace(report=report, refused=refused, failed=False, clean=not refused)


@pytest.mark.parametrize(
    ("runs", "expected"),
    [
        ([run("cold")], None),
        ([run("cold"), run("warm")], None),
        ([run("warm"), run("cold")], "passed"),
        ([run("cold"), run("warm"), run("cold"), run("warm")], None),
        ([run("warm"), run("cold"), run("warm", refused=True)], "passed"),
    ],
)
def test_cold_again_is_a_cold_run_after_the_last_warm_one(runs, expected):
    found = _memory(_after_warm(runs), "cold")
    assert (found and found[0]) == expected
    measured = {AGAIN: found, "memory-cold": ("passed", "")}
    state = judge(asked(Repaired(memory=True))[AGAIN], Evidence(measured=measured)).state
    assert state == (expected or "open")


def test_each_socket_is_ticked_by_itself_and_one_that_fails_fails_the_check():
    check = asked(Repaired(sockets=SOCKETS))["outputs"]
    said = {}
    for part in SOCKETS:
        found = judge(check, Evidence(said_of=said))
        assert found.state == "open"
        assert part in found.why[0]
        said[check.id, part] = Said(True, NOW)
    assert judge(check, Evidence(said_of=said)).state == "passed"
    said[check.id, "output 2"] = Said(False, NOW, note="no picture")
    found = judge(check, Evidence(said_of=said))
    assert (found.state, found.why) == ("failed", ("output 2: no picture.",))


def test_a_repaired_plug_is_moved_under_load_and_the_others_are_not_asked_for():
    check = asked(Repaired(plugs=("plug 1",)))["plugs"]
    assert check.parts == ("plug 1",)
    assert "under load" in check.fails


def stress(end_c, **seen):
    check = next(candidate for candidate in CHECKS if candidate.id == "stress")
    return judge(check, Evidence(logs=[("run.csv", heated(5, 45, 200, end_c=end_c))], **seen))


def test_a_card_that_runs_hotter_than_its_like_fails_and_says_what_to_look_at():
    like = [70.0, 72.0, 71.0, 69.5, 71.5]
    assert stress(72.0, usual_celsius=like).state == "passed"
    hot = stress(92.0, usual_celsius=like)
    assert hot.state == "failed"
    assert "paste" in hot.why[-1]
    assert stress(92.0, usual_celsius=like[:2]).state == "passed", "two cards are no yardstick"
    assert "Before the repair" in " ".join(stress(72.0, celsius_before=84.0).why)


def test_a_clock_below_its_like_under_load_fails():
    check = next(candidate for candidate in CHECKS if candidate.id == "clocks")
    logs = [("run.csv", heated(5, 45, 200))]
    assert judge(check, Evidence(logs=logs, usual_mhz=[1900, 1905, 1890])).state == "passed"
    assert judge(check, Evidence(logs=logs, usual_mhz=[2400, 2410, 2390])).state == "failed"


def test_the_usual_most_covers_the_next_good_card_as_it_says():
    dice, covered = np.random.default_rng(81), 0
    for _ in range(600):
        cards = dice.normal(71, 4, 9)
        most, middle = usual_most(cards[:-1].tolist()) or (0.0, 0.0)
        assert middle < most
        covered += cards[-1] <= most
    assert 0.92 < covered / 600 < 0.98


def test_under_load_is_the_end_of_the_load_and_nothing_where_there_was_none():
    assert under_load(heated(3, 45, 200, end_c=78.0), "celsius") == pytest.approx(78, abs=1)
    assert under_load(heated(3, 45, 200, watts=(24.0, 25.0)), "celsius") is None
    assert under_load(heated(3, 45, 200), "fan") is None
