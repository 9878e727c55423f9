"""What memory reports come to, in whole answers that were read and approved (tests/core/approved.py)."""

from __future__ import annotations

import random

import numpy as np
import pytest

from tests.core.approved import approve
from tests.core.boards.strategies import BOARDS
from tests.core.memory.cases import CHANNELS, clamshell, located
from tests.core.memory.test_finding import report, some_of
from uvrix.core.boards.document import read_board
from uvrix.core.memory.finding.shapes import marginal, noise, one_line, one_of, scattered, two_lines, wide
from uvrix.core.virtual.reports import simulate

TEAL = read_board((BOARDS / "teal-8.board.json").read_bytes())
SCAUP = read_board((BOARDS / "scaup-24.board.json").read_bytes())
FAULTS = (
    *("dq-line:U15:13", "dq-bridge:U12:3:17", "byte-lane:U14:8", "half:U16:16", "site:U13", "cells:U11"),
    *("address-line:U17", "joint:U12", "controller:B", "rail-group:west", "everywhere"),
)


def short(found):
    """An answer without what is the same in all of them, the sites without an error."""
    sites = [[site["designator"], site["errors"], site["share"]] for site in found["sites"] if site["errors"]]
    kept = {name: found[name] for name in ("finding", "others", "actions", "warnings")}
    return {**kept, "sites": sites, "compared": found.get("compared", [])}


@pytest.mark.parametrize("layout", ["full", "tally", "lines"])
def test_approved_findings(layout):
    answers: dict[str, object] = {}
    for fault in FAULTS:
        for count, seed in ((5, 1), (60, 2), (600, 3)):
            text = simulate(TEAL, fault, count, seed, layout=layout).report
            answers[f"{fault} {count}"] = short(located(text, board=TEAL))
    for fault in ("cells:U38", "byte-lane:U31:8", "controller:C"):
        answers[f"clamshell {fault}"] = short(located(simulate(SCAUP, fault, 80, 4, layout=layout).report, board=SCAUP))
    approve(__file__, f"findings-{layout}", answers)


def run(condition, rows, result="fail"):
    body = "".join(f"{name},{mask:X}\n" for name, mask in rows)
    return f"# condition: {condition}\n# result: {result}\nchannel,bits\n{body}"


def test_approved_runs():
    """Several runs under conditions: failing chips, clean ones, refusals, before and after rework."""
    answers: dict[str, object] = {}
    for seed in range(30):
        rng = random.Random(seed)
        runs = []
        for _ in range(rng.randint(1, 4)):
            condition = rng.choice(["cold", "warm", "flexed up", "flexed down", "pressed M2", "cold, after-rework"])
            kind = rng.choice(["clean", "one", "one", "two", "refused"])
            lines = rng.choice([range(32), range(8, 16), [13]])
            rows = [("B0", some_of(lines, 0.5, rng)) for _ in range(rng.choice([3, 40]))]
            rows += [("C1", some_of(range(32), 0.5, rng)) for _ in range(40)] if kind == "two" else []
            if kind == "clean":
                runs.append(run(condition, [], "pass"))
            elif kind == "refused":
                runs.append(f"# condition: {condition}\n# result: refused\n# refusal: wrong-index\nchannel\n")
            else:
                runs.append(run(condition, rows))
        answers[f"runs {seed}"] = short(located(*runs))
    approve(__file__, "runs", answers)


def test_approved_tallies_and_odd_reports():
    answers: dict[str, object] = {}
    for seed in range(16):
        rng = random.Random(seed)
        names = rng.sample(CHANNELS, rng.randint(1, 5))
        counts = {name: rng.choice([0, 1, 4, 40, 4000]) for name in names}
        answers[f"tally {seed}"] = short(located("channel,errors\n" + "".join(f"{k},{v}\n" for k, v in counts.items())))
    for seed in range(8):
        rng = random.Random(seed)
        head = "channel,errors," + ",".join(f"dq{line}" for line in range(32)) + "\n"
        lines = [0] * 32
        for _ in range(rng.choice([1, 2, 9, 30])):
            lines[rng.randrange(32)] = rng.choice([1, 30, 900])
        text = f"{head}{rng.choice(['A0', 'B0'])},{sum(lines)},{','.join(map(str, lines))}\n"
        answers[f"tally with lines {seed}"] = short(located(text, board=clamshell()))
        mixed = report(
            [(rng.choice(CHANNELS), some_of(range(32), 0.2, rng)) for _ in range(rng.choice([1, 2, 12, 90]))]
        )
        answers[f"mixed {seed}"] = short(located(mixed))
    for name, text in {
        "refused": "# result: refused\n# refusal: not-found\nchannel\n",
        "refused without a reason": "# result: refused\nchannel\n",
        "pass": "# result: pass\nchannel\n",
        "nothing": "channel\n",
        "a channel that is not there": report([("Z9", 1), ("A0", 1)]),
        "an unfitted place": report([("C1", 1)] * 9),
        "unknown lines": "# result: fail\nchannel,expected,actual\n" + "A0,FF,FF\n" * 9,
    }.items():
        answers[name] = short(located(text))
    approve(__file__, "tallies-and-odd-reports", answers)


def test_approved_shapes():
    masks = np.array([0, 1, 1 << 13, 1 << 3 | 1 << 17, 0xFF00, 0xFFFF, 0xFFFF0000, 0xFFFFFFFF, 0x80000001, 0x00010203])
    answers = {
        "one line": one_line(13)(masks),
        "two lines": two_lines(3, 17)(masks),
        "wide lane": wide(0xFF00)(masks),
        "wide": wide(0xFFFFFFFF)(masks),
        "one of two": one_of([wide(0xFFFF), wide(0xFFFF0000)], wide(0xFFFFFFFF))(masks),
        "scattered": scattered(0xFFFF)(masks),
        "marginal": marginal(0xFF00)(masks),
        "noise": noise(masks),
    }
    approve(__file__, "shapes", answers)
