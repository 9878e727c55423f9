"""What the shop's closed jobs add up to: by what one asks, with the jobs behind every number."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Literal

from uvrix.core.figures.shares import Middle, Share, middle_of, share_of
from uvrix.language import gettext

By = Literal["model", "cause", "part", "connector", "lot", "period", "kind", "school"]
BYS: Mapping[By, str] = {
    "model": gettext("board model"),
    "cause": gettext("cause"),
    "part": gettext("part"),
    "connector": gettext("connector"),
    "lot": gettext("lot"),
    "period": gettext("quarter"),
    "kind": gettext("kind of repair"),
    "school": gettext("first repair tried"),
}


@dataclass(frozen=True, slots=True)
class Case:
    """A job as figures see it.

    `causes` are those that were confirmed, `parts` designators that they name, `connectors` and `lots` of what failed;
    `kinds` of repair that were tried (reball, replace …), `first` the first of them: the school that was followed.
    `repaired` is None while it is open; `came_back` says whether a later visit follows from it, None where no warranty
    has run long enough to say; `minutes` by step.
    """

    number: int
    model: str
    opened: date
    closed: date | None = None
    causes: tuple[str, ...] = ()
    parts: tuple[str, ...] = ()
    connectors: tuple[str, ...] = ()
    lots: tuple[str, ...] = ()
    kinds: tuple[str, ...] = ()
    repaired: bool | None = None
    came_back: bool | None = None
    minutes: Mapping[str, float] = field(default_factory=dict)
    price: float | None = None
    cost: float = 0.0

    @property
    def first(self) -> str:
        """The first kind of repair that was tried; empty where none was."""
        return self.kinds[0] if self.kinds else ""

    @property
    def period(self) -> str:
        """The quarter in which it came."""
        return f"{self.opened.year} Q{(self.opened.month + 2) // 3}"


KEYS: Mapping[By, Callable[[Case], Sequence[str]]] = {
    "model": lambda case: (case.model,),
    "cause": lambda case: case.causes,
    "part": lambda case: case.parts,
    "connector": lambda case: case.connectors,
    "lot": lambda case: case.lots,
    "period": lambda case: (case.period,),
    "kind": lambda case: case.kinds,
    "school": lambda case: (case.first,) if case.first else (),
}


@dataclass(frozen=True, slots=True)
class Row:
    """One row of figures: how many of all, repaired, come back, minutes and money; `jobs` are those behind each."""

    name: str
    jobs: tuple[int, ...]
    seen: Share
    repaired: Share
    came_back: Share
    not_repaired: tuple[int, ...]
    back: tuple[int, ...]
    minutes: Middle
    money: Middle
    by_step: Mapping[str, Middle]


def wanted(cases: Iterable[Case], model: str = "", cause: str = "", since: date | None = None) -> list[Case]:
    """The cases of a model, a cause, from a day on."""
    return [
        case
        for case in cases
        if (not model or case.model == model)
        and (not cause or cause in case.causes)
        and (since is None or case.opened >= since)
    ]


def figures(cases: Sequence[Case], by: By) -> tuple[Row, ...]:
    """Rows by what is asked, the most frequent first; a job that names two causes counts for both."""
    groups: dict[str, list[Case]] = {}
    for case in cases:
        for name in dict.fromkeys(KEYS[by](case)):
            groups.setdefault(name, []).append(case)
    rows = [_row(name, group, len(cases)) for name, group in groups.items()]
    if by == "period":
        return tuple(sorted(rows, key=lambda row: row.name))
    return tuple(sorted(rows, key=lambda row: (-len(row.jobs), row.name)))


def _row(name: str, group: list[Case], of: int) -> Row:
    ended = [case for case in group if case.repaired is not None]
    known = [case for case in group if case.repaired and case.came_back is not None]
    steps = sorted({step for case in group for step in case.minutes})
    by_step = {step: middle_of([case.minutes[step] for case in group if step in case.minutes]) for step in steps}
    return Row(
        name,
        tuple(case.number for case in group),
        share_of(len(group), of),
        share_of(sum(bool(case.repaired) for case in ended), len(ended)),
        share_of(sum(bool(case.came_back) for case in known), len(known)),
        tuple(case.number for case in ended if not case.repaired),
        tuple(case.number for case in known if case.came_back),
        middle_of([sum(case.minutes.values()) for case in group if case.minutes]),
        middle_of([case.price - case.cost for case in group if case.price is not None]),
        by_step,
    )
