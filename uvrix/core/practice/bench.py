"""The bench of a practice card: its state follows from the entries so far, and what would do harm does it.

What a step answers depends on the card, the steps before it and the step alone: the same card answers the same steps
alike, whoever asks and however often.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from uvrix.core.boards.model import Board
from uvrix.core.boards.walk import places
from uvrix.core.case.entries import DONE, WITHOUT_SITE
from uvrix.core.practice.card_file import PracticeCard
from uvrix.core.practice.limits import UNSHIELDED_LIFTS
from uvrix.core.practice.steps import HEATS, step_of
from uvrix.core.rework.near import Limits, neighbours
from uvrix.core.virtual.bench import Bench, Hidden, hidden_faults
from uvrix.core.virtual.dice import dice
from uvrix.language import gettext

CONVERTERS = frozenset({"converter", "power-stage", "controller"})


# Entries on which later answers depend: what does something to the card, and measurements, no two of which are alike.
DOES_SOMETHING, MEASURED = frozenset({"did", "power", "injected"}), frozenset({"reading", "run"})


@dataclass(frozen=True, slots=True)
class Harm:
    """Harm that a step did: at which entry, in words, and the faults that came of it."""

    number: int
    words: str
    faults: tuple[str, ...] = ()


class PracticeBench(Bench):
    """A virtual card on which harm is done: power on a short destroys, and an unshielded neighbour may lift."""

    def __init__(self, card: PracticeCard, board: Board) -> None:
        faults = [hidden for fault in card.faults for hidden in hidden_faults(board, fault)]
        super().__init__(board, faults, card.seed, card.good)
        self.done = 0
        self.harmed: list[Harm] = []
        for number, entry in enumerate(card.entries):
            self.take(number, entry)

    def take(self, number: int, entry: Mapping[str, Any]) -> Harm | None:
        """An entry of the case: what it did to the card is done; gives the harm, if it did some."""
        if not DOES_SOMETHING & entry.keys():
            if MEASURED & entry.keys():
                self.measured()
            return None
        step = step_of(entry)
        self.harm = ""
        before = len(self.faults)
        do, target = str(step["do"]), str(step["target"])
        if do == "power":
            self._power(target, step)
        elif do == "inject":
            self._inject(target, step)
        elif do in DONE:
            self._act(do, target)
            self._heat(do, target, step.get("shields", ()))
        self.done += 1
        if not self.harm:
            return None
        harm = Harm(number, self.harm, tuple(fault.text for fault in self.faults[before:]))
        self.harmed.append(harm)
        return harm

    def measured(self) -> None:
        """A measurement was taken: the next does not show the very same."""
        self.done += 1

    def ask(self, step: Mapping[str, Any]) -> list[dict[str, Any]]:
        """The entries that a step brings now; nothing is done to the card before they are taken. Raises Refusal."""
        do, target = str(step.get("do", "")), str(step.get("target", ""))
        if do in DONE:
            return [{"did": do} if do in WITHOUT_SITE else {"did": do, "site": target}]
        if do == "power":
            return [{"power": target}]
        self.rng = dice("practice", self.seed, self.done, do, target, step.get("quantity"), step.get("condition"))
        fed, harm = self.fed, self.harm
        entries: list[dict[str, Any]] = self.answer(step)["entries"]
        self.fed, self.harm = fed, harm
        return entries

    def sights(self) -> list[Hidden]:
        """The faults that can be seen by whoever looks at the very place."""
        return [fault for fault in self.faults if self._sight(fault, fault.of)]

    def _add(self, kind: str, of: str) -> None:
        self.faults.append(Hidden(kind, of))

    def _power(self, target: str, step: Mapping[str, Any]) -> list[dict[str, Any]]:
        """Switch it on or off; on a short, something goes: the fuse, where there is one, else what the rail feeds."""
        before, self.power = self.power, target
        shorted = [rail for rail in self.shorted_inputs() if not self._cut_off(rail)]
        if target == "off" or before != "off" or not shorted:
            return [{"power": target}]
        gone = [self._destroyed(rail) for rail in shorted]
        self.harm = gettext("power on a short")
        if named := [name for name in gone if name]:
            self.harm = gettext("power on a short: {names} is gone", names=", ".join(named))
        return [{"power": target}]

    def _cut_off(self, rail: str) -> bool:
        """Whether a fuse that has blown, or was taken off, keeps power from a rail."""
        open_fuses = {fault.of for fault in self.active("blown")} | self.off
        return any(point.kind == "fuse" and point.net == rail and point.id in open_fuses for point in self.board.points)

    def _destroyed(self, rail: str) -> str:
        """What power on a short rail destroys, and that it is broken now; empty where nothing stands in the way."""
        fuse = next((point.id for point in self.board.points if point.kind == "fuse" and point.net == rail), None)
        if fuse:
            self._add("blown", fuse)
            return fuse
        on_map = {name for node in self.board.startup_nodes.values() for name in node.parts}
        broken = {fault.of for fault in self.faults} | self.off
        fed = [
            part.designator
            for part in self.board.parts
            if rail in part.rails and part.kind in CONVERTERS and part.designator in on_map - broken
        ]
        if fed:
            self._add("dead", fed[0])
        return fed[0] if fed else ""

    def _inject(self, target: str, step: Mapping[str, Any]) -> list[dict[str, Any]]:
        answered = super()._inject(target, step)
        if self.harm:
            self.harm = gettext("{point} fed above its own volts", point=target)
        return answered

    def _act(self, do: str, target: str) -> list[dict[str, Any]]:
        answered = super()._act(do, target)
        if self.harm:
            self.harm = gettext("a good part lifted: {part}", part=target)
        return answered

    def _heat(self, do: str, target: str, shields: Sequence[str]) -> None:
        """What stands near a heated place and was not shielded may lift."""
        if do not in HEATS:
            return
        lifted = []
        for near in neighbours(self.board, target, Limits(), {}, {}):
            thrown = dice("heat", self.seed, self.done, target, near.designator).random()
            if near.shield and near.designator not in shields and thrown < UNSHIELDED_LIFTS:
                lifted += [near.designator] if self._lift(near.designator) else []
        if lifted:
            words = gettext("not shielded, and lifted: {names}", names=", ".join(lifted))
            self.harm = "; ".join(filter(None, [self.harm, words]))

    def _lift(self, name: str) -> bool:
        """A neighbour's joint opens; False where it has none that could, or it is off."""
        if name in self.off or any(fault.of == name and fault.kind == "joint" for fault in self.faults):
            return False
        if name in self.board.by_designator:
            self._add("joint", name)
        elif name == self.board.core.designator:
            met = places(self.board.core, self.board.walk, self.board.sites)
            channel = next((place.channel for place in met if place.channel), None)
            if channel is None or self.active("core-joint"):
                return False
            self._add("core-joint", channel[0])
        elif any(name in node.parts for node in self.board.startup_nodes.values()):
            self._add("dead", name)
        else:
            return False
        return True


def bench_after(card: PracticeCard, board: Board, entries: Sequence[Mapping[str, Any]]) -> PracticeBench:
    """The bench as it stands after the entries of a case; acts may carry `shields`, what was shielded for them."""
    bench = PracticeBench(card, board)
    for number, entry in enumerate(entries, len(card.entries)):
        bench.take(number, entry)
    return bench
