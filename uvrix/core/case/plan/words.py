"""A step of the plan as a sentence that a technician would say."""

from __future__ import annotations

from collections.abc import Mapping

from uvrix.core.boards.contacts import contact_words
from uvrix.core.case.plan.steps import Step
from uvrix.core.proving.protocol import USUAL
from uvrix.language import gettext

CHECKS: Mapping[str, str] = {str(check["id"]): str(check["name"]) for check in USUAL}
SAYS: Mapping[str, str] = {
    "symptom": gettext("Pin the symptom down"),
    "trial": gettext("Try it with another {target}"),
    "tick": gettext("Look at fuse {target} and tick it"),
    "glow": gettext("Look for the warm spot on {target}"),
    "lift-coil": gettext("Lift {target}"),
    "fit-coil": gettext("Fit {target} again"),
    "unsolder-lead": gettext("Unsolder the lead at {target}"),
    "remove": gettext("Take {target} off"),
    "place": gettext("Fit {target}"),
    "swap": gettext("Swap {target}"),
    "reball": gettext("Reball {target}"),
    "renew-joint": gettext("Renew the joint of {target}"),
    "contact-repaired": gettext("Repair contact {target}"),
    "cut-layers": gettext("Cut out the layers below {target}"),
    "cooler-off": gettext("Take the cooler off"),
    "cooler-on": gettext("Put the cooler on"),
    "draw": gettext("Read the draw on the bench supply"),
    "rung": gettext("See how far it comes in the test computer"),
    "run": gettext("Run the memory tester, {target}"),
    "mark": gettext("Confirm the mark on {target}"),
    "pads": gettext("Survey the pads of {target}"),
    "write": gettext("Read, keep and write the firmware of {target}"),
    "draw-model": gettext("Draw this board's model from a photograph"),
}
POWER: Mapping[str, str] = {
    "off": gettext("Switch it off and discharge it"),
    "supply": gettext("Connect the bench supply, limit low"),
    "computer": gettext("Put it in the test computer"),
}
RETURN: Mapping[str, str] = {
    "repaired": gettext("Return it, repaired and proven"),
    "no-fix": gettext("Return it: not repaired"),
    "donor": gettext("Offer it as a donor, or return it"),
}
READ: Mapping[str, str] = {
    "resistance": gettext("Read {target} to ground"),
    "diode": gettext("Read {target} in diode mode"),
    "voltage": gettext("Read the volts at {target}"),
    "frequency": gettext("Read the frequency at {target}"),
    "current": gettext("Read the current at {target}"),
}
SIDES = ("front", "back")
# Everything that a plan may propose (docs/formats §18).
DOES: tuple[str, ...] = (*SAYS, "read", "look", "inject", "power", "proof", "ask", "return")


def sentence(step: Step) -> str:
    """What to do, in a few words."""
    if step.do in SAYS:
        target = contact_words(step.target) if step.do == "contact-repaired" else step.target
        return SAYS[step.do].format(target=target)
    return {"read": _read, "look": _look, "inject": _inject}.get(step.do, _named)(step)


def _look(step: Step) -> str:
    what = {"all": gettext("the whole card")}.get(
        step.target, gettext("the {target}", target=step.target) if step.target in SIDES else step.target
    )
    return gettext("Look at {what}", what=what)


def _inject(step: Step) -> str:
    return gettext(
        "Inject {volts} V into {target}, {amps_limit} A at most",
        volts=f"{step.more['volts']:g}",
        target=step.target,
        amps_limit=f"{step.more['amps_limit']:g}",
    )


def _named(step: Step) -> str:
    if step.do == "proof":
        return gettext(
            "Prove: {target_2}{target}", target_2=CHECKS[step.target][0].lower(), target=CHECKS[step.target][1:]
        )
    if step.do == "ask":
        return gettext("Ask the customer: {target}", target=step.target)
    return {"power": POWER, "return": RETURN}[step.do][step.target]


def _read(step: Step) -> str:
    quantity, target = str(step.more.get("quantity", "resistance")), step.target
    if "/" in target:
        return gettext("Read between {} and {}").format(*target.split("/"))
    if step.across:
        return gettext("Read across {target}", target=target)
    return READ[quantity].format(target=target)


# What either result of a step would mean; steps that are not named here change the card and tell nothing by themselves.
MEANS: Mapping[str, str] = {
    "symptom": gettext("What fails decides which step comes first."),
    "trial": gettext("Gone with another {target}: the fault is there. Still there: the {target} is not it."),
    "look": gettext(
        "Something seen is a cause at once, for every rail that hangs on it. Nothing: what shows is ruled out."
    ),
    "tick": gettext("Whole: power is one fuse nearer. Open: the side behind it is read before a new one goes in."),
    "glow": gettext(
        "Warm: the parts by the spot are the suspects. Cold: what was fed cannot warm it, and blames nobody."
    ),
    "inject": gettext(
        "Where it warms is the part. Cold: the current takes another way, or is too small to warm anything."
    ),
    "lift-coil": gettext("The short stays on one side: it is on the rail or in the converter."),
    "remove": gettext(
        "The rail reads right again: it was this part. Still low: it goes back on, and the next likeliest is it."
    ),
    "swap": gettext("The fault is gone: it was this part. Unchanged: hardly this part any more."),
    "reball": gettext("A clean run: it was the joints. The same errors: the chip itself, or what feeds it."),
    "renew-joint": gettext("A clean run: it was the joint. The same: look further."),
    "draw": gettext("As other cards of the model: the supply side is sound. More or nothing: it says where to look."),
    "rung": gettext("The rung where it stops names what is still missing."),
    "run": gettext(
        "Clean: the memory is sound by now. Errors: they name the chip. Refused: the recipe, or its supply."
    ),
    "mark": gettext(
        "Right: the chip is the one on the board. Wrong: the map is turned or counted from the other side."
    ),
    "pads": gettext("Good: it can be put back. Torn: repaired, or the card is a donor."),
    "proof": gettext("Passed: one check fewer. Failed: back to the screen that it belongs to."),
    "ask": gettext("What the customer answers decides what is done."),
    "draw-model": gettext("Chips and rails get their names and places, on this card and on the next of its kind."),
}
READ_MEANS: Mapping[str, str] = {
    "resistance": gettext(
        "Right: the rail is cleared, cold. Low: the hunt begins here, and an input keeps power locked."
    ),
    "diode": gettext("As its fellows: the line is whole. Open or low: the joint, the chip or the line is it."),
    "voltage": gettext("There: everything before it works. Missing: what makes it, or what allows it, is the suspect."),
    "frequency": gettext(
        "It swings: the clock is sound. Silent: the crystal, its supply, or the joints of what it feeds."
    ),
    "current": gettext("As usual: nothing is fed that should not be. Too much or nothing: it says where to look."),
}
BETWEEN_MEANS = gettext(
    "As much as both to ground together: apart. Less: joined, and the stage between them is the suspect."
)
ACROSS_MEANS = gettext(
    "Next to nothing: it is whole. More, or OL: it is sick or blown, and what is behind it is read first."
)


def means(step: Step) -> str:
    """What either result of a step would mean; empty where it tells nothing by itself."""
    if step.do == "read":
        if "/" in step.target:
            return BETWEEN_MEANS
        return ACROSS_MEANS if step.across else READ_MEANS[str(step.more.get("quantity", "resistance"))]
    return MEANS.get(step.do, "").format(target=step.target)
