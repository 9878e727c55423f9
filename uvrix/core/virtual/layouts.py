"""Simulated errors in any layout: our three formats, and three that a shop's own tester might write."""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence

from uvrix.core.boards.model import Board
from uvrix.core.boards.walk import places
from uvrix.core.memory.evidence import natural
from uvrix.core.virtual.faults import Rows

Layout = Callable[[Board, Rows, str], str]


def _result(rows: Rows) -> str:
    return "fail" if rows.channel else "pass"


def _each(rows: Rows) -> list[tuple[str, int, int, int]]:
    words = zip(rows.channel, rows.address.tolist(), rows.expected.tolist(), rows.actual.tolist(), strict=True)
    return [(name, int(where), int(want), int(saw)) for name, where, want, saw in words]


def _channels(board: Board, rows: Rows) -> list[str]:
    met = [place.channel for place in places(board.core, board.walk, board.sites) if place.site.fitted]
    return sorted({name for name in met if name} | set(rows.channel), key=natural)


def _sums(rows: Rows, names: Sequence[str]) -> dict[str, tuple[int, list[int]]]:
    sums = {name: (0, [0] * 32) for name in names}
    for name, _, want, saw in _each(rows):
        errors, lines = sums[name]
        mask = want ^ saw
        sums[name] = errors + 1, [count + (mask >> line & 1) for line, count in enumerate(lines)]
    return sums


def full(board: Board, rows: Rows, condition: str) -> str:
    """The full report of docs/formats §5."""
    head = [
        "# tester: virtual card",
        f"# board: {board.id}",
        f"# condition: {condition}",
        f"# result: {_result(rows)}",
        "channel,address,expected,actual,op",
    ]
    return (
        "\n".join(head + [f"{name},0x{at:010X},{want:08X},{saw:08X},read" for name, at, want, saw in _each(rows)])
        + "\n"
    )


def tally(board: Board, rows: Rows, condition: str) -> str:
    """The tally of docs/formats §6, with lines."""
    names = _channels(board, rows)
    head = [f"# condition: {condition}", f"# result: {_result(rows)}"]
    head.append("channel,errors," + ",".join(f"dq{line}" for line in range(32)))
    sums = _sums(rows, names)
    return "\n".join(head + [f"{name},{sums[name][0]}," + ",".join(map(str, sums[name][1])) for name in names]) + "\n"


def lines(board: Board, rows: Rows, condition: str) -> str:
    """The lines report of docs/formats §6."""
    first = {"format": "uvrix-report", "version": 1, "board": board.id, "condition": condition, "result": _result(rows)}
    objects = [
        {"channel": name, "address": f"0x{at:X}", "expected": f"{want:08X}", "actual": f"{saw:08X}"}
        for name, at, want, saw in _each(rows)
    ]
    return "\n".join(json.dumps(entry) for entry in [first, *objects]) + "\n"


def text_counts(board: Board, rows: Rows, condition: str) -> str:
    """A table of counts, as text."""
    names = _channels(board, rows)
    sums = _sums(rows, names)
    table = [f"{name:<6} {sums[name][0]:>12}" for name in names]
    head = ["Lapwing bench tester 2, station A", f"condition = {condition}", "", "bank     words failed", "-" * 24]
    return "\n".join([*head, *table, "-" * 24, f"finished in {len(rows.channel) % 97 + 3} s"]) + "\n"


def text_lines(board: Board, rows: Rows, condition: str) -> str:
    """One line an error, with addresses, as text."""
    head = ["Lapwing bench tester 2, station B", f"condition: {condition}", f"result: {_result(rows)}"]
    body = [
        f"pass {1 + 2 * n // len(rows.channel)} bank {name} at 0x{at:010X} want {want:08X} saw {saw:08X} "
        f"({n + 1} of {len(rows.channel)})"
        for n, (name, at, want, saw) in enumerate(_each(rows))
    ]
    return "\n".join([*head, *body]) + "\n"


def text_wide(board: Board, rows: Rows, condition: str) -> str:
    """A wide table of lines, as text."""
    names = _channels(board, rows)
    sums = _sums(rows, names)
    head = ["Lapwing wide table", f"condition = {condition}"]
    head.append("bank    total | " + " ".join(f"{line:>4}" for line in range(32)))
    body = [f"{name:<6} {sums[name][0]:>6} | " + " ".join(f"{count:>4}" for count in sums[name][1]) for name in names]
    return "\n".join([*head, *body]) + "\n"


LAYOUTS: dict[str, Layout] = {
    "full": full,
    "tally": tally,
    "lines": lines,
    "text-counts": text_counts,
    "text-lines": text_lines,
    "text-wide": text_wide,
}
