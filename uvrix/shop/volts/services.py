"""Entering what the powered card did."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated
from uuid import UUID, uuid5

from django.db import transaction

from uvrix.core.rework.acts import Do
from uvrix.core.startup.ladder import RUNGS
from uvrix.core.startup.refuted import CAME_OF, SAYS, CameOf
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.acts.models import Act
from uvrix.shop.case.acting import NewAct, enter_act, entered
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import chosen, given
from uvrix.shop.hypotheses.services import NewWord, say
from uvrix.shop.jobs.leaving import must_be_at_hand
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.rows import keep_row
from uvrix.shop.ohms.models import Reading
from uvrix.shop.ohms.nodes import map_of
from uvrix.shop.ohms.queries import power_state, reading_context
from uvrix.shop.ohms.services import begin_sweep
from uvrix.shop.volts.models import FirstDraw, PhaseSeen, RailLoad, Rung
from uvrix.shop.volts.queries import volts_context


@dataclass(frozen=True, slots=True)
class NewDraw:
    """What the card drew on the supply."""

    id: UUID
    volts: Annotated[float, given(min_value=0, max_value=20)]
    amps: Annotated[float, given(min_value=0, max_value=60)]
    limit_amps: Annotated[float | None, given(min_value=0, max_value=60)] = None
    note: Annotated[str, given(max_length=200, allow_blank=True)] = ""


@transaction.atomic
def enter_draw(job: Job, new: NewDraw, by: User) -> tuple[FirstDraw, bool]:
    """A current on the supply, and whether it is new.

    Raises Problem 409 `not-on` where nobody said that the card is on the supply, `left` where it left.
    """
    if not FirstDraw.objects.filter(pk=new.id).exists():
        must_be_at_hand(job)
        stands = power_state(job)
        if stands is None or stands.state != "supply":
            raise Problem(409, "not-on", gettext("First set the card to on the supply: power is checked there."))
    fields = {"volts": new.volts, "amps": new.amps, "limit_amps": new.limit_amps, "note": new.note}
    return keep_row(FirstDraw, job, new.id, by, **fields)


@dataclass(frozen=True, slots=True)
class NewRung:
    """How far the card came in a computer."""

    id: UUID
    rung: Annotated[str, chosen(RUNGS)]
    picture_of: Annotated[str, chosen(["card", "other", ""])] = ""
    beep: Annotated[str, given(max_length=40, allow_blank=True)] = ""
    beep_seconds: Annotated[float | None, given(min_value=0, max_value=600)] = None
    note: Annotated[str, given(max_length=200, allow_blank=True)] = ""


@transaction.atomic
def enter_rung(job: Job, new: NewRung, by: User) -> tuple[Rung, bool]:
    """A rung, and whether it is new. Raises Problem 422 `whose` where a picture came and nobody says whose it is."""
    if new.rung == "picture" and not new.picture_of:
        raise Problem(
            422, "whose", gettext("found a picture, expected whose it is: this card's, or the other adapter's")
        )
    fields = {"rung": new.rung, "picture_of": new.picture_of, "beep": new.beep, "note": new.note}
    return keep_row(Rung, job, new.id, by, beep_seconds=new.beep_seconds, **fields)


@transaction.atomic
def see_phase(job: Job, entry: UUID, designator: str, read: tuple[float | None, float | None], by: User) -> bool:
    """What was read at a phase, kilohertz and degrees; gives whether it is new.

    Raises Problem 422 where the model has no such phase, or nothing was read.
    """
    board = reading_context(job).board
    if board is None or designator not in {phase.designator for phase in board.phases}:
        raise Problem(
            422,
            "unknown-phase",
            gettext("found the phase {designator}, expected one of this model's", designator=repr(designator)),
        )
    if read == (None, None):
        raise Problem(422, "nothing-read", gettext("found neither a frequency nor a temperature, expected one of them"))
    return keep_row(PhaseSeen, job, entry, by, designator=designator, khz=read[0], celsius=read[1])[1]


@transaction.atomic
def load_rail(job: Job, entry: UUID, rail: str, amps: float, by: User) -> bool:
    """What a rail draws while its phases are compared; gives whether it is new."""
    return keep_row(RailLoad, job, entry, by, rail=rail, amps=amps)[1]


# How an act is called where a part is tried for a node.
DONE: Mapping[str, Do] = {"replaced": "swap", "renewed": "renew-joint", "removed": "remove"}
DONE_WORDS = {do: words for words, do in DONE.items()}


@dataclass(frozen=True, slots=True)
class NewPartTried:
    """A part tried because a node was missing; `done` replaced, renewed or removed, `came_of` of CAME_OF."""

    id: UUID
    node: Annotated[str, given(max_length=80)]
    part: Annotated[str, given(max_length=64)]
    done: Annotated[str, chosen(list(DONE))]
    came_of: Annotated[CameOf, chosen(list(CAME_OF))]
    note: Annotated[str, given(max_length=200, allow_blank=True)] = ""


@transaction.atomic
def try_part(job: Job, new: NewPartTried, by: User) -> tuple[Act, bool]:
    """A part tried, and whether it is new: no change rules a hypothesis out, a cure confirms it.

    A cure begins a new pass in Ohms, since several faults in a row are common. Raises Problem 422 where the map has no
    such node.
    """
    if known := entered(job, new.id, by):
        return known
    found = map_of(job)
    node = next((candidate for candidate in found.chain.nodes if candidate.id == new.node), None) if found else None
    if node is None:
        raise Problem(
            422, "unknown-node", gettext("found the node {node}, expected one of this model's map", node=repr(new.node))
        )
    part = new.part.strip()
    cured = new.came_of != "no-change"
    word = NewWord(
        uuid5(new.id, "hypothesis"),
        f"{part} ({node.name})"[:120],
        "confirmed" if cured else "ruled-out",
        f"{new.done}: {SAYS[new.came_of]}",
        "Volts",
    )
    say(job, word, by)
    if cured:
        begin_sweep(job, uuid5(new.id, "pass"), gettext("After {part} was {done}", part=part, done=new.done)[:60], by)
    read = volts_context(job).read.get(new.node)
    more = {"node": new.node, "came_of": new.came_of, "note": new.note}
    kept = enter_act(job, NewAct(new.id, DONE[new.done], "volts", part, more=more), by)
    if read and not cured:
        _read_as_before(job, read, uuid5(new.id, "as-before"), by)
    return kept


def _read_as_before(job: Job, read: Reading, entry: UUID, by: User) -> None:
    """What a node read before a part was tried it reads still: said by "no change", and entered once with it."""
    names = ("point", "quantity", "mode", "text", "low", "high", "to", "polarity", "condition", "meter", "lead_ohms")
    keep_row(Reading, job, entry, by, **{name: getattr(read, name) for name in names}, note=gettext("as before"))
