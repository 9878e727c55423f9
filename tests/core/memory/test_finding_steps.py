"""Each step towards a finding by itself: what is weighed, what addresses tell, which runs fail, on evidence by hand.

Whole answers are approved (tests/core/approved.py); limits are tried just inside, on and just outside.
"""

from __future__ import annotations

import random

import pytest

from tests.core.approved import approve
from tests.core.memory.cases import CHANNELS, clamshell, located, six
from uvrix.core.boards.model import AddressMap
from uvrix.core.memory.evidence import ChannelEvidence, Evidence, SampleRow
from uvrix.core.memory.finding.events import events_of
from uvrix.core.memory.finding.hypotheses import Suspects, all_hypotheses
from uvrix.core.memory.finding.runs import compare, current, joint_chance, runs_of
from uvrix.core.memory.finding.traces import log_alias, log_bridge, log_placing, trace_of, word_lines
from uvrix.core.memory.finding.weigh import explained, weigh
from uvrix.core.memory.metadata import Metadata
from uvrix.core.memory.report import Report, Unread
from uvrix.core.memory.sites import count_sites

ALL = (1 << 32) - 1
# The limits as docs/trade has them, written out here so that a changed one is noticed.
MIB, KIB = 1 << 20, 1 << 10
LITTLE, OF_MOST, FEW, NOT_STRAY = 0.04, 0.25, 3, 0.3
FEWEST, FIRST_BYTES, NEAR_BYTES, LEAST_ALIAS_BIT = 3, 16 * MIB, 256 * KIB, 15
PLACING = ("dq-line", "site", "cells", "address-line")


def channel(rows):
    """Evidence of rows (mask, count, expected, actual, address)."""
    lines = [sum(count for mask, count, *_ in rows if mask >> line & 1) for line in range(32)]
    errors = sum(row[1] for row in rows)
    unknown = sum(row[1] for row in rows if not row[0])
    return ChannelEvidence(errors, len(rows), lines, unknown, {}, list(rows))


def listed(**channels):
    return Evidence({name: channel(rows) for name, rows in channels.items()})


def counted(**counts):
    """A tally: errors by channel, or those of each line as {line: errors}."""
    channels = {}
    for name, count in counts.items():
        lines = [count.get(line, 0) for line in range(32)] if isinstance(count, dict) else [0] * 32
        errors = sum(lines) if isinstance(count, dict) else count
        channels[name] = ChannelEvidence(errors, 1, lines, 0 if any(lines) else errors, {}, [])
    return Evidence(channels, tally=True)


def said(events):
    columns = (events.channel, events.mask, events.weight, events.fresh)
    return [[number.item() for number in row] for row in zip(*columns, strict=True)]


EVIDENCE = {
    "one error": [listed(A0=[(1, 1, None, None, None)])],
    "the same address again": [listed(A0=[(1, 1, 0, 1, 64), (1, 1, 0, 1, 64), (3, 2, 0, 3, 64), (1, 1, 0, 1, 128)])],
    "counts without an address": [listed(A0=[(1, 5, None, None, None), (2, 2, None, None, 8)])],
    "as many as count": [listed(A0=[(1, 300, None, None, None)])],
    "more than count": [listed(A0=[(1, 900, None, None, None)], A1=[(4, 300, None, None, None)])],
    "two reports": [
        listed(A0=[(1, 250, None, None, None)]),
        listed(A0=[(1, 100, None, None, None)], B0=[(8, 4, 0, 8, 0)]),
    ],
    "a tally": [counted(A0=7, B1=2000)],
    "a tally of lines": [counted(A0={3: 4, 9: 12}, A1=0)],
    "a channel that is elsewhere": [listed(Z9=[(1, 3, None, None, None)])],
    "nothing": [listed(A0=[]), counted()],
}


def test_approved_events():
    """Masks with their weights; shares of channels, and what is left of them once half of it is explained."""
    answers = {}
    for name, evidences in EVIDENCE.items():
        events = events_of(evidences, CHANNELS)
        left = events.left(events.weight * 0 + 0.5)
        answers[name] = {"events": said(events), "shares": events.share().tolist(), "left": said(left)}
    approve(__file__, "events", answers)


