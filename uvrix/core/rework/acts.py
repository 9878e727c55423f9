"""What may be done to a card, on whichever screen: one entry an act, with its words, its heat and its cautions."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from uvrix.language import gettext

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
        Act("remove", gettext("remove"), gettext("removed"), Heat(site=1, chip=1), ("fumes", "hot", "eyes")),
        Act("clean-pads", gettext("clean its pads"), gettext("pads cleaned"), Heat(site=1), ("fumes", "hot")),
        Act("reball", gettext("reball the chip"), gettext("reballed"), Heat(chip=1), ("fumes", "hot", "eyes")),
        Act("place", gettext("place a chip"), gettext("placed"), Heat(site=1, chip_in=1), ("fumes", "hot", "eyes")),
        Act(
            "swap",
            gettext("swap the chip"),
            gettext("swapped"),
            Heat(site=2, chip=1, chip_in=1),
            ("fumes", "hot", "eyes"),
        ),
        Act("renew-joint", gettext("renew a joint"), gettext("joint renewed"), Heat(site=1, chip=1), ("fumes", "hot")),
        Act(
            "bridge-cleared",
            gettext("clear a bridge"),
            gettext("bridge cleared"),
            Heat(site=1, chip=1),
            ("fumes", "hot"),
        ),
        Act("pad-repaired", gettext("repair a pad"), gettext("pad repaired"), Heat(), ("fumes", "hot")),
        Act(
            "contact-repaired",
            gettext("repair a contact"),
            gettext("contact repaired"),
            Heat(),
            ("eyes", "fumes"),
            told=gettext("Contact {} is repaired and weaker than a new one: plug the card in straight, and rarely."),
        ),
        Act("wire", gettext("lay a wire"), gettext("wire laid"), Heat(), ("fumes", "hot")),
        Act("drilled", gettext("drill"), gettext("drilled"), Heat(), ("eyes", "dust")),
        Act("flushed", gettext("flush low-melt off"), gettext("flushed"), Heat(site=1), ("fumes", "hot", "alcohol")),
        Act("baked", gettext("bake the chip dry"), gettext("baked"), Heat(), ("hot",)),
        Act(
            "solder-lead",
            gettext("solder an injection lead on"),
            gettext("got an injection lead"),
            Heat(),
            ("fumes", "hot"),
        ),
        Act(
            "unsolder-lead",
            gettext("unsolder an injection lead"),
            gettext("injection lead removed"),
            Heat(),
            ("fumes", "hot"),
        ),
        Act("lift-coil", gettext("lift a coil"), gettext("coil lifted"), Heat(site=1), ("fumes", "hot")),
        Act("fit-coil", gettext("fit a coil again"), gettext("coil fitted again"), Heat(site=1), ("fumes", "hot")),
        Act(
            "cut-layers",
            gettext("cut burnt layers out"),
            gettext("burnt layers cut out"),
            Heat(),
            ("eyes", "dust"),
            told=gettext(
                "Burnt layers below {} are cut out: its place stays empty for good, and the others carry its share."
            ),
        ),
        Act("write", gettext("write firmware"), gettext("firmware written"), Heat(), ()),
        Act(
            "bake",
            gettext("reflow the whole card in an oven"),
            gettext("reflowed in an oven"),
            Heat(card=1),
            ("fumes", "hot"),
            told=gettext(
                "The whole card was heated in an oven, every part of it: it may fail again, also where it was sound."
            ),
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
        gettext("glued on"),
        gettext(
            "Contact {} is glued on and weaker than a new one: plug the card in straight, rarely, and keep heat and"
            " solvents away from it."
        ),
    ),
    "clamped": Way(
        gettext("glued and clamped"),
        gettext(
            "{} was glued and cured under a clamp; the place is weaker than before: "
            "plug the card in straight, rarely, and do not bend it there."
        ),
    ),
    "wired": Way(
        gettext("bridged by a wire"),
        gettext("Contact {} is bridged by a thin wire: plug the card in straight, rarely, and do not touch the wire."),
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
