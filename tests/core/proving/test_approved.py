"""What the proof's rules say, in whole answers that were read and approved (tests/core/approved.py)."""

from __future__ import annotations

import itertools
import random
from datetime import UTC, datetime, timedelta
from typing import Any

import numpy as np

from tests.core.approved import approve
from tests.core.proving.test_steady import COLUMNS, heated
from uvrix.core.errors import Refusal
from uvrix.core.proving.identity import Identity, identity_of, read_identity
from uvrix.core.proving.judge import Evidence, Said, before_and_after, judge_protocol, log_figures, usual_least
from uvrix.core.proving.log import Log, guess_columns, headers_of, read_log
from uvrix.core.proving.protocol import EMPTY, read_protocol
from uvrix.core.proving.steady import loaded, steadiness

CHECKS = read_protocol(EMPTY)
NOW = datetime(2026, 5, 1, 9, tzinfo=UTC)


def said(ask, *given):
    """What a rule answers, or how it refuses."""
    try:
        return ask(*given)
    except Refusal as refusal:
        return str(refusal)


def test_approved_protocols():
    answers: dict[str, object] = {}
    logs = [heated(seed, minutes, tau) for seed, minutes, tau in ((1, 40, 120.0), (2, 12, 60.0), (3, 31, 900.0))]
    for seed in range(60):
        dice = random.Random(seed)
        identity = Identity(
            "Teal 8",
            dice.choice([None, 8192, 8100, 7168]),
            *(dice.choice([None, 8, 16]), dice.choice([None, 2.5, 16.0]), dice.choice([None, 16]), 16.0),
            dice.choice([{}, {"replays": 2}]),
        )
        measured: Any = {
            check: dice.choice([None, ("passed", "As it should."), ("failed", "Outside."), ("open", "Not known.")])
            for check in ("readings", "current", "ladder", "memory-cold", "memory-warm")
        }
        words = {
            check.id: Said(dice.random() < 0.8, NOW, dice.choice([None, 20.0, 60.0]), dice.choice(["", "Fine."]))
            for check in CHECKS
            if dice.random() < 0.4
        }
        evidence = Evidence(
            measured=measured,
            identity=dice.choice([None, identity]),
            expected_mib=dice.choice([None, 8192]),
            lanes=dice.choice([None, 8, 16]),
            logs=[(f"log {number}", log) for number, log in enumerate(logs) if dice.random() < 0.4],
            score=dice.choice([None, 900.0, 1000.0]),
            usual_scores=dice.choice([[], [1000.0], [1000.0, 1010.0, 990.0]]),
            said=words,
            off_since=dice.choice([None, NOW - timedelta(hours=2), NOW - timedelta(hours=12)]),
        )
        answers[f"evidence {seed}"] = {
            judgement.check.id: [judgement.state, judgement.why, judgement.more_minutes]
            for judgement in judge_protocol(CHECKS, evidence)
        }
    approve(__file__, "protocols", answers)


def test_approved_steadiness():
    answers: dict[str, object] = {}
    for minutes, tau, idle, watts in itertools.product(
        (1, 6, 18, 45), (60.0, 300.0, 1200.0), (0.0, 3.0), (None, 100.0, 400.0)
    ):
        log = heated(int(minutes * 7 + tau), minutes, tau, idle_minutes=idle)
        found = steadiness(log, 15, 1.5, watts)
        answers[f"{minutes} {tau} {idle} {watts}"] = [found.word, found.loaded_minutes, found.more_minutes, found.why]
    for name, figures in {
        "clock alone": {"mhz": [300.0] * 40 + [1900.0] * 200},
        "a clock that dips": {"mhz": [300.0] * 40 + [1900.0] * 90 + [1200.0] * 20 + [1900.0] * 90},
        "power that jumps once": {"watts": [20.0] * 100 + [220.0] + [20.0] * 139},
        "samples missing": {"watts": [20.0] * 40 + [float("nan")] * 20 + [200.0] * 180},
        "neither": {},
    }.items():
        log = Log(
            tuple(float(at) for at in range(240)),
            {
                "celsius": tuple(40.0 + 0.1 * at for at in range(240)),
                **{key: tuple(one) for key, one in figures.items()},
            },
        )
        busy = loaded(log)
        answers[name] = [None if busy is None else int(busy.sum()), said(steadiness, log, 2.0, 1.5)]
    approve(__file__, "steadiness", answers)


