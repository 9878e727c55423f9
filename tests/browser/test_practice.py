"""Practice by the keyboard alone: a card of every level from its beginning to its debrief, without a mouse."""

from __future__ import annotations

import json
import re
from uuid import uuid4

import pytest

from tests.browser.expecting import expect
from uvrix.core.practice.card_file import PracticeCard
from uvrix.core.practice.levels import LEVELS, Level

pytestmark = pytest.mark.browser
MOST_TABS = 220
# What the focused control is called, as a screen reader says it.
CALLED = """() => { const at = document.activeElement;
  return (at.getAttribute('aria-label') || (at.labels && at.labels[0] && at.labels[0].innerText) || at.innerText || '')
    .replace(/\\s+/g, ' ').trim() }"""
# What is hidden at each level, and who is repaired how; host is nothing of the card's own.
HIDDEN: dict[Level, tuple[tuple[str, ...], list[tuple[str, str]]]] = {
    "counting": (("cells:U12",), [("swap", "U12")]),
    "shorts": (("joined:U71",), [("swap", "U71")]),
    "start-up": (("dead:U63",), [("swap", "U63")]),
    "joints": (("joint:U16",), [("reball", "U16")]),
    "two-faults": (("dead:U63", "cells:U12"), [("swap", "U63"), ("swap", "U12")]),
    "nothing": (("host",), []),
}
TO_DO = {"swap": "swap the", "reball": "reball the"}


class Keys:
    """Hands on the keyboard: nothing is clicked, and no field is filled but by typing."""

    def __init__(self, page) -> None:
        self.page = page

    def press(self, *keys: str) -> None:
        for key in keys:
            self.page.keyboard.press(key)

    def to(self, name: str) -> None:
        """Tab on until the control of a name has the focus."""
        for _ in range(MOST_TABS):
            if re.match(name, self.page.evaluate(CALLED)):
                return
            self.page.keyboard.press("Tab")
        raise AssertionError(f"no control called {name} within {MOST_TABS} tabs")

    def choose(self, name: str, word: str) -> None:
        """Choose a word of a list by its first letters."""
        self.to(name)
        self.page.keyboard.type(word)

    def write(self, name: str, text: str) -> None:
        self.to(name)
        self.page.keyboard.press("Control+A")
        self.page.keyboard.type(text)

    def step(self, key: str, step: str) -> None:
        """Go to a step of the line by its two letters."""
        self.page.evaluate("document.activeElement.blur()")
        self.press("g", key)
        current = self.page.get_by_role("navigation", name="Steps").locator("[aria-current=step]")
        expect(current).to_contain_text(step)
        expect(self.page.get_by_test_id("instruments")).to_be_visible()

    def use(self, instrument: str, where: str = "", does: str = "") -> str:
        """Take an instrument, hold it to a place, read what it says."""
        answer = self.page.get_by_test_id("answer")
        before = answer.inner_text()
        self.page.evaluate("document.activeElement.blur()")
        self.press("i")
        self.page.keyboard.type(instrument)
        if where:
            self.choose("Where$", where)
        self.to(f"{does}$")
        if instrument == "Power":
            # never by Enter or the pedal
            self.press("Enter")
            expect(answer).to_have_text(before)
        with self.page.expect_response("**/practice/steps"):
            self.press("Space" if instrument == "Power" else "Enter")
        expect(answer).not_to_have_text(before)
        return answer.inner_text()


def take_in(bench, level: Level) -> None:
    """A card of the level among those that the shop keeps."""
    card = PracticeCard(f"Keyboard {level}", level, "scaup-24", HIDDEN[level][0], 5, "No sign of life.")
    token = bench.page.request.get(f"{bench.served.address}/api/v1/session").json()["csrf"]
    file = {"name": "card.json", "mimeType": "application/json", "buffer": json.dumps(card.document()).encode()}
    sent = bench.page.request.post(
        f"{bench.served.address}/api/v1/practice/cards",
        multipart={"file": file},
        headers={"X-CSRFToken": token, "Referer": bench.served.address},
    )
    assert sent.status == 201, sent.text()


def measure(keys: Keys, level: str) -> None:
    """What a technician would read of a card of the level."""
    keys.step("o", "Ohms")
    assert "Switched off" in keys.use("Power", "off", "Set")
    read = keys.use("Meter, ohms", "PA", "Read")
    assert "PA to ground" in read
    if level == "shorts":
        assert "injected" in keys.use("Bench supply, inject", "PA", "Inject").lower()
        keys.use("Thermal", does="Look")
        return
    keys.step("v", "Volts")
    keys.use("Power", "on the bench", "Set")


def repair(keys: Keys, number: str, do: str, site: str) -> None:
    """The act on Rework's own form."""
    page = keys.page
    keys.step("w", "Rework")
    keys.write("site or part", site)
    keys.press("Enter")
    form = page.get_by_test_id("rework-form")
    expect(form).to_be_visible()
    keys.choose("to do", TO_DO[do])
    done = form.get_by_role("button", name=re.compile("^Done: "))
    expect(done).to_contain_text(site)
    asked = page.request.get(f"{page.url.split('/jobs')[0]}/api/v1/jobs/{number}/rework/before?site={site}&do={do}")
    corner = asked.json()["pin1"]
    if do == "swap":
        keys.write("chip that comes", f"NEW-{uuid4().hex[:4]}")
    if form.get_by_label("or why not").count():
        keys.write("or why not", "a virtual card")
        keys.choose("pin 1 lies", corner or "it has none")
    page.evaluate("document.activeElement.blur()")
    expect(done).to_be_enabled()
    keys.to("Done: ")
    keys.press("Enter")
    expect(page.get_by_role("list", name="What was done")).to_contain_text(site)


@pytest.mark.in_turn(3)
@pytest.mark.parametrize("level", LEVELS)
def test_a_card_of_every_level_is_played_to_its_end_by_the_keyboard_alone(bench, level):
    bench.sign_in()
    take_in(bench, level)
    bench.load("/practice/cards")
    page, keys = bench.page, Keys(bench.page)
    row = page.get_by_role("listitem").filter(has_text=f"Keyboard {level}")
    expect(row).to_be_visible()
    begin = row.get_by_role("button", name="Start")
    for _ in range(MOST_TABS):
        if begin.evaluate("button => button === document.activeElement"):
            break
        keys.press("Tab")
    keys.press("Enter")
    expect(page.get_by_test_id("instruments")).to_be_visible()
    number = page.url.split("/jobs/")[1].split("/")[0]
    expect(page.get_by_text("practice", exact=True).first).to_be_visible()
    if level == "counting":
        bench.check_access()
        bench.nothing_cut()
    measure(keys, level)
    for do, site in HIDDEN[level][1]:
        repair(keys, number, do, site)
    page.evaluate("document.activeElement.blur()")
    keys.to("Finish …")
    keys.press("Enter")
    keys.choose("Outcome", "returned as" if level == "nothing" else "returned repaired")
    keys.to("Finish$")
    keys.press("Enter")
    debrief = page.get_by_test_id("debrief")
    expect(debrief).to_contain_text("Right outcome")
    expect(page.get_by_test_id("hidden")).to_contain_text(
        "computer that it came from" if level == "nothing" else HIDDEN[level][0][0].split(":")[1]
    )
    expect(page.get_by_test_id("moments").get_by_role("row").nth(2)).to_be_visible()
    bench.nothing_cut()
    if level == "counting":
        bench.check_access()
        bench.load("/practice/rounds")
        expect(page.get_by_test_id("rounds")).to_contain_text("returned repaired")
