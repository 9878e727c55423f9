"""Paste and pads between the cooler and what it cools: as they were found, as they were fitted (docs/trade §2.5).

A poor paste costs many degrees; a pad too thick or two stacked lift the cooler off its neighbour, one too thin touches
nothing. Both are kept with their type and thickness, so that a card that runs hot can be held against what lies on it.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from uvrix.language import gettext

MATERIALS: Mapping[str, str] = {"paste": gettext("paste"), "pad": gettext("pad"), "putty": gettext("putty")}
COOLED: Mapping[str, str] = {
    "core": gettext("core"),
    "memory": gettext("memory"),
    "power-stages": gettext("power stages"),
    "coils": gettext("coils"),
    "backplate": gettext("backplate"),
}
# States in which it is found; all but the first make a card run hot.
STATES: Mapping[str, str] = {
    "good": gettext("as it should be"),
    "dried": gettext("dried or pumped out"),
    "stacked": gettext("stacked"),
    "thin": gettext("too thin, no imprint"),
    "thick": gettext("too thick"),
    "missing": gettext("missing"),
}
SOUND = frozenset({"", "good"})
# Thicknesses within this are the same pad, in millimetres.
SAME_PAD_MM = 0.05


@dataclass(frozen=True, slots=True)
class Layer:
    """What lies on a kind of part: its material, type and thickness in millimetres, None where it has none."""

    cooled: str
    material: str
    name: str = ""
    thickness_mm: float | None = None
    state: str = ""
    reused: bool = False

    @property
    def words(self) -> str:
        """In a few words, as the report has it."""
        thick = (
            "" if self.thickness_mm is None else gettext(", {thickness_mm} mm", thickness_mm=f"{self.thickness_mm:g}")
        )
        said = f"{COOLED[self.cooled]}: {MATERIALS[self.material]} {self.name}".strip()
        again = gettext(", used again") if self.reused else ""
        state = "" if self.state in SOUND else f", {STATES[self.state]}"
        return f"{said}{thick}{again}{state}"


def usual_thickness(others: Sequence[Layer], cooled: str) -> tuple[float, int, int] | None:
    """The pad that most other cards of the model have there: millimetres, on how many, of how many; None of none."""
    known = [other.thickness_mm for other in others if other.cooled == cooled and other.thickness_mm is not None]
    if not known:
        return None
    [(usual, count)] = Counter(round(number, 2) for number in known).most_common(1)
    return usual, count, len(known)


def doubts(layer: Layer, others: Sequence[Layer]) -> str:
    """What speaks against a layer that is fitted; empty where nothing does."""
    usual = usual_thickness(others, layer.cooled)
    if usual and layer.thickness_mm is not None and abs(layer.thickness_mm - usual[0]) > SAME_PAD_MM:
        cards = (
            gettext("{usual} of {usual_2} other cards of this model have", usual=usual[1], usual_2=usual[2])
            if usual[2] > 1
            else gettext("another card has")
        )
        return gettext(
            "{thickness_mm} mm on the {cooled}; {cards} {usual} mm there. See the imprint.",
            thickness_mm=f"{layer.thickness_mm:g}",
            cooled=COOLED[layer.cooled],
            cards=cards,
            usual=f"{usual[0]:g}",
        )
    if layer.reused and layer.material == "paste":
        return gettext("Paste is not used again: clean it off and put fresh paste on.")
    return ""
