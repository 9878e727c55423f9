"""The demo's proofs: a repaired card with its runs before and after, an offer that waits, a letter, cards asked after."""

from __future__ import annotations

import json
from datetime import timedelta
from typing import Any
from uuid import NAMESPACE_URL, UUID, uuid5

from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone

from uvrix.core.virtual.test_computer import COLUMNS, identity
from uvrix.core.virtual.test_computer import run_log as virtual_log
from uvrix.shop.accounts.models import User
from uvrix.shop.bench.models import MemoryRun
from uvrix.shop.bench.services import DroppedReport, add_run
from uvrix.shop.demo.ohms import read_whole
from uvrix.shop.demo.times import while_here
from uvrix.shop.jobs.models import Job
from uvrix.shop.offers.services import NewMessage, NewOffer, drafted, make_offer, send
from uvrix.shop.ohms.models import Reading
from uvrix.shop.ohms.services import NewPower, set_power_state, tick
from uvrix.shop.proving.models import CardIdentity, CheckSaid, ProofFigure, ProofLog
from uvrix.shop.proving.services import NewLog, NewSaid, keep_figure, keep_identity, keep_log, say_check, say_columns
from uvrix.shop.returning.models import FollowUp
from uvrix.shop.volts.models import FirstDraw, Rung
from uvrix.shop.volts.services import NewDraw, NewRung, enter_draw, enter_rung

PROVEN, ASKED = "TL8-54100", "TL8-55210"
SAID = (
    ("outputs", None, "All four, one after another."),
    ("plugs", None, "Nothing moves."),
    ("fans", None, "From every position."),
    ("loads", 75.0, "Two programs, nothing odd."),
)
SCORES = (("TL8-52210", 10_120), ("TL8-52877", 10_045), ("TL8-53301", 10_210), ("TL8-53900", 10_090))


def run_log(name: str, end_c: float, minutes: float) -> str:
    """A run of the demo's test computer."""
    return virtual_log(f"uvrix-demo run {name}", end_c, minutes)


def proven(lead: User, by: User, desk: User) -> None:
    """Fill it; expects the demo's jobs and rework."""
    say_columns(dict(COLUMNS), lead)
    job = Job.objects.get(card__serial=PROVEN)
    _after_run(job)
    _measured(job, by)
    before, after = run_log("before", 91, 12).encode(), run_log("after", 74, 44).encode()
    keep_log(job, NewLog(_entry("before"), "before.csv", before, "stress", "before"), by)
    keep_log(job, NewLog(_entry("after"), "stress-44-min.csv", after, "stress"), by)
    seen = identity("Teal 8", 8192, 16)
    keep_identity(job, _entry("identity"), json.dumps(seen).encode(), "after", by)
    keep_figure(job, _entry("noise before"), ("noise", "before", 49.0), "", by)
    keep_figure(job, _entry("noise after"), ("noise", "after", 41.0), "", by)
    keep_figure(job, _entry("score"), ("score", "after", 10_140.0), "", by)
    for check, minutes, note in SAID:
        say_check(job, NewSaid(_entry(check), check, passed=True, minutes=minutes, note=note), by)
    overnight = job.opened_at + timedelta(days=3, hours=9)
    say_check(job, NewSaid(_entry("cold"), "cold-start", passed=True, off_since=overnight, note="Picture at once."), by)
    kinds: tuple[type[Any], ...] = (ProofLog, CardIdentity, ProofFigure, CheckSaid)
    for number, rows in enumerate(kinds):
        rows.objects.filter(job=job).update(at=job.opened_at + timedelta(days=4, hours=number))
    for serial, score in SCORES:
        other = Job.objects.filter(card__serial=serial).earliest("opened_at")
        keep_figure(while_here(other), _entry(f"score {serial}"), ("score", "after", float(score)), "", by)
        # what the model draws at rest is known from cards that came to 3D here
        then, amps = other.opened_at + timedelta(days=2), 0.6 + (score - 10_000) / 8_000
        FirstDraw.objects.create(job=other, by=by, at=then, volts=12.0, amps=round(amps, 2), limit_amps=1.5)
        Rung.objects.create(job=other, by=by, at=then, rung="3d", picture_of="card")
    _asked(desk)
    for serial in ("TL8-53900", "TL8-54002"):
        past = Job.objects.filter(card__serial=serial).earliest("opened_at")
        due = (timezone.now() - timedelta(days=1)).date()
        FollowUp.objects.create(job=past, by=by, at=past.opened_at, due=due, words="Question 1 after return")


