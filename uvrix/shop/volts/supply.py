"""Driving a bench supply over SCPI: set, switched on, the current logged, switched off where it stands at its limit."""

from __future__ import annotations

import json
import time
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any
from uuid import UUID, uuid5

from django.db import transaction

from uvrix.core.startup.curve import Sample, read_curve
from uvrix.shop.accounts.models import User
from uvrix.shop.config.problems import Problem
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.rows import keep_row
from uvrix.shop.ohms.link import ADDRESS, SUPPLIES, alone, opened, visa_error
from uvrix.shop.ohms.queries import measured, power_state
from uvrix.shop.volts.models import FirstDraw, StartCurve, Supply

# A start is logged for so long.
LOGGED_S = 2.0
STANDIN = "stand-in supply"
MOST_V, MOST_A = 13.0, 30.0
BUSY = "Somebody else uses this supply now."


def set_supply(name: str, address: str, by: User) -> Supply:
    """Add a supply or set where it answers. Raises Problem 422 where the address is none."""
    if not ADDRESS.fullmatch(address):
        raise Problem(422, "no-address", f"found the address {address!r}, expected TCPIP0::host::port::SOCKET")
    fields = {"address": address}
    return Supply.objects.update_or_create(name=name, defaults=fields, create_defaults={**fields, "added_by": by})[0]


@dataclass(frozen=True, slots=True)
class NewStart:
    """A start to log: the supply, volts to set, the limit in amperes."""

    curve: UUID
    supply: int
    volts: float
    limit_amps: float


def start(job: Job, new: NewStart, by: User) -> tuple[StartCurve, bool]:
    """Switch a supply on and log the current; gives the curve and whether it is new.

    The settled current is entered as what the card drew. Raises Problem 409 `locked`, `not-on`, `busy`; 404 for no such
    supply; 502 `lost` where it does not answer: then its output is to be switched off by hand.
    """
    if known := StartCurve.objects.filter(pk=new.curve).first():
        return keep_row(StartCurve, job, known.pk, by)
    if locked := measured(job).blocks:
        raise Problem(409, "locked", locked[0].why)
    stands = power_state(job)
    if stands is None or stands.state != "supply":
        raise Problem(409, "not-on", "Say first that the card is on the supply: the gate has its say then.")
    supply = Supply.objects.filter(pk=new.supply).first()
    if supply is None:
        raise Problem(404, "no-supply", "found no such supply, expected one of this shop's")
    with transaction.atomic():
        if not alone(SUPPLIES, supply.pk):
            raise Problem(409, "busy", BUSY)
        samples, left_on = _driven(supply, lambda line: _log(line, job, new))
        said = read_curve(samples, new.limit_amps)
        says = said.says if left_on else f"{said.says} Switched off."
        fields = {"supply": supply, "volts": new.volts, "limit_amps": new.limit_amps, "samples": samples}
        row, fresh = keep_row(StartCurve, job, new.curve, by, **fields, left_on=left_on, says=says[:240])
        amps = round(said.settled_amps, 4)
        drew = {"volts": new.volts, "amps": amps, "limit_amps": new.limit_amps, "note": f"logged by {supply.name}"}
        keep_row(FirstDraw, job, uuid5(new.curve, "draw"), by, **drew)
    return row, fresh


def switch_off(supply: Supply) -> None:
    """Switch a supply's output off. Raises Problem 409 `busy`, 502 `lost`."""
    with transaction.atomic():
        if not alone(SUPPLIES, supply.pk):
            raise Problem(409, "busy", BUSY)
        _driven(supply, _off)


def _driven(supply: Supply, work: Callable[[Any], Any]) -> Any:
    try:
        with opened(supply.address) as line:
            return work(line)
    except (OSError, visa_error()) as error:
        said = str(error).rstrip(".") or type(error).__name__
        detail = f"No answer from {supply.name} ({said}). Switch its output off by hand, and look at its leads."
        raise Problem(502, "lost", detail) from None


def _log(line: Any, job: Job, new: NewStart) -> tuple[list[Sample], bool]:
    """The samples of a start, and whether the output was left on."""
    if STANDIN in line.query("*IDN?"):
        line.write(f"SIM:CONNECT {json.dumps({'serial': job.card.serial, 'board': job.card.model.slug})}")
    for command in ("OUTP OFF", f"VOLT {new.volts:g}", f"CURR {new.limit_amps:g}", "OUTP ON"):
        line.write(command)
    begun = time.monotonic()
    samples: list[Sample] = []
    finished = False
    try:
        while time.monotonic() < begun + LOGGED_S:
            volts, amps = float(line.query("MEAS:VOLT?")), float(line.query("MEAS:CURR?"))
            samples.append((round(time.monotonic() - begun, 3), volts, amps))
        finished = not read_curve(samples, new.limit_amps).at_limit
    finally:
        # left on only where all went well
        if not finished:
            _off(line)
    return samples, finished


def _off(line: Any) -> None:
    """Switch the output off and hear that it is: a command that was sent has not been carried out yet.

    Raises OSError where the supply says that it is still on.
    """
    line.write("OUTP OFF")
    said = line.query("OUTP?").strip().upper()
    if said not in {"0", "OFF"}:
        raise OSError(f"it says that its output is {said[:20] or 'nothing'}")
