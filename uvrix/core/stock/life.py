"""The life of a part: every place that it was in, replayed from what was done at Rework and what was moved in Stock.

A part is in exactly one place at any time: on a card, in a tray, lent, in a set, in the hand (off a card and not put
away), or gone. Labels go with parts between cards (core.rework.events); one that a card came with is CARD/SITE.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Literal, cast

from uvrix.core.errors import Refusal
from uvrix.core.rework.acts import DOES, HEATS, Do
from uvrix.core.rework.events import original
from uvrix.core.values.codes import code_words
from uvrix.language import gettext

Move = Literal["received", "put", "lent", "back", "joined", "condition", "scrapped", "lost", "found", "used", "counted"]
MOVES: Mapping[Move, str] = {
    "received": gettext("received"),
    "put": gettext("put away"),
    "lent": gettext("lent"),
    "back": gettext("came back"),
    "joined": gettext("put with a set"),
    "condition": gettext("condition said"),
    "scrapped": gettext("scrapped"),
    "lost": gettext("lost"),
    "found": gettext("found again"),
    "used": gettext("used"),
    "counted": gettext("counted"),
}
Kind = Literal["card", "tray", "lent", "set", "hand", "gone", "nowhere"]
CONDITIONS = ("new", "tested", "pulled", "doubtful", "dead")
# Where each move takes a part; None leaves it where it is.
TAKES: Mapping[Move, Kind | None] = {
    "received": "tray",
    "put": "tray",
    "lent": "lent",
    "back": "tray",
    "joined": "set",
    "condition": None,
    "scrapped": "gone",
    "lost": "gone",
    "found": "tray",
    "used": None,
    "counted": None,
}


@dataclass(frozen=True, slots=True)
class Place:
    """Where a part is: `name` is CARD/SITE, a tray, who has it on loan, a set, or what became of it."""

    kind: Kind
    name: str = ""

    @property
    def words(self) -> str:
        """In words."""
        card, _, site = self.name.rpartition("/")
        said = {
            "card": gettext("on {site} of {card}", site=site, card=card),
            "tray": gettext("in {name}", name=self.name),
            "lent": gettext("lent to {name}", name=self.name),
            "set": gettext("with the set {name}", name=self.name),
            "hand": gettext("at the bench, not put away"),
            "gone": self.name,
            "nowhere": gettext("not received yet"),
        }
        return said[self.kind]

    @property
    def card(self) -> str:
        """The card that it is on; empty elsewhere."""
        return self.name.rpartition("/")[0] if self.kind == "card" else ""


NOWHERE = Place("nowhere")


@dataclass(frozen=True, slots=True)
class Happening:
    """Something that happened to parts: an act on a card's site, or a move of Stock of one `chip` `to`.

    `drawer` is the label of what is counted (a bag, a tape), of which one was taken: the label stays where it is.
    """

    at: datetime
    do: Do | Move
    chip: str = ""
    chip_in: str = ""
    card: str = ""
    site: str = ""
    to: str = ""
    condition: str = ""
    id: str = ""
    amount: float | None = None
    drawer: str = ""


@dataclass(frozen=True, slots=True)
class Step:
    """One step of a life: what was done, where the part was after it, how often it had been heated by then."""

    at: datetime | None
    do: str
    words: str
    place: Place
    cycles: int
    id: str = ""


@dataclass
class Life:
    """A part's life: its steps in the order of time; the last one says where it is.

    What is counted rather than labelled one by one (balls, small parts on a tape) has an amount; others None.
    """

    label: str
    steps: list[Step] = field(default_factory=list)
    condition: str = ""
    amount: float | None = None

    @property
    def place(self) -> Place:
        """Where it is now."""
        return self.steps[-1].place if self.steps else NOWHERE

    @property
    def cycles(self) -> int:
        """How often it was heated."""
        return self.steps[-1].cycles if self.steps else 0


def lives(happenings: Iterable[Happening]) -> dict[str, Life]:
    """Every part's life, by label. Raises Refusal where a move of Stock does not fit where the part was.

    Steps of Rework are taken as they are: they were checked against the whole card when they were entered.
    """
    found: dict[str, Life] = {}
    on: dict[tuple[str, str], str] = {}
    for happening in happenings:
        if happening.do in MOVES:
            _move(found.setdefault(happening.chip, _begun(happening.chip, on)), happening)
        else:
            _rework(found, on, happening)
    return found


def begun(label: str, *, on_card: bool) -> Life:
    """The life of a part of which nothing happened yet: on the card that its label names, or nowhere."""
    life = Life(label)
    if on_card:
        life.steps.append(_came_with(label))
    return life


def check_move(life: Life, move: Move, to: str) -> None:
    """Raise Refusal where a move does not fit: a part on a card comes off at Rework, what is lent comes back first."""
    place, takes = life.place, TAKES[move]
    if takes is None:
        return
    if place.kind == "card":
        raise Refusal(
            "do",
            f"{life.label} {place.words}",
            gettext("it off the card before it is {move}: at Rework", move=MOVES[move]),
        )
    if move == "back" and place.kind != "lent":
        raise Refusal("do", f"{life.label} {place.words}", gettext("it lent, to come back"))
    if place.kind == "lent" and move not in {"back", "lost"}:
        raise Refusal("do", f"{life.label} {place.words}", gettext("it back from the loan first"))
    if place.kind == "gone" and move not in {"found", "received"}:
        raise Refusal("do", f"{life.label} {place.words}", gettext("it found again first"))
    if move == "received" and place.kind not in {"nowhere", "gone"}:
        raise Refusal("do", f"{life.label} {place.words}", gettext("a part that is not here yet"))
    if move == "found" and place.kind not in {"gone", "nowhere", "hand"}:
        raise Refusal("do", f"{life.label} {place.words}", gettext("a part that was lost"))
    if takes in {"tray", "lent", "set"} and not to:
        raise Refusal("to", "nothing", {"tray": "which tray", "lent": "who has it", "set": "which set"}[takes])


def check_placing(life: Life) -> None:
    """Raise Refusal where a part is not at hand to be placed on a card: lent, scrapped or lost."""
    if life.place.kind in {"lent", "gone"}:
        raise Refusal("chip_in", f"{life.label} {life.place.words}", gettext("a part at hand"))
    if life.condition == "dead":
        raise Refusal(
            "chip_in",
            gettext("{label}, said to be dead", label=life.label),
            gettext("a part that works, or its condition said anew"),
        )


def _came_with(label: str) -> Step:
    card = label.rpartition("/")[0]
    return Step(None, "came", gettext("came with {card}", card=card), Place("card", label), 0)


def _begun(label: str, on: Mapping[tuple[str, str], str]) -> Life:
    """A part seen for the first time: on its own card, where nothing else is known of that place."""
    card, _, site = label.rpartition("/")
    return begun(label, on_card=bool(card) and (card, site) not in on)


def _move(life: Life, happening: Happening) -> None:
    move = cast("Move", happening.do)
    check_move(life, move, happening.to)
    takes = TAKES[move]
    place = life.place if takes is None else Place(takes, happening.to or MOVES[move])
    if happening.condition:
        life.condition = happening.condition
    said = (
        f"{MOVES[move]}: {code_words(happening.condition)}" if move == "condition" else f"{MOVES[move]}, {place.words}"
    )
    if takes == "gone":
        said = MOVES[move]
    if happening.amount is not None:
        said = f"{happening.amount:g} {said if takes else MOVES[move]}"
        before = life.amount or 0.0
        life.amount = {"counted": happening.amount, "used": before - happening.amount}.get(
            move, before + happening.amount
        )
    life.steps.append(Step(happening.at, move, said, place, life.cycles, happening.id))


def _rework(found: dict[str, Life], on: dict[tuple[str, str], str], happening: Happening) -> None:
    do = cast("Do", happening.do)
    heat, there = HEATS[do], (happening.card, happening.site)
    chip = happening.chip or (on.get(there, original(*there)) if happening.site else "")
    if chip:
        life = found.setdefault(chip, _begun(chip, on))
        off = do in {"remove", "swap"} and bool(happening.site)
        place = Place("hand") if off else life.place
        if off and not life.steps:
            life.steps.append(
                Step(None, "came", gettext("found on {card}", card=happening.card), Place("card", "/".join(there)), 0)
            )
        where = gettext(" on {site} of {card}", site=happening.site, card=happening.card) if happening.site else ""
        said = (
            gettext("removed from {site} of {card}", site=happening.site, card=happening.card)
            if off
            else f"{DOES[do]}{where}"
        )
        life.steps.append(Step(happening.at, do, said, place, life.cycles + heat.chip, happening.id))
    if do in {"remove", "swap", "cut-layers"} and happening.site:
        on[there] = ""
    if heat.card:
        for life in [life for life in found.values() if life.place.card == happening.card]:
            life.steps.append(Step(happening.at, do, DOES[do], life.place, life.cycles + heat.card, happening.id))
    if do in {"place", "swap"} and happening.drawer:
        drawer = found.setdefault(happening.drawer, Life(happening.drawer))
        drawer.amount = max((drawer.amount or 0.0) - 1.0, 0.0)
        said = gettext("one of it placed on {site} of {card}", site=happening.site, card=happening.card)
        drawer.steps.append(Step(happening.at, "place", said, drawer.place, drawer.cycles, happening.id))
        on[there] = ""
    if do in {"place", "swap"} and happening.chip_in:
        life = found.setdefault(happening.chip_in, _begun(happening.chip_in, on))
        on[there] = happening.chip_in
        said = gettext("placed on {site} of {card}", site=happening.site, card=happening.card)
        step = Step(
            happening.at, "place", said, Place("card", "/".join(there)), life.cycles + heat.chip_in, happening.id
        )
        life.steps.append(step)


@dataclass(frozen=True, slots=True)
class Crossing:
    """A part that came onto a card or went from it: at which site, from or to where."""

    label: str
    site: str
    other: str
    at: datetime | None


@dataclass(frozen=True, slots=True)
class Traffic:
    """What came onto a card from elsewhere, and what went from it and is not on it any more."""

    came: tuple[Crossing, ...]
    went: tuple[Crossing, ...]


def traffic(card: str, every: Mapping[str, Life]) -> Traffic:
    """The parts in and out of a card. `other` is the card that a part was on before, or is on after; else its place."""
    came, went = [], []
    for life in every.values():
        stays = [step for step in _stays(life) if step.place.kind == "card"]
        for before, after in zip([None, *stays], [*stays, None], strict=True):
            if after is not None and after.place.card == card and after.do != "came":
                from_card = before.place.card if before else ""
                if from_card != card:
                    came.append(Crossing(life.label, _site(after), from_card or "stock", after.at))
            if before is not None and before.place.card == card and life.place.card != card:
                left = _left(life, before)
                if after is not None and after.place.card != card:
                    went.append(Crossing(life.label, _site(before), after.place.card, left))
                elif after is None and life.place.kind != "card":
                    went.append(Crossing(life.label, _site(before), life.place.words, left))
    return Traffic(_in_time(came), _in_time(went))


def _stays(life: Life) -> list[Step]:
    """The steps at which it came to a place that it was not in before."""
    found: list[Step] = []
    for before, step in zip([None, *life.steps], life.steps, strict=False):
        if before is None or step.place != before.place:
            found.append(step)
    return found


def _left(life: Life, stay: Step) -> datetime | None:
    at = life.steps.index(stay)
    return next((step.at for step in life.steps[at + 1 :] if step.place != stay.place), None)


def _site(step: Step) -> str:
    return step.place.name.rpartition("/")[2]


def _in_time(found: list[Crossing]) -> tuple[Crossing, ...]:
    return tuple(sorted(found, key=lambda crossing: (crossing.at is not None, crossing.at or 0, crossing.label)))


@dataclass(frozen=True, slots=True)
class Lane:
    """A lane of the drawing: a card, or everything that is not on one; `y` counts lanes from above."""

    name: str
    kind: str
    y: int


@dataclass(frozen=True, slots=True)
class LaneSegment:
    """A part in a lane between two columns; where the lane changes, the line goes over to the next stretch."""

    label: str
    lane: int
    x1: int
    x2: int
    words: str
    at: datetime | None


@dataclass(frozen=True, slots=True)
class Genealogy:
    """Parts through cards, drawn in lanes: columns are moves in the order of time, numbered from 0."""

    lanes: tuple[Lane, ...]
    stretches: tuple[LaneSegment, ...]
    columns: int


OFF_ANY_CARD = gettext("off any card")


def genealogy(parts: Iterable[Life]) -> Genealogy:
    """Lanes and stretches of some parts. A card has a lane of its own, in the order in which parts came to them."""
    stays = [(life, step) for life in parts for step in _stays(life)]
    stays.sort(key=lambda stay: (stay[1].at is not None, stay[1].at or 0, stay[0].label))
    lanes: dict[str, Lane] = {}
    column: dict[int, int] = {}
    for at, (_, step) in enumerate(stays):
        name = step.place.card or OFF_ANY_CARD
        lanes.setdefault(name, Lane(name, "card" if step.place.card else "stock", len(lanes)))
        column[id(step)] = 0 if step.at is None else at
    columns, found = len(stays), []
    by_life: dict[str, list[Step]] = {}
    for life, step in stays:
        by_life.setdefault(life.label, []).append(step)
    for label, mine in by_life.items():
        for step, after in zip(mine, [*mine[1:], None], strict=True):
            end = columns if after is None else column[id(after)]
            lane = lanes[step.place.card or OFF_ANY_CARD].y
            found.append(LaneSegment(label, lane, column[id(step)], end, step.place.words, step.at))
    return Genealogy(tuple(lanes.values()), tuple(found), columns)
