"""Without a library: chips ball by ball on the turned map, torn slot contacts, two cards in turn, the morning check."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from tests.browser.expecting import expect
from uvrix.core.boards.packages import read_package
from uvrix.core.readings.notation import Value, typed
from uvrix.core.virtual.pins import PinFault, Pins
from uvrix.standins.meter import LEAD_OHMS, Meter, PrintingMeter, Temper, shipped_cards

pytestmark = pytest.mark.browser
FB180 = read_package((Path(__file__).parents[2] / "data/packages/fb180.csv").read_bytes(), "fb180")
FIRST = [FB180.lines[line] for line in range(8)]


def unplug(page):
    page.get_by_role("button", name="It is unplugged and discharged").click()
    expect(page.get_by_text("Unplugged and discharged: ")).to_be_visible()


def enter(page, value):
    """A value typed into the field in turn; the next comes when it is stored."""
    field = page.get_by_test_id("reading").get_by_label("value", exact=True)
    before = page.get_by_test_id("reading").get_by_role("heading").inner_text()
    field.fill(value)
    field.press("Enter")
    expect(page.get_by_test_id("reading").get_by_role("heading")).not_to_have_text(before)


def volts(pins, chip, ball, *, alone=False):
    read = pins.line(chip, ball, "fb180", alone=alone).diode_v
    shown = None if read is None else round(read, 3)
    return typed(Value(shown, shown), "diode")


def test_a_chips_data_lines_are_probed_on_the_turned_map_and_lifting_is_answered(bench):
    bench.sign_in()
    page = bench.page
    address = bench.new_job("FL8-1")
    bench.go(f"{address}/ohms/chips")
    unplug(page)
    pins = Pins("teal-8", 5, [PinFault("dead-pin", f"U15.{FB180.lines[5]}")], {"fb180": FB180})
    # the card lies turned: the map says from which corner one counts
    page.locator("[data-site=U15]").first.click()
    expect(page.get_by_test_id("count-from")).to_contain_text("U15: A1 is upper left. Letters downwards")
    page.keyboard.press("Alt+r")
    expect(page.get_by_test_id("count-from")).to_contain_text("A1 is lower left. Letters rightwards, numbers upwards")
    for chip in ("U15", "U14", "U16", "U13"):
        page.get_by_label("Chip", exact=True).select_option(chip)
        for ball in FIRST:
            expect(page.get_by_role("heading", name=f"{chip} {ball}")).to_be_visible()
            enter(page, volts(pins, chip, ball))
    odd = page.get_by_test_id("odd")
    expect(odd.get_by_text(f"{FB180.lines[5]} DQ5", exact=True)).to_be_visible()
    expect(odd.locator("[data-answer=lift]")).to_contain_text("Lift U15")
    page.get_by_role("button", name="Table by pin and chip").click()
    cell = page.get_by_test_id("peers").get_by_role("button", name=f"U15 {FB180.lines[5]}")
    read = float(volts(pins, "U15", FB180.lines[5]))
    expect(cell).to_have_accessible_name(f"U15 {FB180.lines[5]} {1000 * read:.0f} mV, high")
    bench.check_access()
    cell.click()
    expect(page.get_by_role("heading", name=f"U15 {FB180.lines[5]}")).to_be_visible()
    # the chip is off: its pads, then its own balls, on the mirrored map
    off = Pins("teal-8", 5, pins.faults, {"fb180": FB180}, off=["U15"])
    page.get_by_label("Where the probe is").select_option("on the empty pads")
    for ball in FIRST:
        enter(page, volts(off, "U15", ball))
    expect(odd.locator("[data-answer=left]")).to_contain_text("left with the chip")
    page.get_by_label("Where the probe is").select_option("on the lifted chip")
    expect(page.get_by_test_id("count-from")).to_contain_text("A1 is lower right. Letters leftwards")
    for ball in FIRST:
        enter(page, volts(off, "U15", ball, alone=True))
    expect(odd.locator("[data-answer=chip]")).to_contain_text("replace it")
    expect(page.get_by_test_id("owed").get_by_text("U15 is off: fit it again, or a good one.")).to_be_visible()
    bench.nothing_cut()
    bench.page_stands_still()


def test_a_torn_contact_is_recorded_and_the_width_follows(bench):
    bench.sign_in()
    page = bench.page
    address = bench.new_job("FL8-2")
    bench.go(f"{address}/ohms/slot")
    unplug(page)
    width = page.get_by_test_id("width")
    expect(width.get_by_role("heading")).to_have_text("Nothing read yet")
    page.locator("[data-contact=B41]").click()
    page.get_by_role("button", name="B41 is torn").click()
    expect(width.get_by_role("heading")).to_have_text("Trains at ×8 counted from lane 15")
    expect(page.locator("[data-contact=B41]")).to_have_attribute("data-torn", "")
    expect(width.get_by_text("lane 6 (rx p) does not work until it is repaired")).to_be_visible()
    for name in ("A13", "A14", "B14", "B15"):
        expect(page.get_by_role("heading", name=name, exact=True)).to_be_visible()
        enter(page, "0.41" if name[0] == "A" else "0.36")
    enter(page, "OL")
    expect(page.get_by_test_id("contact-said")).to_contain_text("lane 1 rx p")
    expect(page.get_by_test_id("lanes").locator("[data-lane='1']")).to_contain_text("open")
    expect(width.get_by_role("heading")).to_have_text("Trains at ×8 counted from lane 15")
    page.keyboard.press("Alt+f")
    expect(page.get_by_text("Back, row A below")).to_be_visible()
    bench.check_access()
    bench.nothing_cut()
    # it stands among what was seen, and can be taken back from either place
    bench.go(f"{address}/look")
    expect(page.get_by_text("Torn contact").filter(visible=True).first).to_be_visible()
    bench.go(f"{address}/ohms/slot")
    page.locator("[data-contact=B41]").click()
    page.get_by_role("button", name="B41 is not torn").click()
    expect(page.get_by_role("button", name="B41 is torn")).to_be_visible()


def test_two_cards_are_probed_in_turn(bench):
    bench.sign_in()
    page = bench.page
    good = bench.new_job("FL8-3")
    address = bench.new_job("FL8-4")
    bench.go(f"{address}/ohms/beside")
    unplug(page)
    option = page.get_by_label("Read beside").locator("option", has_text="FL8-3")
    page.get_by_label("Read beside").select_option(value=option.get_attribute("value"))
    reading = page.get_by_test_id("reading")
    first = reading.get_by_role("heading").inner_text()
    reading.get_by_label("value", exact=True).fill("4k1")
    page.keyboard.press("Enter")
    # the other card has to be unplugged too before its turn
    gate = page.get_by_test_id("other-gate")
    expect(gate).to_contain_text("FL8-3")
    gate.get_by_role("button").click()
    expect(page.get_by_role("button", name="probe on the other")).to_have_attribute("aria-pressed", "true")
    expect(reading.get_by_role("heading")).to_have_text(first)
    enter(page, "4k3")
    # the probe stays on the other card for the next point, and comes back for the same
    second = reading.get_by_role("heading").inner_text()
    expect(page.get_by_role("button", name="probe on the other")).to_be_visible()
    reading.get_by_label("value", exact=True).fill("212")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="probe on this card")).to_be_visible()
    expect(reading.get_by_role("heading")).to_have_text(second)
    enter(page, "0R4")
    # about a thousandfold off asks back here too, for either card
    page.locator("[data-point=L7]").click()
    for card, other in (("this card", "the other"), ("the other", None)):
        expect(page.get_by_role("button", name=f"probe on {card}")).to_be_visible()
        reading.get_by_label("value", exact=True).fill("119k")
        page.keyboard.press("Enter")
        page.get_by_test_id("slip").get_by_role("button", name="Yes, store it").click()
        if other:
            expect(page.get_by_role("button", name=f"probe on {other}")).to_be_visible()
    differ = page.get_by_test_id("differences")
    expect(differ.get_by_role("heading")).to_have_text("1 of 3 read on both differ")
    row = differ.get_by_role("row").nth(1)
    expect(row).to_contain_text(second)
    expect(row).to_contain_text("lower here")
    bench.check_access()
    bench.nothing_cut()
    bench.go(f"{good}/ohms")
    expect(page.get_by_label("Readings").get_by_text("212 Ω")).to_be_visible()


def test_a_meter_is_checked_in_the_morning_and_its_lines_are_taught(bench, tmp_path):
    card = shipped_cards()
    standin = PrintingMeter(tmp_path / "stand-in-meter", Meter(card, Temper(noise=0.0005, seed=4)))
    standin.start()
    try:
        bench.sign_in("lead")
        page = bench.page
        address = bench.new_job("FL8-5")
        bench.go(f"{address}/ohms")
        unplug(page)
        meters = page.get_by_test_id("meters")
        meters.get_by_label("meter", exact=True).select_option("a new meter …")
        meters.get_by_label("name").fill("prints lines")
        meters.get_by_label("leads, Ω").fill(str(LEAD_OHMS))
        meters.get_by_label("where it answers").fill(standin.address)
        meters.get_by_role("button", name="Keep it").click()
        expect(page.get_by_test_id("meter-lost")).to_contain_text("not taught yet")
        meters.get_by_role("link", name="not checked today").click()
        mine = page.get_by_test_id("meter-prints lines")
        checks = mine.get_by_label("Checks of prints lines")
        checks.get_by_label("What it shows: leads").fill("0R12")
        page.keyboard.press("Enter")
        expect(checks.get_by_text("0.12 Ω with the leads held together")).to_be_visible()
        expect(mine.get_by_role("heading").first).to_contain_text("1 of 3 checked today")
        checks.get_by_label("What it shows: resistor").fill("140")
        page.keyboard.press("Enter")
        expect(mine.get_by_role("heading").first).to_contain_text("its check failed today")
        teach = mine.get_by_test_id("teach-meter")
        # the stand-in is held somewhere, then in the air
        standin.hold({"serial": "FL8-5", "board": "teal-8", "point": "L9", "to": "ground"})
        teach.get_by_role("button", name="Listen to it").click()
        expect(teach.get_by_role("status")).to_contain_text("lines heard")
        standin.hold(None)
        teach.get_by_role("button", name="Listen to it").click()
        printed = teach.get_by_label("What it prints").get_by_role("listitem")
        read, over = printed.filter(has_text=re.compile(r"[0-9] [kM]?Ohm")).first, printed.filter(has_text="O.L").first
        expect(over).to_be_visible()
        for line, word, what in ((read, 1, "the value"), (read, 2, "its unit"), (over, 1, "over-limit")):
            line.get_by_role("button").nth(word).click()
            teach.get_by_role("button", name=what).click()
        expect(over).to_contain_text("OL")
        expect(read).to_contain_text("Ω")
        bench.check_access()
        bench.nothing_cut()
        teach.get_by_role("button", name="Read it like this").click()
        expect(teach).to_contain_text("are taught")
        bench.go(f"{address}/ohms")
        live = page.get_by_test_id("meter-live")
        expect(live).to_have_attribute("data-state", "settled", timeout=60_000)
        field = page.get_by_test_id("reading").get_by_label("value", exact=True)
        expect(field).not_to_have_value("")
    finally:
        standin.stop()
