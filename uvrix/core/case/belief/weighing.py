"""How causes are weighed against each other within a strand."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

CAUSES = (
    *("short", "partial-short", "layers", "open-fuse", "missing", "dead-part", "chip-joint", "chip", "board-line"),
    *("core-joint", "core", "supply", "firmware", "contact", "plug", "host", "none", "unknown"),
)
# What stays unexplained within each strand: another cause than those that were thought of.
UNEXPLAINED = 0.03
# How much a sight speaks for a part of a strand that it lies in.
SEEN_WEIGHT: Mapping[str, float] = {
    "burn": 25.0,
    "package": 25.0,
    "crooked-part": 8.0,
    "corrosion": 6.0,
    "joint": 4.0,
    "opened-before": 2.0,
    "dirt": 1.5,
}
# A part that was looked at with nothing wrong seen is not missing, and hardly burnt.
LOOKED_MISSING, LOOKED_BURNT = 0.02, 0.7


@dataclass(frozen=True, slots=True)
class Cause:
    """A cause with its chance, and what speaks for it: sentences, each with the entries that it rests on."""

    cause: str
    designators: tuple[str, ...]
    chance: float
    why: tuple[str, ...] = ()
    entries: tuple[int, ...] = ()


@dataclass(slots=True)
class Weighed:
    """A cause while it is weighed."""

    cause: str
    designators: tuple[str, ...]
    weight: float
    why: list[str] = field(default_factory=list)
    entries: list[int] = field(default_factory=list)

    def times(self, factor: float, why: str = "", entry: int | None = None) -> None:
        """Weigh by one thing more; what raises it is said first."""
        self.weight *= factor
        if why:
            self.why.insert(0, why) if factor > 1 else self.why.append(why)
        if entry is not None:
            self.entries.append(entry)


@dataclass(frozen=True, slots=True)
class Strand:
    """Causes of one thing that deviates, their weights adding to 1 with what is unexplained."""

    name: str
    causes: tuple[Cause, ...]
    unexplained: float


def strand_of(name: str, weighed: Iterable[Weighed], unexplained: float = UNEXPLAINED) -> Strand | None:
    """Causes made to add to 1 with what is unexplained; one cause of the same part counts once."""
    merged: dict[tuple[str, tuple[str, ...]], Weighed] = {}
    for cause in weighed:
        key = cause.cause, cause.designators
        if key in merged:
            merged[key].weight += cause.weight
            merged[key].why += [why for why in cause.why if why not in merged[key].why]
            merged[key].entries += cause.entries
        elif cause.weight > 0:
            merged[key] = cause
    whole = sum(cause.weight for cause in merged.values())
    if whole <= 0:
        return None
    causes = tuple(
        Cause(
            cause.cause,
            cause.designators,
            (1 - unexplained) * cause.weight / whole,
            tuple(cause.why),
            tuple(sorted(set(cause.entries))),
        )
        for cause in sorted(merged.values(), key=lambda cause: -cause.weight)
    )
    return Strand(name, causes, unexplained)