def _after_run(job: Job) -> None:
    """What was done to it came after the run that found the fault."""
    for number, row in enumerate(job.act_rows.all()):
        row.at = job.opened_at + timedelta(days=1, minutes=20 * number)
        row.save(update_fields=["at"])


def _measured(job: Job, by: User) -> None:
    """Read cold, drawn on the supply, seen in a computer, its memory tested cold and warm: all after the repair."""
    at = job.opened_at + timedelta(days=2)
    read_whole(job, by)
    job.reading_rows.update(at=at)  # after the rework, or power stays locked
    for fuse in ("F1", "F2", "F3"):
        tick(job, _entry(f"tick {fuse}"), fuse, "", by)
    set_power_state(job, NewPower(_entry("supply"), "supply", plugs_in=True), by)
    enter_draw(job, NewDraw(_entry("draw"), 12.0, 0.62, 1.5, ""), by)
    set_power_state(job, NewPower(_entry("computer"), "computer", plugs_in=True), by)
    enter_rung(job, NewRung(_entry("rung"), "3d", "card"), by)
    kinds: tuple[type[Any], ...] = (Reading, FirstDraw, Rung)
    for number, rows in enumerate(kinds):
        rows.objects.filter(job=job).update(at=at + timedelta(minutes=20 * number))
    for number, row in enumerate(job.powerstate_rows.order_by("at", "pk")):
        type(row).objects.filter(pk=row.pk).update(at=at + timedelta(minutes=19 * number))
    # memory that was opened is tried cold once more after it ran warm
    for number, name in enumerate(("cold", "warm", "cold again")):
        text = f"# result: pass\n# condition: {name.split()[0]}\nchannel\n".encode()
        run = _entry(f"run {name}")
        file = SimpleUploadedFile(f"{name}.csv", text)
        add_run(job, DroppedReport(run, file, another=True, board_confirmed=True), by)
        MemoryRun.objects.filter(pk=run).update(added_at=at + timedelta(hours=1 + number))


def _asked(desk: User) -> None:
    """The offer that the shelf says is asked, and the letter about it."""
    job = Job.objects.get(card__serial=ASKED)
    job.customer.contact = "petra.quill@example.invalid"
    job.customer.save(update_fields=["contact"])
    options = (
        {"name": "Replace the two chips that fail", "price": 140.0, "chance": 0.62, "against_advice": True,
         "consequence": "Six of the same lot stay on the card."},
        {"name": "Replace all eight", "price": 424.0, "chance": 0.92, "against_advice": False,
         "consequence": "None of that lot is left."},
        {"name": "Send it back as it is", "price": 25.0, "chance": None, "against_advice": False,
         "consequence": "The time for finding the fault is charged."},
    )  # fmt: skip
    found = "Two memory chips of one controller fail, U15 and U16. All eight are of a lot that failed here before."
    waits = job.waits_for
    offer, _ = make_offer(job, NewOffer(_entry("offer"), waits.split("?")[0] + "?", found, options), desk)
    offer.at = timezone.now() - timedelta(days=6)
    offer.save(update_fields=["at"])
    draft = drafted(job, "options")
    message, _ = send(job, NewMessage(_entry("letter"), draft.to, draft.subject, draft.text, "http://127.0.0.1:8417",
                                      "options"), desk)  # fmt: skip
    message.at = timezone.now() - timedelta(days=6)
    message.save(update_fields=["at"])
    job.refresh_from_db()
    job.waits_for = waits
    job.save(update_fields=["waits_for"])


def _entry(name: str) -> UUID:
    return uuid5(NAMESPACE_URL, f"uvrix-demo/proving/{name}")
