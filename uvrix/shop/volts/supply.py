"""Driving a bench supply over SCPI: set, switched on, the current logged, switched off where it stands at its limit.

That an output is to go on is stored before it does. Whatever fails from then until the start is stored switches it off,
and what is not an answer in numbers counts as standing at the limit.
"""

from __future__ import annotations

import json
import logging
import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Annotated, Any
from uuid import UUID, uuid5

from django.db import DatabaseError, InterfaceError, transaction
from django.db.models import QuerySet
from django.utils import timezone

from uvrix.core.startup.curve import Sample, read_curve
from uvrix.core.values.instruments import instrument_number
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import given
from uvrix.shop.jobs.leaving import must_be_at_hand
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.rows import keep_row
from uvrix.shop.ohms.guard import locks
from uvrix.shop.ohms.link import ADDRESS, SUPPLIES, check_setter, held, opened, visa_error
from uvrix.shop.ohms.queries import measured, power_state
from uvrix.shop.volts.models import FirstDraw, StartCurve, Supply, SupplyOutput

log = logging.getLogger(__name__)
# A start is logged for this long.
LOGGED_S = 2.0
STANDIN = "stand-in supply"
MOST_V, MOST_A = 13.0, 30.0
# A page that shows an output says so every half minute; one that no page has shown for this long is switched off.
FORGOTTEN = timedelta(seconds=90)
BUSY = gettext("Somebody else is using this supply.")


def set_supply(name: str, address: str, by: User) -> Supply:
    """Add a supply or set where it answers. Raises Problem 422 where the address is none, 403 where by no lead."""
    if not ADDRESS.fullmatch(address):
        raise Problem(
            422,
            "no-address",
            gettext("found the address {address}, expected TCPIP0::host::port::SOCKET", address=repr(address)),
        )
    known = Supply.objects.filter(name=name).first()
    check_setter(by, known.address if known else "", address)
    fields = {"address": address}
    return Supply.objects.update_or_create(name=name, defaults=fields, create_defaults={**fields, "added_by": by})[0]


@dataclass(frozen=True, slots=True)
class NewStart:
    """A start on a supply, to log: volts to set, the limit in amperes.

    Its id is called `curve`, so that no browser keeps it and sends it unattended.
    """

    curve: UUID
    supply: Annotated[int, given(min_value=1, max_value=2**31 - 1)]
    volts: Annotated[float, given(min_value=0.5, max_value=MOST_V)]
    limit_amps: Annotated[float, given(min_value=0.05, max_value=MOST_A)]


def start(job: Job, new: NewStart, by: User) -> tuple[StartCurve, bool]:
    """Switch a supply on and log the current; gives the curve and whether it is new.

    The settled current is entered as what the card drew. Raises Problem 409 `left`, `locked`, `not-on`, `busy`; 404 for
    no such supply; 502 `lost` where it does not answer, 503 `away` where the database went: each says whether power is
    off.
    """
    if known := StartCurve.objects.filter(pk=new.curve).first():
        return keep_row(StartCurve, job, known.pk, by)
    must_be_at_hand(job)
    if locked := locks(job, measured(job)):
        raise Problem(409, "locked", locked[0].why)
    stands = power_state(job)
    if stands is None or stands.state != "supply":
        raise Problem(409, "not-on", gettext("First set the card to on the supply: power is checked there."))
    supply = Supply.objects.filter(pk=new.supply).first()
    if supply is None:
        raise Problem(404, "no-supply", gettext("found no such supply, expected one of this shop's"))
    with held(SUPPLIES, supply.pk) as alone:
        if not alone:
            raise Problem(409, "busy", BUSY)
        output = _asked(job, supply, new, by)
        started: tuple[StartCurve, bool] = _driven(supply, lambda line: _started(line, output, by))
        return started


