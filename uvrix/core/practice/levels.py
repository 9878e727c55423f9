"""What is hidden, by level: faults of a board as they come in, drawn by a seed."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Literal, get_args

import numpy as np

from uvrix.core.boards.model import Board, Part
from uvrix.core.boards.walk import places
from uvrix.core.case.names import fuses
from uvrix.core.errors import Refusal, quoted
from uvrix.core.virtual.dice import dice
from uvrix.language import gettext

Level = Literal["counting", "shorts", "start-up", "joints", "two-faults", "nothing"]
LEVELS: tuple[Level, ...] = get_args(Level)
LEVEL_WORDS: Mapping[Level, str] = {
    "counting": gettext("Counting round the core"),
    "shorts": gettext("Shorts"),
    "start-up": gettext("Start-up chains"),
    "joints": gettext("Joints"),
    "two-faults": gettext("Two faults"),
    "nothing": gettext("Nothing wrong"),
}
# What a level asks of the hands and the head.
LEVEL_ASKS: Mapping[Level, str] = {
    "counting": gettext("A memory chip fails: which of them is it?"),
    "shorts": gettext("A rail is down: what pulls it there?"),
    "start-up": gettext("It does not start: where does the chain break?"),
    "joints": gettext("It comes and goes: whose joint is it?"),
    "two-faults": gettext("One fault hides another."),
    "nothing": gettext("Its owner sees a fault. Is there one?"),
}
Maker = Callable[[], str]
SMALL = frozenset({"capacitor"})


def levels_of(board: Board) -> tuple[Level, ...]:
    """The levels that a board has places for: one without rails has no shorts."""
    return tuple(level for level in LEVELS if _makers(board, level, np.random.default_rng(0)))


def hide(board: Board, level: Level, seed: int) -> tuple[str, ...]:
    """The faults of a level by a seed, as docs/formats §18 names them. Raises Refusal where the board has no place."""
    thrown = dice("practice", level, board.id, seed)
    makers = _makers(board, level, thrown)
    if not makers:
        raise Refusal("$.level", quoted(level), gettext("one of ") + ", ".join(levels_of(board)))
    made = makers[int(thrown.integers(len(makers)))]()
    return tuple(fault for fault in made.split(",") if fault)


def fault_of_part(board: Board, designator: str, seed: int) -> str | None:
    """A fault that a part of a watchlist may have; None where the model has no such part."""
    parts = {part.designator: part for part in board.parts}
    thrown = dice("watch", board.id, designator, seed)
    if designator in board.by_designator:
        return str(thrown.choice([f"cells:{designator}", f"joint:{designator}"]))
    if designator == board.core.designator:
        return f"core-joint:{thrown.choice(_controllers(board))}"
    if designator in fuses(board):
        return f"blown:{designator}"
    part = parts.get(designator)
    rails = board.rails.keys() & set(part.rails) if part else set()
    if part and part.kind == "power-stage" and len(rails) > 1:
        return f"joined:{designator}"
    if part and part.kind in SMALL and rails:
        return f"short:{designator}"
    on_map = {name for node in board.startup_nodes.values() for name in node.parts}
    return f"dead:{designator}" if designator in on_map else None


# The causes of docs/formats §17 as faults of a virtual card; the others have none.
OF_CAUSE: Mapping[str, str] = {
    "short": "short",
    "partial-short": "partial",
    "layers": "layers",
    "open-fuse": "blown",
    "missing": "missing",
    "dead-part": "dead",
    "chip-joint": "joint",
    "chip": "cells",
}


def fault_of_cause(board: Board, cause: str, designators: Iterable[str], seed: int) -> str | None:
    """What a cause that was proven is on a virtual card; None where none of its faults is like it."""
    names = list(designators)
    thrown = dice("cause", board.id, cause, *names, seed)
    if cause == "host":
        return "host"
    if cause in {"core-joint", "core"}:
        return f"core-joint:{thrown.choice(_controllers(board))}"
    if cause == "board-line" and names:
        return _bad_line(board, names[0], thrown) if names[0] in board.by_designator else None
    if cause == "contact" and names:
        return f"torn:{names[0]}"
    if cause == "short" and names and _stage(board, names[0]):
        return f"joined:{names[0]}"
    kind = OF_CAUSE.get(cause)
    return f"{kind}:{names[0]}" if kind and names else None


def level_of(faults: Sequence[str]) -> Level:
    """The level that some faults are of."""
    kinds = [fault.partition(":")[0] for fault in faults]
    if not kinds or kinds == ["host"]:
        return "nothing"
    if len(kinds) > 1 and not ({"short", "blown"} >= set(kinds) or {"short", "layers"} >= set(kinds)):
        return "two-faults"
    for level, of_level in _KINDS.items():
        if kinds[0] in of_level:
            return level
    return "start-up"


_KINDS: Mapping[Level, frozenset[str]] = {
    "counting": frozenset({"cells", "dq-line"}),
    "shorts": frozenset({"short", "joined", "partial", "layers"}),
    "joints": frozenset({"joint", "core-joint"}),
}


def _bad_line(board: Board, chip: str, thrown: np.random.Generator) -> str:
    """A fault on one of the data lines that a chip carries."""
    carried = [line for line in range(32) if board.by_designator[chip].lines >> line & 1]
    return f"dq-line:{chip}:{int(thrown.choice(carried))}"


def _stage(board: Board, designator: str) -> bool:
    return any(part.designator == designator and part.kind == "power-stage" for part in board.parts)


def _controllers(board: Board) -> list[str]:
    met = places(board.core, board.walk, board.sites)
    return sorted({place.channel[0] for place in met if place.channel})


def _makers(board: Board, level: Level, thrown: np.random.Generator) -> list[Maker]:
    """Ways to make faults of a level on a board; none where it has no place for them."""
    rails = board.rails.keys()
    chips = [site.designator for site in board.sites if site.fitted]
    on_rails = [part for part in board.parts if rails & set(part.rails)]
    small = [part for part in on_rails if part.kind in SMALL]
    stages = [part for part in on_rails if part.kind == "power-stage" and len(rails & set(part.rails)) > 1]
    on_map = sorted({name for node in board.startup_nodes.values() for name in node.parts})
    fused = {point.net: point.id for point in board.points if point.kind == "fuse" and point.net}

    def any_of(names: Sequence[str]) -> str:
        return str(thrown.choice(list(names)))

    def some(parts: Sequence[Part]) -> Part:
        return parts[int(thrown.integers(len(parts)))]

    def behind_fuse() -> str:
        part = some([candidate for candidate in small if set(candidate.rails) & set(fused)])
        rail = next(rail for rail in part.rails if rail in fused)
        return f"short:{part.designator},blown:{fused[rail]}"

    def layers() -> str:
        name = some(small).designator
        return f"short:{name},layers:{name}"

    counting: list[Maker] = [
        lambda: _bad_line(board, any_of(chips), thrown),
        lambda: f"cells:{any_of(chips)}",
    ]
    shorts: list[Maker] = []
    if small:
        shorts += [lambda: f"short:{some(small).designator}", lambda: f"partial:{some(small).designator}", layers]
        shorts += [behind_fuse] if any(set(part.rails) & set(fused) for part in small) else []
    if stages:
        shorts.append(lambda: f"joined:{some(stages).designator}")
    start_up: list[Maker] = []
    if on_map:
        start_up += [lambda: f"missing:{any_of(on_map)}", lambda: f"dead:{any_of(on_map)}"]
    if fused:
        start_up.append(lambda: f"blown:{any_of(list(fused.values()))}")
    joints: list[Maker] = [
        lambda: f"joint:{any_of(chips)}",
        lambda: f"core-joint:{any_of(_controllers(board))}",
    ]
    # what keeps it from starting hides what its memory would show
    hiding = [*shorts[:1], *start_up[:2]]
    two: list[Maker] = []
    if chips and hiding:
        two.append(lambda: f"{hiding[int(thrown.integers(len(hiding)))]()},{counting[1]()}")
    made: Mapping[Level, list[Maker]] = {
        "counting": counting if chips else [],
        "shorts": shorts,
        "start-up": start_up,
        "joints": joints if chips and _controllers(board) else [],
        "two-faults": two,
        "nothing": [lambda: "", lambda: "host"],
    }
    return made[level]
