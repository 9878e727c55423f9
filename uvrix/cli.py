"""The command line `uvrix` (formats.md): the core alone, with no server and no database."""

from __future__ import annotations

import argparse
import json
import os
import sys
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, Any, NoReturn, TypeVar

from uvrix.core.errors import Refusal, one_line

if TYPE_CHECKING:
    from uvrix.core.boards.model import Board
    from uvrix.core.memory.reader_file import TaughtReader

MISSING = "the following arguments are required: "
Result = TypeVar("Result")
Printed = tuple[dict[str, Any], list[str]]


class Parser(argparse.ArgumentParser):
    """Refuses a wrong call in one line, like a wrong file."""

    def error(self, message: str) -> NoReturn:
        """Print the refusal and end with 2."""
        where, said = self.prog, message
        if message.startswith("argument "):
            option, _, said = message.removeprefix("argument ").partition(": ")
            where = option.split("/")[-1]
        elif message.startswith(MISSING):
            where, said = message.removeprefix(MISSING).split(", ")[0], "nothing for it"
        print(
            f"{where}: found a call that does not fit ({one_line(said)}), expected {self.usage_line()}", file=sys.stderr
        )
        sys.exit(2)

    def usage_line(self) -> str:
        """The usage on one line."""
        return " ".join(self.format_usage().removeprefix("usage: ").split())


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; returns 0, or 2 where the input was refused."""
    parser = Parser(prog="uvrix", description="From measurements to the part on the board.", allow_abbrev=False)
    commands = parser.add_subparsers(dest="command", required=True, parser_class=Parser, metavar="COMMAND")
    walk = commands.add_parser("walk", help="the places of a board in walking order", allow_abbrev=False)
    walk.set_defaults(run=_walk)
    locate = commands.add_parser("locate", help="memory reports to the chip on the board", allow_abbrev=False)
    locate.add_argument("reports", nargs="+", metavar="REPORT", help="memory reports: full or tally CSV, JSON lines")
    locate.add_argument("--reader", metavar="FILE", help="a taught reader, NAME.reader.json, for all the reports")
    locate.set_defaults(run=_locate)
    simulate = commands.add_parser(
        "simulate", help="a report of an injected fault, with the truth beside it", allow_abbrev=False
    )
    simulate.add_argument("what", choices=["memory"])
    simulate.add_argument("--fault", required=True, metavar="KIND:DESIGNATOR[:DQ…]", help="the fault to inject")
    simulate.add_argument("--errors", required=True, type=_count, metavar="N", help="how many errors")
    simulate.add_argument("--seed", required=True, type=_seed, metavar="S", help="the same seed writes the same report")
    simulate.add_argument("--out", required=True, metavar="FILE", help="the report; the truth goes to FILE.truth.json")
    simulate.set_defaults(run=_simulate)
    teach = commands.add_parser(
        "teach", help="a reader learned from a sample and a few marked words", allow_abbrev=False
    )
    teach.add_argument("sample", metavar="SAMPLE", help="what the shop's own tester wrote")
    teach.add_argument(
        "--mark",
        required=True,
        action="extend",
        nargs="+",
        metavar="TEXT=column",
        help="words of the sample and what they are",
    )
    teach.set_defaults(run=_teach)
    for command in (walk, locate, simulate):
        command.add_argument("--board", required=True, metavar="FILE", help="the board model, NAME.board.json")
    for command in (walk, locate, simulate, teach):
        command.add_argument("--json", action="store_true", help="print one JSON object")
    chosen = parser.parse_args(arguments)
    run: Callable[[argparse.Namespace], Printed] = chosen.run
    try:
        found, table = run(chosen)
    except Refusal as refusal:
        print(refusal, file=sys.stderr)
        return 2
    text = json.dumps(found, ensure_ascii=False, allow_nan=False) if chosen.json else "\n".join(table)
    try:
        sys.stdout.buffer.write(text.encode("utf-8", "backslashreplace") + b"\n")
        sys.stdout.flush()
    except BrokenPipeError:  # whoever read has had enough
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
    return 0


def _opened(name: str, expected: str) -> Any:
    try:
        return open(name, "rb")
    except (OSError, ValueError) as error:
        reason = error.strerror if isinstance(error, OSError) and error.strerror else str(error)
        raise Refusal("", f"no file that can be opened ({reason})", expected, name) from None


def _read(name: str, what: str, read: Callable[[Any], Result]) -> Result:
    """What `read` makes of an open file; a refusal names the file."""
    with _opened(name, what) as stream:
        try:
            return read(stream)
        except OSError as error:
            raise Refusal("", f"a file that cannot be read ({error.strerror})", what, name) from None
        except Refusal as refusal:
            raise refusal.of(name) from None


def _board(name: str) -> Board:
    from uvrix.core.boards.document import read_board

    return _read(name, "a board model", lambda stream: read_board(stream.read()))


def _reader(name: str) -> TaughtReader:
    from uvrix.core.memory.reader_file import read_reader

    return _read(name, "a taught reader", lambda stream: read_reader(stream.read()))


def _walk(chosen: argparse.Namespace) -> Printed:
    from uvrix.core.boards.walk import places

    board = _board(chosen.board)
    if board.walk is None:
        raise Refusal("$.walk", "no walk", "a walk with start, direction and order", chosen.board)
    sites = [
        {
            "position": place.position,
            "designator": place.site.designator,
            "channel": place.channel,
            "fitted": place.site.fitted,
            "side": place.site.side,
        }
        for place in places(board.core, board.walk, board.sites)
    ]
    head = f"{'position':>8}  {'site':8} {'channel':8} {'side':6} fitted"
    rows = [
        f"{site['position']:>8}  {site['designator']:8} {site['channel'] or '?':8} {site['side']:6} "
        f"{'yes' if site['fitted'] else 'no'}"
        for site in sites
    ]
    return {"sites": sites}, [f"{board.name}, from {board.walk.start} {board.walk.direction}", head, *rows]


def _locate(chosen: argparse.Namespace) -> Printed:
    from uvrix.core.memory.locate import as_json, locate
    from uvrix.core.memory.reading import read_report
    from uvrix.core.memory.sites import board_channels

    board = _board(chosen.board)
    channels = board_channels(board)
    reader = _reader(chosen.reader) if chosen.reader else None
    reports = [
        (name, _read(name, "a memory report", lambda stream: read_report(stream, channels, reader=reader)))
        for name in chosen.reports
    ]
    printed = as_json(locate(board, reports))
    return printed, _locate_table(printed)


def _count(word: str) -> int:
    return _whole(word, 1, 50_000_000)


def _seed(word: str) -> int:
    return _whole(word, 0, 2**63 - 1)


def _whole(word: str, least: int, most: int) -> int:
    if not (word.isascii() and word.isdigit() and least <= int(word[:20]) <= most):
        raise argparse.ArgumentTypeError(f"{one_line(word)!r} is no whole number from {least} to {most}")
    return int(word)


def _simulate(chosen: argparse.Namespace) -> Printed:
    from uvrix.core.virtual.reports import simulate

    made = simulate(_board(chosen.board), chosen.fault, chosen.errors, chosen.seed)
    truth = f"{chosen.out}.truth.json"
    for name, text in ((chosen.out, made.report), (truth, json.dumps(made.truth, indent=1) + "\n")):
        try:
            with open(name, "w", encoding="utf-8") as file:
                file.write(text)
        except (OSError, ValueError) as error:
            raise Refusal("--out", f"{name}, which cannot be written ({error})", "a file to write") from None
    return {**made.truth, "file": chosen.out, "truth": truth}, [
        f"{chosen.out}: {chosen.errors} errors of {chosen.fault}",
        truth,
    ]


def _teach(chosen: argparse.Namespace) -> Printed:
    from pathlib import PurePath

    from uvrix.core.memory.reader_file import reader_from_document
    from uvrix.core.memory.teaching import find_marks, teach
    from uvrix.core.values.text import decode

    pairs = []
    for mark in chosen.mark:
        text, equals, column = mark.rpartition("=")
        if not equals or not text:
            raise Refusal("--mark", mark, "TEXT=column")
        pairs.append((text, column))
    sample = _read(chosen.sample, "a sample", lambda stream: decode(stream.read()))
    document = teach(sample, find_marks(sample, pairs), PurePath(chosen.sample).stem)
    reader_from_document(document)
    return document, json.dumps(document, indent=1, ensure_ascii=False).splitlines()


def _locate_table(found: dict[str, Any]) -> list[str]:
    lines = [
        f"{one['file']}: {one['format']}, {one['rows']} rows, {one['errors']} errors, {one['unread']} unread"
        for one in found["reports"]
    ]
    lines.append(f"{'position':>8}  {'site':8} {'channel':8} {'side':6} {'errors':>10}  share")
    for site in found["sites"]:
        place = site["position"] if site["position"] is not None else "-"
        errors = site["errors"] if site["fitted"] else "not fitted"
        head = f"{place:>8}  {site['designator']:8} {site['channel'] or '?':8} {site['side']:6}"
        lines.append(f"{head} {errors:>10}  {site['share']:.3f}")
    for title, one in [("Finding", found["finding"]), *(("Or", one) for one in found["others"])]:
        lines.append(f"{title}: {one['kind']} {' '.join(one['designators'])} (chance {one['chance']:.2f})")
        lines += [f"  {reason}" for reason in one["why"]]
    lines += [f"Next: {one['do']}, {one['minutes']:.0f} min. {one['why']}" for one in found["actions"]]
    return lines + [f"Warning: {warning}" for warning in found["warnings"]]


if __name__ == "__main__":
    sys.exit(main())
