"""Values in the shop's notation (docs/formats §11): 2.2k, 2k2, 0R47, 1.2M, 430m, OL, and spans such as 12..55."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from uvrix.core.errors import Refusal, quoted
from uvrix.language import gettext

Quantity = Literal["resistance", "diode", "voltage", "current", "frequency", "temperature"]
Mode = Literal["ohms", "diode", "continuity", ""]
QUANTITIES: tuple[Quantity, ...] = ("resistance", "diode", "voltage", "current", "frequency", "temperature")
# Read of a card that is unplugged and discharged, and of one that is on.
COLD: tuple[Quantity, ...] = ("resistance", "diode")
POWERED: tuple[Quantity, ...] = ("voltage", "current", "frequency")
# What a unit measures, and its factor to the quantity's own unit (ohm, volt, ampere, hertz, degree Celsius).
UNITS: Mapping[Quantity, Mapping[str, float]] = {
    "resistance": {"ohm": 1.0},
    "diode": {"V": 1.0},
    "voltage": {"V": 1.0},
    "current": {"A": 1.0},
    "frequency": {"Hz": 1.0, "MHz": 1e6},
    "temperature": {"C": 1.0},
}
UNIT: Mapping[Quantity, str] = {
    "resistance": "ohm",
    "diode": "V",
    "voltage": "V",
    "current": "A",
    "frequency": "Hz",
    "temperature": "C",
}
MODES: Mapping[Quantity, tuple[Mode, ...]] = {
    "resistance": ("ohms", "continuity", ""),
    "diode": ("diode", ""),
    "voltage": ("",),
    "current": ("",),
    "frequency": ("",),
    "temperature": ("",),
}
# Letters in the place of the point or behind the number.
FACTORS: Mapping[str, Decimal] = {
    "R": Decimal(1),
    "k": Decimal(1000),
    "K": Decimal(1000),
    "M": Decimal(1_000_000),
    "G": Decimal(1_000_000_000),
    "m": Decimal("0.001"),
    "u": Decimal("0.000001"),
    "µ": Decimal("0.000001"),
    "μ": Decimal("0.000001"),
}
LETTERS = "".join(FACTORS)
PLAIN = re.compile(rf"([+-]?)(\d+(?:\.\d+)?|\.\d+)(?:[eE]([+-]?\d{{1,2}}))?\s?([{LETTERS}]?)")
INSIDE = re.compile(rf"([+-]?)(\d+)([{LETTERS}])(\d+)")
# A meter in diode mode shows volts or millivolts; a junction drops no more than this many volts.
MOST_DIODE_VOLTS = 3
EXPECTED = gettext("a value such as 2.2k, 2k2, 0R47, 430m, OL or 12..55")
LONGEST = 40
# Only these may lie below nothing.
SIGNED: frozenset[Quantity] = frozenset({"diode", "voltage", "current", "temperature"})


@dataclass(frozen=True, slots=True)
class Value:
    """A value or a span in the quantity's own unit; `ol`: the meter showed over-limit, and low and high are None."""

    low: float | None
    high: float | None

    @property
    def ol(self) -> bool:
        """Whether the meter showed over-limit: open circuit."""
        return self.low is None

    @property
    def span(self) -> bool:
        """Whether it would not settle."""
        return self.low != self.high

    @property
    def middle(self) -> float | None:
        """The value, or the span's middle; None for over-limit."""
        if self.low is None or self.high is None:
            return None
        return self.low if self.low == self.high else (self.low + self.high) / 2


OL = Value(None, None)


def parse_value(text: str, quantity: Quantity, unit: str = "") -> Value:
    """The value that a text in shop notation says, in the quantity's own unit; `unit` is one of UNITS[quantity].

    Raises Refusal (without a place) for what is no value, a span whose larger end comes first, a negative resistance.
    """
    stripped = text.strip()
    if "." not in stripped.replace("..", ""):
        stripped = stripped.replace(",", ".")  # a decimal comma
    if len(stripped) > LONGEST:
        raise Refusal("", quoted(text), EXPECTED)
    if stripped.upper() in {"OL", "O.L", "O.L."}:
        return OL
    factor = UNITS[quantity][unit or UNIT[quantity]]
    ends = stripped.split("..")
    if len(ends) > 2:
        raise Refusal("", quoted(text), EXPECTED)
    numbers = [_number(end, text, quantity) * factor for end in ends]
    if len(numbers) == 2 and numbers[0] > numbers[1]:
        raise Refusal("", quoted(text), gettext("a span with its smaller end first"))
    return Value(numbers[0], numbers[-1])


