"""The absolute guard: what keeps power locked, whatever a library says or lacks (docs/trade §3.6)."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from uvrix.core.readings.limits import LEAST_INPUT_OHMS
from uvrix.core.readings.notation import shown
from uvrix.core.readings.points import Key, Places
from uvrix.core.readings.reading_file import Reading
from uvrix.core.readings.verdict import Judged
from uvrix.language import gettext


@dataclass(frozen=True, slots=True)
class Block:
    """Why power stays locked: the input, fuse or pad, the sentence, whether a person may vouch for it with a reason."""

    point: str
    why: str
    may_tick: bool = False


def blocks(
    inputs: Mapping[str, str], fuses: Iterable[str], readings: Iterable[Reading], ticked: Iterable[str], places: Places
) -> tuple[Block, ...]:
    """Everything that keeps power locked; nothing where all inputs read above the guard and all fuses are ticked.

    `inputs` are rails or points fed from outside, by id with their names. An input that reads low, or was not read, and
    a fuse that nobody ticked by hand, each block.
    """
    of_input = _by_input(inputs, readings, places)
    found = []
    for word, name in inputs.items():
        read = of_input[word]
        # one low reading is enough: another mode or lead that reads high does not clear it
        low = [reading for reading in read if below_guard(reading)]
        if not read:
            found.append(Block(word, gettext("{name} was not measured to ground.", name=name)))
        elif low:
            said = gettext("{name} reads {shown}", name=name, shown=shown(low[-1].value, "resistance"))
            found.append(
                Block(
                    word,
                    gettext(
                        "{said}: under {least_input_ohms} ohms nothing is powered.",
                        said=said,
                        least_input_ohms=f"{LEAST_INPUT_OHMS:.0f}",
                    ),
                )
            )
    known = set(ticked)
    found += [Block(fuse, gettext("Fuse {fuse} is not ticked.", fuse=fuse)) for fuse in fuses if fuse not in known]
    return tuple(found)


def low_inputs(inputs: Iterable[str], readings: Iterable[Reading], places: Places) -> tuple[str, ...]:
    """The inputs that read below the guard."""
    return tuple(name for name, read in _by_input(inputs, readings, places).items() if any(map(below_guard, read)))


def first_blocks(
    first: Iterable[str], inputs: Iterable[str], judged: Iterable[Judged], ticked: Iterable[str], places: Places
) -> tuple[Block, ...]:
    """Pads that must read right before power and do not (docs/formats §1, `first`): unread, or not as good cards read.

    `inputs` are rails that the guard above watches: their pads are not asked for twice, and the guard's word is enough
    where no good card is known. A person may vouch for a pad that no good card stands behind, or that reads a little
    off, by ticking it.
    """
    fed, known, found = set(inputs), set(ticked), []
    newest: dict[Key, list[Judged]] = {}
    for judgement in judged:
        if judgement.reading.quantity == "resistance":
            newest.setdefault(places.key(judgement.reading.point, judgement.reading.to), []).append(judgement)
    for point in first:
        key = places.key(point, "ground")
        read, guarded = newest.get(key, []), key[1] in fed
        if point in known or (guarded and (not read or any(below_guard(judgement.reading) for judgement in read))):
            continue
        wrong = [judgement for judgement in read if judgement.verdict not in {"within", "no-reference"}]
        if not read:
            found.append(
                Block(point, gettext("{point} must be read before power and was not.", point=point), may_tick=True)
            )
        elif wrong:
            found.append(
                Block(
                    point,
                    gettext("{point} must read right before power: {why}", point=point, why=wrong[-1].why),
                    may_tick=True,
                )
            )
        elif not guarded and all(judgement.verdict == "no-reference" for judgement in read):
            why = gettext(
                "{point} must read right before power, and there is no known-good reading to hold it against.",
                point=point,
            )
            found.append(Block(point, why, may_tick=True))
    return tuple(found)


def below_guard(reading: Reading) -> bool:
    """Whether a reading to ground is so low that an input must not be powered."""
    low = reading.value.low
    return reading.quantity == "resistance" and reading.to == "ground" and low is not None and low < LEAST_INPUT_OHMS


def _by_input(inputs: Iterable[str], readings: Iterable[Reading], places: Places) -> dict[str, list[Reading]]:
    of_input: dict[str, list[Reading]] = {name: [] for name in inputs}
    for reading in readings:
        key = places.key(reading.point, reading.to)
        if reading.quantity == "resistance" and key[0] == "ground" and key[1] in of_input:
            of_input[key[1]].append(reading)
    return of_input
