"""One mind: whatever was found, and on whichever screen, every screen names the same step and suspects."""

from __future__ import annotations

import re
from typing import Any
from uuid import uuid4

import pytest

from tests.browser.expecting import expect

pytestmark = pytest.mark.browser

STEPS = ("arrive", "look", "ohms", "volts", "memory", "rework", "prove", "return")
TESTER = re.compile("memory test", re.IGNORECASE)
Entry = tuple[str, dict[str, Any]]

DEAD: Entry = ("symptom", {"kinds": ["dead"], "often": "always"})
OFF: Entry = ("power", {"state": "off"})
ON: Entry = ("power", {"state": "supply", "plugs_in": True})
IN: Entry = ("power", {"state": "computer", "plugs_in": True})


def cold(**ohms: str) -> list[Entry]:
    """Readings to ground, without power."""
    row = {"quantity": "resistance", "mode": "ohms"}
    return [("readings", {"point": point, "value": value, **row}) for point, value in ohms.items()]


def live(*pairs: tuple[str, str], quantity: str = "voltage") -> list[Entry]:
    """Readings under power."""
    return [("readings", {"point": point, "value": value, "quantity": quantity}) for point, value in pairs]


def off(site: str) -> Entry:
    """A part taken off."""
    return ("rework", {"do": "remove", "site": site, "no_photo": "no camera", "pin1": "upper left"})


FUSES: list[Entry] = [("ticks", {"point": fuse}) for fuse in ("F11", "F12", "F13")]
INPUTS = cold(C2="8k1", C8="640", PA="9k", PB="9k2")
RAILS = cold(L21="480", L22="160", L23="42", L24="38", L25="0.6")
GOOD = [DEAD, OFF, *INPUTS, *FUSES, *RAILS]
FED = live(("C2", "12.0"), ("C8", "3.31"), ("PA", "12.1"), ("PB", "12.0"), ("TP60", "3.3"), ("L21", "5.02"))
SIGNALS = live(("Q7.3", "3.3"), ("U62.4", "3.3"), ("R212", "3.3"), ("R231", "3.3"), ("R240", "3.3"))
UP = [*FED, *SIGNALS, *live(("L22", "1.8"), ("L23", "0.9"), ("L24", "1.35"), ("L25", "0.9"))]
MISSING: Entry = ("look/findings", {"kind": "missing-part", "side": "back", "x_mm": 62, "y_mm": 66})

# What was entered; how the strip's sentence then begins; who is suspected. Each was "Run the memory tester" once.
SCENES: dict[str, tuple[list[Entry], str, str]] = {
    "SHORT": ([*GOOD, *cold(PA="0R4")], "Inject 0.5 V into PA", "U71 shorted"),
    "NO-1V8": ([*GOOD, ON, *FED, *live(("L22", "0.02"))], "Read the volts at R212", "U63 dead"),
    "ABSENT": ([*GOOD, IN, ("rungs", {"rung": "absent"})], "Read the volts at C2", "the core's joints"),
    "SILENT": ([*GOOD, ON, *UP, *live(("Y1", "0"), quantity="frequency")], "Look at Y1", "Y1 dead"),
    "MISSING": ([*GOOD, MISSING], "Fit U62", "U62 missing"),
    "CORE-OFF": ([*GOOD, off("U1")], "Read L24 to ground", "Nothing is suspected"),
}


def enter(bench, job: str, *entries: Entry) -> None:
    """Enter rows of a job by the addresses that its screens post to."""
    token = bench.page.request.get(f"{bench.served.address}/api/v1/session").json()["csrf"]
    headers = {"X-CSRFToken": token, "Referer": bench.served.address}
    for room, body in entries:
        address = f"{bench.served.address}/api/v1{job}/{room}"
        sent = bench.page.request.post(address, data={"id": str(uuid4()), **body}, headers=headers)
        assert sent.status in {200, 201}, (room, body, sent.text())


@pytest.mark.in_turn(2)
@pytest.mark.parametrize("scene", SCENES)
def test_every_screen_knows_what_was_found_on_another(bench, scene):
    entries, says, suspect = SCENES[scene]
    bench.sign_in()
    page = bench.page
    job = bench.new_job(f"OM-{scene}", model="scaup-24", complaint="Dead.").removeprefix(bench.served.address)
    enter(bench, job, *entries)
    bench.load(f"{job}/arrive")
    strip, mind = page.get_by_test_id("next-step"), page.get_by_test_id("mind")
    at = list(SCENES).index(scene)
    for step in (STEPS * 2)[at : at + 4]:
        bench.go(f"{job}/{step}")
        expect(page.get_by_role("navigation", name="Steps").locator("[aria-current=step]")).to_contain_text(
            step.title()
        )
        expect(strip).to_contain_text(f"Next: {says}")
        expect(strip).not_to_contain_text(TESTER)
        expect(strip.get_by_test_id("may-be")).to_contain_text(suspect)
        expect(mind.get_by_test_id("what-next").get_by_role("listitem").first).to_contain_text(says)
    bench.go("/shelf")
    expect(page.get_by_role("listitem").filter(has_text=f"J-{int(job.rsplit('/')[-1]):04d}")).to_contain_text(says)
