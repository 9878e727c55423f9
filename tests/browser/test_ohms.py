"""Ohms typed by hand: along the route, verdict at once, a short found, power unlocked last; the absolute guard."""

from __future__ import annotations

import json
import re

import pytest

from tests.browser.expecting import expect
from tests.browser.test_proving import Api
from tests.core.boards.strategies import BOARDS
from uvrix.core.boards.document import read_board
from uvrix.standins.camera import photograph

pytestmark = pytest.mark.browser
TEAL = json.loads((BOARDS / "teal-8.board.json").read_text())
GOOD = {"in12s": "9k1", "in12a": "8k9", "in12b": "9k3", "in3v3": "645", "5v0": "1k46", "1v8": "119", "pex": "31"}
GOOD |= {"mem": "42", "core": "0R34"}
# How often a question that nobody answers is asked once more before it counts as failed.
ASKED_AGAIN = 2
NETS = {point["id"]: point["net"] for point in TEAL["points"]}
ACROSS = {point["id"] for point in TEAL["points"] if point["kind"] in {"fuse", "shunt"}}


def probe(page, spoiled=()):
    """Type the whole route with the keyboard alone: good values but where spoiled; gives the order walked."""
    walked = []
    field = page.get_by_test_id("reading")
    for _ in NETS:
        name = field.get_by_role("heading").inner_text()
        walked.append(name)
        value = dict(spoiled).get(name) or ("0R05" if name in ACROSS else GOOD[NETS[name]])
        page.keyboard.type(value)
        page.keyboard.press("Enter")
        slip = page.get_by_test_id("slip")
        said = page.get_by_test_id("said").filter(has_text=name)
        expect(said.or_(slip).first).to_be_visible()
        if slip.is_visible():
            slip.get_by_role("button", name="Yes, store it").click()
            expect(said).to_be_visible()
        if len(walked) < len(NETS):
            expect(field.get_by_role("heading")).not_to_have_text(name)
    return walked


def test_a_whole_board_is_typed_along_its_route_and_power_unlocks_at_the_end(bench):
    bench.sign_in()
    page = bench.page
    address = bench.new_job("OH8-1")
    bench.go(f"{address}/ohms")
    expect(page.get_by_test_id("power-state")).to_have_text("power state unknown")
    page.get_by_test_id("gate").get_by_role("button", name="It is unplugged and discharged").click()
    expect(page.get_by_test_id("power-state")).to_have_text("unplugged, discharged")
    walked = probe(page)
    assert sorted(walked) == sorted(NETS)
    reach = [next(point["reach"] for point in TEAL["points"] if point["id"] == name) for name in walked]
    assert reach == sorted(reach, key=["outside", "cooler-off"].index)
    said = page.get_by_test_id("said")
    expect(said).to_contain_text("within")
    expect(said.get_by_role("img", name="among")).to_be_visible()
    bench.check_access()
    bench.nothing_cut()
    # every fuse was read across and is good: none is to be ticked besides
    page.get_by_role("link", name="Power", exact=True).click()
    lock = page.get_by_test_id("lock")
    expect(lock.get_by_role("heading")).to_have_text("Power may be given")
    lock.get_by_role("link", name="On to Volts").click()
    page.get_by_label("all 2 plugs are in").check()
    supply = page.get_by_role("button", name="On the bench supply")
    supply.focus()
    page.keyboard.press("Enter")  # a pedal types it; power is not given by it
    expect(page.get_by_test_id("power-state")).to_have_text("unplugged, discharged")
    supply.click()
    expect(page.get_by_test_id("power-state")).to_have_text("on the supply")


