"""The command line `uvrix` (docs/formats §18): the core alone, with no server and no database."""

from __future__ import annotations

import argparse
import json
import math
import os
import sys
from collections.abc import Callable, Sequence
from dataclasses import asdict
from typing import TYPE_CHECKING, Any, NoReturn, TypeVar, cast

from uvrix.core.errors import Refusal, one_line
from uvrix.language import gettext

if TYPE_CHECKING:
    from uvrix.core.boards.model import Board
    from uvrix.core.memory.reader_file import TaughtReader
    from uvrix.core.memory.report import Channels, Report

# argparse speaks English
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
            where, said = message.removeprefix(MISSING).split(", ")[0], gettext("nothing for it")
        print(
            gettext(
                "{where}: found a call that does not fit ({said}), expected {usage_line}",
                where=where,
                said=one_line(said),
                usage_line=self.usage_line(),
            ),
            file=sys.stderr,
        )
        sys.exit(2)

    def usage_line(self) -> str:
        """The usage on one line."""
        return " ".join(self.format_usage().removeprefix("usage: ").split())


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; returns 0, or 2 where the input was refused."""
    parser = Parser(
        prog="uvrix", description=gettext("From measurements to the part on the board."), allow_abbrev=False
    )
    commands = parser.add_subparsers(dest="command", required=True, parser_class=Parser, metavar="COMMAND")
    walk = commands.add_parser("walk", help=gettext("the places of a board in walking order"), allow_abbrev=False)
    walk.set_defaults(run=_walk)
    locate = commands.add_parser("locate", help=gettext("memory reports to the chip on the board"), allow_abbrev=False)
    locate.add_argument(
        "reports", nargs="+", metavar="REPORT", help=gettext("memory reports: full or tally CSV, JSON lines")
    )
    locate.add_argument(
        "--reader", metavar="FILE", help=gettext("a taught reader, NAME.reader.json, for all the reports")
    )
    locate.set_defaults(run=_locate)
    simulate = commands.add_parser(
        "simulate", help=gettext("a report of an injected fault, with the truth beside it"), allow_abbrev=False
    )
    simulate.add_argument("what", choices=["memory", "card"])
    simulate.add_argument(
        "--fault", required=True, metavar="KIND:DESIGNATOR[:DQ…]", help=gettext("the fault, or faults, to hide")
    )
    simulate.add_argument("--errors", type=_count, metavar="N", help=gettext("memory: how many errors"))
    simulate.add_argument(
        "--seed", required=True, type=_seed, metavar="S", help=gettext("the same seed gives the same card")
    )
    simulate.add_argument(
        "--out", metavar="FILE", help=gettext("memory: the report; the truth goes to FILE.truth.json")
    )
    simulate.add_argument("--serve", action="store_true", help=gettext("card: answer steps, one JSON object a line"))
    simulate.add_argument("--reveal", action="store_true", help=gettext("card: print the truth at the end"))
    simulate.set_defaults(run=_simulate)
    teach = commands.add_parser(
        "teach", help=gettext("a reader learned from a sample and a few marked words"), allow_abbrev=False
    )
    teach.add_argument("sample", metavar="SAMPLE", help=gettext("what the shop's own tester wrote"))
    teach.add_argument(
        "--mark",
        required=True,
        action="extend",
        nargs="+",
        metavar="TEXT=column",
        help=gettext("words of the sample and what they are"),
    )
    teach.set_defaults(run=_teach)
    nexts = commands.add_parser(
        "next", help=gettext("one card's thread: what counts, what may be wrong, what to do next"), allow_abbrev=False
    )
    nexts.add_argument("case", metavar="CASE", help=gettext("the case, NAME.case.json"))
    nexts.add_argument("--board", metavar="FILE", help=gettext("the board model; left out where nobody has drawn it"))
    nexts.add_argument(
        "--known", action="extend", nargs="+", default=[], metavar="FILE", help=gettext("known-good observations")
    )
    nexts.add_argument("--shop", metavar="FILE", help=gettext("what the shop knows beside this card, NAME.shop.json"))
    nexts.set_defaults(run=_next)
    check = _measuring(commands)
    for command in (walk, locate, simulate, check):
        command.add_argument("--board", required=True, metavar="FILE", help=gettext("the board model, NAME.board.json"))
    for command in commands.choices.values():
        command.add_argument("--json", action="store_true", help=gettext("print one JSON object"))
    chosen = parser.parse_args(arguments)
    run: Callable[[argparse.Namespace], Printed] = chosen.run
    try:
        found, table = run(chosen)
    except Refusal as refusal:
        print(refusal, file=sys.stderr)
        return 2
    text = json.dumps(found, ensure_ascii=False, allow_nan=False) if chosen.json else "\n".join(table)
    if chosen.command == "simulate" and chosen.what == "card" and not chosen.reveal:
        return 0
    try:
        sys.stdout.buffer.write(text.encode("utf-8", "backslashreplace") + b"\n")
        sys.stdout.flush()
    except BrokenPipeError:  # the program that reads our output has closed it
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
    return 0


def _measuring(commands: Any) -> argparse.ArgumentParser:
    """Add the commands about meter readings; returns the one that needs a board."""
    check = commands.add_parser("check", help=gettext("readings against known-good cards"), allow_abbrev=False)
    check.add_argument("readings", metavar="READINGS", help=gettext("readings as CSV"))
    check.add_argument(
        "--known",
        required=True,
        action="extend",
        nargs="+",
        metavar="FILE",
        help=gettext("known-good observations as CSV"),
    )
    check.set_defaults(run=_check)
    isolate = commands.add_parser("isolate", help=gettext("where the start-up chain breaks"), allow_abbrev=False)
    isolate.add_argument("readings", metavar="READINGS", help=gettext("readings as CSV"))
    isolate.add_argument("--board", required=True, metavar="FILE", help=gettext("the board model, NAME.board.json"))
    isolate.add_argument("--doubt", metavar="P", help=gettext("the chance that a reading is wrong"))
    isolate.set_defaults(run=_isolate)
    peers = commands.add_parser("peers", help=gettext("same pin, other chip: which one is odd"), allow_abbrev=False)
    peers.add_argument("readings", metavar="READINGS", help=gettext("readings named CHIP.PIN as CSV"))
    peers.set_defaults(run=_peers)
    link = commands.add_parser("link", help=gettext("slot lanes and the width they give"), allow_abbrev=False)
    link.add_argument("lanes_file", metavar="LANES", help=gettext("diode readings of the lanes as CSV"))
    link.add_argument("--lanes", type=_lanes, default=16, metavar="N", help=gettext("how many lanes the card has"))
    link.set_defaults(run=_link)
    inject = commands.add_parser("inject", help=gettext("how to inject a low voltage into a short"), allow_abbrev=False)
    inject.add_argument("--rail-v", required=True, metavar="V", help=gettext("the rail's own volts"))
    inject.add_argument("--reading", required=True, metavar="R", help=gettext("what the rail reads, in shop notation"))
    inject.add_argument(
        "--lowest-v", metavar="V", help=gettext("the lowest rail that it may reach through a joined stage")
    )
    inject.set_defaults(run=_inject)
    sense = commands.add_parser("sense", help=gettext("what a card believes it draws"), allow_abbrev=False)
    for option, metavar in (("--shunt-mohm", "R"), ("--rail-v", "V"), ("--high-v", "V"), ("--low-v", "V")):
        sense.add_argument(option, required=True, metavar=metavar)
    sense.add_argument("--limit-w", metavar="W", help=gettext("what comes this way at most"))
    sense.set_defaults(run=_sense)
    image_diff = commands.add_parser("image-diff", help=gettext("two firmware images compared"), allow_abbrev=False)
    image_diff.add_argument("old", metavar="OLD")
    image_diff.add_argument("new", metavar="NEW")
    image_diff.set_defaults(run=_image_diff)
    curve = commands.add_parser("curve", help=gettext("a thermocouple curve against an alloy"), allow_abbrev=False)
    curve.add_argument("file", metavar="FILE", help=gettext("seconds,celsius as CSV"))
    curve.add_argument("--alloy", required=True, metavar="NAME", help=gettext("sn63pb37, sac305, or one of --alloys"))
    curve.add_argument("--alloys", metavar="FILE", help=gettext("the shop's own alloys, JSON"))
    curve.set_defaults(run=_curve)
    return cast("argparse.ArgumentParser", check)


def _opened(name: str, expected: str) -> Any:
    try:
        return open(name, "rb")
    except (OSError, ValueError) as error:
        reason = error.strerror if isinstance(error, OSError) and error.strerror else str(error)
        raise Refusal("", gettext("no file that can be opened ({reason})", reason=reason), expected, name) from None


def _read(name: str, what: str, read: Callable[[Any], Result]) -> Result:
    """The result of `read` on an opened file; a refusal names the file."""
    with _opened(name, what) as stream:
        try:
            return read(stream)
        except OSError as error:
            raise Refusal(
                "", gettext("a file that cannot be read ({strerror})", strerror=error.strerror), what, name
            ) from None
        except Refusal as refusal:
            raise refusal.of(name) from None


def _board(name: str) -> Board:
    from uvrix.core.boards.document import read_board

    return _read(name, gettext("a board model"), lambda stream: read_board(stream.read()))


def _reader(name: str) -> TaughtReader:
    from uvrix.core.memory.reader_file import read_reader

    return _read(name, gettext("a taught reader"), lambda stream: read_reader(stream.read()))


def _walk(chosen: argparse.Namespace) -> Printed:
    from uvrix.core.boards.walk import places

    board = _board(chosen.board)
    if board.walk is None:
        raise Refusal("$.walk", gettext("no walk"), gettext("a walk with start, direction and order"), chosen.board)
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
    head = gettext(
        "{value}  {value_2} {value_3} {value_4} fitted",
        value=f"{gettext('position'):>8}",
        value_2=f"{gettext('site'):8}",
        value_3=f"{gettext('channel'):8}",
        value_4=f"{gettext('side'):6}",
    )
    rows = [
        f"{site['position']:>8}  {site['designator']:8} {site['channel'] or '?':8} {site['side']:6} "
        f"{'yes' if site['fitted'] else 'no'}"
        for site in sites
    ]
    return {"sites": sites}, [
        gettext(
            "{name}, from {start} {direction}", name=board.name, start=board.walk.start, direction=board.walk.direction
        ),
        head,
        *rows,
    ]


def _locate(chosen: argparse.Namespace) -> Printed:
    from uvrix.core.memory.locate import as_json, locate
    from uvrix.core.memory.reading import read_report
    from uvrix.core.memory.sites import board_channels

    board = _board(chosen.board)
    channels = board_channels(board)
    reader = _reader(chosen.reader) if chosen.reader else None
    reports = [
        (name, _read(name, gettext("a memory report"), lambda stream: read_report(stream, channels, reader=reader)))
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
        raise argparse.ArgumentTypeError(
            gettext(
                "{word} is no whole number from {least} to {most}", word=repr(one_line(word)), least=least, most=most
            )
        )
    return int(word)


def _simulate(chosen: argparse.Namespace) -> Printed:
    return _simulate_card(chosen) if chosen.what == "card" else _simulate_memory(chosen)


def _simulate_card(chosen: argparse.Namespace) -> Printed:
    """Answers steps from the input, one JSON object a line each way, until the input ends or the card is returned."""
    from uvrix.core.virtual.bench import Bench, hidden_faults

    for option, value in (("--errors", chosen.errors), ("--out", chosen.out)):
        if value is not None:
            raise Refusal(option, one_line(str(value)), gettext("nothing: it is of simulate memory"))
    if not chosen.serve:
        raise Refusal("--serve", gettext("nothing for it"), gettext("--serve: a virtual card answers steps"))
    board = _board(chosen.board)
    bench = Bench(board, hidden_faults(board, chosen.fault), chosen.seed)
    for number, line in enumerate(sys.stdin, 1):
        if not line.strip():
            continue
        answered = bench.answer(_step(number, line))
        print(json.dumps(answered, ensure_ascii=False, allow_nan=False), flush=True)
    truth = bench.truth() if chosen.reveal else {}
    return truth, [json.dumps(truth, ensure_ascii=False)] if chosen.reveal else []


def _step(number: int, line: str) -> dict[str, Any]:
    """One step as it came in. Raises Refusal."""
    expected = gettext("a step of next[] as one JSON object a line")
    try:
        step = json.loads(line)
    except (ValueError, RecursionError):
        raise Refusal(str(number), one_line(line), expected, "-") from None
    if not isinstance(step, dict) or not isinstance(step.get("do"), str):
        raise Refusal(str(number), one_line(line), expected, "-")
    return step


def _simulate_memory(chosen: argparse.Namespace) -> Printed:
    from uvrix.core.virtual.reports import simulate

    for option, value in (("--errors", chosen.errors), ("--out", chosen.out)):
        if value is None:
            raise Refusal(
                option,
                gettext("nothing for it"),
                gettext("uvrix simulate memory --board FILE --fault F --errors N --seed S --out FILE"),
            )
    made = simulate(_board(chosen.board), chosen.fault, chosen.errors, chosen.seed)
    truth = f"{chosen.out}.truth.json"
    for name, text in ((chosen.out, made.report), (truth, json.dumps(made.truth, indent=1) + "\n")):
        try:
            with open(name, "w", encoding="utf-8") as file:
                file.write(text)
        except (OSError, ValueError) as error:
            raise Refusal(
                "--out",
                gettext("{name}, which cannot be written ({error})", name=name, error=error),
                gettext("a file to write"),
            ) from None
    return {**made.truth, "file": chosen.out, "truth": truth}, [
        gettext("{out}: {errors} errors of {fault}", out=chosen.out, errors=chosen.errors, fault=chosen.fault),
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
    sample = _read(chosen.sample, gettext("a sample"), lambda stream: decode(stream.read()))
    document = teach(sample, find_marks(sample, pairs), PurePath(chosen.sample).stem)
    reader_from_document(document)
    return document, json.dumps(document, indent=1, ensure_ascii=False).splitlines()


def _check(chosen: argparse.Namespace) -> Printed:
    from uvrix.core.readings.check import as_json, check, fuses_of
    from uvrix.core.readings.points import board_places
    from uvrix.core.readings.reading_file import read_known, read_readings

    board = _board(chosen.board)
    places = board_places(board)
    readings = _read(chosen.readings, "readings", lambda stream: read_readings(stream.read(), places))
    known = [
        observation
        for name in chosen.known
        for observation in _read(
            name, gettext("known-good observations"), lambda stream: read_known(stream.read(), places)
        )
    ]
    printed = as_json(*check(board, readings, known), fuses_of(board, readings))
    lines = [f"{reading['point']:12} {reading['verdict']:13} {reading['why']}" for reading in printed["readings"]]
    suspects = [
        gettext(
            "Suspect: {designator} (chance {chance}). {why}",
            designator=suspect["designator"],
            chance=f"{suspect['chance']:.2f}",
            why=suspect["why"],
        )
        for suspect in printed["suspects"]
    ]
    fuses = [
        gettext(
            "Fuse {designator}: {state}. {why}", designator=fuse["designator"], state=fuse["state"], why=fuse["why"]
        )
        for fuse in printed["fuses"]
    ]
    return printed, lines + suspects + fuses


def _isolate(chosen: argparse.Namespace) -> Printed:
    from uvrix.core.readings.points import board_places
    from uvrix.core.readings.reading_file import read_readings
    from uvrix.core.startup.chain import chain_of
    from uvrix.core.startup.isolate import as_json, isolate
    from uvrix.core.startup.limits import DOUBT

    doubt = DOUBT
    if chosen.doubt is not None:
        doubt = _number("--doubt", chosen.doubt, gettext("a chance above 0 and below 0.5"), least=0, open_end=True)
        if doubt >= 0.5:
            raise Refusal("--doubt", one_line(chosen.doubt), gettext("a chance above 0 and below 0.5"))
    board = _board(chosen.board)
    try:
        chain = chain_of(board)
    except Refusal as refusal:
        raise refusal.of(chosen.board) from None
    places = board_places(board)
    readings = _read(chosen.readings, "readings", lambda stream: read_readings(stream.read(), places))
    printed: dict[str, Any] = as_json(chain, isolate(chain, readings, places, doubt))
    lines = [
        f"{node['id']:12} {node['state']}{(gettext(', above its band') if node.get('over') else '')}"
        for node in printed["nodes"]
    ]
    lines += [
        gettext(
            "Suspect: {node} (chance {chance}). {why}",
            node=suspect["node"],
            chance=f"{suspect['chance']:.2f}",
            why=suspect["why"],
        )
        for suspect in printed["suspects"][:8]
    ]
    lines += [
        gettext(
            "Next: {node} at {point}, {minutes} min. {why}",
            node=entry["node"],
            point=entry["point"] or gettext("no point yet"),
            minutes=f"{entry['minutes']:g}",
            why=entry["why"],
        )
        for entry in printed["next"][:3]
    ]
    return printed, lines + [gettext("Warning: {item}", item=warning) for warning in printed["warnings"]]


def _next(chosen: argparse.Namespace) -> Printed:
    from pathlib import Path

    from uvrix.core.case.answer import answer
    from uvrix.core.case.case_file import read_case
    from uvrix.core.case.facts import Facts
    from uvrix.core.case.shop import read_shop
    from uvrix.core.memory.reading import read_report
    from uvrix.core.readings.points import board_places, places_of
    from uvrix.core.readings.reading_file import read_known

    board = _board(chosen.board) if chosen.board else None
    places = board_places(board) if board else places_of({})
    beside = Path(chosen.case).parent

    def report(name: str, channels: Channels) -> Report:
        return _read(str(beside / name), gettext("a memory report"), lambda stream: read_report(stream, channels))

    case = _read(chosen.case, gettext("a case"), lambda stream: read_case(stream.read(), board, report))
    known = [
        observation
        for name in chosen.known
        for observation in _read(
            name, gettext("known-good observations"), lambda stream: read_known(stream.read(), places)
        )
    ]
    shop = (
        _read(chosen.shop, gettext("what the shop knows"), lambda stream: read_shop(stream.read()))
        if chosen.shop
        else None
    )
    printed = answer(Facts(case, board, known, shop))
    lines = [
        gettext(
            "Next: {do} {target}, {minutes} min. {why}",
            do=entry["do"],
            target=entry["target"],
            minutes=f"{entry['minutes']:g}",
            why=entry["why"],
        )
        for entry in printed["next"][:5]
    ]
    lines += [
        gettext(
            "May be: {cause} {names} (chance {chance}). {names_2}",
            cause=cause["cause"],
            names=", ".join(cause["designators"]),
            chance=f"{cause['chance']:.2f}",
            names_2=" ".join(cause["why"]),
        )
        for cause in printed["causes"][:5]
    ]
    lines += [gettext("Power is locked: {why}", why=block["why"]) for block in printed["power"]["blocks"]] or [
        gettext("Power is allowed.")
    ]
    lines += [
        gettext(
            "Entry {entry} counts no more: {why} (entry {by})", entry=entry["entry"], why=entry["why"], by=entry["by"]
        )
        for entry in printed["void"]
    ]
    lines += [
        gettext("Owed: {what} {target} (entry {since})", what=debt["what"], target=debt["target"], since=debt["since"])
        for debt in printed["owed"]
    ]
    return printed, lines + [gettext("Warning: {item}", item=warning) for warning in printed["warnings"]]


def _peers(chosen: argparse.Namespace) -> Printed:
    from uvrix.core.readings.peers import as_json, chip_and_pin, odd_ones
    from uvrix.core.readings.points import places_of
    from uvrix.core.readings.reading_file import read_readings

    nowhere = places_of({})
    readings = _read(chosen.readings, "readings", lambda stream: read_readings(stream.read(), nowhere, chip_and_pin))
    printed: dict[str, Any] = as_json(odd_ones(readings))
    lines = [
        gettext(
            "{pin}: {names} reads {value}, the others {peers}",
            pin=entry["pin"],
            names=", ".join(entry["chips"]),
            value=entry["value"],
            peers=entry["peers"],
        )
        + (gettext(", a shared line") if entry["shared"] else "")
        for entry in printed["odd"]
    ]
    lines += [entry["why"] for entry in printed["split"]]
    return printed, lines or [gettext("Nothing is odd.")]


def _lanes(word: str) -> int:
    return _whole(word, 1, 16)


def _link(chosen: argparse.Namespace) -> Printed:
    from uvrix.core.readings.lanes import as_json, link, read_lanes

    readings = _read(chosen.lanes_file, "lanes", lambda stream: read_lanes(stream.read(), chosen.lanes))
    printed: dict[str, Any] = as_json(link(readings, chosen.lanes))
    lines = [
        gettext("lane {lane}: {verdict}", lane=f"{lane['lane']:>2}", verdict=lane["verdict"])
        for lane in printed["lanes"]
    ]
    last = gettext(
        "Width {width}, from lane {value}. {why}", width=printed["width"], value=printed["from"], why=printed["why"]
    )
    return printed, [*lines, last, *(gettext("Warning: {item}", item=warning) for warning in printed["warnings"])]


def _image_diff(chosen: argparse.Namespace) -> Printed:
    from uvrix.core.rework.images import compare

    old, new = (_read(name, gettext("an image"), lambda stream: stream.read()) for name in (chosen.old, chosen.new))
    found = asdict(compare(old, new))
    runs = [
        f"{run['offset']:#08x} {run['length']:>6} bytes, {run['bits']} bits: {run['text_old']} -> {run['text_new']}"
        for run in found["runs"]
    ]
    return {**found, "runs": list(found["runs"])}, [f"{found['kind']}: {found['why']}", *runs]


def _curve(chosen: argparse.Namespace) -> Printed:
    from uvrix.core.rework.curve import BUILT_IN, judge_curve, read_alloys, read_curve

    alloys = dict(BUILT_IN)
    if chosen.alloys:
        alloys |= _read(chosen.alloys, "alloys", lambda stream: read_alloys(stream.read()))
    if chosen.alloy not in alloys:
        raise Refusal("--alloy", one_line(chosen.alloy), gettext("one of {names}", names=", ".join(sorted(alloys))))
    samples = _read(chosen.file, gettext("a curve"), lambda stream: read_curve(stream.read()))
    found = asdict(judge_curve(samples, alloys[chosen.alloy]))
    return {**found, "why": list(found["why"])}, [f"{found['verdict']}", *found["why"]]


def _number(option: str, word: str, what: str, *, least: float | None = None, open_end: bool = False) -> float:
    """A finite number of an option; `least` is the smallest allowed, with `open_end` not itself."""
    try:
        number = float(word.replace(",", ".") if "." not in word else word)
    except ValueError:
        raise Refusal(option, one_line(word), what) from None
    if not math.isfinite(number) or (least is not None and (number < least or (open_end and number == least))):
        raise Refusal(option, one_line(word), what)
    return number


def _inject(chosen: argparse.Namespace) -> Printed:
    from uvrix.core.readings.inject import injection
    from uvrix.core.readings.notation import parse_value

    rail = _number("--rail-v", chosen.rail_v, gettext("the rail's volts, above 0"), least=0, open_end=True)
    lowest = None
    if chosen.lowest_v is not None:
        lowest = _number(
            "--lowest-v", chosen.lowest_v, gettext("the lowest rail's volts, above 0"), least=0, open_end=True
        )
    try:
        ohms = parse_value(chosen.reading, "resistance").middle
    except Refusal:
        ohms = None
    if ohms is None:
        raise Refusal(
            "--reading", one_line(chosen.reading), gettext("a resistance in shop notation, such as 0R4 or 12m")
        )
    found = asdict(injection(rail, ohms, lowest))
    start = gettext(
        "Start at {volts} V, limit {amps_limit} A", volts=f"{found['volts']:g}", amps_limit=f"{found['amps_limit']:g}"
    )
    table = [
        gettext(
            "{start}: at most {watts} W, {watts_in_short} W in the short.",
            start=start,
            watts=f"{found['watts']:.2f}",
            watts_in_short=f"{found['watts_in_short']:.2f}",
        )
    ]
    return {**found, "cautions": list(found["cautions"])}, table + [
        gettext("Caution: {item}", item=caution) for caution in found["cautions"]
    ]


def _sense(chosen: argparse.Namespace) -> Printed:
    from uvrix.core.readings.limits import SLOT_LIMIT_W
    from uvrix.core.readings.sense import sense

    shunt = _number(
        "--shunt-mohm", chosen.shunt_mohm, gettext("the shunt in milliohm, above 0"), least=0, open_end=True
    )
    rail, high, low = (
        _number(f"--{name}", getattr(chosen, name.replace("-", "_")), "volts") for name in ("rail-v", "high-v", "low-v")
    )
    limit = SLOT_LIMIT_W
    if chosen.limit_w is not None:
        limit = _number("--limit-w", chosen.limit_w, gettext("watts, above 0"), least=0, open_end=True)
    found = sense(shunt / 1000, rail, high, low, limit)
    return asdict(found), [found.why]


def _locate_table(found: dict[str, Any]) -> list[str]:
    lines = [
        gettext(
            "{file}: {value}, {rows} rows, {errors} errors, {unread} unread",
            file=report["file"],
            value=report["format"],
            rows=report["rows"],
            errors=report["errors"],
            unread=report["unread"],
        )
        for report in found["reports"]
    ]
    lines.append(
        gettext(
            "{value}  {value_2} {value_3} {value_4} {value_5}  share",
            value=f"{gettext('position'):>8}",
            value_2=f"{gettext('site'):8}",
            value_3=f"{gettext('channel'):8}",
            value_4=f"{gettext('side'):6}",
            value_5=f"{gettext('errors'):>10}",
        )
    )
    for site in found["sites"]:
        place = site["position"] if site["position"] is not None else "-"
        errors = site["errors"] if site["fitted"] else gettext("not fitted")
        head = f"{place:>8}  {site['designator']:8} {site['channel'] or '?':8} {site['side']:6}"
        lines.append(f"{head} {errors:>10}  {site['share']:.3f}")
    for title, entry in [("Finding", found["finding"]), *(("Or", other) for other in found["others"])]:
        lines.append(
            gettext(
                "{title}: {kind} {names} (chance {chance})",
                title=title,
                kind=entry["kind"],
                names=" ".join(entry["designators"]),
                chance=f"{entry['chance']:.2f}",
            )
        )
        lines += [f"  {reason}" for reason in entry["why"]]
    lines += [
        gettext(
            "Next: {do}, {minutes} min. {why}", do=action["do"], minutes=f"{action['minutes']:.0f}", why=action["why"]
        )
        for action in found["actions"]
    ]
    return lines + [gettext("Warning: {warning}", warning=warning) for warning in found["warnings"]]


if __name__ == "__main__":
    sys.exit(main())
