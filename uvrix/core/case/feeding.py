"""How a rail that is short is fed to see what warms: volts, amperes, the heat that makes (docs/trade §3.9).

What the injection can warm is computed before it is advised. The usual half volt makes milliwatts in a partial short;
more than a volt is allowed only once every stage that joins the rail to another was read across and is not joined.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from uvrix.core.case.belief.shorts import SEEN_WATTS
from uvrix.core.case.facts import Facts
from uvrix.core.case.power import point_of
from uvrix.core.readings.hunt import JOINING, lowest_reached
from uvrix.core.readings.inject import Injection, injection
from uvrix.core.readings.limits import INJECT_MOST_V, INJECT_SEEN_W, JOINED_OHMS
from uvrix.core.readings.notation import shown_number
from uvrix.language import gettext

# Less heat than this is seen by no camera.
LEAST_WATTS = 0.04
# A rail seen short in diode mode alone is fed as if it read this much, ohms.
USUAL_OHMS = 0.5
# A point of an undrawn board that means no node of the plan is fed as if it were of this many volts.
USUAL_V = 1.0


@dataclass(frozen=True, slots=True)
class Feeding:
    """How a rail is fed: at which point, by what it reads, volts and limit, `watts` that warm the short.

    `most_v` is never to be exceeded. `unproven` are stages that join the rail to another and were not read across, as
    far as reading them would allow more.
    """

    rail: str
    point: str
    ohms: float
    advice: Injection
    watts: float
    most_v: float
    unproven: tuple[str, ...]

    @property
    def warms(self) -> bool:
        """Whether it makes heat that can be seen."""
        return self.watts >= LEAST_WATTS

    @property
    def says(self) -> str:
        """What can be seen of it, and what to do where that is too little."""
        if self.unproven:
            stages = ", ".join(self.unproven)
            apart = gettext("none of them is joined") if len(self.unproven) > 1 else gettext("it is known to be apart")
            more = gettext(
                "Read {stages} pin by pin: once {apart}, the rail may be fed with more.", stages=stages, apart=apart
            )
            return gettext("About {watts} in the short: hardly to be seen. {more}", watts=_watts(self.watts), more=more)
        if not self.warms:
            return gettext(
                "About {watts} in the short, too little to see: look where it warms as it runs.",
                watts=_watts(self.watts),
            )
        return gettext("About {watts} in the short.", watts=_watts(self.watts))


def _watts(watts: float) -> str:
    return gettext("{watts} mW", watts=f"{1000 * watts:.2g}") if watts < 0.1 else f"{watts:.2g} W"


def feeding(facts: Facts, rail: str) -> Feeding:
    """How a rail is fed, by what is known of the card; of a board that nobody has drawn a point."""
    board = facts.board
    standing = next(
        (found_rail.standing for found_rail in facts.rails if found_rail.id == rail), None
    ) or facts.readings.low_at(rail)
    value = standing.reading.value if standing else None
    in_ohms = value is not None and standing is not None and standing.reading.quantity == "resistance"
    ohms = value.low if value is not None and in_ohms and value.low is not None else USUAL_OHMS
    if board is None:
        return _undrawn(facts, rail, max(ohms, 0.0))
    volts = (facts.touches.rails[rail].volts if rail in facts.touches.rails else 0.0) or 1.0
    lowest = lowest_reached(board, rail)
    advice = injection(volts, max(ohms, 0.0), lowest)
    most = min(INJECT_MOST_V, volts, lowest or INJECT_MOST_V)
    watts = advice.watts_in_short if ohms > 0 else advice.watts
    unproven: tuple[str, ...] = ()
    if watts < SEEN_WATTS and ohms > 0:
        joining = [part.designator for part in board.parts if part.kind in JOINING and rail in part.rails]
        unproven = stages_unproven(facts, joining)
        if not unproven and stages_apart(facts, joining):
            most = volts
        fed = round(min(most, max(advice.volts, math.sqrt(INJECT_SEEN_W * ohms))), 3)
        amps = min(advice.amps_limit, round(1.2 * fed / ohms + 0.01, 2))
        watts = min(amps, fed / ohms) ** 2 * ohms
        cautions = (
            (gettext("Never above {most} V here.", most=f"{most:g}"), *advice.cautions[1:])
            if most == volts
            else advice.cautions
        )
        advice = replace(advice, volts=fed, amps_limit=amps, watts=fed * amps, watts_in_short=watts, cautions=cautions)
    return Feeding(rail, point_of(rail, facts.touches), ohms, advice, watts, most, unproven)


def _undrawn(facts: Facts, point: str, ohms: float) -> Feeding:
    """How a point of an undrawn board is fed: through a stage that is joined, unknown here, it may reach the core."""
    node = facts.node_meant(point)
    volts = node.volts[0] if node and node.volts else USUAL_V
    advice = injection(volts, ohms, None)
    watts = advice.watts_in_short if ohms > 0 else advice.watts
    return Feeding(point, point, ohms, advice, watts, min(INJECT_MOST_V, volts), ())


def reads(fed: Feeding) -> str:
    """What the rail reads."""
    return shown_number(fed.ohms, "resistance")


def stages_unproven(facts: Facts, stages: Sequence[str]) -> tuple[str, ...]:
    """Stages with two rails that were not read across."""
    key = facts.readings.places.key
    read = {key(standing.reading.point, "across") for standing in facts.readings.pairs() if not standing.pins}
    named = {standing.pins for standing in facts.readings.pairs()}
    return tuple(
        who for who in stages if (pair := pair_of(facts, who)) and who not in named and key(pair, "across") not in read
    )


def stages_apart(facts: Facts, stages: Sequence[str]) -> bool:
    """Whether every stage that joins a rail to another was read across and is not joined.

    With its coil lifted a stage is not read across: its output is the coil's other pad.
    """
    assert facts.board is not None
    coils = {phase.designator: phase.point for phase in facts.board.phases}
    if any(coils.get(who) in facts.card.lifted for who in stages):
        return False
    key = facts.readings.places.key
    read = {pair for who in stages if (pair := pair_of(facts, who))}
    apart = {
        key(standing.reading.point, "across")
        for standing in facts.readings.pairs()
        if standing.reading.value.middle is None or standing.reading.value.middle > JOINED_OHMS
    }
    return {key(pair, "across") for pair in read} <= apart


def pair_of(facts: Facts, who: str) -> str:
    """The two points across a stage: its input, and its output by its phase's coil; empty where it has none."""
    board = facts.board
    assert board is not None
    part = next((candidate for candidate in board.parts if candidate.designator == who), None)
    rails = [rail for rail in part.rails if rail in facts.touches.rails] if part else []
    if part is None or part.kind not in JOINING or len(rails) < 2:
        return ""
    rails.sort(key=lambda rail: -facts.touches.rails[rail].volts)
    phases = {phase.designator: phase.point for phase in board.phases}
    return f"{point_of(rails[0], facts.touches)}/{phases.get(who) or point_of(rails[-1], facts.touches)}"