def _asked(job: Job, supply: Supply, new: NewStart, by: User) -> SupplyOutput:
    """The row that says that this output is to go on, stored before it does."""
    fields = {"supply": supply, "volts": new.volts, "limit_amps": new.limit_amps, "watched_at": timezone.now()}
    output, fresh = keep_row(SupplyOutput, job, new.curve, by, **fields)
    if not fresh:  # a start that failed is tried again: its output is to go on once more
        again = {"state": SupplyOutput.State.ASKED, "ended_at": None, "watched_at": timezone.now(), "why": ""}
        SupplyOutput.objects.filter(pk=output.pk).update(**again)
    return output


def _started(line: Any, output: SupplyOutput, by: User) -> tuple[StartCurve, bool]:
    """Log a start and store it; whatever fails on the way switches the output off, and says whether it is."""
    begun = False
    try:
        _set_up(line, output)
        begun = True
        line.write("OUTP ON")
        samples, odd = _log(line, output)
        left_on = not odd and not read_curve(samples, output.limit_amps).at_limit
        if not left_on:
            _off(line)
        return _stored(output, samples, odd, by, left_on=left_on)
    except BaseException as error:
        off = not begun or _is_off(line)
        _note(output, SupplyOutput.State.OFF if off else SupplyOutput.State.UNKNOWN, f"{type(error).__name__}: {error}")
        if isinstance(error, DatabaseError | InterfaceError):
            raise Problem(
                503, "away", _power_said(gettext("The database does not answer. Nothing was stored."), off=off)
            ) from None
        if begun and off and isinstance(error, (OSError, visa_error())):
            said = gettext(
                "{name} did not answer as it should ({error}).", name=output.supply.name, error=_words(error)
            )
            raise Problem(502, "lost", _power_said(said, off=True)) from None
        raise


def _power_said(what: str, *, off: bool) -> str:
    if off:
        return gettext("{what} The output was switched off.", what=what)
    return gettext("{what} The output may still be on: switch it off by hand.", what=what)


def _stored(
    output: SupplyOutput, samples: list[Sample], odd: str, by: User, *, left_on: bool
) -> tuple[StartCurve, bool]:
    said = read_curve(samples, output.limit_amps)
    says = said.says
    if odd:
        says = gettext(
            "It answered {odd}, which is no number: taken as at its limit. {says}", odd=repr(odd[:30]), says=says
        )
    if not left_on:
        says = gettext("{says} Switched off.", says=says[:220])
    fields = {"supply": output.supply, "volts": output.volts, "limit_amps": output.limit_amps, "samples": samples}
    amps = round(said.settled_amps, 4)
    drew: dict[str, Any] = {"volts": output.volts, "amps": amps, "limit_amps": output.limit_amps}
    drew |= {"note": gettext("logged by {name}", name=output.supply.name)}
    with transaction.atomic():
        row, fresh = keep_row(StartCurve, output.job, output.pk, by, **fields, left_on=left_on, says=says[:240])
        if not odd:  # else nobody knows what it drew
            keep_row(FirstDraw, output.job, uuid5(output.pk, "draw"), by, **drew)
        # setting up switched off what was on before; its row must not switch this one off
        before = SupplyOutput.objects.filter(supply=output.supply, ended_at=None).exclude(pk=output.pk)
        ended = {
            "state": SupplyOutput.State.OFF,
            "ended_at": timezone.now(),
            "why": gettext("another start on this supply"),
        }
        before.update(**ended)
        output.state = SupplyOutput.State.ON if left_on else SupplyOutput.State.OFF
        output.ended_at = None if left_on else timezone.now()
        output.save(update_fields=["state", "ended_at"])
    return row, fresh


def switch_off(supply: Supply, why: str = "") -> None:
    """Switch a supply's output off. Raises Problem 409 `busy`, 502 `lost`."""
    with held(SUPPLIES, supply.pk) as alone:
        if not alone:
            raise Problem(409, "busy", BUSY)
        _driven(supply, _off)
        ended = {"state": SupplyOutput.State.OFF, "ended_at": timezone.now(), "why": why}
        SupplyOutput.objects.filter(supply=supply, ended_at=None).update(**ended)


