"""Whether a part fits, with the reasons: memory chips against board and firmware, small parts, connectors.

Chips must fit in capacity, width, voltage and speed (at least as fast, alike across the card), and the card's firmware
must carry settings for their maker; small parts by value, package (a larger one may do) and rating (docs/trade §6.8).
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass

from uvrix.core.values.codes import code_words
from uvrix.core.values.words import percent
from uvrix.language import gettext, ngettext

# Values within this share of each other are the same, where nobody says a tolerance.
SAME_VALUE = 0.05
# Pitches within this are the same, in millimetres.
SAME_PITCH_MM = 0.02


@dataclass(frozen=True, slots=True)
class MemoryChip:
    """What a memory chip is; None where nobody knows."""

    vendor: str = ""
    gbit: float | None = None
    width: int | None = None
    volts: float | None = None
    speed: float | None = None


@dataclass(frozen=True, slots=True)
class Wanted:
    """What a place wants: the chip that belongs there, the makers that the firmware carries, the card's other chips."""

    chip: MemoryChip
    carried: Collection[str] = ()
    others: Sequence[MemoryChip] = ()


@dataclass(frozen=True, slots=True)
class Fits:
    """Whether it fits: `refused` are reasons against, `open` what nobody knows, `fits` what was compared and agrees."""

    fits: tuple[str, ...]
    open: tuple[str, ...]
    refused: tuple[str, ...]

    @property
    def verdict(self) -> str:
        """`no` where anything speaks against it, `open` where something is not known, else `yes`."""
        return "no" if self.refused else "open" if self.open else "yes"


def chip_fits(chip: MemoryChip, wanted: Wanted) -> Fits:
    """A memory chip against the place that it is for."""
    agree, unknown, against = [], [], []

    def same(what: str, has: float | None, wants: float | None, unit: str) -> None:
        if has is None or wants is None:
            unknown.append(gettext("{what} not known", what=what))
        elif abs(has - wants) > 1e-9:
            against.append(
                gettext(
                    "{what} {has}{unit}, wanted {wants}{unit}", what=what, has=f"{has:g}", unit=unit, wants=f"{wants:g}"
                )
            )
        else:
            agree.append(f"{what} {has:g}{unit}")

    same("capacity", chip.gbit, wanted.chip.gbit, gettext(" Gbit"))
    same("width", chip.width, wanted.chip.width, gettext(" lines"))
    same("voltage", chip.volts, wanted.chip.volts, " V")
    if chip.speed is None or wanted.chip.speed is None:
        unknown.append(gettext("speed not known"))
    elif chip.speed < wanted.chip.speed:
        against.append(
            gettext(
                "speed {speed}, at least {speed_2} wanted", speed=f"{chip.speed:g}", speed_2=f"{wanted.chip.speed:g}"
            )
        )
    else:
        agree.append(gettext("speed {speed}", speed=f"{chip.speed:g}"))
    carried = {name.casefold() for name in wanted.carried}
    if not carried:
        unknown.append(gettext("makers that the firmware carries not known"))
    elif not chip.vendor:
        unknown.append(gettext("maker not known"))
    elif chip.vendor.casefold() not in carried:
        against.append(gettext("the firmware carries no settings for {vendor}", vendor=chip.vendor))
    else:
        agree.append(gettext("the firmware carries {vendor}", vendor=chip.vendor))
    unlike = sorted(
        {
            memory_chip.vendor
            for memory_chip in wanted.others
            if memory_chip.vendor and memory_chip.vendor != chip.vendor
        }
    )
    if chip.vendor and unlike:
        against.append(
            gettext("{vendor} beside {unlike}: alike across the card", vendor=chip.vendor, unlike=", ".join(unlike))
        )
    return Fits(tuple(agree), tuple(unknown), tuple(against))


@dataclass(frozen=True, slots=True)
class SmallPart:
    """A resistor, capacitor, coil or fuse: value in its own unit, package as length and width in mm, its rating."""

    kind: str
    value: float | None = None
    size_mm: tuple[float, float] | None = None
    rating: float | None = None


