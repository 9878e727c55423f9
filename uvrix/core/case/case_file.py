"""Reads and writes a case (docs/formats §17): refuses by JSON path whatever does not fit."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from datetime import datetime
from decimal import Decimal
from typing import Any, cast

from uvrix.core.boards.model import Board
from uvrix.core.case.entries import (
    ANSWERED,
    CHANGED,
    DONE,
    POWER,
    SITE_OPTIONAL,
    SYMPTOMS,
    VERDICTS,
    WITHOUT_SITE,
    Answered,
    Case,
    Checked,
    Climbed,
    Did,
    Drawn,
    Entry,
    Glow,
    Injected,
    Looked,
    LotRead,
    Measured,
    Power,
    Powered,
    Run,
    Seen,
    Surveyed,
    Symptom,
    Ticked,
    Trial,
    What,
)
from uvrix.core.case.names import Names, fuses
from uvrix.core.errors import Refusal, quoted
from uvrix.core.look.findings import KINDS as SEEN_KINDS
from uvrix.core.memory.evidence import LINES, tally_evidence
from uvrix.core.memory.metadata import metadata
from uvrix.core.memory.report import Channels, Report, Unread, channels_of
from uvrix.core.memory.sites import board_channels
from uvrix.core.proving.protocol import USUAL
from uvrix.core.readings.notation import MODES, QUANTITIES, UNITS, Mode, Quantity, parse_value
from uvrix.core.readings.points import ACROSS_KINDS
from uvrix.core.readings.reading_file import POLARITY, Reading
from uvrix.core.startup.ladder import RUNGS
from uvrix.core.values.text import parse_json
from uvrix.language import gettext

FORMAT, VERSION = "uvrix-case", 1
BESIDE = ("at", "by", "note")
CHECKS = tuple(str(check["id"]) for check in USUAL)
READING_KEYS = (
    *("point", "quantity", "value", "unit", "mode", "condition", "note"),
    *("to", "meter", "polarity"),
)
RUN_KEYS = ("report", "result", "refusal", "condition", "errors", "dq")
LONGEST_TEXT = 4000
MOST_COUNT = 10**12
ReportReader = Callable[[str, Channels], Report]


def read_case(data: bytes, board: Board | None, report: ReportReader | None = None) -> Case:
    """The case in a file's bytes; `report` reads a run's file that is named beside the case.

    Raises Refusal naming the JSON path: a key that is no key of an entry, two keys in one, a time that goes back, a
    name that the model does not have, a board that is not the one given.
    """
    return case_from(parse_json(data), board, report)


def case_from(document: Any, board: Board | None, report: ReportReader | None = None) -> Case:
    """The case in a parsed document. Raises Refusal."""
    if not isinstance(document, dict):
        raise Refusal("$", quoted(document), gettext("an object with format, version, board and entries"))
    for key, expected in (("format", FORMAT), ("version", VERSION)):
        if key not in document or document[key] != expected or isinstance(document[key], bool):
            raise Refusal(f"$.{key}", quoted(document.get(key)), quoted(expected))
    _board(document, board)
    entries = document.get("entries")
    if not isinstance(entries, list):
        raise Refusal("$.entries", quoted(entries), gettext("a list of entries"))
    reader = _Reader(board, report)
    return Case(document["board"], tuple(reader.entry(number, entry) for number, entry in enumerate(entries)), document)


def entries_that_fit(
    documents: Iterable[Mapping[str, Any]], board: Board | None, report: ReportReader, names: Names
) -> tuple[list[Entry], dict[int, Refusal]]:
    """The entries of a card's thread that fit its model by now, numbered one after the other; the others by place.

    `names` are those of the model, and of the points and parts that were declared on the job.

    A model is edited while its cards lie open: an entry about a part that it no longer has is left out, and said.
    """
    reader = _Reader(board, report, names)
    kept: list[Entry] = []
    refused: dict[int, Refusal] = {}
    for place, document in enumerate(documents):
        try:
            kept.append(reader.entry(len(kept), document))
        except Refusal as refusal:
            refused[place] = refusal
    return kept, refused


def _board(document: Mapping[str, Any], board: Board | None) -> None:
    if "board" not in document:
        raise Refusal("$.board", gettext("no board"), gettext("the model's id, or null where nobody has drawn it"))
    named = document["board"]
    if named is not None and not isinstance(named, str):
        raise Refusal("$.board", quoted(named), gettext("the model's id, or null where nobody has drawn it"))
    if board is None and named is not None:
        raise Refusal("$.board", quoted(named), gettext("null, since no board model was given"))
    if board is not None and named != board.id:
        raise Refusal("$.board", quoted(named), quoted(board.id))


class _Reader:
    """Reads entries one after the other; knows the names of the board and the time of the entry before."""

    def __init__(self, board: Board | None, report: ReportReader | None, names: Names | None = None) -> None:
        self.board = board
        self.names = names or Names(board)
        self.report = report
        self.before: datetime | None = None
        self.fuses = frozenset(fuses(board)) if board else frozenset()
        self.across = {point.id for point in board.points if point.kind in ACROSS_KINDS} if board else set()
        self.across |= self.fuses
        self.channels = board_channels(board) if board else channels_of(None, (), ())
        self.reads: Mapping[str, Callable[[Any, str], What]] = {
            "symptom": self._symptom,
            "trial": self._trial,
            "looked": lambda value, path: Looked(
                self._name(value, path, self.names.looked, gettext("a region or a part"))
            ),
            "lot": self._lot,
            "answered": self._answered,
            "seen": self._seen,
            "reading": self._reading,
            "ticked": self._ticked,
            "injected": self._injected,
            "glow": self._glow,
            "power": lambda value, path: Powered(cast("Power", _word(value, path, POWER))),
            "draw": self._draw,
            "rung": lambda value, path: Climbed(_word(value, path, RUNGS)),
            "run": self._run,
            "pads": self._pads,
            "checked": self._checked,
        }
        self.keys = (*self.reads, "did")

    def entry(self, number: int, document: Any) -> Entry:
        """Reads one entry. Raises Refusal."""
        path = f"$.entries[{number}]"
        if not isinstance(document, dict):
            raise Refusal(path, quoted(document), gettext("an object with one of {keys}", keys=", ".join(self.keys)))
        keys = [key for key in document if key in self.keys]
        if len(keys) != 1:
            strange = [key for key in document if key not in {*BESIDE, "site", "chip"}]
            found = gettext(" and ").join(keys) if keys else ", ".join(map(quoted, strange)) or gettext("none of them")
            raise Refusal(path, found, gettext("exactly one of {keys}", keys=", ".join(self.keys)))
        key = keys[0]
        allowed = {key, *BESIDE, *(("site", "chip") if key == "did" else ())}
        for other in document:
            if other not in allowed:
                raise Refusal(
                    f"{path}.{other}", quoted(other), gettext("only {names}", names=", ".join(sorted(allowed)))
                )
        at = self._time(document.get("at"), f"{path}.at") if "at" in document else None
        by, note = (_text(document.get(name, ""), f"{path}.{name}") for name in ("by", "note"))
        what = self._did(document, path) if key == "did" else self.reads[key](document[key], f"{path}.{key}")
        return Entry(number, what, at, by, note)

    def _time(self, value: Any, path: str) -> datetime:
        expected = gettext("a time with its zone, as 2026-11-02T10:20:00Z")
        if not isinstance(value, str):
            raise Refusal(path, quoted(value), expected)
        try:
            at = datetime.fromisoformat(value)
        except ValueError:
            raise Refusal(path, quoted(value), expected) from None
        if at.tzinfo is None:
            raise Refusal(path, quoted(value), expected)
        if self.before is not None and at < self.before:
            raise Refusal(
                path,
                quoted(value),
                gettext("no time before the {isoformat} of an earlier entry", isoformat=self.before.isoformat()),
            )
        self.before = at
        return at

    def _name(self, value: Any, path: str, find: Callable[[str], str | None], expected: str) -> str:
        found = find(value) if isinstance(value, str) and value.strip() else None
        if found is None:
            model = gettext(" of {id}", id=self.board.id) if self.board else ""
            raise Refusal(path, quoted(value), f"{expected}{model}")
        return found

    def _site(self, value: Any, path: str) -> str:
        return self._name(value, path, self.names.site, gettext("a site, part, fuse, coil, contact or plug"))

    def _symptom(self, value: Any, path: str) -> Symptom:
        kinds = _list(value, path, gettext("a list of kinds"))
        if not kinds:
            raise Refusal(path, "[]", gettext("at least one kind"))
        return Symptom(tuple(dict.fromkeys(_word(kind, f"{path}[{n}]", SYMPTOMS) for n, kind in enumerate(kinds))))

    def _trial(self, value: Any, path: str) -> Trial:
        fields = _object(value, path, ("changed", "shows"), ("as",))
        often = _word(fields["as"], f"{path}.as", ("often", "rarely")) if fields.get("as") is not None else ""
        return Trial(
            _word(fields["changed"], f"{path}.changed", CHANGED), _flag(fields["shows"], f"{path}.shows"), often
        )

    def _lot(self, value: Any, path: str) -> LotRead:
        fields = _object(value, path, ("site", "lot"))
        lot = _text(fields["lot"], f"{path}.lot").strip()
        if not lot:
            raise Refusal(f"{path}.lot", quoted(fields["lot"]), gettext("the lot as it is read off the chip"))
        return LotRead(self._site(fields["site"], f"{path}.site"), lot)

    def _answered(self, value: Any, path: str) -> Answered:
        fields = _object(value, path, ("do",), ("answer",))
        return Answered(_word(fields["do"], f"{path}.do", ANSWERED), fields.get("answer"))

    def _seen(self, value: Any, path: str) -> Seen:
        fields = _object(value, path, ("kind",), ("part", "side", "x_mm", "y_mm"))
        kind = _word(fields["kind"], f"{path}.kind", tuple(SEEN_KINDS))
        placed = [key for key in ("side", "x_mm", "y_mm") if key in fields]
        if fields.get("part") is not None:
            part = self._site(fields["part"], f"{path}.part")
            if not placed:
                return Seen(kind, part)
            return Seen(kind, part, *self._place(fields, path))
        if not placed:
            raise Refusal(path, gettext("neither part nor place"), gettext("part, or side, x_mm and y_mm"))
        return Seen(kind, "", *self._place(fields, path))

    def _place(self, fields: Mapping[str, Any], path: str) -> tuple[str, float, float]:
        side = _word(fields.get("side"), f"{path}.side", ("front", "back"))
        x, y = (_number(fields.get(key), f"{path}.{key}") for key in ("x_mm", "y_mm"))
        return side, x, y

    def _reading(self, value: Any, path: str) -> Measured:
        fields = _object(value, path, ("point", "quantity", "value", "unit"), READING_KEYS)
        quantity = cast("Quantity", _word(fields["quantity"], f"{path}.quantity", QUANTITIES))
        unit = _word(fields["unit"], f"{path}.unit", tuple(UNITS[quantity]))
        mode = cast("Mode", _word(fields.get("mode") or "", f"{path}.mode", MODES[quantity]))
        polarity = _word(fields.get("polarity") or "", f"{path}.polarity", POLARITY)
        expected = gettext("a point, rail or start-up node, or two points")
        point = self._name(fields["point"], f"{path}.point", self.names.point, expected)
        to, pins = self._to(fields.get("to") or "", point, f"{path}.to")
        given = fields["value"]
        if not isinstance(given, str | int | float | Decimal) or isinstance(given, bool):
            raise Refusal(f"{path}.value", quoted(given), gettext("a value such as 2.2k, OL or 12..55"))
        try:
            number = parse_value(str(given), quantity, unit)
        except Refusal as refusal:
            raise Refusal(f"{path}.value", refusal.found, refusal.expected) from None
        condition = fields.get("condition") or ""
        words = condition if isinstance(condition, list) else _text(condition, f"{path}.condition").split(",")
        named = frozenset(_text(word, f"{path}.condition").strip().casefold() for word in words)
        meter, note = (_text(fields.get(key) or "", f"{path}.{key}").strip() for key in ("meter", "note"))
        reading = Reading(point, quantity, number, mode, to, polarity, meter, named - {""}, note)
        return Measured(reading, pins)

    def _to(self, value: Any, point: str, path: str) -> tuple[str, str]:
        text = _text(value, path).strip()
        if text in {"ground", "across"}:
            return text, ""
        if text:
            return "across", self._name(text, path, self.names.site, gettext("ground, across, or a designator"))
        return ("across" if "/" in point or point in self.across else "ground"), ""

    def _ticked(self, value: Any, path: str) -> Ticked:
        fuse = self._name(value, path, self.names.site, gettext("a fuse"))
        if self.board is not None and fuse not in self.fuses:
            raise Refusal(path, quoted(value), gettext("a fuse of {id}", id=self.board.id))
        return Ticked(fuse)

    def _injected(self, value: Any, path: str) -> Injected:
        fields = _object(value, path, ("point", "volts", "amps"))
        point = self._name(fields["point"], f"{path}.point", self.names.point, gettext("a point or rail"))
        return Injected(point, *(_number(fields[key], f"{path}.{key}", 0.0) for key in ("volts", "amps")))

    def _glow(self, value: Any, path: str) -> Glow:
        if value is None:
            return Glow()
        return Glow(*self._place(_object(value, path, ("side", "x_mm", "y_mm")), path))

    def _draw(self, value: Any, path: str) -> Drawn:
        fields = _object(value, path, ("volts", "amps"), ("limit",))
        limit = fields.get("limit")
        given = None if limit is None else _number(limit, f"{path}.limit", 0.0)
        volts, amps = (_number(fields[key], f"{path}.{key}", 0.0) for key in ("volts", "amps"))
        return Drawn(volts, amps, given)

    def _pads(self, value: Any, path: str) -> Surveyed:
        fields = _object(value, path, ("site", "verdict"))
        return Surveyed(
            self._site(fields["site"], f"{path}.site"), _word(fields["verdict"], f"{path}.verdict", VERDICTS)
        )

    def _checked(self, value: Any, path: str) -> Checked:
        fields = _object(value, path, ("check", "passed"))
        return Checked(_word(fields["check"], f"{path}.check", CHECKS), _flag(fields["passed"], f"{path}.passed"))

    def _did(self, document: Mapping[str, Any], path: str) -> Did:
        act = _word(document["did"], f"{path}.did", tuple(DONE))
        site, chip = document.get("site"), document.get("chip")
        if site is None and act not in WITHOUT_SITE | SITE_OPTIONAL:
            raise Refusal(f"{path}.site", gettext("no site"), gettext("the site of a {act}", act=act))
        if site is not None and act in WITHOUT_SITE:
            raise Refusal(f"{path}.site", quoted(site), gettext("no site: {act} is of the whole card", act=act))
        found = self._site(site, f"{path}.site") if site is not None else ""
        return Did(act, found, _text(chip, f"{path}.chip").strip() if chip is not None else "")

    def _run(self, value: Any, path: str) -> Run:
        fields = _object(value, path, (), RUN_KEYS)
        if "report" in fields:
            name = fields["report"]
            if not isinstance(name, str) or not name:
                raise Refusal(f"{path}.report", quoted(name), gettext("a report's file"))
            if len(fields) > 1:
                other = next(key for key in fields if key != "report")
                raise Refusal(f"{path}.{other}", quoted(other), gettext("the report alone, or what it says"))
            if self.report is None:
                raise Refusal(
                    f"{path}.report", quoted(name), gettext("what the run says, where no file lies beside the case")
                )
            return Run(self.report(name, self.channels), name)
        return Run(self._tally(fields, path))

    def _tally(self, fields: Mapping[str, Any], path: str) -> Report:
        """A run typed into the case: counts by channel, and by line where they are known."""
        given = _list(fields.get("condition") or [], f"{path}.condition", gettext("a list of conditions"))
        conditions = [_text(entry, f"{path}.condition[{n}]") for n, entry in enumerate(given)]
        keys = {
            key: _text(fields[key], f"{path}.{key}") for key in ("result", "refusal") if fields.get(key) is not None
        }
        keys["condition"] = ",".join(conditions)
        meta = metadata(keys, {key: f"{path}.{key}" for key in RUN_KEYS})
        errors = _object(fields.get("errors") or {}, f"{path}.errors")
        lines = _object(fields.get("dq") or {}, f"{path}.dq")
        rows = []
        for channel in dict.fromkeys([*errors, *lines]):
            if not channel.strip():
                raise Refusal(f"{path}.errors", quoted(channel), gettext("a channel, as A0"))
            of_lines = self._lines(lines[channel], f"{path}.dq.{channel}") if channel in lines else [0] * LINES
            count = _count(errors[channel], f"{path}.errors.{channel}") if channel in errors else max(of_lines)
            rows.append((channel, count, of_lines))
        evidence = tally_evidence(rows, bool(lines), self.channels.masks)
        if meta.result is None and not rows:
            raise Refusal(path, gettext("neither a result nor errors"), gettext("result, errors, or a report"))
        return Report("tally", meta, len(rows), Unread(), evidence)

    def _lines(self, value: Any, path: str) -> list[int]:
        counts = _list(value, path, gettext("{lines} counts", lines=LINES))
        if len(counts) != LINES:
            raise Refusal(
                path, gettext("{number} counts", number=len(counts)), gettext("{lines} counts, one a line", lines=LINES)
            )
        return [_count(count, f"{path}[{n}]") for n, count in enumerate(counts)]


def _object(value: Any, path: str, needed: Sequence[str] = (), more: Sequence[str] | None = None) -> dict[str, Any]:
    """An object with its keys checked; any key may stand where neither `needed` nor `more` says which."""
    names = [*needed, *(more or ())]
    expected = gettext("an object with {names}", names=", ".join(names)) if names else gettext("an object")
    if not isinstance(value, dict):
        raise Refusal(path, quoted(value), expected)
    for key in value:
        if names and key not in names:
            raise Refusal(f"{path}.{key}", quoted(key), gettext("only {names}", names=", ".join(dict.fromkeys(names))))
    for key in needed:
        if key not in value:
            raise Refusal(path, gettext("no {key}", key=repr(key)), expected)
    return value


def _list(value: Any, path: str, expected: str) -> list[Any]:
    if not isinstance(value, list):
        raise Refusal(path, quoted(value), expected)
    return value


def _word(value: Any, path: str, words: Sequence[str]) -> str:
    if not isinstance(value, str) or value not in words:
        raise Refusal(path, quoted(value), gettext("one of ") + ", ".join(word or "nothing" for word in words))
    return value


def _text(value: Any, path: str) -> str:
    if not isinstance(value, str) or len(value) > LONGEST_TEXT:
        raise Refusal(
            path, quoted(value), gettext("text of at most {longest_text} characters", longest_text=LONGEST_TEXT)
        )
    return value


def _flag(value: Any, path: str) -> bool:
    if not isinstance(value, bool):
        raise Refusal(path, quoted(value), gettext("true or false"))
    return value


def _number(value: Any, path: str, least: float = -math.inf) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float | Decimal):
        raise Refusal(path, quoted(value), gettext("a number"))
    number = float(value)
    if not math.isfinite(number) or number < least:
        raise Refusal(
            path,
            quoted(value),
            gettext("a finite number")
            if least == -math.inf
            else gettext("a number from {least} on", least=f"{least:g}"),
        )
    return number


def _count(value: Any, path: str) -> int:
    if isinstance(value, bool) or not isinstance(value, int) or not 0 <= value <= MOST_COUNT:
        raise Refusal(path, quoted(value), gettext("a count from 0 to {most_count}", most_count=MOST_COUNT))
    return value


def case_document(board: str | None, entries: Sequence[Mapping[str, Any]]) -> dict[str, Any]:
    """A case as its file stands, from entries as objects."""
    return {"format": FORMAT, "version": VERSION, "board": board, "entries": [dict(entry) for entry in entries]}