def _number(end: str, text: str, quantity: Quantity) -> float:
    """One number in shop notation."""
    found, bare = _decimal(end.strip())
    if found is None or (found < 0 and quantity not in SIGNED):
        raise Refusal("", quoted(text), EXPECTED)
    if quantity == "diode" and bare and found > MOST_DIODE_VOLTS:
        found /= 1000
    return float(found)


def _decimal(end: str) -> tuple[Decimal | None, bool]:
    """The number, None where it is none, and whether it stands without a letter."""
    if plain := PLAIN.fullmatch(end):
        sign, digits, power, letter = plain.groups()
        number = Decimal(f"{sign}{digits}E{power or 0}") * FACTORS.get(letter, Decimal(1))
        return number, not letter
    if inside := INSIDE.fullmatch(end):
        sign, whole, letter, rest = inside.groups()
        return Decimal(f"{sign}{whole}.{rest}") * FACTORS[letter], False
    return None, False


def shown(value: Value, quantity: Quantity) -> str:
    """The value as the screen writes it, with its unit: 2.2 kΩ, 0.47 Ω, 430 mV, OL, 12 Ω to 55 Ω."""
    if value.low is None or value.high is None:
        return "OL"
    if value.low == value.high:
        return shown_number(value.low, quantity)
    return gettext(
        "{shown_number} to {shown_number_2}",
        shown_number=shown_number(value.low, quantity),
        shown_number_2=shown_number(value.high, quantity),
    )


SIGNS: Mapping[Quantity, str] = {
    "resistance": "Ω",
    "diode": "V",
    "voltage": "V",
    "current": "A",
    "frequency": "Hz",
    "temperature": "°C",
}
STEPS = ((1e9, "G"), (1e6, "M"), (1e3, "k"), (1.0, ""), (1e-3, "m"), (1e-6, "µ"))
# Digits that a bench meter can stand for.
DIGITS = 4
SPAN_DIGITS = 2


def shown_number(number: float, quantity: Quantity) -> str:
    """One number with a prefix that keeps it between 1 and 1000, at most four digits, and its unit."""
    sign = SIGNS[quantity]
    if number == 0 or quantity == "temperature":
        return f"{_short(number)} {sign}"
    # half an ohm is said in ohms, half a volt across a junction in volts: as the meters show them
    size = float(f"{abs(number):.{DIGITS}g}")
    factor, prefix = next(((value, word) for value, word in STEPS if size >= value), STEPS[-1])
    if 0.1 <= size < 1:
        factor, prefix = 1.0, ""
    return f"{_short(number / factor)} {prefix}{sign}"


def _short(number: float) -> str:
    text = f"{number:.{DIGITS}g}"
    return f"{float(text):f}".rstrip("0").rstrip(".") if "e" in text else text


def typed(value: Value, quantity: Quantity) -> str:
    """The value in shop notation, as a person would type it: 2.214k, 0.12, 432m, OL, 12..55.

    A span's ends have two digits: what jumps about has no more.
    """
    if value.low is None or value.high is None:
        return "OL"
    ends = [value.low] if not value.span else [float(f"{number:.{SPAN_DIGITS}g}") for number in (value.low, value.high)]
    return "..".join(dict.fromkeys(_typed_number(end, quantity) for end in ends))


def _typed_number(number: float, quantity: Quantity) -> str:
    text = shown_number(number, quantity).removesuffix(SIGNS[quantity]).replace("µ", "u").replace(" ", "")
    # without a letter, more than a few volts would be taken for millivolts
    return f"{text}R" if quantity == "diode" and text[-1].isdigit() and abs(number) > MOST_DIODE_VOLTS else text
