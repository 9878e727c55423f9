"""What every proposer of the plan shares."""

from __future__ import annotations

from collections.abc import Sequence

from uvrix.core.case.belief.weighing import Cause
from uvrix.core.case.entries import Climbed, Did, Injected, Measured
from uvrix.core.case.facts import Facts
from uvrix.core.case.plan.steps import (
    CHIP_SWAP_MINUTES,
    COMES_UP,
    CONDITIONS,
    CORE_MINUTES,
    CORE_RISK,
    MINUTES,
    Step,
    step,
)
from uvrix.core.case.power import point_of
from uvrix.core.readings.notation import COLD
from uvrix.language import gettext


class Proposer:
    """What every proposer of the plan knows: the facts, the belief, the board, and how a step is made."""

    def __init__(self, facts: Facts, causes: Sequence[Cause]) -> None:
        self.facts = facts
        self.causes = causes
        self.board = facts.board
        self.card = facts.card

    def chances(self, *causes: str) -> dict[tuple[str, ...], float]:
        """Chances of some causes by designators."""
        found: dict[tuple[str, ...], float] = {}
        for cause in self.causes:
            if cause.cause in causes:
                found[cause.designators] = found.get(cause.designators, 0.0) + cause.chance
        return found

    def read(self, point: str, gain: float, why: str, tier: int, quantity: str = "resistance") -> Step:
        """A reading: cold in ohms, or live."""
        cold = quantity == "resistance"
        return step(
            *("read", point, gain, why, tier),
            minutes=self.minutes(point),
            needs="off" if cold else "supply",
            screen="ohms" if cold else "volts",
            quantity=quantity,
            mode="ohms" if cold else "",
        )

    def minutes(self, point: str) -> float:
        """Minutes to reach a point."""
        found = self.facts.touches.points.get(point.split("/", maxsplit=1)[0].split(".", maxsplit=1)[0])
        return float(found.minutes) if found else 1.0

    def lift(self, do: str, who: str, gain: float, why: str, tier: int) -> Step:
        """An act on a part, a chip or the core with its minutes and risk."""
        board = self.board
        if board is not None and who == board.core.designator:
            return step(do, who, gain, why, tier, minutes=CORE_MINUTES, risk=CORE_RISK)
        if board is not None and who in board.by_designator:
            minutes = CHIP_SWAP_MINUTES if do == "swap" else MINUTES["reball"] if do == "reball" else 20.0
            return step(do, who, gain, why, tier, minutes=minutes, risk=0.03)
        return step(do, who, gain, why, tier)

    def run(self, condition: str, gain: float, why: str, tier: int) -> Step:
        """A memory run."""
        return step("run", condition, gain, why, tier, needs="computer", condition=[condition])

    @property
    def core(self) -> str:
        """The core's designator; empty where the board is not drawn."""
        return self.board.core.designator if self.board else ""

    @property
    def packages(self) -> frozenset[str]:
        """The designators of the core and of all memory chips; none where the board is not drawn."""
        return frozenset([self.core, *self.board.by_designator]) if self.board else frozenset()

    def pads_of(self, site: str, since: int) -> str:
        """What the pads of a site came to since its chip came off; empty where nobody surveyed them."""
        number, verdict = self.facts.pads.get(site, (-1, ""))
        return verdict if number > since else ""

    def short_left_with(self, site: str, since: int) -> bool:
        """Whether something that a part touches was short when it was last read before the part came off."""
        touched = self.facts.touches.of_site(site)
        short: dict[str, bool] = {}
        for entry in self.facts.entries[:since]:
            if isinstance(entry.what, Measured) and touched & self.facts.touches.of_reading(entry.what.reading.point):
                short[entry.what.reading.point] = self.facts.short_then(entry.number, entry.what)
        return any(short.values())

    def testable(self) -> bool:
        """Whether a memory tester has anything to test: on the bus, core and chips on."""
        if self.board is None:
            return self.has_run or self.facts.rung not in {"", "absent"}
        told = any(not run.refused for _, run in self.facts.runs)
        return (
            not self.packages & self.card.empty
            and self.facts.rung != "absent"
            and (bool(self.facts.rung) or told or self.comes_up)
        )

    def seen_at(self, site: str) -> bool:
        """Whether something was seen on a part."""
        return any(seen.part == site for _, seen in self.facts.seen)

    @property
    def read_anything(self) -> bool:
        """Whether a meter was used already."""
        return bool(self.facts.readings.of_points) or bool(self.facts.counted.void)

    @property
    def comes_up(self) -> bool:
        """Whether the card goes straight into a computer: by its symptom, or since it came up already.

        One that a computer did not list since does not come up, whatever its owner saw.
        """
        if self.not_listed:
            return False
        return self.has_run or (bool(self.facts.symptoms) and self.facts.symptoms <= COMES_UP)

    @property
    def not_listed(self) -> bool:
        """Whether the card was absent from the bus when it was last looked for, and ran in no tester since."""
        if self.facts.rung != "absent":
            return False
        looked = max(entry.number for entry in self.facts.entries if isinstance(entry.what, Climbed))
        return not any(entry.number > looked and not run.refused for entry, run in self.facts.runs)

    @property
    def has_run(self) -> bool:
        """Whether the card as it is ran in the memory tester."""
        return any(not run.refused for _, run in self.facts.runs)

    def other_conditions(self, tier: int) -> list[Step]:
        """Runs under conditions that were not tried yet: what shows rarely shows warm or flexed."""
        conditions = {word for _, run in self.facts.runs for word in run.report.meta.condition if not run.refused}
        return [
            self.run(word, 0.3, gettext("It does not show in every run: run it {word}.", word=word), tier)
            for word in CONDITIONS
            if word not in conditions and self.testable()
        ]

    def again(self) -> list[Step]:
        """What an act made void, on the rails that it touched: read again at once."""
        last = self.facts.acts[-1] if self.facts.acts else None
        if last is None or self.board is None or not isinstance(last.what, Did) or not last.what.site:
            return []
        touched = self.facts.touches.of_site(last.what.site)
        # also what a soldered lead made void before: the rail that is hunted is the first to be read
        lost = frozenset[str]().union(*(self._read_cold(void.entry) for void in self.facts.counted.void.values()))
        fed = self._fed_last()
        said = last.what.says[0].upper() + last.what.says[1:]
        return [
            self.read(
                point_of(rail, self.facts.touches),
                0.6 if rail in fed else 0.4,
                gettext("{said}: read {rail} again.", said=said, rail=rail),
                15,
            )
            for rail in self.facts.touches.rails
            if rail in touched
            and rail in lost
            and not self.facts.readings.read_to_ground(rail)
            # a wire for feeding a rail that is known to be short: it is read again once the short is found
            and not (last.what.act == "solder-lead" and rail in self.facts.shorted)
        ]

    def _fed_last(self) -> frozenset[str]:
        """The rails and nets of the point that was fed last."""
        fed = [entry.what for entry in self.facts.entries if isinstance(entry.what, Injected)]
        return self.facts.touches.of_reading(fed[-1].point) if fed else frozenset()

    def _read_cold(self, entry: int) -> frozenset[str]:
        """What an entry measured cold."""
        what = self.facts.entries[entry].what
        if not isinstance(what, Measured) or what.reading.quantity not in COLD:
            return frozenset()
        return self.facts.touches.of_reading(what.reading.point)
