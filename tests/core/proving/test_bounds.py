"""What a log and an identity may hold, and judgements right on their limits: just inside, on, just outside."""

from __future__ import annotations

import json
import math

import pytest

from tests.core.proving.test_steady import heated
from uvrix.core.errors import Refusal
from uvrix.core.proving import log as logs
from uvrix.core.proving.identity import identity_of, read_identity
from uvrix.core.proving.judge import Evidence, judge, usual_least
from uvrix.core.proving.log import Log, headers_of, read_log
from uvrix.core.proving.protocol import EMPTY, Check, read_protocol
from uvrix.core.proving.steady import loaded, steadiness

COLUMNS = {"seconds": "s", "celsius": "t"}


def identity(**fields):
    return read_identity(json.dumps({"format": "uvrix-identity", "version": 1, **fields}).encode())


@pytest.mark.parametrize("count", [0, 10**12])
def test_counts_are_from_none_to_a_million_millions(count):
    assert identity(errors={"replays": count})["errors"] == {"replays": count}
    for outside in (-1, 10**12 + 1):
        with pytest.raises(Refusal):
            identity(errors={"replays": outside})


@pytest.mark.parametrize("name", ["link", "link_most"])
def test_a_link_is_no_faster_than_can_be(name):
    for inside in (0, 0.5, 1000):
        assert identity(**{name: {"gt_per_s": inside}})[name]["gt_per_s"] == inside
    for outside in (-0.1, 1000.5):
        with pytest.raises(Refusal):
            identity(**{name: {"gt_per_s": outside}})


def test_a_sensor_says_a_million_at_most():
    for inside in (-1e6, 0, 1e6):
        assert identity_of(identity(sensors={"core": inside})).sensors == {"core": inside}
    for outside in (-1e6 - 1, 1e6 + 1):
        with pytest.raises(Refusal):
            identity(sensors={"core": outside})


def log_of(text):
    return read_log(text.encode(), COLUMNS)


def test_a_log_is_as_long_as_can_be_read_and_no_longer(monkeypatch):
    monkeypatch.setattr(logs, "MOST_ROWS", 3)
    assert log_of("s,t\n0,20\n1,21\n2,22\n").seconds == (0, 1, 2)
    with pytest.raises(Refusal) as refused:
        log_of("s,t\n0,20\n1,21\n2,22\n3,23\n")
    assert (refused.value.place, refused.value.found) == ("5", "4 samples")


def test_a_long_log_of_its_own_limit_is_read():
    assert logs.MOST_ROWS == 500_000


@pytest.mark.parametrize("lines", ["s,t\n", "s,t\n0,20\n"])
def test_two_samples_are_the_fewest(lines):
    with pytest.raises(Refusal, match="at least two"):
        log_of(lines)
    assert len(log_of("s,t\n0,20\n1,20\n").seconds) == 2


def test_a_figure_is_a_thousand_millions_at_most():
    assert log_of("s,t\n0,1e9\n1,-1e9\n").figures["celsius"] == (1e9, -1e9)
    for outside in ("1.1e9", "-1.1e9", "inf"):
        with pytest.raises(Refusal, match="a number that can be"):
            log_of(f"s,t\n0,20\n1,{outside}\n")


def test_times_go_on():
    with pytest.raises(Refusal, match="times that go on"):
        log_of("s,t\n0,20\n0,21\n")
    # the same time of day is not the next day
    with pytest.raises(Refusal, match="times that go on"):
        log_of("s,t\n10:00:00,20\n10:00:00,21\n")


def test_comments_and_blank_lines_are_no_header_and_no_sample():
    text = "# from; the; bench; lamp\n\n  # more\ns,t\n0,20\n\n# a break\n1,21\n"
    assert headers_of(text.encode()) == ("s", "t")
    assert log_of(text).figures["celsius"] == (20, 21)


def test_headers_of_an_empty_file_are_none():
    assert headers_of(b"") == ()


def test_a_row_that_is_no_csv_is_refused_by_its_line():
    with pytest.raises(Refusal, match="no CSV"):
        log_of('s,t\n0,20\n1,"21\n')


def judged(evidence, **fields):
    document = {"id": "it", "kind": "score", "name": "It", "fails": "it does not", **fields}
    (check,) = read_protocol({"checks": [document]})
    return judge(check, evidence)


