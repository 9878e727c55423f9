"""What may be done to a card at Rework: one entry an act, with its words, its heat and its cautions."""

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
]


@dataclass(frozen=True, slots=True)
class Heat:
    """How many cycles an act is to its site, to the chip that was there, and to the one that comes."""

    site: int = 0
    chip: int = 0
    chip_in: int = 0


@dataclass(frozen=True, slots=True)
class Act:
    """An act: as it is asked for, as it was done, how much heat it is, the keys of its cautions (cautions.py)."""

    do: Do
    asked: str
    done: str
    heat: Heat
    cautions: tuple[str, ...]


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
        Act("contact-repaired", "repair a contact", "contact repaired", Heat(), ("eyes", "fumes")),
        Act("wire", "lay a wire", "wire laid", Heat(), ("fumes", "hot")),
        Act("drilled", "drill", "drilled", Heat(), ("eyes", "dust")),
        Act("flushed", "flush low-melt off", "flushed", Heat(site=1), ("fumes", "hot", "alcohol")),
        Act("baked", "bake", "baked", Heat(), ("hot",)),
    )
}
DOES: Mapping[Do, str] = {do: act.done for do, act in ACTS.items()}
HEATS: Mapping[Do, Heat] = {do: act.heat for do, act in ACTS.items()}
