"""Stock on screen: a swap followed from both sides, a scan, what does not fit, a donor, a lot priced."""

from __future__ import annotations

import re

import pytest

from tests.browser.expecting import expect

pytestmark = pytest.mark.browser


def pin1(bench, address, site):
    number = address.rsplit("/", 1)[1]
    asked = f"{bench.served.address}/api/v1/jobs/{number}/rework/before?site={site}&do=remove"
    return bench.page.request.get(asked).json()["pin1"]


def lift(bench, address, site):
    page = bench.page
    bench.go(f"{address}/rework?site={site}")
    page.get_by_label("to do").select_option("remove")
    before = page.get_by_test_id("before-lifting")
    before.get_by_label("or why not").fill("Both sides are on the bench photograph.")
    before.get_by_label("pin 1 lies").select_option(pin1(bench, address, site))
    page.get_by_role("button", name=f"Done: remove {site}").click()
    expect(page.get_by_role("list", name="What was done")).to_contain_text(f"{site} removed")


def place(bench, address, site, label):
    page = bench.page
    bench.go(f"{address}/rework?site={site}")
    page.get_by_label("to do").select_option("place")
    page.get_by_label("chip that comes").fill(label)


def take_in(bench, **fields):
    bench.go("/stock")
    form = bench.page.get_by_test_id("take-in")
    for name, value in fields.items():
        form.get_by_label(name.replace("_", " "), exact=False).first.fill(value)
    form.get_by_label("tray").fill("tray 7")
    form.get_by_role("button", name="Take it in").click()
    heading = bench.page.get_by_role("article").get_by_role("heading", level=2)
    expect(heading).to_have_text(re.compile(r"P-\d{4}"))
    return heading.inner_text()


def test_a_swap_between_two_cards_is_followed_from_both_sides_and_a_scan_shows_the_life(bench):
    bench.sign_in()
    page = bench.page
    giver = bench.new_job("ST8-1")
    taker = bench.new_job("ST8-2")
    lift(bench, giver, "U14")
    lift(bench, taker, "U11")
    # off its card it is put away
    bench.go("/stock?label=ST8-1%2FU14")
    move = page.get_by_test_id("move-part")
    move.get_by_label("tray").fill("tray 7")
    move.get_by_role("button", name="Enter").click()
    expect(page.get_by_text("in tray 7", exact=True).first).to_be_visible()
    place(bench, taker, "U11", "ST8-1/U14")
    page.get_by_role("button", name="Done: place a chip U11").click()
    expect(page.get_by_test_id("traffic")).to_contain_text("ST8-1/U14 onto U11, from ST8-1")
    bench.go(f"{giver}/rework")
    expect(page.get_by_test_id("traffic")).to_contain_text("ST8-1/U14 off U14, to ST8-2")
    # one scan, wherever the focus is
    page.get_by_label("site or part").focus()
    page.keyboard.type("|ST8-1/U14|")
    page.keyboard.press("Enter")
    life = page.get_by_role("article", name="Life of ST8-1/U14")
    expect(life).to_contain_text("on U11 of ST8-2")
    steps = life.get_by_role("list", name="Steps of its life")
    expect(steps.get_by_role("listitem")).to_have_count(4)
    expect(steps.get_by_role("listitem").first).to_contain_text("placed on U11 of ST8-2")
    expect(life.get_by_role("img", name="The way of ST8-1/U14 through cards")).to_be_visible()
    # on a card it is not moved from here
    expect(life).to_contain_text("It comes off its card at Rework")
    bench.check_access()
    # what nobody knows is said, and typed text forgives case
    page.get_by_label("Scan a label, or type").fill("st8-1/u14")
    page.keyboard.press("Enter")
    expect(life).to_be_visible()
    bench.load("/stock?label=NO-SUCH")
    expect(page.get_by_role("alert")).to_contain_text("expected the label of a part")


def test_a_replacement_that_does_not_fit_is_refused_with_reasons(bench):
    bench.sign_in()
    page = bench.page
    address = bench.new_job("ST8-3")
    label = take_in(bench, marking="PD4-12", maker="Pochard", capacity="4", speed="12")
    lift(bench, address, "U15")
    place(bench, address, "U15", label)
    fits = page.get_by_test_id("fits")
    expect(fits).to_contain_text(f"{label} does not fit. Against it: capacity 4 Gbit, wanted 8 Gbit")
    expect(fits).to_contain_text("the firmware carries no settings for Pochard")
    page.get_by_role("button", name="Done: place a chip U15").click()
    expect(page.get_by_test_id("rework-form").get_by_role("alert")).to_contain_text(f"{label} does not fit U15")
    expect(page.get_by_role("list", name="What was done")).not_to_contain_text("placed")
    page.get_by_label("why it is fitted all the same").fill("Only to see whether it starts.")
    page.get_by_role("button", name="Done: place a chip U15").click()
    expect(page.get_by_role("list", name="What was done")).to_contain_text("fitted all the same: Only to see")
    # what is typed where a figure is wanted is said, and kept
    bench.go("/stock")
    form = page.get_by_test_id("take-in")
    form.get_by_label("capacity").fill("eight")
    form.get_by_label("tray").fill("tray 7")
    form.get_by_role("button", name="Take it in").click()
    expect(form.get_by_role("alert")).to_contain_text("found “eight”, expected a number")
    expect(form.get_by_label("capacity")).to_have_value("eight")


