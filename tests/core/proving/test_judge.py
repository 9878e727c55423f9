"""The protocol's checks: what passes, fails, is still open, or proves nothing."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import numpy as np
import pytest

from tests.core.proving.test_steady import heated
from uvrix.core.errors import Refusal
from uvrix.core.proving.identity import Identity, identity_of, read_identity
from uvrix.core.proving.judge import (
    Evidence,
    Said,
    before_and_after,
    judge,
    judge_protocol,
    log_figures,
    usual_least,
)
from uvrix.core.proving.protocol import EMPTY, read_protocol

CHECKS = {check.id: check for check in read_protocol(EMPTY)}
NOW = datetime(2026, 5, 1, 9, tzinfo=UTC)


def state(check, **seen):
    return judge(CHECKS[check], Evidence(**seen)).state


def test_without_evidence_every_check_is_open():
    assert {judgement.state for judgement in judge_protocol(tuple(CHECKS.values()), Evidence())} == {"open"}


@pytest.mark.parametrize(
    ("check", "seen", "expected"),
    [
        ("readings", {"measured": {"readings": ("passed", "9 within")}}, "passed"),
        ("current", {"measured": {"current": ("failed", "3 A")}}, "failed"),
        ("current", {"measured": {"current": None}}, "open"),
        ("ladder", {"measured": {"ladder": ("open", "bare")}}, "open"),
        ("link", {"identity": Identity(width=8), "lanes": 16}, "failed"),
        ("link", {"identity": Identity(width=16, gt_per_s=16.0, most_gt_per_s=16.0), "lanes": 16}, "passed"),
        ("link", {"identity": Identity(width=16, gt_per_s=2.5, most_gt_per_s=16.0), "lanes": 16}, "failed"),
        ("link", {"identity": Identity(width=16, errors={"replays": 3}), "lanes": 16}, "failed"),
        ("link", {"identity": Identity(width=16)}, "refused"),
        ("identity", {"identity": Identity(memory_mib=8192), "expected_mib": 8192}, "passed"),
        ("identity", {"identity": Identity(memory_mib=7168), "expected_mib": 8192}, "failed"),
        ("identity", {"identity": Identity(memory_mib=7168)}, "refused"),
        ("memory-cold", {"measured": {"memory-cold": ("passed", "No error.")}}, "passed"),
        ("memory-warm", {"measured": {"memory-cold": ("passed", "No error.")}}, "open"),
        ("outputs", {"said": {"outputs": Said(True, NOW)}}, "passed"),
        ("outputs", {"said": {"outputs": Said(False, NOW)}}, "failed"),
        ("loads", {"said": {"loads": Said(True, NOW, 20)}}, "open"),
        ("loads", {"said": {"loads": Said(True, NOW, 60)}}, "passed"),
        ("cold-start", {"said": {"cold-start": Said(True, NOW)}, "off_since": NOW - timedelta(hours=2)}, "refused"),
        ("cold-start", {"said": {"cold-start": Said(True, NOW)}, "off_since": NOW - timedelta(hours=13)}, "passed"),
        ("cold-start", {"said": {"cold-start": Said(True, NOW)}}, "refused"),
        ("score", {"score": 900.0, "usual_scores": [1000.0, 1010.0]}, "passed"),
        ("score", {"score": 900.0, "usual_scores": [1000.0, 1010.0, 990.0, 1005.0]}, "failed"),
        ("score", {"score": 998.0, "usual_scores": [1000.0, 1010.0, 990.0, 1005.0]}, "passed"),
    ],
)
def test_each_check_by_its_evidence(check, seen, expected):
    assert state(check, **seen) == expected


def test_stress_sensors_and_clocks_follow_from_the_log():
    good, idle = heated(3, 45, 200), heated(3, 45, 200, watts=(24.0, 26.0))
    for check in ("stress", "sensors", "clocks"):
        assert state(check, logs=[("run.csv", good)]) == "passed"
    # power that never rises shows no load, however long it ran
    assert state("stress", logs=[("idle.csv", idle)]) == "refused"
    short = judge(CHECKS["stress"], Evidence(logs=[("short.csv", heated(3, 12, 200))]))
    assert short.state == "open"
    assert short.more_minutes == pytest.approx(18, abs=1)
    counted = {"identity": Identity(errors={"memory": 2})}
    assert state("stress", logs=[("run.csv", good)], **counted) == "failed"


def test_a_persons_word_that_it_failed_goes_before_a_good_log():
    said = {"stress": Said(False, NOW, 23, "Blocks after 23 min.")}
    found = judge(CHECKS["stress"], Evidence(logs=[("run.csv", heated(3, 45, 200))], said=said))
    assert (found.state, found.why) == ("failed", ("Blocks after 23 min.",))


def test_the_usual_score_covers_the_next_good_card_as_it_says():
    dice = np.random.default_rng(771)
    for many in (3, 5, 12):
        below = 0
        for _ in range(3000):
            scores = np.exp(dice.normal(np.log(1000), 0.03, many + 1))
            usual = usual_least(scores[:-1].tolist())
            assert usual is not None
            below += scores[-1] < usual[0]
        assert below / 3000 < 0.07
    assert usual_least([1000, 1001]) is None


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"id": "readings"}, "$.checks[1].id"),
        ({"kind": "stress"}, "$.checks[1].minutes"),
        ({"kind": "cold-start"}, "$.checks[1].hours"),
        ({"kind": "memory"}, "$.checks[1].condition"),
        ({"kind": "prayer"}, "$.checks[1].kind"),
        ({"fails": ""}, "$.checks[1].fails"),
    ],
)
def test_a_protocol_that_cannot_be_is_refused_by_its_path(change, path):
    first = {"id": "readings", "kind": "readings", "name": "Readings", "fails": "one outside"}
    with pytest.raises(Refusal) as refused:
        read_protocol({"checks": [first, {**first, "id": "other", **change}]})
    assert refused.value.place == path


def test_an_identity_is_read_and_what_does_not_fit_is_refused():
    link = b'"link":{"width":16,"gt_per_s":16},"errors":{"replays":0}}'
    text = b'{"format":"uvrix-identity","version":1,"device":"Teal 8","memory_mib":8192,' + link
    found = identity_of(read_identity(text))
    assert (found.device, found.memory_mib, found.width, found.gt_per_s, found.errors) == (
        "Teal 8",
        8192,
        16,
        16.0,
        {"replays": 0},
    )
    for bad in (
        b"[]",
        b'{"format":"uvrix-identity"}',
        b'{"format":"uvrix-identity","version":1,"memory_mib":"much"}',
        b"{",
    ):
        with pytest.raises(Refusal):
            read_identity(bad)


def test_before_and_after_stand_side_by_side():
    before, after = log_figures(heated(1, 30, 200, end_c=91)), log_figures(heated(2, 30, 200, end_c=74))
    pairs = {pair.name: pair for pair in before_and_after({**before, "noise": ("dB", 48.0)}, after)}
    assert pairs["temperature under load"].before == pytest.approx(91, abs=1)
    assert pairs["temperature under load"].after == pytest.approx(74, abs=1)
    assert (pairs["noise"].before, pairs["noise"].after) == (48.0, None)