def test_a_score_right_at_the_least_usual_passes():
    scores = [100.0, 101.0, 99.0, 100.5, 99.5]
    usual = usual_least(scores)
    assert usual
    least = usual[0]
    said = {score: judged(Evidence(score=score, usual_scores=scores)).state for score in (least, least * 0.999)}
    assert said == {least: "passed", least * 0.999: "failed"}


def test_a_score_of_nothing_is_no_score_to_compare_with():
    scores = [100.0, 101.0, 99.0]
    assert usual_least([*scores, 0.0, -1.0]) == usual_least(scores)
    assert usual_least([0.5, 0.6, 0.55]) is not None, "less than one is a score as well"


def test_the_hottest_moment_under_load_counts_and_is_allowed_up_to_its_limit():
    # the peak lies before the load: it says nothing of the cooler
    seconds = tuple(float(second) for second in range(0, 3600, 5))
    busy = tuple(220.0 if second >= 600 else 24.0 for second in seconds)
    celsius = tuple(95.0 if second == 100 else 70.0 for second in seconds)
    log = Log(seconds, {"celsius": celsius, "watts": busy})
    stress = {"kind": "stress", "minutes": 30}
    assert judged(Evidence(logs=[("a.csv", log)]), **stress, most_c=70).state == "passed"
    failed = judged(Evidence(logs=[("a.csv", log)]), **stress, most_c=69.9)
    assert failed.state == "failed"
    assert "at most 69.9 allowed" in failed.why[-1]


def test_of_several_logs_the_one_that_says_most_is_judged():
    steady, rising = heated(1, 60, 60), heated(5, 40, 900)
    idle = Log(steady.seconds, {"celsius": steady.figures["celsius"]})
    short = heated(1, 12, 60)
    stress = {"kind": "stress", "minutes": 30, "rest_c": 1.5}
    logs_by_worth = [("idle", idle), ("short", short), ("rising", rising), ("steady", steady)]
    for count in range(1, 5):
        for order in (1, -1):
            found = judged(Evidence(logs=logs_by_worth[:count][::order]), **stress)
            assert found.why[0].startswith(logs_by_worth[count - 1][0])


def test_counted_errors_fail_a_steady_run_and_none_do_not():
    for counted, state in ((0, "passed"), (1, "failed")):
        seen = identity_of(identity(errors={"replays": counted}))
        evidence = Evidence(logs=[("a.csv", heated(1, 60, 60))], identity=seen)
        assert judged(evidence, kind="stress", minutes=30).state == state


def test_load_begins_at_the_watts_that_were_said():
    log = Log((0.0, 1.0, 2.0), {"celsius": (40.0,) * 3, "watts": (149.0, 150.0, math.nan)})
    busy = loaded(log, 150)
    assert busy is not None
    assert busy.tolist() == [False, True, False]


def test_minutes_right_at_those_wanted_are_enough():
    log = heated(1, 30, 60)
    spent = steadiness(log, 5, 1.5).loaded_minutes
    assert steadiness(log, spent, 1.5).word == "steady"
    assert steadiness(log, spent + 0.01, 1.5).word == "too-short"


def test_degrees_right_at_those_allowed_are_steady():
    log = heated(7, 40, 300)
    rest = steadiness(log, 5, 5.0).rest_c
    assert rest
    assert steadiness(log, 5, rest).word == "steady"
    assert steadiness(log, 5, rest * 0.99).word == "rising"


def test_the_usual_protocol_is_a_protocol_with_its_times():
    checks = {check.id: check for check in read_protocol(EMPTY)}
    assert (checks["stress"].minutes, checks["loads"].minutes, checks["cold-start"].hours) == (30, 60, 8)
    assert isinstance(checks["stress"], Check)


@pytest.mark.parametrize(("length", "fits"), [(1, True), (200, True), (0, False), (201, False)])
def test_what_makes_a_check_fail_is_said_in_a_line(length, fits):
    document = {"checks": [{"id": "it", "kind": "hand", "name": "It", "fails": "x" * length}]}
    if fits:
        assert read_protocol(document)[0].fails == "x" * length
    else:
        with pytest.raises(Refusal):
            read_protocol(document)
