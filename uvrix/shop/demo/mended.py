"""The demo's closed jobs with their whole thread: report, mark, what was tried, rework, clean run, price, comeback."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import NAMESPACE_URL, UUID, uuid5

from django.conf import settings
from django.utils import timezone

from uvrix.core.boards.document import read_board
from uvrix.shop.accounts.models import User
from uvrix.shop.arrive.services import NewSymptom, say_symptom
from uvrix.shop.clock.models import ClockSpan
from uvrix.shop.demo.rework import noted_pin1
from uvrix.shop.demo.runs import DemoRun, drop_run, mark_chip
from uvrix.shop.demo.times import spread
from uvrix.shop.hypotheses.services import NewWord, say
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.planning.services import NewAttempt, enter_attempt
from uvrix.shop.returning.models import Return
from uvrix.shop.returning.services import say_comeback
from uvrix.shop.rework.services import NewRework, enter_rework
from uvrix.shop.stock.models import StockMove
from uvrix.shop.stock.services import NewPart, take_in

WARRANTY_DAYS = 365
PHOTOGRAPHED = "On the bench photograph of both sides already."
CLEAN = DemoRun("after-rework", says="# result: pass\n# condition: after-rework\nchannel\n")


@dataclass(frozen=True, slots=True)
class Mended:
    """A closed job: `days` ago it came; `fault` and `errors` of its report; `tried` as (do, outcome, minutes).

    `price` is None where it left without a fix, with `no_fix` as the reason; `again` is the serial's earlier visit
    that it came back for, as (cause, words).
    """

    serial: str
    board: str
    customer: str
    complaint: str
    days: int
    fault: str
    errors: int
    tried: tuple[tuple[str, str, float], ...]
    cause: str
    by_what: str
    ohms: float
    price: float | None
    no_fix: str = ""
    again: tuple[str, str] | None = None

    @property
    def site(self) -> str:
        """The chip that it was about."""
        return self.fault.split(":")[1]


MENDED = (
    Mended("PT12-0418", "pintail-12", "Hale Studio", "Coloured dots in every film.", 330, "dq-line:M104:6", 190,
           (("measure-lines", "yes", 14), ("reball", "yes", 58)), "Joint of a memory chip", "clean for two hours after the reball", 22, 140),
    Mended("SV6-20771", "shoveler-6", "Ansel Roe", "Stripes, then a reboot.", 310, "half:U23:0", 310,
           (("reball", "no", 50), ("replace", "yes", 66)), "Memory chip with a dead half", "clean with a chip from a donor", 18, 120),
    Mended("GW16-0033", "gadwall-16", "Lowen Computers", "Simulation fails after minutes.", 295, "cells:U70", 240,
           (("replace", "yes", 71),), "Memory chip with failing cells", "clean cold and warm with another chip", 25, 190),
    Mended("TL8-51877", "teal-8", "Corin Vale", "Green snow.", 270, "dq-line:U12:3", 160,
           (("measure-lines", "yes", 11), ("reball", "yes", 49)), "Joint of a memory chip", "clean after the reball", 20, 120),
    Mended("TL8-51877", "teal-8", "Corin Vale", "Green snow again.", 205, "dq-line:U12:3", 150,
           (("reball", "no", 46), ("replace", "yes", 63)), "Joint of a memory chip", "clean with another chip", 15, 0,
           again=("same", "The same line of the same chip, ten weeks later.")),
    Mended("GG8-29640", "garganey-8", "Isolde Marsh", "Hangs in games.", 255, "byte-lane:M4:16", 220,
           (("reball", "yes", 54),), "Joint of a memory chip", "clean after the reball", 24, 110),
    Mended("PT12-0502", "pintail-12", "Bram Osier", "White squares when warm.", 235, "half:M107:16", 280,
           (("reball", "no", 61), ("replace", "yes", 74)), "Memory chip with a dead half", "clean with a new chip", 30, 170),
    Mended("WG4-18820", "wigeon-4", "Wick & Daughter", "Lines, since it was cleaned.", 215, "dq-line:U502:11", 130,
           (("measure-lines", "yes", 9), ("reball", "yes", 44)), "Joint of a memory chip", "clean after the reball", 12, 80),
    Mended("GW16-0051", "gadwall-16", "Maren Skye", "No picture in half of all starts.", 180, "site:U66", 420,
           (("reball", "no", 60), ("replace", "no", 77)), "Pads of a memory chip torn by an earlier shop",
           "six pads gone to the inner layer below U66", 45, None, "Six pads below U66 are torn to the inner layer."),
    Mended("SV6-20902", "shoveler-6", "Tobin Reave", "Chequered picture.", 160, "dq-line:U25:20", 170,
           (("measure-lines", "yes", 12), ("reball", "yes", 52)), "Joint of a memory chip", "clean after the reball", 16, 110),
    Mended("SC24-0064", "scaup-24", "Hale Studio", "Renders with coloured specks.", 145, "cells:U16", 260,
           (("replace", "yes", 88),), "Memory chip with failing cells", "the fault left with U16", 35, 210),
    Mended("TL8-53688", "teal-8", "Nerys Loch", "Pink lines.", 110, "dq-line:U17:27", 180,
           (("measure-lines", "yes", 10), ("reball", "yes", 47)), "Joint of a memory chip", "clean after the reball", 14, 120),
    Mended("GG8-31022", "garganey-8", "Petra Quill", "Lines after an hour.", 70, "dq-line:M2:8", 140,
           (("reball", "no", 51), ("replace", "yes", 69)), "Memory chip with a dead line", "clean with another chip", 19, 130),
)  # fmt: skip


def mended_job(mended: Mended, desk: User, by: User) -> None:
    """Open it, follow it through, close it; expects the library."""
    number = MENDED.index(mended)
    opened = timezone.now() - timedelta(days=mended.days)
    number_of = uuid5(NAMESPACE_URL, f"uvrix-demo/{mended.serial}/{number}")
    job, _ = open_job(NewJob(number_of, mended.serial, mended.board, mended.customer, mended.complaint), desk, opened)
    say_symptom(job, NewSymptom(_entry(job, "symptom"), "often", kinds=("artefacts",)), by)
    board = read_board((settings.ROOT / "data" / "boards" / f"{mended.board}.board.json").read_bytes())
    drop_run(job, DemoRun("warm", mended.fault, mended.errors, seed=600 + number), by, number, board)
    mark_chip(job, mended.site, by)
    job.refresh_from_db()
    worked = opened + timedelta(days=1, hours=3)
    for order, (do, outcome, minutes) in enumerate(mended.tried):
        if do in ("reball", "replace"):
            _rework(job, mended, (do, worked + timedelta(hours=2 * order)), by)
        enter_attempt(job, NewAttempt(_entry(job, do), do, outcome, minutes), by, worked + timedelta(hours=2 * order))
    if mended.price is not None:
        drop_run(job, CLEAN, by, 100 + number, board)
        job.runs.filter(condition=["after-rework"]).update(added_at=opened + timedelta(days=2))
    say(job, NewWord(_entry(job, "cause"), mended.cause, "confirmed", mended.by_what, "prove"), by)
    if mended.again:
        before = Job.objects.filter(card=job.card).earliest("opened_at")
        say_comeback(job, _entry(job, "again"), before, mended.again, by)
    spread(job)
    _clock(job, mended, by)
    job.closed_at = opened + timedelta(days=6)
    if mended.price is not None:
        job.warranty_until = (job.closed_at + timedelta(days=WARRANTY_DAYS)).date()
    job.move, job.waits_for = "hands", ""
    job.save()
    Return.objects.create(id=_entry(job, "return"), job=job, by=by, at=job.closed_at, way="parcel", found=f"{mended.cause}, {mended.site}.",
                          done="" if mended.price is None else f"{mended.by_what[0].upper()}{mended.by_what[1:]}.", no_fix=mended.no_fix, price=mended.price,
                          warranty_days=0 if mended.price is None else WARRANTY_DAYS)  # fmt: skip


def _rework(job: Job, mended: Mended, what: tuple[str, datetime], by: User) -> None:
    """Lifted, its own balls renewed or another chip taken, placed; `what` is (do, at)."""
    do, at = what
    own = f"{mended.serial}/{mended.site}"
    chip = own if do == "reball" else _bought(job, mended, _entry(job, f"{do} chip"), at - timedelta(hours=6), by)
    lift = NewRework(_entry(job, f"{do} lift"), "remove", mended.site, pin1=noted_pin1(job, mended.site), no_photo=PHOTOGRAPHED,
                     alloy_off="leaded" if do == "replace" else "lead-free", preheat_c=150.0, minutes=12.0)  # fmt: skip
    balls = NewRework(
        _entry(job, f"{do} balls"), "reball", "", chip=own, alloy_on="leaded", balls="stencil", ball_mm=0.45
    )
    place = NewRework(_entry(job, f"{do} place"), "place", mended.site, chip_in=chip, preheat_c=150.0, minutes=11.0)
    for number, step in enumerate((lift, balls, place) if do == "reball" else (lift, place)):
        row, _ = enter_rework(job, step, by)
        row.at = at + timedelta(minutes=25 * number)
        row.save(update_fields=["at"])


def _bought(job: Job, mended: Mended, entry: UUID, at: datetime, by: User) -> str:
    """A new chip as the model takes it, taken in for this job; its label."""
    board = read_board((settings.ROOT / "data" / "boards" / f"{mended.board}.board.json").read_bytes())
    memory = board.memory
    vendor = memory.vendors[0]
    facts = {"kind": "chip", "marking": f"{vendor} {memory.gbit} Gbit", "vendor": vendor, "volts": 1.35}
    facts |= {"gbit": memory.gbit, "width": memory.width, "speed": memory.speed, "origin": "bought of Kelda Parts"}
    label, _ = take_in(NewPart(entry, facts, "tray A1", "", "new"), by)
    StockMove.objects.filter(label=label).update(at=at)
    return label


def _clock(job: Job, mended: Mended, by: User) -> None:
    """The clock at Ohms, Memory and Rework."""
    begun = job.opened_at + timedelta(days=1)
    for step, took in (
        ("ohms", mended.ohms),
        ("memory", 25.0),
        ("rework", sum(minutes for _, _, minutes in mended.tried)),
    ):
        ended = begun + timedelta(minutes=took)
        ClockSpan.objects.create(id=_entry(job, f"clock {step}"), job=job, by=by, at=begun, step=step, ended_at=ended)
        begun = ended


def _entry(job: Job, name: str) -> UUID:
    return uuid5(NAMESPACE_URL, f"uvrix-demo/{job.entry}/{name}")