def addresses(kind, rng, count):
    """Where errors lie: from the start on, anywhere, with one address bit that never changes, or the same again."""
    if kind == "dense":
        return [64 * rng.randrange(count * 40) for _ in range(count)]
    if kind == "anywhere":
        return [64 * rng.randrange(1 << 24) for _ in range(count)]
    if kind == "half":
        return [64 * rng.randrange(1 << 24) | 1 << 22 for _ in range(count)]
    if kind == "low half":
        return [64 * rng.randrange(1 << 14) & ~(1 << 12) for _ in range(count)]
    few = [64 * rng.randrange(1 << 24) for _ in range(max(1, count // 4))]
    return [rng.choice(few) for _ in range(count)]


def rows_at(places, rng):
    rows = []
    for address in places:
        expected = rng.choice([0, ALL, 0xAAAAAAAA, 0x55555555, rng.getrandbits(32)])
        mask = rng.choice([1 << 5, 1 << 5, 1 << 9, 1 << rng.randrange(32), rng.getrandbits(32) or 1])
        rows.append((mask, 1, expected, expected ^ mask, address))
    return rows


MAPS = {
    "no map": None,
    "stripes": AddressMap(tuple(CHANNELS), stripe_bytes=1 << 10),
    "select": AddressMap(("A0", "A1"), ((22,),)),
}


def told(trace):
    return {
        "addresses": len(trace.addresses),
        "rows": trace.rows,
        "swapped": trace.swapped,
        "strangers": trace.strangers,
        "likely": trace.likely_lines(ALL, 5),
        "likely of few": trace.likely_lines(0xF0),
        "word lines": word_lines(trace, 0xFFFF),
        "placing": {kind: log_placing(trace, kind) for kind in PLACING},
        "alias": {name: log_alias(trace, mapped) for name, mapped in MAPS.items()},
        "bridge": {f"{one} {other}": log_bridge(trace, one, other) for one, other in ((5, 9), (0, 1), (5, 31))},
    }


@pytest.mark.parametrize("kind", ["dense", "anywhere", "half", "low half", "again"])
def test_approved_traces(kind):
    answers = {}
    for count in (0, 1, 2, FEWEST - 1, FEWEST, FEWEST + 1, 5, 12, 40, 61, 130):
        for seed in range(3):
            rng = random.Random(f"{kind} {count} {seed}")
            evidence = listed(A0=rows_at(addresses(kind, rng, count), rng))
            answers[f"{count} {seed}"] = told(trace_of([evidence], "A0"))
    approve(__file__, f"traces-{kind.replace(' ', '-')}", answers)


def test_approved_words_that_belong_elsewhere():
    """Words written at one place and read at another: two bits apart is no one line of addresses."""
    answers = {}
    for seed in range(12):
        rng = random.Random(seed)
        places = rng.sample(range(0, 1 << 12, 16), rng.choice([2, 3, 8, 30]))
        rows: list[SampleRow] = []
        for address in places:
            away = address ^ rng.choice([1 << 6, 1 << 6, 1 << 8, 0b11 << 6])
            spread = (0x01010101, 0x00010001)[seed % 2]
            word, there = address * spread & ALL, away * spread & ALL
            rows += [(word ^ there or 1, 1, word, there, address), (1, 1, there, there ^ 1, away)]
        rows += [(1, 1, None, None, 64), (2, 1, 5, None, None), (2, 1, None, 5, 16), (12, 1, 9, 5, 32)]
        answers[f"{seed}"] = told(trace_of([listed(A0=rows), listed(B0=rows)], "A0"))
    approve(__file__, "words-elsewhere", answers)


@pytest.mark.parametrize(("off", "dense"), [(-64, True), (0, False), (64, False)])
def test_errors_from_the_start_on_begin_within_the_first_bytes(off, dense):
    places = [FIRST_BYTES + off + 64 * number for number in range(10)]
    trace = trace_of([listed(A0=[(1, 1, 0, 1, address) for address in places])], "A0")
    assert (log_placing(trace, "site") > 0) is dense


@pytest.mark.parametrize(("off", "dense"), [(-64, True), (0, False), (64, False)])
def test_errors_near_to_one_another_lie_within_so_many_bytes_each(off, dense):
    """Of five errors the fifth may be a stray; the other four lie within five times as many bytes."""
    places = [0, NEAR_BYTES, 2 * NEAR_BYTES, NEAR_BYTES * 5 + off, 1 << 40]
    trace = trace_of([listed(A0=[(1, 1, 0, 1, address) for address in places])], "A0")
    assert (log_placing(trace, "site") > 0) is dense


def test_a_low_bit_is_sure_only_where_the_map_is_known():
    rng = random.Random(5)
    for bit, unsure in ((LEAST_ALIAS_BIT - 1, True), (LEAST_ALIAS_BIT, False), (LEAST_ALIAS_BIT + 1, False)):
        places = [(64 * rng.randrange(1 << 24)) & ~(1 << bit) for _ in range(60)]
        trace = trace_of([listed(A0=[(1, 1, 0, 1, address) for address in places])], "A0")
        less = log_alias(trace, MAPS["select"]) - log_alias(trace, None)
        assert (less > 1) is unsure, bit


@pytest.mark.parametrize(("ones", "varies"), [(2, False), (3, True), (4, True)])
def test_a_bit_varies_where_three_in_twenty_are_otherwise(ones, varies):
    """Of two bits that vary the one between is the address line: without the lower one there is none between."""
    places = [(number % 2) << 26 | (number < ones) << 20 for number in range(20)]
    trace = trace_of([listed(A0=[(1, 1, 0, 1, place + (number << 32)) for number, place in enumerate(places)])], "A0")
    below = trace_of(
        [listed(A0=[(1, 1, 0, 1, place & ~(1 << 20) | number << 32) for number, place in enumerate(places)])], "A0"
    )
    assert (log_alias(trace, MAPS["select"]) != log_alias(below, MAPS["select"])) is varies


def suspects_of(board, evidences):
    counts = count_sites(board, [report("", evidence) for evidence in evidences])
    fitted = tuple(site.place for site in counts.sites if site.place.site.fitted and site.place.channel)
    names = [place.channel for place in fitted if any(place.channel in one.channels for one in evidences)]
    joint = any(not evidence.tally for evidence in evidences)
    return Suspects(fitted, joint, {name: trace_of(evidences, name) for name in names if name}, board.address_map)


BOARDS = {
    "six": six(),
    "clamshell": clamshell(),
    "one chip": six(walk={"start": "mark", "direction": "clockwise", "order": ["A0", None, None, None, None, None]}),
    "two of one controller": six(
        walk={"start": "mark", "direction": "clockwise", "order": ["A0", "A1", None, None, None, None]}
    ),
    "three": six(walk={"start": "mark", "direction": "clockwise", "order": ["A0", "A1", "B0", None, None, None]}),
}


def swapped_rows(rng):
    """Words that were written where one address bit differs: three lines of them at most."""
    places = rng.sample(range(0, 1 << 12, 128), 10)
    return [(7 << 3, 1, address, address ^ 1 << 6 ^ 7 << 3, address) for address in places] + [
        (7 << 3, 1, address ^ 1 << 6 ^ 7 << 3, address, address ^ 1 << 6) for address in places
    ]


def kind_of(hypothesis):
    return hypothesis.kind if hypothesis else "mixed"


@pytest.mark.parametrize("name", BOARDS)
def test_approved_hypotheses(name):
    """Every hypothesis with its prior and what addresses add; the chances of each over the same events."""
    answers = {}
    board = BOARDS[name]
    for seed in range(3):
        rng = random.Random(f"{name} {seed}")
        evidences = {
            "listed": [listed(A0=rows_at(addresses(rng.choice(["dense", "half"]), rng, 9), rng))],
            "tally": [counted(A0={line: rng.choice([0, 0, 1, 30]) for line in range(32)} | {7: 3})],
            "again": [listed(A0=rows_at(addresses("again", rng, 12), rng), B0=[(1 << 4, 1, 0, 16, 64)] * 6)],
            "elsewhere": [listed(A0=swapped_rows(rng))],
        }
        for kind, evidence in evidences.items():
            suspects = suspects_of(board, evidence)
            hypotheses = all_hypotheses(suspects)
            events = events_of(evidence, suspects.channels)
            weighed = weigh(events, hypotheses)
            first = next((entry.hypothesis for entry in weighed if entry.hypothesis), None)
            answers[f"{kind} {seed}"] = {
                "hypotheses": [
                    [one.kind, "".join(one.designators), list(one.dq), one.prior, one.trace, one.fresh]
                    for one in hypotheses
                    if one.kind != "dq-bridge" or one.dq[0] < 6
                ],
                "chances": [[kind_of(entry.hypothesis), entry.chance] for entry in weighed[:9]],
                "explained": explained(events, first).tolist() if first else [],
            }
    approve(__file__, f"hypotheses-{name.replace(' ', '-')}", answers)


def report(condition, evidence, result="fail"):
    words = tuple(word.strip() for word in condition.split(",") if word.strip())
    rows = sum(channel.rows for channel in evidence.channels.values())
    return Report("full", Metadata(words, result), rows, Unread(), evidence)


def failing(*evidences):
    return [sorted(run.failing) for run in runs_of(six(), [report("cold", evidence) for evidence in evidences])]


def test_a_little_of_a_runs_errors_is_stray():
    whole = 1000
    for little, fails in ((LITTLE * whole - 1, False), (LITTLE * whole, True), (LITTLE * whole + 1, True)):
        assert ("M1" in failing(counted(A0=int(whole - little), A1=int(little)))[0]) is fails


def test_far_fewer_than_in_its_worst_run_is_stray_unless_it_is_a_share_of_its_own_run():
    worst = 400
    for few, fails in ((OF_MOST * worst - 1, False), (OF_MOST * worst, True), (OF_MOST * worst + 1, True)):
        own = counted(A0=int(few), A1=int(few / LITTLE / 4))
        assert ("M0" in failing(counted(A0=worst), own)[1]) is fails


def test_a_few_errors_that_are_a_share_of_their_run_are_not_stray():
    for few, fails in ((FEW - 1, False), (FEW, True), (FEW + 1, True)):
        assert ("M0" in failing(counted(A0=400), counted(A0=few))[1]) is fails
    whole = 100
    for part, fails in ((NOT_STRAY * whole - 1, False), (NOT_STRAY * whole, True), (NOT_STRAY * whole + 1, True)):
        assert ("M0" in failing(counted(A0=4000), counted(A0=int(part), A1=int(whole - part)))[1]) is fails


def test_tallies_and_lists_are_no_counts_of_one_thing():
    rows = [(1, 1, None, None, None)] * 5
    assert failing(counted(A0=4000), listed(A0=rows, A1=rows * 4)) == [["M0"], ["M0", "M1"]]


CONDITIONS = ("cold", "warm", "flexed up", "pressed M2", "tapped", "")


def test_approved_joints():
    """How likely what fails in some runs and not in others comes and goes, and what is said of each chip."""
    answers = {}
    for seed in range(40):
        rng = random.Random(seed)
        reports = []
        for _ in range(rng.randint(1, 5)):
            condition = rng.choice(CONDITIONS)
            if rng.random() < 0.25:
                condition = f"{condition}, after-rework"
            bad = rng.random() < 0.6
            evidence = counted(A0=9 if bad else 0, A1=rng.choice([0, 0, 5]))
            reports.append(report(condition, evidence, rng.choice(["fail", "pass", "refused", None])))
        runs = runs_of(six(), reports)
        answers[f"{seed}"] = {
            "told": [run.told for run in runs],
            "joint": joint_chance(runs, ["M0"]),
            "both": joint_chance(runs, ["M0", "M1"]),
            "now": [list(entry.meta.condition) for entry in current(reports)],
            "compared": compare(six(), runs),
        }
    approve(__file__, "joints", answers)


def test_a_run_tells_of_chips_by_errors_a_pass_or_counts_of_nothing():
    nothing = Evidence({}, tally=True)
    cases = [
        (report("", counted(A0=1)), True),
        (report("", counted(A0=0)), True),
        (report("", listed(A0=[(1, 1, None, None, None)])), True),
        (report("", nothing), False),
        (report("", listed(), "pass"), True),
        (report("", listed(A0=[]), None), False),
        (report("", counted(A0=4), "refused"), False),
    ]
    assert [run.told for run in runs_of(six(), [entry for entry, _ in cases])] == [told for _, told in cases]


def test_approved_second_faults():
    """A line of one chip, and more and more errors of another: from when on the second is told, and in which words."""
    answers = {}
    for more in (0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 12, 20, 40):
        for many in (30, 60, 110):
            rows = [("A0", 1 << 5)] * many + [("B0", 1 << 9)] * more
            answers[f"{many} and {more}"] = short(located(report_of(rows)))
    rng = random.Random(3)
    for more in (0, 6, 14, 30, 90):
        rows = [(rng.choice(CHANNELS[:5]), rng.getrandbits(32) or 1) for _ in range(60)]
        rows += [("A0", 1 << 5)] * more + [("B0", 1 << 9 | rng.choice([0, 1 << 3]))] * (more // 2)
        answers[f"everywhere and {more}"] = short(located(report_of(rows)))
    approve(__file__, "second-faults", answers)


def report_of(rows):
    return "# result: fail\nchannel,bits\n" + "".join(f"{name},{mask:X}\n" for name, mask in rows)


def short(found):
    return {name: found[name] for name in ("finding", "others")}
