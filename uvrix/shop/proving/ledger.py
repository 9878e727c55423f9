"""Prove's part of a card's thread: checks said by hand, and faults that came late."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from uvrix.core.case.case_file import CHECKS
from uvrix.shop.case.rows import Row, rows_of, source
from uvrix.shop.proving.models import CheckSaid, LateFault


@source(CheckSaid)
def said(jobs: Sequence[int]) -> Iterable[Row]:
    """Checks of the usual protocol that a person said."""

    def entries(one: CheckSaid) -> Iterable[Mapping[str, Any]]:
        return [{"checked": {"check": one.check_id, "passed": one.passed}}] if one.check_id in CHECKS else []

    return rows_of(CheckSaid.objects.all(), jobs, "prove", entries)


@source(LateFault)
def late_faults(jobs: Sequence[int]) -> Iterable[Row]:
    """A fault that came while the card was proven: its check failed."""

    def entries(one: LateFault) -> Iterable[Mapping[str, Any]]:
        return [{"checked": {"check": one.check_id, "passed": False}}] if one.check_id in CHECKS else []

    return rows_of(LateFault.objects.all(), jobs, "prove", entries)
