"""Reading a bench meter: one that speaks SCPI over a socket, or one that prints lines over a serial port.

A meter is asked while somebody looks at it, a few samples at a time; the samples so far travel with the question, so
that any of the server's processes can go on, and no connection outlives a question: another program may want the meter.
"""

from __future__ import annotations

import json
import re
import time
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from functools import cache
from typing import Any, cast

from django.db import DatabaseError, InterfaceError, connection, transaction

from uvrix.core.readings.meter_lines import read_meter_reader
from uvrix.core.readings.notation import Quantity, Value, typed
from uvrix.core.readings.settling import Sample, Settled, settle
from uvrix.core.values.instruments import instrument_number, overloaded
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.roles import Role
from uvrix.shop.ohms.models import Meter

ADDRESS = re.compile(r"TCPIP\d?::[A-Za-z0-9.\-]{1,80}::\d{1,5}::SOCKET")
# A serial port and its baud rate; the stand-in's line has a name of its own.
SERIAL = re.compile(r"serial:((?:/dev/|/[A-Za-z0-9/._-]*/stand-in-meter(?=@))[A-Za-z0-9/._-]{0,80})@([0-9]{3,6})")
SERIAL_STANDIN = "/stand-in-meter"
# A line is waited for this long; this many bytes are listened to at most when a meter is taught.
LINE_S, MOST_HEARD = 0.4, 4096
UNIT_WORDS: Mapping[Quantity, str] = {"resistance": "ohms", "diode": "volts", "voltage": "volts", "frequency": "hertz"}
COMMAND: Mapping[str, str] = {
    "resistance": "CONF:RES",
    "diode": "CONF:DIOD",
    "voltage": "CONF:VOLT",
    "frequency": "CONF:FREQ",
}
ASKED: tuple[Quantity, ...] = ("resistance", "diode", "voltage", "frequency")
# Samples a question, within this many seconds; milliseconds to wait for an answer; samples that are looked back at.
BURST, BURST_S, ANSWER_MS, MOST_SAMPLES = 8, 0.5, 800, 400
STANDIN = "stand-in meter"
# Advisory locks of instruments.
METERS, SUPPLIES = 7, 8
BUSY = gettext("Somebody else is using this meter.")


@dataclass(frozen=True, slots=True)
class Taken:
    """How the reading stands, in shop notation too; `lost` says why no answer came; the samples so far."""

    settled: Settled
    text: str
    lost: str
    samples: tuple[Sample, ...]


def check_setter(by: User, before: str, address: str) -> None:
    """Raise Problem 403 where somebody but the lead says what the server is to open."""
    if address != before and by.role != Role.LEAD:
        raise Problem(
            403, "lead-sets-addresses", gettext("Where an instrument answers is set by the lead: the server opens it.")
        )


def check_address(address: str) -> None:
    """Raise Problem 422 where an address is neither a socket's nor a serial port's."""
    if address and not ADDRESS.fullmatch(address) and not SERIAL.fullmatch(address):
        detail = gettext(
            "found the address {address}, expected TCPIP0::host::port::SOCKET or serial:/dev/ttyUSB0@9600",
            address=repr(address),
        )
        raise Problem(422, "no-address", detail)


@dataclass(frozen=True, slots=True)
class Asked:
    """What is asked of a meter: the quantity, the samples so far, the value stored last, where a stand-in is held."""

    quantity: Quantity
    samples: tuple[Sample, ...]
    held: float | None
    hold: Mapping[str, Any]


def take(meter: Meter, asked: Asked) -> Taken:
    """Some more samples of a meter, and how the reading stands."""
    found = list(asked.samples)[-MOST_SAMPLES:]
    lost = ""
    with transaction.atomic():
        if not alone(METERS, meter.pk):
            return _taken(found, asked, BUSY)
        for _ in range(2):  # a line that dropped is opened once more
            try:
                found += _burst(meter, asked)
                return _taken(found, asked, "")
            except OSError as error:
                lost = str(error) or type(error).__name__
            except visa_error() as error:
                # a late answer would go to the next question: the line is closed, and opened anew
                lost = str(error)
    return _taken(
        found,
        asked,
        gettext(
            "No answer from {name} ({lost}). Keep typing; it is tried again.", name=meter.name, lost=lost.rstrip(".")
        ),
    )


def _taken(samples: Sequence[Sample], asked: Asked, lost: str) -> Taken:
    settled = settle(samples, asked.quantity, asked.held)
    text = ""
    if settled.state == "overload" or settled.low is not None:
        text = typed(Value(settled.low, settled.high), asked.quantity)
    return Taken(settled, text, lost, tuple(samples))


