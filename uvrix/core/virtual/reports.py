"""Simulated errors written as a report, with the truth beside it (docs/formats §14)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from uvrix.core.boards.model import Board
from uvrix.core.virtual.faults import Fault, Rows, background, errors_of, fault_from
from uvrix.core.virtual.layouts import LAYOUTS


@dataclass(frozen=True, slots=True)
class Simulated:
    """A report as text, and what is true of it."""

    report: str
    truth: dict[str, Any]
    fault: Fault
    rows: Rows


def simulate(
    board: Board,
    fault_text: str,
    errors: int,
    seed: int,
    *,
    noise: float = 0.0,
    condition: str = "cold",
    layout: str = "full",
) -> Simulated:
    """A report of `errors` errors of a fault, of which a share `noise` is background, in a layout of layouts.py.

    Raises Refusal where the fault does not fit the board.
    """
    rng = np.random.default_rng(seed)
    fault = fault_from(board, fault_text, rng)
    stray = int(rng.binomial(errors, noise)) if noise else 0
    rows = errors_of(board, fault, errors - stray, rng)
    if stray:
        rows = _mixed(rows, background(board, stray, rng), rng)
    truth = {
        "kind": fault.kind,
        "designators": list(fault.designators),
        "dq": list(fault.dq),
        "errors": _by_designator(fault, rows),
        "seed": seed,
    }
    return Simulated(LAYOUTS[layout](board, rows, condition), truth, fault, rows)


def _mixed(rows: Rows, more: Rows, rng: np.random.Generator) -> Rows:
    total = len(rows.channel) + len(more.channel)
    later = np.sort(rng.choice(total, size=len(more.channel), replace=False))
    at = np.full(total, -1)
    at[later] = len(rows.channel) + np.arange(len(more.channel))
    at[at < 0] = np.arange(len(rows.channel))
    names = rows.channel + more.channel
    return Rows(
        [names[n] for n in at],
        np.concatenate([rows.address, more.address])[at],
        np.concatenate([rows.expected, more.expected])[at],
        np.concatenate([rows.actual, more.actual])[at],
    )


def _by_designator(fault: Fault, rows: Rows) -> dict[str, int]:
    """Errors that touch each of the fault's chips, background on the same chips included."""
    masks = rows.expected ^ rows.actual
    found = {}
    for place in fault.places:
        here = np.array([name == place.channel for name in rows.channel], dtype=np.bool_)
        found[place.site.designator] = int((here & ((masks & place.site.lines) != 0)).sum())
    return found
