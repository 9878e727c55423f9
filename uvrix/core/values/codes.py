"""What the codes of files and answers are called in a sentence."""

from __future__ import annotations

from collections.abc import Mapping

from uvrix.language import gettext

WORDS: Mapping[str, str] = {
    # sides of a board, and what was changed to see whether the fault goes along
    "front": gettext("front"),
    "back": gettext("back"),
    "card": gettext("card"),
    "computer": gettext("computer"),
    "plug": gettext("plug"),
    "lead": gettext("lead"),
    "always": gettext("always"),
    "often": gettext("often"),
    "rarely": gettext("rarely"),
    # whether a node of the start-up map is there, and what kind of node it is
    "present": gettext("present"),
    "missing": gettext("missing"),
    "input": gettext("input"),
    "rail": gettext("rail"),
    "signal": gettext("signal"),
    "clock": gettext("clock"),
    "draw": gettext("draw"),
    # what is done to a part that is tried
    "replaced": gettext("replaced"),
    "renewed": gettext("renewed"),
    "removed": gettext("removed"),
    # verdicts on readings, pads, fuses and runs
    "within": gettext("within"),
    "low": gettext("low"),
    "high": gettext("high"),
    "short": gettext("short"),
    "partial-short": gettext("partial short"),
    "open": gettext("open"),
    "unsteady": gettext("unsteady"),
    "no-reference": gettext("no reference"),
    "not-surveyed": gettext("not surveyed"),
    "fixable": gettext("fixable"),
    "marginal": gettext("marginal"),
    "donor": gettext("donor"),
    "good": gettext("good"),
    "sick": gettext("sick"),
    "blown": gettext("blown"),
    "unread": gettext("not read"),
    "better": gettext("better"),
    "same": gettext("the same"),
    "worse": gettext("worse"),
    # what is measured
    "resistance": gettext("resistance"),
    "diode": gettext("diode"),
    "voltage": gettext("voltage"),
    "current": gettext("current"),
    "frequency": gettext("frequency"),
    "temperature": gettext("temperature"),
    # parts and their condition
    "core": gettext("core"),
    "memory": gettext("memory"),
    "power-stage": gettext("power stage"),
    "converter": gettext("converter"),
    "controller": gettext("controller"),
    "gate": gettext("gate"),
    "transistor": gettext("transistor"),
    "resistor": gettext("resistor"),
    "capacitor": gettext("capacitor"),
    "fuse": gettext("fuse"),
    "shunt": gettext("shunt"),
    "supervisor": gettext("supervisor"),
    "crystal": gettext("crystal"),
    "connector": gettext("connector"),
    "coil": gettext("coil"),
    "pin": gettext("pin"),
    "pad": gettext("pad"),
    # alloys
    "leaded": gettext("leaded"),
    "lead-free": gettext("lead-free"),
    "low-melt": gettext("low-melt"),
    "new": gettext("new"),
    "tested": gettext("tested"),
    "pulled": gettext("pulled off a card"),
    "doubtful": gettext("doubtful"),
    "dead": gettext("dead"),
    # what is waited for at the bench
    "curing": gettext("curing"),
    "cooling": gettext("cooling"),
    "soak": gettext("soak"),
}


def code_words(code: str) -> str:
    """A code as a sentence has it; one that is not known here stands as it is."""
    return WORDS.get(code, code)
