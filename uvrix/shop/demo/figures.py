"""The demo's past as figures need it: how past cards left, what they took, and one that came back for something else."""

from __future__ import annotations

from datetime import timedelta
from uuid import NAMESPACE_URL, UUID, uuid5

from uvrix.shop.accounts.models import User
from uvrix.shop.clock.models import ClockSpan
from uvrix.shop.demo.past import PAST
from uvrix.shop.demo.times import while_here
from uvrix.shop.jobs.models import Job
from uvrix.shop.returning.models import Return
from uvrix.shop.returning.services import say_comeback
from uvrix.shop.rework.services import NewRework, enter_rework

# What each took: price, minutes at Ohms, Memory and Rework.
TOOK = {
    "TL8-55871": (35, 0, 0, 25), "TL8-52210": (120, 20, 30, 70), "TL8-52877": (120, 15, 25, 65), "SC24-0071": (210, 25, 40, 95),
    "TL8-53301": (150, 30, 45, 120), "GG8-30115": (110, 20, 30, 60), "TL8-53900": (90, 45, 10, 40), "TL8-54002": (130, 60, 0, 55),
}  # fmt: skip
READ_AFTER = "TL8-53900"


def counted(by: User) -> None:
    """Fill it; expects the demo's past."""
    for past_job in PAST:
        job = Job.objects.filter(card__serial=past_job.serial).earliest("opened_at")
        assert job.closed_at is not None
        price, *minutes = TOOK[past_job.serial]
        for step, took in zip(("ohms", "memory", "rework"), minutes, strict=True):
            if took:
                begun = job.opened_at + timedelta(days=1)
                ended = begun + timedelta(minutes=took)
                ClockSpan.objects.create(
                    id=_entry(f"{past_job.serial} {step}"), job=job, by=by, at=begun, step=step, ended_at=ended
                )
        Return.objects.create(id=_entry(past_job.serial), job=job, by=by, at=job.closed_at, way="parcel", found=f"{past_job.cause}.",
                              done="", price=float(price), warranty_days=365)  # fmt: skip
    fixed = Job.objects.filter(card__serial=READ_AFTER).earliest("opened_at")
    row, _ = enter_rework(
        while_here(fixed),
        NewRework(_entry("renewed"), "renew-joint", "C121", note="Both fitted by the photograph."),
        by,
    )
    row.at = fixed.opened_at + timedelta(hours=20)
    row.save(update_fields=["at"])
    again = Job.objects.filter(card__serial="TL8-55871").latest("opened_at")
    before = Job.objects.filter(card__serial="TL8-55871").earliest("opened_at")
    say_comeback(again, _entry("back"), before, ("new", "Memory now; the fan is well."), by)


def _entry(name: str) -> UUID:
    return uuid5(NAMESPACE_URL, f"uvrix-demo/figures/{name}")