def test_a_short_names_its_suspects_and_a_slip_asks_back(bench):
    bench.sign_in()
    page = bench.page
    bench.go(f"{bench.new_job('OH8-2')}/ohms")
    page.get_by_test_id("gate").get_by_role("button", name="It is unplugged and discharged").click()
    page.locator("[data-point=L5]").click()
    field = page.get_by_test_id("reading")
    expect(field.get_by_role("heading")).to_have_text("L5")
    page.keyboard.type("1.46")
    page.keyboard.press("Enter")
    slip = page.get_by_test_id("slip")
    expect(slip).to_contain_text("about 1,000 times too low for L5")
    slip.get_by_role("button", name="No, type it again").click()
    expect(field.get_by_label("value")).to_have_value("1.46")
    field.get_by_label("value").fill("1R42")
    page.keyboard.press("Enter")
    slip.get_by_role("button", name="Yes, store it").click()
    expect(page.get_by_test_id("said")).to_contain_text("short")
    page.locator("[data-point=PL2]").click()
    expect(field.get_by_role("heading")).to_have_text("PL2")
    page.keyboard.type("0R6")
    page.keyboard.press("Enter")
    page.get_by_role("link", name="Shorts: 2").click()
    suspects = page.get_by_role("list", name="Suspects").get_by_role("listitem")
    expect(suspects.first).to_contain_text("on 2 of 2 shorted rails")
    suspects.first.get_by_role("button", name="Prove it").click()
    expect(field.get_by_role("heading")).to_contain_text("/L5")
    page.get_by_role("link", name="Power: locked").click()
    expect(page.get_by_test_id("lock")).to_contain_text("under 100 ohms nothing is powered")


def test_the_guard_holds_on_a_card_without_any_library(bench):
    bench.sign_in()
    page = bench.page
    address = bench.new_job("OH8-3", name="Dipper 4")
    bench.go(f"{address}/memory")
    shot = photograph(read_board((BOARDS / "teal-8.board.json").read_bytes()), 3.0)
    file = {"name": "front.jpg", "mimeType": "image/jpeg", "buffer": shot.jpeg}
    page.get_by_test_id("board-photograph").set_input_files(file)
    expect(page.get_by_role("img", name="Photograph of the front of Dipper 4")).to_be_visible()
    bench.go(f"{address}/ohms")
    page.get_by_test_id("gate").get_by_role("button", name="It is unplugged and discharged").click()
    page.get_by_role("img", name="Photograph of the front of Dipper 4").click()
    field = page.get_by_test_id("reading")
    expect(field.get_by_role("heading")).to_have_text("slot 12 V")
    page.keyboard.type("12")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("said")).to_contain_text("12 Ω")
    page.get_by_role("link", name="Power: locked").click()
    lock = page.get_by_test_id("lock")
    lock.get_by_role("button", name="Ticked").click()
    expect(lock).to_contain_text("slot 12 V reads 12 Ω: under 100 ohms nothing is powered.")
    expect(lock.get_by_role("heading")).to_have_text("Power is locked")


def test_good_cards_of_a_model_are_shown_and_imported(bench, tmp_path):
    bench.sign_in("lead", at="/library/teal-8/known-good")
    page = bench.page
    expect(page.get_by_text(re.compile(r"\d good cards, \d+ readings"))).to_be_visible()
    file = tmp_path / "more.csv"
    file.write_text("board,card,point,quantity,value,unit,mode,meter\nteal-8,TG-20,L7,resistance,121,ohm,ohms,one\n")
    page.get_by_test_id("known-file").set_input_files(file)
    expect(page.get_by_text("1 readings of good cards added.")).to_be_visible()
    row = page.get_by_role("list", name="Known-good readings").get_by_role("listitem").filter(has_text="1v8")
    row.get_by_role("button").first.click()
    expect(row).to_contain_text("TG-20")
    bench.check_access()
    row.get_by_role("listitem").filter(has_text="TG-20").get_by_role("button", name="Take it out").click()
    expect(page.get_by_text("TG-20")).to_be_hidden()


def test_the_camera_of_the_computer_takes_a_photograph_at_any_step(bench):
    bench.sign_in()
    page = bench.page
    bench.go(f"{bench.new_job('OH8-4')}/look")
    expect(page.get_by_text("Photograph both sides before anything")).to_be_visible()
    page.keyboard.press("c")
    camera = page.get_by_test_id("camera")
    camera.get_by_role("button", name="Take it").click()
    expect(camera.get_by_text("Kept with the job.")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("img", name="Photograph of the front")).to_be_visible()


