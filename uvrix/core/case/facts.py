"""Everything that is known of a card by its case, computed once: what belief and plan reason from."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from uvrix.core.boards.contacts import ROW_SIDE
from uvrix.core.boards.model import Board, Vector
from uvrix.core.case.card import Card, replay
from uvrix.core.case.counts import Counted, count
from uvrix.core.case.entries import (
    Answered,
    Case,
    Climbed,
    Did,
    Drawn,
    Entry,
    Glow,
    Injected,
    Looked,
    LotRead,
    Measured,
    Run,
    Seen,
    Surveyed,
    Symptom,
    Trial,
    last_act,
)
from uvrix.core.case.generic import GenericNode, Undrawn
from uvrix.core.case.names import contact, fuses_named
from uvrix.core.case.owed import Owed, owed_of
from uvrix.core.case.power import PowerBlock, power_blocks
from uvrix.core.case.proof import Proof, State, measured_since, proof_of
from uvrix.core.case.rails import GoodCards, RailFound, Readings, good_cards
from uvrix.core.case.shop import Shop
from uvrix.core.case.touches import touches_of
from uvrix.core.errors import Refusal
from uvrix.core.look.regions import SIDES, regions
from uvrix.core.memory.locate import Located, locate
from uvrix.core.memory.report import Report
from uvrix.core.readings.fuses import FuseFound
from uvrix.core.readings.guard import below_guard
from uvrix.core.readings.limits import COIL_SIDE_TIMES, GLOW_CLOSE_MM
from uvrix.core.readings.notation import Value
from uvrix.core.readings.reading_file import Observation, Reading
from uvrix.core.readings.shorts import SHORTED
from uvrix.core.readings.verdict import Judged
from uvrix.core.startup.chain import MEASURED, VOLTS, Chain, Node, chain_of, state_of
from uvrix.core.startup.isolate import Isolation, isolate
from uvrix.core.startup.ladder import at_limit
from uvrix.core.startup.refuted import without_refuted
from uvrix.language import gettext

# Below this share of the lowest that good cards read, a rail is pulled down; and by more ohms than two
# leads add.
FAR_LOW_SHARE, TWO_LEADS_TELL_OHMS = 0.7, 0.1

# A rail of this many volts or more is short under this many ohms on any card.
LEAST_VOLTS, LEAST_OHMS = 1.2, 1.0


@dataclass(frozen=True, slots=True)
class Thing:
    """A part, a chip or the core: where it is, and the rails that it is on."""

    designator: str
    side: str
    centre: Vector | None
    rails: frozenset[str]

    def away(self, glow: Glow) -> float:
        """Millimetres from its middle to a warm spot; endless where its place is not known."""
        if self.centre is None:
            return math.inf
        return math.hypot(float(self.centre[0]) - glow.x_mm, float(self.centre[1]) - glow.y_mm)

    def by(self, glow: Glow) -> bool:
        """Whether it is near a warm spot."""
        return glow.warm and self.side == glow.side and self.away(glow) <= GLOW_CLOSE_MM


class Facts:
    """A case on its board with what the shop knows; every answer is computed when it is first asked for."""

    def __init__(
        self,
        case: Case,
        board: Board | None,
        known: Iterable[Observation] = (),
        shop: Shop | Callable[[], Shop] | None = None,
        *,
        good: GoodCards | None = None,
        idle: tuple[float, float] | None = None,
        begun: int | None = None,
        undrawn: Undrawn | None = None,
        find: Callable[[Board, Sequence[tuple[str, Report]]], Located] = locate,
    ) -> None:
        self.undrawn = undrawn or Undrawn()
        self.find = find  # what finds the chip behind memory runs
        self.begun = begun  # the entry with which the proof began again: a fault that came late
        self.idle = idle  # what cards of the model draw at rest, amperes, where that is known beside its map
        self.case = case
        self.entries = case.entries
        self.board = board
        self._shop = shop
        self.touches = touches_of(board)
        self.good = good or good_cards(board, known)

    @cached_property
    def shop(self) -> Shop:
        """What the shop knows beside the card; only belief and plan ask, so that a reading need not wait for it."""
        return self._shop() if callable(self._shop) else self._shop or Shop()

    @cached_property
    def card(self) -> Card:
        """What the card is by now."""
        unfitted = [site.designator for site in self.board.sites if not site.fitted] if self.board else []
        return replay(self.entries, unfitted)

    @cached_property
    def counted(self) -> Counted:
        """Which entries count."""
        return count(self.entries, self.touches)

    @cached_property
    def readings(self) -> Readings:
        """The readings that count, judged."""
        return Readings(self.board, self.entries, self.counted, self.touches, self.good, plan=self.undrawn.plan)

    @cached_property
    def rails(self) -> tuple[RailFound, ...]:
        """The rails' verdicts."""
        return self.readings.rails()

    @cached_property
    def things(self) -> dict[str, Thing]:
        """Everything on the board that may be to blame, by designator."""
        board = self.board
        if board is None:
            return {}
        core = Thing(board.core.designator, "front", board.core.centre, self.touches.core_rails)
        chips = [
            Thing(site.designator, site.side, site.centre, frozenset({site.rail} if site.rail else ()))
            for site in board.sites
        ]
        parts = [Thing(part.designator, part.side, part.centre, frozenset(part.rails)) for part in board.parts]
        return {thing.designator: thing for thing in (core, *chips, *parts)}

    @cached_property
    def blocks(self) -> tuple[PowerBlock, ...]:
        """What keeps power locked."""
        return power_blocks(self.entries, self.card, self.counted, self.readings, self.touches)

    @property
    def allowed(self) -> bool:
        """Whether power is allowed."""
        return not self.blocks

    @cached_property
    def owed(self) -> tuple[Owed, ...]:
        """What is owed before the card leaves."""
        return owed_of(self.entries, self.card, self.counted, self.blocks, self.touches)

    @cached_property
    def proof(self) -> Proof:
        """The proof."""
        return proof_of(self.board, self.entries, self.card, self.readings, idle=self.idle, begun=self.begun)

    def measured(self, since: int | None) -> dict[str, tuple[State, str] | None]:
        """What the measured checks of the proof come to by what came after an entry; None where nothing did."""
        return measured_since(self.board, self.entries, self.card, self.readings, idle=self.idle, since=since)

    @cached_property
    def last_act(self) -> int | None:
        """The number of the last act."""
        return last_act(self.entries)

    @cached_property
    def acts(self) -> tuple[Entry, ...]:
        """Everything done, oldest first."""
        return tuple(entry for entry in self.entries if isinstance(entry.what, Did))

    def done(self, *acts: str, site: str | None = None) -> tuple[Entry, ...]:
        """Acts of these kinds, at a site where one is given, oldest first."""
        return tuple(
            entry
            for entry in self.acts
            if isinstance(entry.what, Did) and entry.what.act in acts and (site is None or entry.what.site == site)
        )

    def acts_since(self, number: int) -> tuple[Entry, ...]:
        """Acts after an entry."""
        return tuple(entry for entry in self.acts if entry.number > number)

    @cached_property
    def symptoms(self) -> frozenset[str]:
        """What the card was sent in for."""
        return frozenset(kind for entry in self.entries if isinstance(entry.what, Symptom) for kind in entry.what.kinds)

    @cached_property
    def seen(self) -> tuple[tuple[Entry, Seen], ...]:
        """What was seen, oldest first."""
        return tuple((entry, entry.what) for entry in self.entries if isinstance(entry.what, Seen))

    @cached_property
    def looked(self) -> frozenset[str]:
        """Regions and designators that were looked at; a side where all of it was."""
        found = {entry.what.target for entry in self.entries if isinstance(entry.what, Looked)}
        found |= {side for _, seen in self.seen if (side := self._side_of(seen))}
        if "all" in found and self.board:
            found |= {*SIDES, *(region.id for region in regions(self.board))}
        elif self.board:
            for side in SIDES:
                ids = {region.id for region in regions(self.board) if region.side == side}
                if side in found:
                    found |= ids
                elif ids and ids <= found:
                    found.add(side)
        return frozenset(found)

    def _side_of(self, seen: Seen) -> str:
        """The side on which something was seen: whoever saw it was looking there."""
        if seen.side or self.board is None:
            return seen.side
        if found := contact(seen.part):
            return ROW_SIDE[found[0]]  # type: ignore[index]
        return self.things[seen.part].side if seen.part in self.things else ""

    @cached_property
    def trials(self) -> tuple[tuple[Entry, Trial], ...]:
        """Trials, oldest first."""
        return tuple((entry, entry.what) for entry in self.entries if isinstance(entry.what, Trial))

    @cached_property
    def lots(self) -> dict[str, tuple[int, str]]:
        """The lot of each chip that carries the one that it was read off."""
        found = {}
        for entry in self.entries:
            if isinstance(entry.what, LotRead):
                found[entry.what.site] = (entry.number, entry.what.lot)
        return {site: row for site, row in found.items() if self.card.swapped.get(site, -1) < row[0]}

    @cached_property
    def glows(self) -> tuple[tuple[int, Glow, frozenset[str], float | None], ...]:
        """Glows that count, with what was fed and the watts; a new injection closes those of the one before."""
        found: list[tuple[int, Glow, frozenset[str], float | None]] = []
        for entry in self.entries:
            if isinstance(entry.what, Injected):
                fed = self.touches.of_reading(entry.what.point)
                found = [row for row in found if not row[2] & fed]
            elif isinstance(entry.what, Glow) and self.counted.stands(entry):
                names, watts = self.counted.fed.get(entry.number, (frozenset(), None))
                found.append((entry.number, entry.what, names, watts))
        return tuple(found)

    @cached_property
    def injected(self) -> tuple[tuple[Entry, Injected], ...]:
        """Injections since which nothing was done to what was fed."""
        found = []
        for entry in self.entries:
            if isinstance(entry.what, Injected):
                fed = self.touches.of_reading(entry.what.point)
                later = [
                    act
                    for act in self.acts
                    if act.number > entry.number
                    and isinstance(act.what, Did)
                    and act.what.site
                    and self.touches.of_site(act.what.site) & fed
                ]
                if not later:
                    found.append((entry, entry.what))
        return tuple(found)

    @cached_property
    def shorted(self) -> tuple[str, ...]:
        """Rails that are short by a reading that counts, lowest volts first: by good cards, or under the guard."""
        found = {rail.id for rail in self.rails if rail.verdict in SHORTED or _far_low(rail.standing.judged)}
        found |= {rail.id for rail in self.rails if self.short_on_any_card(rail.id, rail.standing.judged)}
        found |= {rail for rail in self.touches.inputs if self.readings.low_at(rail) is not None}
        found |= self.glowing
        volts = {name: rail.volts for name, rail in self.touches.rails.items()}
        return tuple(sorted(found, key=lambda rail: (volts.get(rail, 0), rail)))

    def short_on_any_card(self, rail: str, judged: Judged) -> bool:
        """Whether a rail that no good card stands behind is so low that it is short on any card.

        Only a core's own rail may be well under an ohm and healthy; memory rails are tens of ohms, the others more
        (docs/trade §3.5).
        """
        volts = self.touches.rails[rail].volts if rail in self.touches.rails else 0.0
        reading = judged.reading
        ohms = (reading.quantity, reading.to) == ("resistance", "ground")
        high = reading.value.high
        unknown = judged.verdict == "no-reference" and rail not in self.touches.core_rails
        return unknown and ohms and volts >= LEAST_VOLTS and high is not None and high < LEAST_OHMS

    @cached_property
    def glowing(self) -> frozenset[str]:
        """Rails that read no short, and yet a part on them warmed when they were fed: two leads could not tell it."""
        found: set[str] = set()
        for _, glow, fed, watts in self.glows:
            rails = fed & set(self.touches.rails)
            if self.board is None or not glow.warm or watts is None or self._over_the_core(glow):
                continue
            for part in self.board.parts:
                thing = self.things[part.designator]
                if thing.rails & rails and part.designator not in self.card.empty and thing.by(glow):
                    found |= rails
        return frozenset(found)

    def _over_the_core(self, glow: Glow) -> bool:
        """Whether it warmed at the core: a healthy one takes what its rail is fed."""
        assert self.board is not None
        core = self.board.core
        x, y = abs(glow.x_mm - float(core.centre[0])), abs(glow.y_mm - float(core.centre[1]))
        return x <= float(core.size[0]) / 2 and y <= float(core.size[1]) / 2

    @cached_property
    def behind_lifted(self) -> tuple[tuple[str, str, int], ...]:
        """Stages that a lifted coil convicts: an input was short before it was lifted, and reads right since."""
        if self.board is None:
            return ()
        stages = {phase.point: phase.designator for phase in self.board.phases if phase.point}
        found = []
        for coil, since in self.card.lifted.items():
            stage = stages.get(coil)
            if stage is None or stage in self.card.empty or self.done_since(since, "swap", site=stage):
                continue
            rails = self.touches.of_site(stage) & set(self.touches.inputs)
            before = [
                entry.what.reading.value.middle
                for entry in self.entries[:since]
                if isinstance(entry.what, Measured)
                and self.touches.of_reading(entry.what.reading.point) & rails
                and (self.short_then(entry.number, entry.what))
            ]
            again = self._read_until_the_next_act(since, rails)
            if before and again and (before[-1] or 0.0) * COIL_SIDE_TIMES < again[0]:
                found.append(
                    (
                        stage,
                        gettext("With {coil} lifted its input is short no more: {stage}.", coil=coil, stage=stage),
                        since,
                    )
                )
        return tuple(found)

    def _read_until_the_next_act(self, since: int, rails: frozenset[str]) -> list[float]:
        """What some rails read to ground between an act and the next."""
        end = next((act.number for act in self.acts if act.number > since), len(self.entries))
        return [
            math.inf if entry.what.reading.value.middle is None else entry.what.reading.value.middle
            for entry in self.entries[since + 1 : end]
            if isinstance(entry.what, Measured)
            and (entry.what.reading.quantity, entry.what.reading.to) == ("resistance", "ground")
            and self.touches.of_reading(entry.what.reading.point) & rails
        ]

    def short_then(self, number: int, measured: Measured) -> bool:
        """Whether a reading, void or not, was one of a short."""
        reading = measured.reading
        if reading.to != "ground" or reading.quantity != "resistance":
            return False
        judged = self.readings.judged(number, measured).judged
        names = self.touches.of_reading(reading.point)
        fed = bool(names & set(self.touches.inputs)) and below_guard(reading)
        pulled_down = judged.verdict in SHORTED or _far_low(judged)
        return pulled_down or fed or any(self.short_on_any_card(name, judged) for name in names)

    def done_since(self, number: int, *acts: str, site: str) -> bool:
        """Whether one of these acts was done at a site after an entry."""
        return any(entry.number > number for entry in self.done(*acts, site=site))

    @cached_property
    def fuses(self) -> dict[str, FuseFound]:
        """Every fuse by its readings that count; of a board that is not drawn those that its entries name."""
        known = self.touches.fuses if self.board else fuses_named(self.entries) | self.undrawn.fuses
        return {fuse: self.readings.fuse(fuse) for fuse in sorted(known) if fuse not in self.card.empty}

    @cached_property
    def chain(self) -> Chain | None:
        """The start-up map, or the order of the rails; None where there is neither."""
        if self.board is None:
            read = {node.id for standing in self.readings.standing if (node := self.node_meant(standing.reading.point))}
            parts = {node: tuple(name for name in them if name not in self.card.cut)
                     for node, them in self.undrawn.parts.items()}  # fmt: skip
            return without_refuted(self.undrawn.plan.chain(frozenset(read), parts), self.without_effect)
        try:
            return without_refuted(chain_of(self.board), self.without_effect)
        except Refusal:
            return None

    @cached_property
    def isolation(self) -> Isolation | None:
        """Where the start-up chain breaks, by the powered readings that count."""
        if self.chain is None:
            return None
        powered = [
            self._at_its_node(standing.reading)
            for standing in self.readings.standing
            if standing.reading.quantity in {"voltage", "frequency", "current"}
        ]
        draw = self.draw
        return isolate(
            self.chain,
            [reading for reading in powered if self._of_a_node(reading.point)] + draw_reading(draw, self.chain),
            self.readings.places,
        )

    @cached_property
    def named_at_glow(self) -> tuple[tuple[int, str], ...]:
        """On a board that nobody has drawn: parts named where the last feed warmed, with the entry that says so."""
        last = self.injected[-1][0].number if self.injected else None
        warm = [number for number, glow, _, _ in self.glows if glow.warm and last is not None and number > last]
        if self.board is not None or not warm:
            return ()
        said = [(entry.number, seen.part) for entry, seen in self.seen if entry.number > warm[-1] and seen.part]
        spots = [glow for number, glow, _, _ in self.glows if number in warm]
        near = [
            (warm[-1], part)
            for part, (side, x, y) in self.undrawn.marked.items()
            for spot in spots
            if side == spot.side and math.hypot(x - spot.x_mm, y - spot.y_mm) <= GLOW_CLOSE_MM
        ]
        return tuple(dict.fromkeys([*said, *near]))

    def node_meant(self, name: str) -> GenericNode | None:
        """The node of the bench plan that a point of an undrawn board means: as it was clicked, else by its name."""
        clicked = self.undrawn.nodes.get(name)
        plan = self.undrawn.plan
        return next((node for node in plan.nodes if node.id == clicked), None) if clicked else plan.meant(name)

    def _of_a_node(self, point: str) -> bool:
        """Whether a live reading is one of a node: not of a pair, nor of a pin or an end that no node is read at."""
        if self.board is None:
            return self.node_meant(point) is not None
        read_at = {node.point for node in self.board.startup_nodes.values()}
        return point in read_at or ("/" not in point and "." not in point)

    def _at_its_node(self, reading: Reading) -> Reading:
        node = self.node_meant(reading.point) if self.board is None else None
        return reading if node is None else replace(reading, point=node.id)

    @cached_property
    def draw(self) -> Drawn | None:
        """The last draw that counts."""
        return next(
            (
                entry.what
                for entry in reversed(self.entries)
                if isinstance(entry.what, Drawn) and self.counted.stands(entry)
            ),
            None,
        )

    @cached_property
    def rung(self) -> str:
        """The rung that was seen last, since the last act; empty where none was."""
        since = -1 if self.last_act is None else self.last_act
        return next(
            (
                entry.what.rung
                for entry in reversed(self.entries)
                if isinstance(entry.what, Climbed) and entry.number > since
            ),
            "",
        )

    @cached_property
    def runs(self) -> tuple[tuple[Entry, Run], ...]:
        """Memory runs of the card as it is."""
        return tuple(
            (entry, entry.what) for entry in self.entries if isinstance(entry.what, Run) and self.counted.stands(entry)
        )

    @cached_property
    def runs_before(self) -> tuple[tuple[Entry, Run], ...]:
        """Memory runs of the card as it was."""
        return tuple(
            (entry, entry.what)
            for entry in self.entries
            if isinstance(entry.what, Run) and not self.counted.stands(entry)
        )

    @cached_property
    def located(self) -> Located | None:
        """The finding of the runs that count; None where none does, or the board is not drawn."""
        return self.finding_of([run for _, run in self.runs])

    @cached_property
    def since_the_runs_before(self) -> str:
        """What became of what the runs before showed: cured, the same, another; empty where none tells."""
        before, now = self.finding_of(run for _, run in self.runs_before), self.located
        told = [run for _, run in self.runs if not run.refused]
        if before is None or now is None or not told or not before.finding.designators:
            return ""
        names = gettext(" and ").join(before.finding.designators[:4])
        if not any(run.failed for run in told):
            return gettext("Cured so far: {names} failed before, and no run since has an error.", names=names)
        if set(before.finding.designators) & set(now.finding.designators):
            return gettext("The same: {names} failed before, and still fails.", names=names)
        after = gettext(" and ").join(now.finding.designators[:4]) or gettext("something else")
        return gettext("Another fault: {names} failed before, now it is {after}.", names=names, after=after)

    def finding_of(self, runs: Iterable[Run]) -> Located | None:
        """The finding of some runs."""
        reports = [
            (run.file or gettext("run {number}", number=number), run.report) for number, run in enumerate(runs, 1)
        ]
        told = [report for report in reports if report[1].meta.result != "refused"]
        if self.board is None or not reports:
            return None
        return self.find(self.board, told or reports)

    @cached_property
    def pads(self) -> dict[str, tuple[int, str]]:
        """The last survey of each site's pads."""
        return {
            entry.what.site: (entry.number, entry.what.verdict)
            for entry in self.entries
            if isinstance(entry.what, Surveyed)
        }

    @cached_property
    def answers(self) -> dict[str, tuple[int, Answered]]:
        """The last answer of each kind."""
        return {entry.what.do: (entry.number, entry.what) for entry in self.entries if isinstance(entry.what, Answered)}

    @cached_property
    def without_effect(self) -> frozenset[str]:
        """Parts that were replaced, whose node still reads missing since: hardly the dead ones any more."""
        if self.board is None:
            return frozenset()
        chain = chain_of_or_none(self.board)
        if chain is None:
            return frozenset()
        found = set()
        for node in chain.nodes:
            for part in node.parts:
                swapped = [entry.number for entry in self.done("swap", "place", site=part)]
                if any(self._missing_next(node, number) for number in swapped):
                    found.add(part)
        return frozenset(found)

    def _missing_next(self, node: Node, number: int) -> bool:
        """Whether a node read missing the first time that it was read after an entry, whatever was done since."""
        for entry in self.entries[number + 1 :]:
            what = entry.what
            if not isinstance(what, Measured) or what.reading.quantity != MEASURED.get(node.kind, VOLTS)[0]:
                continue
            if what.reading.point in {node.id, node.point}:
                return state_of(node, what.reading).state == "missing"
        return False


def _far_low(judged: Judged) -> bool:
    """Whether a rail reads so far below good cards that something pulls it down, though it is no short."""
    reference, value = judged.reference, judged.reading.value
    if judged.verdict != "low" or reference is None or reference.low is None or value.high is None:
        return False
    return value.high < FAR_LOW_SHARE * reference.low and reference.low - value.high > TWO_LEADS_TELL_OHMS


def chain_of_or_none(board: Board) -> Chain | None:
    """The start-up map of a board; None where it has neither map nor rails."""
    try:
        return chain_of(board)
    except Refusal:
        return None


def draw_reading(draw: Drawn | None, chain: Chain) -> list[Reading]:
    """The draw as a reading of the map's last draw, where it was not at the supply's limit."""
    node = next((candidate for candidate in reversed(chain.nodes) if candidate.kind == "draw"), None)
    if draw is None or node is None or at_limit(draw.amps, draw.limit):
        return []
    return [Reading(node.id, "current", Value(draw.amps, draw.amps), "", "ground")]