def small_fits(part: SmallPart, wanted: SmallPart, tolerance: float = SAME_VALUE) -> Fits:
    """A small part in another's place: the same kind and value, no smaller rating; a larger package may do."""
    agree, unknown, against = [], [], []
    if part.kind != wanted.kind:
        against.append(
            gettext("a {kind}, wanted a {wanted}", kind=code_words(part.kind), wanted=code_words(wanted.kind))
        )
    if part.value is None or wanted.value is None:
        unknown.append(gettext("value not known"))
    elif abs(part.value - wanted.value) > tolerance * abs(wanted.value):
        against.append(
            gettext(
                "value {value}, wanted {value_2} within {tolerance}",
                value=f"{part.value:g}",
                value_2=f"{wanted.value:g}",
                tolerance=percent(tolerance),
            )
        )
    else:
        agree.append(gettext("value {value}", value=f"{part.value:g}"))
    if wanted.rating is not None:
        if part.rating is None:
            unknown.append(gettext("rating not known"))
        elif part.rating < wanted.rating:
            against.append(
                gettext(
                    "rated {rating}, at least {rating_2} wanted",
                    rating=f"{part.rating:g}",
                    rating_2=f"{wanted.rating:g}",
                )
            )
        else:
            agree.append(gettext("rated {rating}", rating=f"{part.rating:g}"))
    if part.size_mm is None or wanted.size_mm is None:
        unknown.append(gettext("package not known"))
    else:
        has, wants = sorted(part.size_mm), sorted(wanted.size_mm)
        if all(one >= other - 1e-9 for one, other in zip(has, wants, strict=True)):
            agree.append(
                gettext("the package") if has == wants else gettext("a larger package, see whether it lies on the pads")
            )
        else:
            against.append(gettext("a smaller package does not reach the pads"))
    return Fits(tuple(agree), tuple(unknown), tuple(against))


@dataclass(frozen=True, slots=True)
class Connector:
    """A connector by what makes it fit: pitch, pins, rows, anchors; `seen_on` may be other equipment."""

    name: str
    pitch_mm: float
    pins: int
    rows: int = 1
    anchors: int = 0
    seen_on: str = ""


@dataclass(frozen=True, slots=True)
class Substitute:
    """A connector that may serve, with what agrees and what does not; `score` orders them, the best first."""

    connector: Connector
    fits: Fits
    score: float


def connector_fits(part: Connector, wanted: Connector) -> Fits:
    """A connector in another's place: pitch and rows must agree, pins must be enough; anchors may lack."""
    agree, unknown, against = [], [], []
    if abs(part.pitch_mm - wanted.pitch_mm) > SAME_PITCH_MM:
        against.append(
            gettext(
                "pitch {pitch_mm} mm, wanted {pitch_mm_2} mm",
                pitch_mm=f"{part.pitch_mm:g}",
                pitch_mm_2=f"{wanted.pitch_mm:g}",
            )
        )
    else:
        agree.append(gettext("pitch {pitch_mm} mm", pitch_mm=f"{part.pitch_mm:g}"))
    rows = ngettext("{count} row", "{count} rows", part.rows)
    if part.rows != wanted.rows:
        against.append(gettext("{rows}, wanted {rows_2}", rows=rows, rows_2=wanted.rows))
    else:
        agree.append(rows)
    if part.pins < wanted.pins:
        against.append(gettext("{pins} pins, wanted {pins_2}", pins=part.pins, pins_2=wanted.pins))
    elif part.pins == wanted.pins:
        agree.append(gettext("{pins} pins", pins=part.pins))
    else:
        unknown.append(gettext("{pins} pins, {pins_2} to cut off", pins=part.pins, pins_2=part.pins - wanted.pins))
    if part.anchors == wanted.anchors:
        agree.append(gettext("{anchors} anchors", anchors=part.anchors))
    else:
        unknown.append(gettext("{anchors} anchors, wanted {anchors_2}", anchors=part.anchors, anchors_2=wanted.anchors))
    return Fits(tuple(agree), tuple(unknown), tuple(against))


def substitutes(wanted: Connector, known: Sequence[Connector]) -> tuple[Substitute, ...]:
    """Connectors of the same pitch with pins enough, the likest first; a longer one may be cut, anchors may lack."""
    found = []
    for connector in known:
        fits = connector_fits(connector, wanted)
        if fits.refused:
            continue
        score = 10.0
        if connector.pins != wanted.pins:
            score -= 1 + 0.2 * (connector.pins - wanted.pins)
        if connector.anchors != wanted.anchors:
            score -= 2
        found.append(Substitute(connector, fits, score))
    return tuple(sorted(found, key=lambda substitute: (-substitute.score, substitute.connector.name)))
