"""The morning check of the shop's meters: its standard, and what each meter read."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated
from uuid import UUID

from django.db import transaction
from django.db.models import QuerySet
from django.utils import timezone

from uvrix.core.errors import Refusal
from uvrix.core.readings.morning import KINDS, Checked, Kind, check_card, check_leads, check_resistor
from uvrix.core.readings.notation import Quantity, Value, parse_value
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import given
from uvrix.shop.ohms.models import KnownReading, Meter, MeterCheck, MorningStandard, ReferenceCard
from uvrix.shop.ohms.services import without_leads

OHMS: Quantity = "resistance"
USUAL_TOLERANCE = 0.02
# This many former readings of the leads say what is usual.
MOST_PAST = 30


@dataclass(frozen=True, slots=True)
class NewStandard:
    """What meters are to be held against: a resistor with its tolerance as a share, a good card at a point."""

    resistor_ohms: Annotated[float | None, given(min_value=0.1, max_value=10000000.0)] = None
    tolerance: Annotated[float, given(min_value=0.0001, max_value=0.5)] = USUAL_TOLERANCE
    reference: UUID | None = None
    point: Annotated[str, given(max_length=130, allow_blank=True)] = ""


def standard() -> MorningStandard | None:
    """The shop's standard; None where none was set."""
    return MorningStandard.objects.select_related("reference", "by").order_by("-at", "-pk").first()


def set_standard(new: NewStandard, by: User) -> MorningStandard:
    """Set it. Raises Problem 422 where the card was not captured at that point."""
    reference = ReferenceCard.objects.filter(pk=new.reference).first() if new.reference else None
    if new.reference and (reference is None or not _captured(reference, new.point).exists()):
        detail = gettext(
            "found the point {point}, expected one where that card's ohms were captured", point=repr(new.point)
        )
        raise Problem(422, "not-captured", detail)
    fields = {"resistor_ohms": new.resistor_ohms, "tolerance": new.tolerance}
    return MorningStandard.objects.create(**fields, reference=reference, point=new.point if reference else "", by=by)


def _captured(reference: ReferenceCard, point: str) -> QuerySet[KnownReading]:
    return reference.readings.filter(point=point, quantity=OHMS, to="ground", out_at=None)


@transaction.atomic
def check_meter(meter: Meter, entry: UUID, kind: Kind, text: str, by: User) -> tuple[MeterCheck, bool]:
    """A meter's reading held against the standard, and whether the entry is new.

    What the leads read is taken off the meter's readings from then on, where it passes. Raises Problem 422 where the
    value is none, 409 `no-standard` where the shop has set none of that kind.
    """
    if known := MeterCheck.objects.filter(pk=entry).first():
        return known, False
    try:
        read = parse_value(text, OHMS)
    except Refusal as refusal:
        raise Problem(
            422,
            "no-value",
            gettext("found {found}, expected {expected}", found=refusal.found, expected=refusal.expected),
        ) from None
    said = _checked(meter, kind, read)
    fields = {"kind": kind, "text": text.strip(), "low": read.low, "high": read.high}
    row = MeterCheck.objects.create(pk=entry, meter=meter, passed=said.passed, says=said.says, by=by, **fields)
    if kind == "leads" and said.passed and read.middle is not None:
        meter.lead_ohms = read.middle
        meter.save(update_fields=["lead_ohms"])
    return row, True


def _checked(meter: Meter, kind: Kind, read: Value) -> Checked:
    if kind == "leads":
        past = meter.checks.filter(kind="leads", passed=True).order_by("-at")[:MOST_PAST]
        return check_leads(read, [check.low for check in past if check.low is not None])
    held = standard()
    alone = without_leads(read, meter.lead_ohms)
    if kind == "resistor":
        if held is None or held.resistor_ohms is None:
            raise Problem(409, "no-standard", gettext("No standard resistor is set for this check."))
        return check_resistor(alone, held.resistor_ohms, held.tolerance)
    if held is None or held.reference is None:
        raise Problem(409, "no-standard", gettext("No known-good card is set for this check."))
    known = _captured(held.reference, held.point).order_by("-pk").first()
    if known is None:
        raise Problem(
            409,
            "no-standard",
            gettext("{card} has no reading at {point} any more.", card=held.reference.card, point=held.point),
        )
    return check_card(
        alone, Value(known.low, known.high), gettext("{point} of {card}", point=held.point, card=held.reference.card)
    )


def todays_checks() -> dict[int, dict[str, MeterCheck]]:
    """The newest check of each kind made today, by meter."""
    found: dict[int, dict[str, MeterCheck]] = {}
    today = timezone.localtime().replace(hour=0, minute=0, second=0, microsecond=0)
    for check in MeterCheck.objects.filter(at__gte=today).select_related("by"):
        found.setdefault(check.meter_id, {})[check.kind] = check
    return found


def morning_word(checks: dict[str, MeterCheck], held: MorningStandard | None) -> str:
    """How a meter stands today: `failed`, `passed` where all that the shop keeps was checked, else `open`."""
    if any(not check.passed for check in checks.values()):
        return "failed"
    return "passed" if set(kinds_kept(held)) <= set(checks) else "open"


def kinds_kept(held: MorningStandard | None) -> tuple[Kind, ...]:
    """The kinds of check that the shop can make."""
    has = {"leads": True, "resistor": bool(held and held.resistor_ohms), "card": bool(held and held.reference_id)}
    return tuple(kind for kind in KINDS if has[kind])
