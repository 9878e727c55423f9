"""Entering what the powered card did."""

from __future__ import annotations

from dataclasses import dataclass
from uuid import UUID

from django.db import transaction

from uvrix.shop.accounts.models import User
from uvrix.shop.config.problems import Problem
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.rows import keep_row
from uvrix.shop.ohms.queries import power_state
from uvrix.shop.volts.models import FirstDraw, Rung


@dataclass(frozen=True, slots=True)
class NewDraw:
    """What the card drew on the supply."""

    id: UUID
    volts: float
    amps: float
    limit_amps: float | None = None
    note: str = ""


@transaction.atomic
def enter_draw(job: Job, new: NewDraw, by: User) -> tuple[FirstDraw, bool]:
    """A current on the supply, and whether it is new.

    Raises Problem 409 `not-on` where nobody said that the card is on the supply.
    """
    if not FirstDraw.objects.filter(pk=new.id).exists():
        stands = power_state(job)
        if stands is None or stands.state != "supply":
            raise Problem(409, "not-on", "Say first that the card is on the supply: the gate has its say then.")
    fields = {"volts": new.volts, "amps": new.amps, "limit_amps": new.limit_amps, "note": new.note}
    return keep_row(FirstDraw, job, new.id, by, **fields)


@dataclass(frozen=True, slots=True)
class NewRung:
    """How far the card came in a computer."""

    id: UUID
    rung: str
    picture_of: str = ""
    beep: str = ""
    beep_seconds: float | None = None
    note: str = ""


@transaction.atomic
def enter_rung(job: Job, new: NewRung, by: User) -> tuple[Rung, bool]:
    """A rung, and whether it is new. Raises Problem 422 `whose` where a picture came and nobody says whose it is."""
    if new.rung == "picture" and not new.picture_of:
        raise Problem(422, "whose", "found a picture, expected whose it is: this card's, or the other adapter's")
    fields = {"rung": new.rung, "picture_of": new.picture_of, "beep": new.beep, "note": new.note}
    return keep_row(Rung, job, new.id, by, beep_seconds=new.beep_seconds, **fields)
