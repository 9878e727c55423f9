"""The courier's stand-in tells the same story for the same reference, in order, and never of the future."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta

from hypothesis import given
from hypothesis import strategies as st

from uvrix.standins.courier import Courier

SENT = datetime(2026, 11, 20, 9, tzinfo=UTC)


@given(st.text(min_size=1, max_size=20), st.integers(0, 300), st.integers(0, 10))
def test_the_story_only_grows(reference, hours, days):
    due = date(2026, 11, 20) + timedelta(days=days)
    now = SENT + timedelta(hours=hours)
    early, late = (Courier().events(reference, SENT, due, at) for at in (now, now + timedelta(days=2)))
    assert list(late[: len(early)]) == list(early)
    assert all(event.at <= now for event in early)
    told = [event.kind for event in late]
    order = ["announced", "collected", "depot", "delayed", "out", "delivered"]
    assert told == [kind for kind in order if kind in told]


def test_most_parcels_come_when_due_some_late_a_few_never():
    now = SENT + timedelta(days=30)
    ends = [Courier().events(f"R-{number}", SENT, date(2026, 11, 22), now) for number in range(400)]
    lost = sum(events[-1].kind != "delivered" for events in ends)
    late = sum(any(event.kind == "delayed" for event in events) for events in ends)
    assert 2 <= lost <= 30
    assert 35 <= late <= 110