def test_a_lifted_coil_is_of_one_reading_and_stays_owed_the_card_stays_warm(bench):
    bench.sign_in()
    page = bench.page
    bench.go(f"{bench.new_job('OH8-5')}/ohms")
    page.get_by_test_id("gate").get_by_role("button", name="It is unplugged and discharged").click()
    field, owed = page.get_by_test_id("reading"), page.get_by_test_id("owed")
    page.locator("[data-point=L5]").click()
    field.get_by_label("warm").check()
    field.get_by_label("coil lifted").check()
    field.get_by_label("value").fill("1k45")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("said")).to_contain_text("L5")
    expect(owed).to_contain_text("L5 is lifted: fit it again.")
    expect(field.get_by_role("heading")).not_to_have_text("L5")
    expect(field.get_by_label("warm")).to_be_checked()
    expect(field.get_by_label("coil lifted")).not_to_be_checked()
    other = field.get_by_role("heading").inner_text()
    field.get_by_label("value").fill("1k1")
    page.keyboard.press("Enter")
    said, slip = page.get_by_test_id("said").filter(has_text=other), page.get_by_test_id("slip")
    expect(said.or_(slip).first).to_be_visible()
    if slip.is_visible():
        slip.get_by_role("button", name="Yes, store it").click()
    expect(said).to_be_visible()
    expect(owed.get_by_role("list", name="Owed").get_by_role("listitem")).to_have_count(1)
    # another job's card is not warm
    bench.go(f"{bench.new_job('OH8-6')}/ohms")
    page.get_by_test_id("gate").get_by_role("button", name="It is unplugged and discharged").click()
    expect(field.get_by_label("warm")).not_to_be_checked()


def at_ohms(bench, serial):
    """A new card before its first reading: the page, its job's address, the reading's field, what is said of it."""
    bench.sign_in()
    address = bench.new_job(serial)
    bench.go(f"{address}/ohms")
    page = bench.page
    page.get_by_test_id("gate").get_by_role("button", name="It is unplugged and discharged").click()
    return page, address, page.get_by_test_id("reading"), page.get_by_test_id("said")


def test_what_is_typed_and_where_one_works_outlive_a_reading_stored_elsewhere(bench):
    page, address, field, said = at_ohms(bench, "OH8-7")
    turn = field.get_by_role("heading").inner_text()
    field.get_by_label("value").fill("8k")
    field.get_by_label("coil lifted").check()
    scan = page.get_by_role("textbox", name="Scan")
    scan.focus()
    reading = {"point": "L9", "quantity": "resistance", "value": "42", "mode": "ohms"}
    Api(bench).post(f"jobs/{address.split('/')[-1]}/readings", **reading)
    expect(said).to_contain_text("L9")
    expect(field.get_by_role("heading")).to_have_text(turn)
    expect(field.get_by_label("value")).to_have_value("8k")
    expect(field.get_by_label("coil lifted")).to_be_checked()
    expect(scan).to_be_focused()
    # one's own is stored, and the field begins anew at the next
    field.get_by_label("value").fill("8k9")
    page.keyboard.press("Enter")
    expect(field.get_by_role("heading")).not_to_have_text(turn)
    expect(field.get_by_label("value")).to_have_value("")
    expect(field.get_by_label("value")).to_be_focused()


def test_what_is_typed_outlives_a_server_that_is_away_and_the_screen_catches_up_by_itself(bench):
    page, address, field, said = at_ohms(bench, "OH8-8")
    first = field.get_by_role("heading").inner_text()
    field.get_by_label("value").fill("8k9")
    page.keyboard.press("Enter")
    expect(field.get_by_role("heading")).not_to_have_text(first)
    turn = field.get_by_role("heading").inner_text()
    field.get_by_label("value").fill("8k")
    asked = []

    def nobody_answers(route):
        asked.append(route.request.url)
        route.abort()

    page.route("**/api/v1/**", nobody_answers)
    for _ in range(60):
        # back at the window, what was told some seconds ago is asked anew
        page.evaluate("window.dispatchEvent(new Event('visibilitychange'))")
        page.wait_for_timeout(500)
        if sum(url.endswith("/ohms") for url in asked) > ASKED_AGAIN:
            break
    assert sum(url.endswith("/ohms") for url in asked) > ASKED_AGAIN
    expect(page.get_by_text("The server does not answer")).to_have_count(0)
    expect(page.get_by_test_id("away")).to_contain_text("Server away: shown as of")
    expect(field.get_by_role("heading")).to_have_text(turn)
    expect(field.get_by_label("value")).to_have_value("8k")
    reading = {"point": "L9", "quantity": "resistance", "value": "42", "mode": "ohms"}
    Api(bench).post(f"jobs/{address.split('/')[-1]}/readings", **reading)
    page.unroute("**/api/v1/**")
    expect(said).to_contain_text("L9")
    expect(page.get_by_test_id("away")).to_have_count(0)
    expect(field.get_by_label("value")).to_have_value("8k")
