"""What the cards of a class have in common, as open documents: a bench plan for a board that nobody has drawn.

Published in data/plans; a shop edits its own in the library. Orders of magnitude are the trade's (docs/trade §9.1):
12 V is usually kilohms, 5 V hundreds of ohms to kilohms, a memory rail tens of ohms. A 1.8 V rail differs severalfold
between models, a PCIe rail more than tenfold, a core rail may be well under an ohm and healthy: nothing is said of
these.
"""

from __future__ import annotations

from typing import Any

from uvrix.language import gettext

LEADS = gettext("Two leads tell a short here.")
LEADS_CANNOT = gettext(
    "Two leads cannot tell a healthy rail this low from a short: four wires, or feed it and look where it warms."
)

SLOT_12: dict[str, Any] = {
    "id": gettext("slot 12 V"),
    "name": gettext("Slot 12 V"),
    "kind": "input",
    "always": True,
    "volts": [10.8, 13.2],
    "ohms": [1000, 100000],
    "names": ["slot 12*", "edge 12*", "pcie 12*", "in12", "in12v", "in12vs", "in12s", "12", "12v", "12vs", "12s",
              "12v0", "12v slot", "12v edge", "a2", "a3", "b1", "b2", "b3"],
    "where": gettext("The first contacts of the slot, counted from the bracket; "
                     "then the widest copper towards the core."),
    "lowered_by": gettext("A power stage with its input joined to its output, a capacitor, a converter."),
    "wrong": gettext("Low: a short on the input, never powered. Absent with the supply on: its fuse, or the contact."),
    "leads": LEADS,
}  # fmt: skip
SLOT_3V3: dict[str, Any] = {
    "id": gettext("slot 3.3 V"),
    "name": gettext("Slot 3.3 V"),
    "kind": "input",
    "always": True,
    "volts": [3.0, 3.6],
    "names": ["slot 3.3*", "slot 3v3*", "edge 3.3*", "edge 3v3*", "pcie 3.3*", "pcie 3v3*", "in 3.3*", "in 3v3*",
              "3.3", "3.3v", "3v3", "3.3v slot", "3v3 slot", "3.3v edge", "3v3 edge", "b8", "a9", "a10"],
    "where": gettext("Contacts A9, A10 and B8 of the slot; small coils and fuses right above them."),
    "lowered_by": gettext("The firmware chip, level shifters, a small converter fed from it."),
    "wrong": gettext("Low: whatever small part hangs on it. Absent: its fuse, or a torn contact."),
    "leads": LEADS,
}  # fmt: skip
PLUG: dict[str, Any] = {
    "id": "plug 1",
    "name": gettext("Each plug's 12 V"),
    "kind": "input",
    "volts": [10.8, 13.2],
    "ohms": [1000, 100000],
    "names": ["plug*", "pl*", "j*", "con*", "pwr*", "power*", "in12a", "in12b", "in12c", "in12d"],
    "where": gettext("Behind each power plug: a fuse or a shunt, then a large coil."),
    "lowered_by": gettext("A power stage with its input joined to its output: the usual cause of a short input."),
    "wrong": gettext("Low: a short, never powered. High on one plug of two: its fuse is open."),
    "leads": LEADS,
}
FIVE: dict[str, Any] = {
    "id": "5 V",
    "name": "5 V",
    "kind": "rail",
    "always": True,
    "volts": [4.5, 5.5],
    "ohms": [100, 10000],
    "needs": [gettext("slot 12 V")],
    "names": ["5v", "5v0", "5", "5v converter"],
    "where": gettext("A small converter with one coil of a few millimetres, mostly near the plugs; it feeds drivers."),
    "lowered_by": gettext("A driver in a power stage, the converter itself, a capacitor."),
    "wrong": gettext("Missing: its supply, its enable, then the converter. Low cold: what it feeds."),
    "leads": LEADS,
}
THREE: dict[str, Any] = {
    "id": gettext("3.3 V converter"),
    "name": gettext("3.3 V from its converter"),
    "kind": "rail",
    "volts": [3.0, 3.6],
    "needs": [gettext("slot 12 V")],
    "names": [
        "3.3v converter",
        "3v3 converter",
        "3v3 buck",
        "3v3 aux",
        "3.3v aux",
        "3v3 sys",
    ],
    "where": gettext("A small converter like that of 5 V. Not every card has one: some use the slot's own 3.3 V."),
    "lowered_by": gettext("Firmware chip, controllers, level shifters."),
    "wrong": gettext("A 3.3 V that is there elsewhere proves nothing: two converters can make the same voltage."),
    "leads": LEADS,
}
ONE_EIGHT: dict[str, Any] = {
    "id": "1.8 V",
    "name": "1.8 V",
    "kind": "rail",
    "always": True,
    "volts": [1.6, 2.0],
    "needs": [gettext("slot 12 V"), gettext("slot 3.3 V"), "5 V"],
    "names": ["1.8v", "1v8", "1.8", "1.8v converter", "1v8 converter"],
    "where": gettext("A small coil or a linear regulator near the core, often on the back."),
    "lowered_by": gettext("The core, the firmware chip, the regulator."),
    "wrong": gettext("Missing: supply and enable of its converter first; the enable may be made far away, by logic."),
    "leads": gettext(
        "Its healthy figure differs several times over between models: only a card of this model says what is low."
    ),
}
PCIE: dict[str, Any] = {
    "id": gettext("PCIe supply"),
    "name": gettext("PCIe supply"),
    "kind": "rail",
    "always": True,
    "volts": [0.65, 1.2],
    "needs": ["1.8 V"],
    "names": ["pcie", "pcie supply", "pex", "0.9v", "0v9"],
    "where": gettext("A converter with one coil between the core and the slot."),
    "lowered_by": gettext("The core; its own converter."),
    "wrong": gettext("Missing: the card is not listed on the bus."),
    "leads": LEADS_CANNOT,
}
MEMORY: dict[str, Any] = {
    "id": gettext("memory supply"),
    "name": gettext("Memory supply"),
    "kind": "rail",
    "always": True,
    "volts": [0.9, 2.0],
    "ohms": [10, 100],
    "needs": ["1.8 V"],
    "names": ["memory", "mem", "memory supply", "vmem", "1.35v", "1v35"],
    "where": gettext("One or two phases with coils as large as the core's, at one end of its row or across from it."),
    "lowered_by": gettext("A memory chip, one of its stages."),
    "wrong": gettext("Missing: no memory answers, and the tester refuses or every channel fails."),
    "leads": LEADS_CANNOT,
}
SECOND: dict[str, Any] = {
    "id": gettext("second memory supply"),
    "name": gettext("Second memory supply"),
    "kind": "rail",
    "volts": [1.5, 3.0],
    "needs": ["1.8 V"],
    "names": ["second memory", "memory 2", "mem2", "second memory supply"],
    "where": gettext("A small regulator near the chips. Not every memory has one."),
    "lowered_by": gettext("A memory chip."),
    "wrong": gettext("Missing: the chips do not answer though their first supply is there."),
    "leads": LEADS,
}
CORE: dict[str, Any] = {
    "id": gettext("core phases"),
    "name": gettext("Core supply"),
    "kind": "rail",
    "always": True,
    "volts": [0.4, 1.5],
    "needs": ["5 V", "1.8 V", gettext("memory supply"), gettext("PCIe supply")],
    "names": ["core", "core phases", "vcore", "core supply"],
    "where": gettext("The row of large, equal coils round the core."),
    "lowered_by": gettext("A joined stage, or the core itself. Well under an ohm can be healthy."),
    "wrong": gettext("Missing with all others there: its controller's supply and enable, then the controller."),
    "leads": LEADS_CANNOT,
}
CRYSTAL: dict[str, Any] = {
    "id": "crystal",
    "name": "Crystal",
    "kind": "clock",
    "needs": [gettext("core phases")],
    "mhz": [1, 200],
    "names": ["crystal", "xtal", "y1"],
    "where": gettext("A small metal can beside the core."),
    "lowered_by": "",
    "wrong": gettext("Noise in place of a wave: the crystal, its capacitors, or the core does not drive it."),
    "leads": gettext("Not read in ohms."),
}
RESET: dict[str, Any] = {
    "id": "reset",
    "name": gettext("Reset released"),
    "kind": "signal",
    "volts": [1.6, 3.6],
    "needs": ["1.8 V", gettext("core phases")],
    "names": ["reset", "rst", "a11", "release"],
    "where": gettext("Contact A11 of the slot, and the resistor that leads from it to the core."),
    "lowered_by": "",
    "wrong": gettext("Held low: the host does not release it, or the rails' supervisor does not."),
    "leads": gettext("Not read in ohms."),
}
USUAL: dict[str, Any] = {
    "format": "uvrix-plan",
    "version": 1,
    "id": "usual",
    "name": gettext("A card with power plugs"),
    "nodes": [SLOT_12, SLOT_3V3, PLUG, FIVE, THREE, ONE_EIGHT, PCIE, MEMORY, SECOND, CORE, CRYSTAL, RESET],
}
SLOT_ONLY: dict[str, Any] = {
    "format": "uvrix-plan",
    "version": 1,
    "id": "slot-only",
    "name": gettext("A small card that the slot feeds"),
    "nodes": [SLOT_12, SLOT_3V3, FIVE, ONE_EIGHT, PCIE, MEMORY, CORE, CRYSTAL, RESET],
}
DOCUMENTS: tuple[dict[str, Any], ...] = (USUAL, SLOT_ONLY)
