"""Whether power is allowed (docs/trade §8.2): every input read, every fuse ticked or read, no block."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from uvrix.core.case.card import Card
from uvrix.core.case.counts import Counted
from uvrix.core.case.entries import Entry, Ticked
from uvrix.core.case.generic import FUSE_END
from uvrix.core.case.rails import Readings
from uvrix.core.case.touches import Touches
from uvrix.core.readings.guard import below_guard
from uvrix.core.readings.limits import LEAST_INPUT_OHMS, SHORT_UNDER
from uvrix.core.readings.notation import shown
from uvrix.language import gettext


@dataclass(frozen=True, slots=True)
class PowerBlock:
    """What keeps power locked: an input, fuse or pad, the sentence, the point to read to answer it (empty: none)."""

    about: str
    why: str
    read: str = ""


def power_blocks(
    entries: Sequence[Entry], card: Card, counted: Counted, readings: Readings, touches: Touches
) -> tuple[PowerBlock, ...]:
    """Everything that keeps power locked; nothing where it is allowed."""
    if touches.board is None:
        return _undrawn(readings)
    ticked = {entry.what.fuse for entry in entries if isinstance(entry.what, Ticked) and counted.stands(entry)}
    again = {name: void for void in counted.void.values() for name in _names_of(entries[void.entry], touches)}
    found = []
    for rail, name in touches.inputs.items():
        found += _input(rail, name, readings, touches, again[rail].act if rail in again else "")
    if not touches.inputs:
        found.append(PowerBlock("inputs", gettext("The model names no input: mark which rails are fed from outside.")))
    for fuse in sorted(touches.fuses):
        found += _fuse(fuse, card, readings, ticked=fuse in ticked)
    return (*found, *_first(readings, touches))


def _names_of(entry: Entry, touches: Touches) -> frozenset[str]:
    reading = getattr(entry.what, "reading", None)
    return touches.of_reading(reading.point) if reading is not None else frozenset()


def _input(rail: str, name: str, readings: Readings, touches: Touches, undone_by: str) -> list[PowerBlock]:
    point = point_of(rail, touches)
    if low := readings.low_at(rail):
        said = gettext(
            "{point} on {name} reads {shown} to ground",
            point=low.reading.point,
            name=name,
            shown=shown(low.reading.value, "resistance"),
        )
        return [
            PowerBlock(
                rail,
                gettext(
                    "{said}: under {least_input_ohms} ohms nothing is powered.",
                    said=said,
                    least_input_ohms=f"{LEAST_INPUT_OHMS:.0f}",
                ),
                point,
            )
        ]
    for standing in readings.standing:
        reading = standing.reading
        shorted = reading.value.low is not None and reading.value.low < SHORT_UNDER["diode"]
        if (reading.quantity, reading.to) == ("diode", "ground") and shorted and rail in readings.names(standing):
            return [
                PowerBlock(
                    rail,
                    gettext(
                        "{point} on {name} reads {shown}.",
                        point=reading.point,
                        name=name,
                        shown=shown(reading.value, "diode"),
                    ),
                    point,
                )
            ]
    if not readings.read_to_ground(rail):
        if undone_by:
            said = gettext("{name} was not read to ground since {act}.", name=name, act=undone_by)
        else:
            said = gettext("{name} was not read to ground.", name=name)
        return [PowerBlock(rail, said, point)]
    return []


def point_of(rail: str, touches: Touches) -> str:
    """Where a rail is read best: its first listed point, else any point of its net, else its own name."""
    listed = touches.rails[rail].points if rail in touches.rails else ()
    known = [name for name in listed if name in touches.points]
    points = [touches.points[name] for name in known if touches.points[name].kind not in {"fuse", "shunt"}]
    points = points or [
        point for point in touches.points.values() if point.net == rail and point.kind not in {"fuse", "shunt"}
    ]
    best = min(points, key=lambda point: (point.reach != "outside", float(point.minutes)), default=None)
    node = touches.nodes[rail].point if rail in touches.nodes else ""
    return best.id if best else (node or rail)


def _fuse(fuse: str, card: Card, readings: Readings, *, ticked: bool) -> list[PowerBlock]:
    if fuse in card.empty:
        return [PowerBlock(fuse, gettext("Fuse {fuse} is not on the card.", fuse=fuse))]
    found = readings.fuse(fuse)
    if found.state == "blown":
        return [PowerBlock(fuse, gettext("Fuse {fuse} reads open. {why}", fuse=fuse, why=found.why), fuse)]
    if found.state == "unread" and not ticked:
        return [PowerBlock(fuse, gettext("Fuse {fuse} was neither read nor looked at and ticked.", fuse=fuse), fuse)]
    return []


def _first(readings: Readings, touches: Touches) -> list[PowerBlock]:
    """Pads that must read right before power."""
    found = []
    for point in touches.points.values():
        if not point.first:
            continue
        read = [
            standing
            for standing in readings.standing
            if standing.reading.quantity == "resistance"
            and standing.reading.to == "ground"
            and readings.places.key(standing.reading.point, "ground") == readings.places.key(point.id, "ground")
        ]
        guarded = bool(touches.point_names(point.id) & set(touches.inputs))
        if not read:
            if not guarded:
                found.append(
                    PowerBlock(point.id, gettext("{id} must be read before power and was not.", id=point.id), point.id)
                )
            continue
        verdict, why = read[-1].judged.verdict, read[-1].judged.why
        if below_guard(read[-1].reading) and guarded:
            continue
        if verdict == "no-reference" and not guarded:
            why = gettext("there is no known-good reading to hold it against.")
        if verdict != "within" and not (verdict == "no-reference" and guarded):
            found.append(
                PowerBlock(
                    point.id, gettext("{id} must read right before power: {why}", id=point.id, why=why), point.id
                )
            )
    return found


def _undrawn(readings: Readings) -> tuple[PowerBlock, ...]:
    """On a board that nobody has drawn: the slot's inputs read, no input low."""
    found, read = [], set()
    for _, measurement in readings.of_points:
        meant = readings.plan.input_meant(measurement.reading.point)
        behind = FUSE_END.fullmatch(measurement.reading.point)
        if not (meant or behind) or measurement.reading.to != "ground" or measurement.reading.quantity != "resistance":
            continue
        if meant:
            read.add(meant.id)
        if below_guard(measurement.reading):
            said = gettext(
                "{point} reads {shown} to ground",
                point=measurement.reading.point,
                shown=shown(measurement.reading.value, "resistance"),
            )
            found.append(
                PowerBlock(
                    measurement.reading.point,
                    gettext(
                        "{said}: under {least_input_ohms} ohms nothing is powered.",
                        said=said,
                        least_input_ohms=f"{LEAST_INPUT_OHMS:.0f}",
                    ),
                )
            )
    found += [
        PowerBlock(node.id, gettext("{name} was not read to ground.", name=node.name), node.id)
        for node in readings.plan.inputs
        if node.always and node.id not in read
    ]
    return tuple(found)
