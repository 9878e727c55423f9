"""The report that goes with a card: what was found and done, parts in and out, proof, what is weak, warranty.

It says what concerns the customer and nothing of the shop's insides: no technicians, no prices paid, no
chances, no other customers' cards.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, cast

from uvrix.core.boards.contacts import contact_words
from uvrix.core.boards.views import Orientation
from uvrix.core.rework.acts import DOES, PUTS_ON, TAKES_OFF, Do, told_of
from uvrix.core.values.codes import code_words
from uvrix.language import gettext
from uvrix.shop.acts.queries import of_job
from uvrix.shop.clock.queries import money
from uvrix.shop.config.paper import pdf
from uvrix.shop.jobs.boards import boards_of
from uvrix.shop.jobs.models import Job, JobBoard
from uvrix.shop.library.printing import board_picture
from uvrix.shop.library.queries import model_board
from uvrix.shop.promises.queries import Owed, owed
from uvrix.shop.proving.queries import proof_context
from uvrix.shop.returning.models import Return
from uvrix.shop.returning.queries import STAYS_OFF
from uvrix.shop.stock.parts import stock
from uvrix.shop.teardown.queries import fitted as layers_fitted


@dataclass(frozen=True, slots=True)
class Fitted:
    """A part that came onto the card, where, and where from, in the customer's words."""

    site: str
    origin: str


@dataclass(frozen=True, slots=True)
class Report:
    """What the report says."""

    label: str
    card: str
    serial: str
    complaint: str
    found: str
    done: tuple[str, ...]
    fitted: tuple[Fitted, ...]
    removed: tuple[str, ...]
    cooling: tuple[str, ...]
    proof: tuple[tuple[str, str, str], ...]
    pairs: tuple[tuple[str, str, str], ...]
    weak: tuple[str, ...]
    handling: str
    no_fix: str
    left_off: tuple[str, ...]
    warranty: str
    price: str
    closed: str
    sites: tuple[str, ...]


# What an act that names no part is of.
OF_ALL = {"bake": gettext("The whole card"), "write": gettext("Firmware")}
STATES = {
    "passed": gettext("passed"),
    "failed": gettext("failed"),
    "open": gettext("not done"),
    "refused": gettext("not done"),
}


def report_of(job: Job) -> Report:
    """The report of a job as it stands."""
    returned = Return.objects.filter(job=job).last()
    proof = proof_context(job)
    rows = list(of_job(job))
    fitted, removed = _parts(job, rows)
    done = [returned.done] if returned and returned.done else []
    done += [_went_on(move) for move in boards_of(job)] + _done(rows)
    checks = []
    for check in proof.checks:
        waived = check.check.id in proof.waived
        state = gettext("waived by agreement") if waived and check.state != "passed" else STATES[check.state]
        checks.append((check.check.name, state, " ".join(check.why) if check.state == "passed" else ""))
    pairs = [(pair.name, _figure(pair.before, pair.unit), _figure(pair.after, pair.unit)) for pair in proof.pairs]
    shop = money()
    return Report(
        job.label,
        str(job.card.model),
        job.card.serial,
        job.complaint,
        returned.found if returned else "",
        tuple(done),
        fitted,
        removed,
        tuple(layer.words for layer in layers_fitted(job)),
        () if returned and returned.no_fix else tuple(checks),
        tuple(pairs),
        tuple(
            dict.fromkeys(
                told.format(contact_words(row.site)) for row in rows if (told := told_of(cast("Do", row.do), row.way))
            )
        ),
        returned.handling if returned else "",
        returned.no_fix if returned else "",
        tuple(map(_left, (debt for debt in owed(job) if debt.kind in STAYS_OFF)))
        if returned and returned.no_fix
        else (),
        shop.day(job.warranty_until) if job.warranty_until else "",
        shop.amount(returned.price) if returned and returned.price is not None else "",
        shop.day(job.closed_at) if job.closed_at else "",
        tuple(dict.fromkeys(row.site for row in rows if row.site)),
    )


def _left(debt: Owed) -> str:
    """A part that a card leaves without, as its owner reads it."""
    what = debt.part or gettext("a part without a name")
    came_so = debt.key.startswith("lookfinding:")
    return f"{what}: {gettext('missing as it came') if came_so else gettext('off the board')}"


def _went_on(move: JobBoard) -> str:
    """The sentence that the card lives on another board, which is not what its owner sent."""
    return gettext(
        "Core and memory were moved from the board {serial} to another board, {serial_2}. The "
        "tests below are of the card as it is now.",
        serial=move.before.serial,
        serial_2=move.after.serial,
    )


def _done(rows: Sequence[Any]) -> list[str]:
    """Steps by place, each named once: "U16: removed, pads cleaned, placed"."""
    by_site: dict[str, list[str]] = {}
    for row in rows:
        of_all = OF_ALL.get(row.do, row.chip.rpartition("/")[2])
        steps = by_site.setdefault(row.site or of_all, [])
        words = DOES[cast("Do", row.do)]
        if words not in steps:
            steps.append(words)
    return [f"{contact_words(site)}: {', '.join(steps)}." for site, steps in by_site.items()]


def _parts(job: Job, rows: Sequence[Any]) -> tuple[tuple[Fitted, ...], tuple[str, ...]]:
    """Parts that stand on the card now and came from elsewhere, with their origin; parts that went from it."""
    at = stock()
    fitted, removed = {}, {}
    for row in rows:
        if row.do in PUTS_ON and not row.chip_in:
            fitted[row.site] = Fitted(row.site, gettext("another part of the shop's stock"))
        elif row.do in TAKES_OFF:
            fitted.pop(row.site, None)
        if row.chip_in and row.chip_in != f"{job.card.serial}/{row.site}":
            life = at.lived([row.chip_in]).get(row.chip_in)
            if life and life.place.name == f"{job.card.serial}/{row.site}":
                fitted[row.site] = Fitted(row.site, _origin(row.chip_in, at.facts_of(row.chip_in), life.condition))
        if row.do in {"remove", "swap"} and row.chip.startswith(f"{job.card.serial}/"):
            life = at.lived([row.chip]).get(row.chip)
            if life and life.place.card != job.card.serial:
                removed[row.site] = row.site
    return tuple(fitted.values()), tuple(removed.values())


def _origin(label: str, facts: Any, condition: str) -> str:
    """Where a part is from, without naming another customer's card."""
    if "/" in label:
        return gettext("a used part, taken from a donor card and tested")
    if condition == "new":
        return gettext("a new part")
    if condition:
        return gettext("a part of the shop's stock, {condition}", condition=code_words(condition))
    return gettext("a part of the shop's stock")


def _figure(value: float | None, unit: str) -> str:
    return "" if value is None else f"{value:.1f} {unit}".strip()


def report_pdf(job: Job, shop: str) -> bytes:
    """The report on A4."""
    said, board = report_of(job), model_board(job.card.model)
    picture = board_picture(board, Orientation("front", 0), said.sites, 170) if board else ""
    return pdf(
        "returning/report.html",
        gettext("{label} report", label=said.label),
        report=said,
        shop=shop,
        picture=picture,
        sites=", ".join(said.sites),
    )
