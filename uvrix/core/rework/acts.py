"""What may be done to a card, on whichever screen: one entry an act, with its words, its heat and its cautions."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

Do = Literal[
    "remove",
    "clean-pads",
    "reball",
    "place",
    "swap",
    "renew-joint",
    "bridge-cleared",
    "pad-repaired",
    "contact-repaired",
    "wire",
    "drilled",
    "flushed",
    "baked",
    "solder-lead",
    "unsolder-lead",
    "lift-coil",
    "fit-coil",
    "cut-layers",
    "write",
    "bake",
]


@dataclass(frozen=True, slots=True)
class Heat:
    """How many cycles an act is to its site, to the chip there, to the one that comes, to every part of the card."""

    site: int = 0
    chip: int = 0
    chip_in: int = 0
    card: int = 0


@dataclass(frozen=True, slots=True)
class Act:
    """An act: as it is asked for, as it was done, how much heat it is, the keys of its cautions (cautions.py).

    `told` is what the customer is told of it, with the place left open: what stays weak or empty for good.
    """

    do: Do
    asked: str
    done: str
    heat: Heat
    cautions: tuple[str, ...]
    told: str = ""


ACTS: Mapping[Do, Act] = {
    act.do: act
    for act in (
        Act("remove", "remove", "removed", Heat(site=1, chip=1), ("fumes", "hot", "eyes")),
        Act("clean-pads", "clean its pads", "pads cleaned", Heat(site=1), ("fumes", "hot")),
        Act("reball", "reball the chip", "reballed", Heat(chip=1), ("fumes", "hot", "eyes")),
        Act("place", "place a chip", "placed", Heat(site=1, chip_in=1), ("fumes", "hot", "eyes")),
        Act("swap", "swap the chip", "swapped", Heat(site=2, chip=1, chip_in=1), ("fumes", "hot", "eyes")),
        Act("renew-joint", "renew a joint", "joint renewed", Heat(site=1, chip=1), ("fumes", "hot")),
        Act("bridge-cleared", "clear a bridge", "bridge cleared", Heat(site=1, chip=1), ("fumes", "hot")),
        Act("pad-repaired", "repair a pad", "pad repaired", Heat(), ("fumes", "hot")),
        Act(
            "contact-repaired",
            "repair a contact",
            "contact repaired",
            Heat(),
            ("eyes", "fumes"),
            told="Contact {} is repaired and weaker than a new one: plug the card in straight, and rarely.",
        ),
        Act("wire", "lay a wire", "wire laid", Heat(), ("fumes", "hot")),
        Act("drilled", "drill", "drilled", Heat(), ("eyes", "dust")),
        Act("flushed", "flush low-melt off", "flushed", Heat(site=1), ("fumes", "hot", "alcohol")),
        Act("baked", "bake the chip dry", "baked", Heat(), ("hot",)),
        Act("solder-lead", "solder an injection lead on", "got an injection lead", Heat(), ("fumes", "hot")),
        Act("unsolder-lead", "unsolder an injection lead", "injection lead removed", Heat(), ("fumes", "hot")),
        Act("lift-coil", "lift a coil", "coil lifted", Heat(site=1), ("fumes", "hot")),
        Act("fit-coil", "fit a coil again", "coil fitted again", Heat(site=1), ("fumes", "hot")),
        Act(
            "cut-layers",
            "cut burnt layers out",
            "burnt layers cut out",
            Heat(),
            ("eyes", "dust"),
            told="Burnt layers below {} are cut out: its place stays empty for good, and the others carry its share.",
        ),
        Act("write", "write firmware", "firmware written", Heat(), ()),
        Act(
            "bake",
            "reflow the whole card in an oven",
            "reflowed in an oven",
            Heat(card=1),
            ("fumes", "hot"),
            told="The whole card was heated in an oven, every part of it: it may fail again, also where it was sound.",
        ),
    )
}


@dataclass(frozen=True, slots=True)
class Way:
    """How a contact, or layers that had split, were put right; `told` is what the customer is told of it."""

    label: str
    told: str


WAYS: Mapping[str, Way] = {
    "glued": Way(
        "glued on",
        "Contact {} is glued on and weaker than a new one: plug the card in straight, rarely, and keep heat and"
        " solvents away from it.",
    ),
    "clamped": Way(
        "glued and clamped",
        "{} was glued and cured under a clamp; the place is weaker than before: plug the card in straight, rarely, and"
        " do not bend it there.",
    ),
    "wired": Way(
        "bridged by a wire",
        "Contact {} is bridged by a thin wire: plug the card in straight, rarely, and do not touch the wire.",
    ),
}
DOES: Mapping[Do, str] = {do: act.done for do, act in ACTS.items()}
HEATS: Mapping[Do, Heat] = {do: act.heat for do, act in ACTS.items()}


def told_of(do: Do, way: str) -> str:
    """What the customer is told of an act, with the place left open; empty where nothing stays weak."""
    return WAYS[way].told if way in WAYS else ACTS[do].told


# Acts on the whole card; a storage chip need not be named.
OF_THE_CARD = frozenset({"bake", "write"})
# Acts that take a part off or put one on.
TAKES_OFF, PUTS_ON = frozenset({"remove", "swap"}), frozenset({"place", "swap"})
