"""A step of the plan as a sentence that a technician would say."""

from __future__ import annotations

from collections.abc import Mapping

from uvrix.core.case.plan.steps import Step
from uvrix.core.proving.protocol import USUAL

CHECKS: Mapping[str, str] = {str(check["id"]): str(check["name"]) for check in USUAL}
SAYS: Mapping[str, str] = {
    "symptom": "Pin the symptom down",
    "trial": "Try it with another {target}",
    "tick": "Look at fuse {target} and tick it",
    "glow": "Look for the warm spot on {target}",
    "lift-coil": "Lift {target}",
    "fit-coil": "Fit {target} again",
    "unsolder-lead": "Unsolder the lead at {target}",
    "remove": "Take {target} off",
    "place": "Fit {target}",
    "swap": "Swap {target}",
    "reball": "Reball {target}",
    "renew-joint": "Renew the joint of {target}",
    "contact-repaired": "Repair contact {target}",
    "cut-layers": "Cut out the layers below {target}",
    "cooler-off": "Take the cooler off",
    "cooler-on": "Put the cooler on",
    "draw": "Read the draw on the bench supply",
    "rung": "See how far it comes in the test computer",
    "run": "Run the memory tester, {target}",
    "mark": "Confirm the mark on {target}",
    "pads": "Survey the pads of {target}",
    "write": "Read, keep and write the firmware of {target}",
    "draw-model": "Draw this board's model from a photograph",
}
POWER: Mapping[str, str] = {
    "off": "Switch it off and discharge it",
    "supply": "Connect the bench supply, limit low",
    "computer": "Put it in the test computer",
}
RETURN: Mapping[str, str] = {
    "repaired": "Return it, repaired and proven",
    "no-fix": "Return it: not repaired",
    "donor": "Offer it as a donor, or return it",
}
READ: Mapping[str, str] = {
    "resistance": "Read {target} to ground",
    "diode": "Read {target} in diode mode",
    "voltage": "Read the volts at {target}",
    "frequency": "Read the frequency at {target}",
    "current": "Read the current at {target}",
}
SIDES = ("front", "back")
# Everything that a plan may propose (case.md, `next[].do`).
DOES: tuple[str, ...] = (*SAYS, "read", "look", "inject", "power", "proof", "ask", "return")


def sentence(step: Step) -> str:
    """What to do, in a few words."""
    if step.do in SAYS:
        return SAYS[step.do].format(target=step.target)
    return {"read": _read, "look": _look, "inject": _inject}.get(step.do, _named)(step)


def _look(step: Step) -> str:
    what = {"all": "the whole card"}.get(step.target, f"the {step.target}" if step.target in SIDES else step.target)
    return f"Look at {what}"


def _inject(step: Step) -> str:
    return f"Inject {step.more['volts']:g} V into {step.target}, {step.more['amps_limit']:g} A at most"


def _named(step: Step) -> str:
    if step.do == "proof":
        return f"Prove: {CHECKS[step.target][0].lower()}{CHECKS[step.target][1:]}"
    if step.do == "ask":
        return f"Ask the customer: {step.target}"
    return {"power": POWER, "return": RETURN}[step.do][step.target]


def _read(step: Step) -> str:
    quantity, target = str(step.more.get("quantity", "resistance")), step.target
    if "/" in target:
        return "Read between {} and {}".format(*target.split("/"))
    if step.across:
        return f"Read across {target}"
    return READ[quantity].format(target=target)