def test_approved_figures():
    answers: dict[str, object] = {}
    for seed in range(10):
        log = heated(seed, 5 + seed, 100.0)
        other = heated(seed + 100, 9, 200.0, end_c=70.0)
        answers[f"figures {seed}"] = [log_figures(log), before_and_after(log_figures(log), log_figures(other))]
    answers["one side"] = before_and_after({"a": ("W", 1.0)}, {"b": ("", 2.0)})
    bare = Log((0.0, 1.0, 2.0), {"celsius": (40.0, 41.0, 42.0), "fan": (float("nan"),) * 3})
    answers["bare"] = log_figures(bare)
    for seed in range(10):
        dice = np.random.default_rng(seed)
        answers[f"scores {seed}"] = usual_least([float(entry) for entry in dice.normal(1000, 30, seed)])
    answers["scores of nothing"] = usual_least([0.0, -1.0, 1000.0, 1000.0])
    approve(__file__, "figures", answers)


def test_approved_files():
    answers: dict[str, object] = {}
    head = "time,core temp,board power,clock,fan rpm\n"
    for rows in (
        "0,36,24,300,900\n2,37.5,200,1900,1200\n", "0,36,n/a,-,\n1,,2,3,4\n", "23:59:59,36,1,2,3\n00:00:01,37,1,2,3\n",
        "0,36,1,2,3\n0,37,1,2,3\n", "0,36,1e10,2,3\n1,36,1,2,3\n", "# note\n\n0,36,1,2,3\n\n1,37,1,2,3\n",
        "0,36\n1,37\n", '0,"36",1,2,3\n1,37,1,2,3\n', "2026-11-26 10:00:00,36,1,2,3\n2026-11-26 10:00:02.5,36,1,2,3\n",
        "x,36,1,2,3\n1,37,1,2,3\n", '0,"36\n',
    ):  # fmt: skip
        answers[repr(rows)] = said(read_log, (head + rows).encode(), COLUMNS)
    for headers in (head, "Elapsed;Temp °C;Power draw;Core MHz;RPM\n", "a,b\n", "time,temp1,temp2,clock temp\n"):
        answers[repr(headers)] = [headers_of(headers.encode()), guess_columns(headers_of(headers.encode()))]
    for document in (
        '{"format":"uvrix-identity","version":1,"device":"x","memory_mib":8192,"link":{"width":8,"gt_per_s":8}}',
        '{"format":"uvrix-identity","version":1,"link_most":{"width":16},"errors":{"a":3},"sensors":{"t":41.5}}',
        '{"format":"uvrix-identity","version":1,"link":{"width":-1}}', "[]", "{", '{"format":"uvrix-identity"}',
    ):  # fmt: skip
        answers[document] = said(lambda text: identity_of(read_identity(text.encode())), document)
    usual = EMPTY["checks"][0]
    for name, changed in {
        "twice": {"checks": [usual, usual]},
        "no minutes": {"checks": [{**usual, "kind": "stress"}]},
        "no hours": {"checks": [{**usual, "kind": "cold-start"}]},
        "no condition": {"checks": [{**usual, "kind": "memory"}]},
        "none": {"checks": []},
        "unknown": {"checks": [{**usual, "kind": "smell"}]},
        "of its own": {"checks": [{**usual, "kind": "stress", "minutes": 5, "rest_c": 2, "most_c": 90}]},
    }.items():
        answers[name] = said(read_protocol, changed)
    approve(__file__, "files", answers)
