"""The plan's part of a card's thread: the school that the shop follows, and what it learned of causes."""

from __future__ import annotations

from collections.abc import Mapping

from uvrix.core.case.shop import School
from uvrix.shop.case.given import gives
from uvrix.shop.jobs.models import Job
from uvrix.shop.planning.models import HabitsEdition
from uvrix.shop.planning.queries import shop_habits

# How the shop's school is called in a case.
SCHOOLS: Mapping[str, School] = {
    "replace-at-once": "replace-first",
    "reball-first": "reball-first",
    "by-numbers": "by-numbers",
}


@gives("school", HabitsEdition)
def school(_: Job) -> School:
    """Whether the shop reballs first, replaces at once or goes by the numbers."""
    return SCHOOLS[shop_habits().school]


@gives("part", HabitsEdition)
def part_minutes(_: Job) -> float:
    """What a memory chip costs, in minutes of work."""
    return shop_habits().part_minutes


@gives("shares", HabitsEdition)
def shares(_: Job) -> Mapping[str, Mapping[str, float]]:
    """How often each cause lies behind a group of findings, as the shop set it and its outcomes say."""
    return shop_habits().shares