def watched(by: User, job: Job | None) -> QuerySet[SupplyOutput]:
    """Outputs that are on or may be; those of a person's own, and of the job that they look at, are being watched."""
    on = SupplyOutput.objects.filter(ended_at=None).exclude(state=SupplyOutput.State.ASKED)
    on = on.select_related("supply", "job__card", "by").order_by("at")
    seen = [output.pk for output in on if output.by_id == by.pk or (job and output.job_id == job.pk)]
    SupplyOutput.objects.filter(pk__in=seen).update(watched_at=timezone.now())
    return on


def switch_off_forgotten(now: datetime | None = None) -> list[SupplyOutput]:
    """Switch off every output that no page has shown for a while; gives those that went off."""
    forgotten = SupplyOutput.objects.filter(ended_at=None, watched_at__lt=(now or timezone.now()) - FORGOTTEN)
    gone = []
    for output in forgotten.select_related("supply").order_by("at"):
        try:
            switch_off(output.supply, gettext("switched off: no page showed it any more"))
            gone.append(output)
        except Problem as problem:
            # it is asked again at the next round
            log.warning("supply %s may still be on: %s", output.supply.name, problem.detail)
            if problem.code == "lost":
                SupplyOutput.objects.filter(pk=output.pk).update(state=SupplyOutput.State.UNKNOWN)
    return gone


def _driven(supply: Supply, work: Callable[[Any], Any]) -> Any:
    try:
        with opened(supply.address) as line:
            return work(line)
    except (OSError, visa_error()) as error:
        detail = gettext(
            "No answer from {name} ({error}). Switch its output off by hand, and look at its leads.",
            name=supply.name,
            error=_words(error),
        )
        raise Problem(502, "lost", detail) from None


def _words(error: BaseException) -> str:
    return str(error).rstrip(".") or type(error).__name__


def _note(output: SupplyOutput, state: SupplyOutput.State, why: str) -> None:
    """Keep what became of an output; where the database is away it stays as asked, for the watchdog."""
    ended = timezone.now() if state == SupplyOutput.State.OFF else None
    with suppress(DatabaseError, InterfaceError), transaction.atomic():
        SupplyOutput.objects.filter(pk=output.pk).update(state=state, ended_at=ended, why=why[:200])


def _set_up(line: Any, output: SupplyOutput) -> None:
    if STANDIN in line.query("*IDN?"):
        card = output.job.card
        line.write(f"SIM:CONNECT {json.dumps({'serial': card.serial, 'board': card.model.slug})}")
    for command in ("OUTP OFF", f"VOLT {output.volts:g}", f"CURR {output.limit_amps:g}"):
        line.write(command)


def _log(line: Any, output: SupplyOutput) -> tuple[list[Sample], str]:
    """The samples of a start; and what it answered where that was no number, at which the log ends."""
    begun = time.monotonic()
    samples: list[Sample] = []
    while time.monotonic() < begun + LOGGED_S:
        answers = [line.query("MEAS:VOLT?"), line.query("MEAS:CURR?")]
        volts, amps = map(instrument_number, answers)
        at = round(time.monotonic() - begun, 3)
        if volts is None or amps is None:
            samples.append((at, volts or 0.0, output.limit_amps))
            return samples, answers[0 if volts is None else 1].strip() or "nothing"
        samples.append((at, volts, amps))
    return samples, ""


def _is_off(line: Any) -> bool:
    """Switch off the output of a start that failed; whether the supply confirms it."""
    try:
        _off(line)
    except (OSError, visa_error()):
        return False
    return True


def _off(line: Any) -> None:
    """Switch the output off and ask whether it is: a command that was sent may not have been carried out.

    Raises OSError where the supply says that it is still on.
    """
    line.write("OUTP OFF")
    said = line.query("OUTP?").strip().upper()
    if said not in {"0", "OFF"}:
        raise OSError(gettext("it says that its output is {said}", said=said[:20] or gettext("nothing")))
