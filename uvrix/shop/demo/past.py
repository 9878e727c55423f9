"""The demo shop's past: closed jobs with what they turned out to have, and a card that comes back."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from uuid import NAMESPACE_URL, UUID, uuid5

from django.utils import timezone

from uvrix.shop.accounts.models import User
from uvrix.shop.arrive.services import NewSymptom, say_symptom
from uvrix.shop.demo.ohms import read_whole
from uvrix.shop.hypotheses.services import NewWord, say
from uvrix.shop.jobs.services import NewJob, open_job

JOINT, CORE = "Joint of a memory chip", "Joints of the core"
PLUG_PARTS, STAGE = "Small parts behind the power plugs knocked off", "Power stage with input joined to output"
WARRANTY_DAYS = 365
# Cards of this model were read at Ohms.
READ = "teal-8"


@dataclass(frozen=True, slots=True)
class PastJob:
    """A closed job: `days` ago it came, `kinds` of symptoms, the cause that was confirmed and by what."""

    serial: str
    board: str
    customer: str
    complaint: str
    days: int
    kinds: tuple[str, ...]
    cause: str
    by_what: str


PAST = (
    PastJob("TL8-55871", "teal-8", "Isolde Marsh", "One fan rattles.", 190, ("hot",), "Fan bearing worn",
            "turned by hand, it scrapes"),
    PastJob("TL8-52210", "teal-8", "Wick & Daughter", "Coloured blocks when warm.", 170, ("artefacts",), JOINT,
            "clean for two hours after the reball of U14"),
    PastJob("TL8-52877", "teal-8", "Bram Osier", "Snow, then it hangs.", 150, ("artefacts", "hangs"), JOINT,
            "clean after the reball of U15"),
    PastJob("SC24-0071", "scaup-24", "Lowen Computers", "Render fails on long jobs.", 140, ("hangs",),
            "Memory chip with failing cells", "the fault left with U34"),
    PastJob("TL8-53301", "teal-8", "Petra Quill", "Green squares, everywhere.", 120, ("artefacts",), CORE,
            "both channels of one controller fail, and move with flexing"),
    PastJob("GG8-30115", "garganey-8", "Tobin Reave", "Lines on the screen.", 100, ("artefacts",), JOINT,
            "clean after the reball of M3"),
    PastJob("TL8-53900", "teal-8", "Nerys Loch", "Black screen since it fell.", 80, ("no-picture",), PLUG_PARTS,
            "C121 and C122 missing against the reference photograph; starts with both fitted"),
    PastJob("TL8-54002", "teal-8", "Hale Studio", "Black screen, smelled hot.", 60, ("no-picture", "burnt"), STAGE,
            "plug 2 short, gone with U74 lifted"),
)  # fmt: skip


def past_job(past: PastJob, desk: User, technician: User) -> None:
    """Open it, say what it had, close it."""

    def entry(name: str) -> UUID:
        return uuid5(NAMESPACE_URL, f"uvrix-demo/{past.serial}/past/{name}")

    opened = timezone.now() - timedelta(days=past.days)
    new = NewJob(entry("job"), past.serial, past.board, past.customer, past.complaint)
    job, _ = open_job(new, desk, opened)
    say_symptom(job, NewSymptom(entry("symptom"), "often", kinds=past.kinds), technician)
    say(job, NewWord(entry("cause"), past.cause, "confirmed", past.by_what, "prove"), technician)
    if past.board == READ:
        read_whole(job, technician)
    job.closed_at = opened + timedelta(days=9)
    job.warranty_until = (job.closed_at + timedelta(days=WARRANTY_DAYS)).date()
    job.save(update_fields=["closed_at", "warranty_until"])
