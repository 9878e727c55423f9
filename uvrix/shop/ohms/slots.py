"""The slot contacts of a job: what was read, what is torn, the width that the link will train at."""

from __future__ import annotations

from dataclasses import dataclass

from uvrix.core.boards.contacts import Contact, contacts, lanes_of
from uvrix.core.readings.notation import Value
from uvrix.core.readings.slot import CAPACITOR, SLOT, ContactJudged, SlotContext, judge_contacts, route, slot_context
from uvrix.shop.jobs.models import Job
from uvrix.shop.look.models import LookFinding
from uvrix.shop.look.queries import torn_contacts
from uvrix.shop.ohms.models import Reading
from uvrix.shop.ohms.queries import pins, reading_context, value_of


@dataclass(frozen=True, slots=True)
class JobSlot:
    """The contacts, what was read at each (the newest by point), what is torn, and what follows."""

    contacts: tuple[Contact, ...]
    lanes: int
    route: tuple[str, ...]
    readings: tuple[tuple[Reading, ContactJudged | None], ...]
    torn: tuple[LookFinding, ...]
    found: SlotContext


def job_slot(job: Job) -> JobSlot:
    """What the slot contacts of a job's card say."""
    rows = [row for row in pins(job) if row.point.split(".")[0] in {SLOT, CAPACITOR}]
    diode = {row.point: value_of(row) for row in rows if row.quantity == "diode" and row.to == "ground"}
    across = {row.point: value_of(row) for row in rows if row.quantity == "resistance" and row.to == "across"}
    lanes = lanes_of(reading_context(job).board)
    torn = tuple(torn_contacts(job))
    judged = judge_contacts(diode)
    return JobSlot(
        contacts(),
        lanes,
        route(lanes),
        tuple((row, _judged(row, judged)) for row in rows),
        torn,
        slot_context(diode, across, {finding.part for finding in torn}, lanes),
    )


def judge_contact(job: Job, row: Reading) -> ContactJudged | None:
    """One reading at a contact, by all that was read of this job; None where nothing judges it."""
    diode: dict[str, Value] = {
        pin.point: value_of(pin)
        for pin in pins(job)
        if pin.quantity == "diode" and pin.to == "ground" and pin.point.split(".")[0] in {SLOT, CAPACITOR}
    }
    return _judged(row, judge_contacts(diode))


def _judged(row: Reading, judged: dict[str, ContactJudged]) -> ContactJudged | None:
    return judged.get(row.point) if row.quantity == "diode" and row.to == "ground" else None
