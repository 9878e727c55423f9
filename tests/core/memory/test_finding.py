"""What errors of a known cause are called: made at random here, by nothing that the findings use."""

from __future__ import annotations

import random

import pytest

from tests.core.memory.cases import CHANNELS, located, sites_of

FITTED = CHANNELS[:5]
SEEDS = range(12)


def report(rows):
    return "# condition: cold\n# result: fail\nchannel,bits\n" + "".join(f"{name},{mask:X}\n" for name, mask in rows)


def some_of(lines, chance, rng):
    while not (mask := sum(1 << line for line in lines if rng.random() < chance)):
        pass
    return mask


def noisy(rows, share, rng):
    return [(rng.choice(FITTED), 1 << rng.randrange(32)) if rng.random() < share else row for row in rows]


def dq_line(rng):
    channel, line = rng.choice(FITTED), rng.randrange(32)
    return ("dq-line", {channel}, [line]), [(channel, 1 << line) for _ in range(60)]


def byte_lane(rng):
    channel, byte = rng.choice(FITTED), rng.randrange(4)
    lines = list(range(8 * byte, 8 * byte + 8))
    return ("byte-lane", {channel}, lines), [(channel, some_of(lines, 0.4, rng)) for _ in range(60)]


def half(rng):
    channel, upper = rng.choice(FITTED), rng.randrange(2)
    lines = list(range(16 * upper, 16 * upper + 16))
    return ("half", {channel}, lines), [(channel, some_of(lines, 0.5, rng)) for _ in range(60)]


def site(rng):
    channel = rng.choice(FITTED)
    return ("site", {channel}, []), [(channel, some_of(range(32), 0.5, rng)) for _ in range(60)]


def cells(rng):
    channel = rng.choice(FITTED)
    return ("cells", {channel}, []), [(channel, 1 << rng.randrange(32)) for _ in range(60)]


def controller(rng):
    both = {f"{rng.choice('AB')}{n}" for n in (0, 1)}
    letter = next(iter(both))[0]
    both = {f"{letter}0", f"{letter}1"}
    return ("controller", both, []), [(rng.choice(sorted(both)), some_of(range(32), 0.4, rng)) for _ in range(60)]


def rail_group(rng):
    # south is B1 and C0: two channels of two controllers
    return ("rail-group", {"B1", "C0"}, []), [
        (rng.choice(["B1", "C0"]), some_of(range(32), 0.4, rng)) for _ in range(60)
    ]


def everywhere(rng):
    return ("everywhere", set(FITTED), []), [(rng.choice(FITTED), some_of(range(32), 0.4, rng)) for _ in range(90)]


@pytest.mark.parametrize("fault", [dq_line, byte_lane, half, site, cells, controller, rail_group, everywhere])
@pytest.mark.parametrize("seed", SEEDS)
def test_a_fault_is_named_with_its_chips_through_noise(fault, seed):
    rng = random.Random(f"{fault.__name__} {seed}")
    (kind, channels, lines), rows = fault(rng)
    found = located(report(noisy(rows, 0.08, rng)))
    finding = found["finding"]
    assert (finding["kind"], set(finding["designators"])) == (
        kind,
        {f"M{CHANNELS.index(name)}" for name in channels},
    )
    assert finding["dq"] == lines
    assert 0.5 <= finding["chance"] < 1
    assert len(finding["why"]) >= 2
    named = finding["designators"][0]
    assert str(sites_of(found)[named]["errors"]) in finding["why"][0]


def test_errors_without_a_pattern_are_unclear_and_name_no_chip():
    rows = [("A0", 1 << 3), ("B1", 1 << 30), ("C0", 0b11), ("A1", 1 << 12)]
    finding = located(report(rows))["finding"]
    assert (finding["kind"], finding["designators"]) == ("unclear", [])


def test_a_chip_that_stands_out_is_named_although_its_fault_is_not():
    finding = located("channel,errors\nA0,0\nA1,812\nB0,0\nB1,0\nC0,0\n")["finding"]
    assert finding["designators"] == ["M1"]


def test_two_runs_of_one_fault_are_surer_than_one():
    rows = [("B0", 1 << 9)] * 3
    one = located(report(rows))["finding"]
    two = located(report(rows), report(rows))["finding"]
    assert one["designators"] == two["designators"] == ["M2"]
    assert two["chance"] >= one["chance"]


def test_the_core_is_never_among_the_designators():
    (_, _, _), rows = controller(random.Random(3))
    found = located(report(rows))
    assert "U1" not in found["finding"]["designators"]
    assert {action["do"] for action in found["actions"]}.isdisjoint({"reball", "replace"})