def alone(space: int, instrument: int) -> bool:
    """Whether nobody else asks this instrument until the transaction ends."""
    with connection.cursor() as cursor:
        cursor.execute("select pg_try_advisory_xact_lock(%s, %s)", [space, instrument])
        return bool(cursor.fetchone()[0])


@contextmanager
def held(space: int, instrument: int) -> Iterator[bool]:
    """Whether nobody else uses this instrument until the context ends, over several transactions."""
    with connection.cursor() as cursor:
        cursor.execute("select pg_try_advisory_lock(%s, %s)", [space, instrument])
        got = bool(cursor.fetchone()[0])
    try:
        yield got
    finally:
        if got:
            _let_go(space, instrument)


def _let_go(space: int, instrument: int) -> None:
    """Where the database went away meanwhile, the lock went with its connection; else the connection must go."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("select pg_advisory_unlock(%s, %s)", [space, instrument])
    except (DatabaseError, InterfaceError):
        if not connection.in_atomic_block:
            connection.close()


def _burst(meter: Meter, asked: Asked) -> list[Sample]:
    if SERIAL.fullmatch(meter.address):
        return _heard(meter, asked)
    found: list[Sample] = []
    with opened(meter.address) as line:
        if STANDIN in line.query("*IDN?"):
            line.write(f"SIM:HOLD {json.dumps(dict(asked.hold), sort_keys=True)}")
        line.write(COMMAND[asked.quantity])
        end = time.monotonic() + BURST_S
        while len(found) < BURST and time.monotonic() < end:
            said = line.query("READ?")
            value = instrument_number(said)
            if value is None and not overloaded(said):
                raise OSError(gettext("it answered {repr}, which is no reading", repr=repr(said.strip()[:40])))
            found.append(Sample(time.time(), value))
    return found


def _heard(meter: Meter, asked: Asked) -> list[Sample]:
    """Samples from the lines that a meter prints by itself. Raises OSError with what is wrong in words."""
    if meter.reader is None:
        raise OSError(gettext("its lines are not taught yet"))
    reader = read_meter_reader(meter.reader)
    found: list[Sample] = []
    unread, other = "", ""
    with _port(meter.address) as port:
        if SERIAL_STANDIN in meter.address:
            port.write(f"{COMMAND[asked.quantity]}\nSIM:HOLD {json.dumps(dict(asked.hold), sort_keys=True)}\n".encode())
        end = time.monotonic() + BURST_S
        while len(found) < BURST and time.monotonic() < end:
            text = _line(port)
            said = reader.read(text) if text else None
            if said is None:
                unread = text or unread
            elif said.quantity not in {None, asked.quantity, _alias(asked.quantity)}:
                other = UNIT_WORDS.get(said.quantity or asked.quantity, "")
            else:
                found.append(Sample(time.time(), said.value))
    if not found and other:
        raise OSError(
            gettext("it shows {other}: turn its dial to {quantity}", other=other, quantity=UNIT_WORDS[asked.quantity])
        )
    if not found:
        raise OSError(
            gettext("it printed {unread}, which its reader does not know", unread=repr(unread[:40]))
            if unread
            else gettext("it prints nothing")
        )
    return found


def _alias(quantity: Quantity) -> Quantity:
    """A line in volts says neither diode mode nor voltage."""
    return "diode" if quantity == "voltage" else quantity


def listen(meter: Meter) -> list[str]:
    """Some lines that a meter prints, to be taught. Raises OSError where its port does not open."""
    lines: list[str] = []
    with _port(meter.address) as port:
        end = time.monotonic() + 4 * BURST_S
        while time.monotonic() < end and sum(map(len, lines)) < MOST_HEARD:
            if text := _line(port):
                lines.append(text)
    return lines


@contextmanager
def _port(address: str) -> Iterator[Any]:
    import serial

    path, baud = cast("re.Match[str]", SERIAL.fullmatch(address)).groups()
    port = serial.Serial(path, int(baud), timeout=LINE_S, exclusive=True)
    try:
        # what was printed while nobody listened is old, and the first line may be half of one
        port.reset_input_buffer()
        port.readline()
        yield port
    finally:
        port.close()


def _line(port: Any) -> str:
    return str(port.read_until(size=MOST_HEARD).decode("utf-8", "replace")).strip("\r\n\0")


@contextmanager
def opened(address: str) -> Iterator[Any]:
    """A line to an instrument that speaks SCPI over a socket. Raises the library's errors, or OSError."""
    line = _manager().open_resource(address, read_termination="\n", write_termination="\n", timeout=ANSWER_MS)
    try:
        yield line
    finally:
        line.close()


@cache
def _manager() -> Any:
    import pyvisa

    return pyvisa.ResourceManager("@py")


def visa_error() -> type[Exception]:
    """What the library raises where an instrument does not answer."""
    from pyvisa.errors import Error

    return Error
