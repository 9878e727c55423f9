"""The start-up map drawn from left to right in the order of start: each node right of all that it needs."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from uvrix.core.startup.chain import Chain

# This often the nodes of a column are put in order by the middle of what they are joined to.
SWEEPS = 8


@dataclass(frozen=True, slots=True)
class Layout:
    """A column and row for every node, counted from 0, and how many there are of each."""

    places: Mapping[str, tuple[int, float]]
    columns: int
    rows: float


def layout(chain: Chain) -> Layout:
    """Columns by the longest way from an input; rows so that links cross little; columns are centred on each other."""
    columns: dict[int, list[str]] = {}
    for name, at in _depths(chain).items():
        columns.setdefault(at, []).append(name)
    _put_in_order(chain, columns)
    most = max((len(names) for names in columns.values()), default=0)
    places = {
        name: (at, number + (most - len(names)) / 2)
        for at, names in columns.items()
        for number, name in enumerate(names)
    }
    return Layout(places, len(columns), float(most))


def _depths(chain: Chain) -> dict[str, int]:
    """The longest way to each node, in the file's order."""
    needs = {node.id: node.needs for node in chain.nodes}
    found: dict[str, int] = {}
    for node in chain.nodes:
        stack = [node.id]
        while stack:
            known = [need for need in needs[stack[-1]] if need in needs]
            waiting = [need for need in known if need not in found]
            if waiting:
                stack.append(waiting[0])
            else:
                found[stack.pop()] = 1 + max((found[need] for need in known), default=-1)
    return {node.id: found[node.id] for node in chain.nodes}


def _put_in_order(chain: Chain, columns: dict[int, list[str]]) -> None:
    """Order each column by the middle of what its nodes are joined to, by turns on the left and on the right."""
    left = {node.id: list(node.needs) for node in chain.nodes}
    right: dict[str, list[str]] = {node.id: [] for node in chain.nodes}
    for node in chain.nodes:
        for need in node.needs:
            right.setdefault(need, []).append(node.id)
    row = {name: float(at) for names in columns.values() for at, name in enumerate(names)}
    for sweep in range(SWEEPS):
        joined = right if sweep % 2 else left
        for at in sorted(columns, reverse=bool(sweep % 2)):
            middles = []
            for name in columns[at]:
                rows = [row[word] for word in joined[name] if word in row]
                middles.append((sum(rows) / len(rows) if rows else row[name], row[name], name))
            columns[at] = [name for _, _, name in sorted(middles)]
            row |= {name: float(number) for number, name in enumerate(columns[at])}