def test_a_donor_is_accepted_by_inspection_and_halves_are_matched(bench):
    bench.sign_in(at="/stock/donors")
    page = bench.page
    form = page.get_by_test_id("new-donor")
    form.get_by_label("serial").fill("ST8-D")
    form.get_by_label("board model").select_option("teal-8")
    form.get_by_label("came from").fill("bought as scrap")
    form.get_by_role("button", name="Take it in").click()
    expect(page.get_by_role("heading", name="ST8-D: to be inspected")).to_be_visible()
    inspection = page.get_by_test_id("inspection")
    for button in inspection.get_by_role("button", name=re.compile(": yes$")).all():
        button.click()
    inspection.get_by_label("parts missing").fill("c116")
    inspection.get_by_label("core").select_option("good")
    inspection.get_by_role("combobox", name="board").select_option("dead")
    keep = inspection.get_by_role("button", name="Keep the inspection")
    keep.click()
    expect(page.get_by_text("C116 is missing: put it right first")).to_be_visible()
    inspection.get_by_role("checkbox", name="C116").check()
    keep.click()
    expect(page.get_by_role("heading", name="ST8-D: accepted")).to_be_visible()
    # the demo's board without a core takes its core
    match = page.get_by_role("listitem").filter(has_text="of ST8-D onto the board of TL8-53301")
    expect(match).to_contain_text("the same model")
    match.get_by_role("button", name="Record the move as a set").click()
    moving = page.get_by_test_id("move-set")
    moving.get_by_label("core and places").fill("U1 U11")
    moving.get_by_label("where both boards are photographed").fill("Bench photographs of both.")
    moving.get_by_role("button", name="Move them").click()
    expect(page.get_by_role("status").filter(has_text="2 parts moved")).to_be_visible()
    bench.go("/stock?label=ST8-D%2FU1")
    expect(page.get_by_role("article")).to_contain_text("on U1 of TL8-53301")
    bench.check_access()


def test_a_suspect_lot_is_priced_both_ways_and_put_to_the_customer(bench):
    bench.sign_in()
    page = bench.page
    address = bench.new_job("ST8-4")
    number = int(address.rsplit("/", 1)[1])
    bench.go(f"{address}/rework?site=U14")
    page.get_by_role("button", name="Note its lot").click()
    page.get_by_label("vendor, type and date code").fill("OK 1931")
    page.get_by_role("button", name="Note it", exact=True).click()
    expect(page.get_by_test_id("heed")).to_contain_text("Lot OK 1931")
    page.get_by_role("link", name="One chip or all of them").click()
    lot = page.locator("[data-lot='Ousel 2019-31']")
    expect(lot).to_contain_text("suspect lot")
    expect(lot).to_contain_text("sure that it is more than of the others")
    priced = page.get_by_test_id("priced")
    expect(priced.get_by_role("heading", name="Replace the failed ones")).to_be_visible()
    expect(priced.get_by_role("heading", name="Replace all of them")).to_be_visible()
    expect(priced).to_contain_text("Lot not read on U11, U12")
    bench.check_access()
    priced.get_by_role("button", name="Offer the customer both").click()
    expect(priced.get_by_text("Waiting for the customer’s answer.")).to_be_visible()
    job = page.request.get(f"{bench.served.address}/api/v1/jobs/{number}").json()
    assert job["move"] == "customer"
    bench.go(address)
    expect(page.get_by_test_id("timeline")).to_contain_text("Put to the customer: One chip, or all of them")


def test_a_burnt_part_asks_for_its_value_and_connectors_are_found(bench):
    bench.sign_in()
    page = bench.page
    address = bench.new_job("ST8-5")
    number = address.rsplit("/", 1)[1]
    spot = {"id": "7e0b6a0e-6a3a-4f0e-9a51-3c0d4a6f0c11", "kind": "burn", "side": "front", "x_mm": 198.7, "y_mm": 66.7}
    token = page.request.get(f"{bench.served.address}/api/v1/session").json()["csrf"]
    sent = page.request.post(
        f"{bench.served.address}/api/v1/jobs/{number}/look/findings", data=spot, headers={"X-CSRFToken": token}
    )
    assert sent.ok, sent.text()
    bench.go(f"{address}/look")
    page.get_by_role("link", name="Value of C116 not known: note it").click()
    expect(page.get_by_role("heading", name="Asked for")).to_be_visible()
    form = page.get_by_test_id("note-value")
    expect(form.get_by_label("designator")).to_have_value("C116")
    form.get_by_label("value or note").fill("10u")
    expect(form.get_by_role("button", name="Note it")).to_be_disabled()
    form.get_by_label("serial of the donor").fill("TL8-51006")
    form.get_by_role("button", name="Note it").click()
    expect(page.get_by_role("heading", name="Asked for")).to_have_count(0)
    expect(page.get_by_text("read off a donor TL8-51006").first).to_be_visible()
    bench.go(f"{address}/look")
    expect(page.get_by_role("link", name="C116 is 10u")).to_be_visible()
    bench.go("/stock/find")
    page.get_by_label("pitch, mm").fill("2,0")
    page.get_by_label("pins").fill("4")
    page.get_by_label("anchors").fill("2")
    page.get_by_role("button", name="Find one").click()
    found = page.get_by_role("list", name="Connectors that may serve").get_by_role("listitem")
    expect(found.first).to_contain_text("Agrees: pitch 2 mm, 1 row, 4 pins, 2 anchors")
    expect(found.nth(1)).to_contain_text("5 pins, 1 to cut off")
    page.get_by_label("marking, as printed").fill("gw 7k")
    page.get_by_role("button", name="Find it").click()
    expect(page.get_by_role("list", name="Boards that bear it")).to_contain_text("TL8-51006")
    bench.check_access()
