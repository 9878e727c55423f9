"""The protocol by what was repaired: what was opened is tried harder than what was not (docs/trade §7.2).

A display socket is proven at every socket of the card, one tick each: heat at one reaches the next. A power plug is
moved while the card works hard. Memory is tried cold, warm, and cold again: a joint that closed warm opens as it cools.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from uvrix.core.boards.model import Board
from uvrix.core.proving.protocol import AGAIN, Check
from uvrix.core.rework.acts import HEATS, Do
from uvrix.language import gettext

SOCKET, PLUG = "display-socket", "power-plug"
# Acts that mend without heat and still are a repair of the place that they name.
MENDS = frozenset({"contact-repaired", "pad-repaired", "wire"})
COLD_AGAIN = Check(
    AGAIN, "memory", gettext("Memory, cold again"), gettext("one error after it has been warm"), condition="cold"
)


@dataclass(frozen=True, slots=True)
class Repaired:
    """What was repaired: whether memory was, the card's sockets where one of them was, the plugs that were."""

    memory: bool = False
    sockets: tuple[str, ...] = ()
    plugs: tuple[str, ...] = ()


def repaired(board: Board | None, acts: Iterable[tuple[Do, str]]) -> Repaired:
    """What acts, each with its place, repaired. Of a board that is not drawn only what its connectors are called."""
    if board is None:
        return Repaired()
    touched = {place.casefold() for do, place in acts if place and (HEATS[do].site or HEATS[do].chip or do in MENDS)}
    named = [connector for connector in board.connectors if connector.text]
    sockets = tuple(landmark.text for landmark in named if landmark.kind == SOCKET)
    return Repaired(
        any(site.designator.casefold() in touched for site in board.sites),
        sockets if any(name.casefold() in touched for name in sockets) else (),
        tuple(landmark.text for landmark in named if landmark.kind == PLUG and landmark.text.casefold() in touched),
    )


def tailored(checks: Sequence[Check], done: Repaired) -> tuple[Check, ...]:
    """The protocol with what the repair asks for beside it; checks that the protocol has keep their place and name."""
    found: list[Check] = []
    for check in checks:
        if check.id == "outputs" and done.sockets:
            found.append(replace(check, parts=done.sockets))
        elif check.id == "plugs" and done.plugs:
            fails = gettext("it goes off, warms or reports errors while the plug is moved under load")
            found.append(
                replace(check, name=gettext("Repaired plugs, moved under load"), fails=fails, parts=done.plugs)
            )
        else:
            found.append(check)
        if done.memory and check.kind == "memory" and check.condition == "warm":
            found.append(COLD_AGAIN)
    return tuple(found)
