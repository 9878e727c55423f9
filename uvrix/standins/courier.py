"""A made-up courier: tracking events of a parcel, the same for the same reference, told as time goes by."""

from __future__ import annotations

import hashlib
import random
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta

# One parcel in six is late, one in thirty is never seen again after it was collected.
LATE_SHARE, LOST_SHARE = 1 / 6, 1 / 30
DEPOTS = ("Saltmarsh", "Upper Weir", "Fennick Cross", "Dun Quay")


@dataclass(frozen=True, slots=True)
class CourierEvent:
    """Something that happened to a parcel; `kind` is announced, collected, depot, delayed, out or delivered."""

    at: datetime
    kind: str
    words: str


class Courier:
    """Answers like a courier's tracking service; it holds nothing and asks nobody."""

    def events(self, reference: str, announced_at: datetime, due: date, now: datetime) -> Sequence[CourierEvent]:
        """What happened to a parcel until `now`, oldest first."""
        chance = random.Random(hashlib.sha256(reference.encode()).digest())  # noqa: S311 - a stand-in's dice
        fate = chance.random()
        zone = announced_at.tzinfo
        collected = announced_at + timedelta(hours=chance.uniform(2, 8))
        depot = collected + timedelta(hours=chance.uniform(3, 9))
        day = max(due, depot.date() + timedelta(days=1))
        where = chance.choice(DEPOTS)
        told = [
            CourierEvent(announced_at, "announced", "Announced by the sender."),
            CourierEvent(collected, "collected", "Collected."),
        ]
        if fate >= LOST_SHARE:
            told.append(CourierEvent(depot, "depot", f"At the depot in {where}."))
            if fate < LOST_SHARE + LATE_SHARE:
                held = datetime.combine(day, time(18), zone)
                told.append(CourierEvent(held, "delayed", f"Held at {where}; expected a working day later."))
                day += timedelta(days=1 + chance.randrange(3))
            out = datetime.combine(day, time(7, chance.randrange(60)), zone)
            told.append(CourierEvent(out, "out", "Out for delivery."))
            told.append(CourierEvent(out + timedelta(hours=chance.uniform(1, 9)), "delivered", "Delivered."))
        return sorted((event for event in told if event.at <= now), key=lambda event: event.at)
