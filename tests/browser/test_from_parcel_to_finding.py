"""From a parcel announced to a missing part found: the front desk and the bench share one card."""

from __future__ import annotations

import io

import pypdfium2
import pytest

from tests.browser.expecting import expect
from tests.browser.test_look import LANDMARKS, TEAL, click_picture
from uvrix.core.boards.photograph import photograph_from
from uvrix.standins.camera import Light, photograph

pytestmark = pytest.mark.browser
LOST = "C118"


def announce(bench):
    page = bench.page
    bench.go("/parcels")
    page.get_by_label("customer", exact=True).fill("Tamsin Weir")
    page.get_by_label("tracking reference").fill("KV-200-001")
    page.get_by_label("expected on").fill("2026-11-20")
    page.get_by_label("complaint, in the customer’s words").fill("Black since it fell from the table.")
    page.get_by_role("button", name="Add to the list").click()
    row = page.get_by_role("list", name="Parcels").get_by_role("listitem").filter(has_text="Tamsin Weir")
    expect(row).to_contain_text("late")
    bench.check_access()
    bench.nothing_cut()
    row.get_by_role("link", name="It has arrived").click()


def take_in(bench):
    """The form is filled from the announcement; the board is told by what is on it."""
    page = bench.page
    expect(page.get_by_label("Complaint")).to_have_value("Black since it fell from the table.")
    expect(page.get_by_label("Customer", exact=True)).to_have_value("Tamsin Weir")
    page.get_by_label("Serial of the card").fill("PL8-100")
    which = page.get_by_test_id("which-board")
    which.get_by_text("Which board is it?").click()
    which.get_by_label("printed on the board").fill("Teal 8")
    for label, number in (("memory sites, front", 8), ("power plugs", 2), ("display sockets", 4)):
        which.get_by_label(label).fill(str(number))
    fits = which.get_by_role("list", name="Boards that fit").get_by_role("listitem")
    expect(fits.first).to_contain_text("Teal 8")
    fits.first.get_by_role("button", name="It is this").click()
    page.get_by_role("button", name="Open the job").click()
    expect(page.get_by_role("heading", name="The customer says")).to_be_visible()
    parcel = page.get_by_test_id("parcel")
    parcel.get_by_label("serial on the card itself").fill("PL8-100")
    parcel.get_by_role("button", name="Take it in").click()
    expect(parcel.get_by_text("PL8-100 checked")).to_be_visible()
    page.get_by_label("listed, no picture").check()
    page.get_by_label("The shop sees").fill("Fans turn, no picture.")
    page.get_by_role("button", name="Keep it").click()
    return page.url.removesuffix("/arrive").rsplit("/", 1)[1]


def scan_label(bench, number):
    """The label is printed, and scanned as a scanner types it while another screen is open."""
    page = bench.page
    label = page.request.get(f"{bench.served.address}/api/v1/jobs/{number}/label").body()
    text = pypdfium2.PdfDocument(io.BytesIO(label))[0].get_textpage().get_text_range()
    assert f"J-{int(number):04d}" in text.replace(" ", "")
    bench.go("/library")
    expect(page.get_by_role("heading", name="Library")).to_be_visible()
    page.keyboard.type(f"|J-{int(number):04d}|")
    expect(page.get_by_text("PL8-100", exact=True)).to_be_visible()


def test_a_parcel_becomes_a_job_and_its_missing_part_is_found(bench):
    bench.sign_in("front-desk")
    page = bench.page
    announce(bench)
    number = take_in(bench)
    # past cards with the symptom propose what may be behind it
    hypotheses = page.get_by_test_id("hypotheses")
    expect(hypotheses.get_by_text("Small parts behind the power plugs knocked off")).to_be_visible()
    expect(hypotheses.get_by_text("1 of 2 of this model").first).to_be_visible()
    scan_label(bench, number)
    page.get_by_role("button", name="Signed in as").click()
    page.get_by_role("menuitem", name="Sign out").click()

    bench.sign_in(at=f"/jobs/{number}/look")
    shot = photograph(TEAL, 6.5, -1.5, light=Light(lamp=0.75, slope=0.15, seed=909), without=(LOST,))
    file = {"name": "front.jpg", "mimeType": "image/jpeg", "buffer": shot.jpeg}
    page.get_by_test_id("job-photograph").set_input_files(file)
    page.get_by_role("button", name="Lay over the model’s").click()
    document = page.request.get(f"{bench.served.address}/api/v1/board-models/teal-8/file").json()
    reference = photograph_from(document["photographs"][0])
    for at in LANDMARKS:
        click_picture(page, "The model’s photograph", reference.pixel(at))
        click_picture(page, "This card", shot.pixel(at))
    page.get_by_role("button", name="Lay it over").click()
    places = page.get_by_role("list", name="Places").get_by_role("listitem")
    expect(places.first).to_be_visible(timeout=90_000)
    places.filter(has_text=LOST).get_by_role("button", name="It is missing").click()
    page.keyboard.press("Escape")
    expect(page.get_by_role("list", name="Seen")).to_contain_text(f"Missing part: {LOST}")

    # what it proves is said of the hypothesis, and is there at every step
    hypotheses.get_by_text("Small parts behind the power plugs knocked off").click()
    hypotheses.get_by_label("by what").fill(f"{LOST} missing against the reference")
    hypotheses.get_by_role("button", name="Confirm").click()
    expect(hypotheses.get_by_text(f"confirmed by: {LOST} missing against the reference")).to_be_visible()
    page.get_by_role("navigation", name="Steps").get_by_role("link", name="Memory").click()
    expect(hypotheses.get_by_text(f"confirmed by: {LOST} missing against the reference")).to_be_visible()


def test_a_card_is_taken_apart_and_what_does_not_go_back_is_owed(bench):
    bench.sign_in()
    page = bench.page
    address = bench.new_job("PL8-200")
    bench.go(f"{address}/teardown")
    turn = page.get_by_test_id("in-turn")
    expect(turn.get_by_role("heading", name="Backplate screws")).to_be_visible()
    page.keyboard.press("Enter")
    expect(turn.get_by_role("heading", name="Backplate", exact=True)).to_be_visible()
    # the reminder goes once the photograph is taken
    turn.get_by_role("button", name="Photograph").click()
    shot = photograph(TEAL, 2.0)
    camera = page.get_by_test_id("camera")
    file = {"name": "back.jpg", "mimeType": "image/jpeg", "buffer": shot.jpeg}
    camera.get_by_test_id("camera-file").set_input_files(file)
    expect(camera.get_by_text("Kept with the job.")).to_be_visible()
    camera.get_by_role("button", name="Close").click()
    expect(turn.get_by_text("Photograph it before it comes off")).to_be_hidden()
    turn.get_by_role("button", name="It is off").click()
    expect(turn.get_by_role("heading", name="Core cooler screws with springs")).to_be_visible()
    expect(page.get_by_test_id("group-in-turn")).to_be_visible()
    page.keyboard.press("Enter")
    expect(turn.get_by_role("heading", name="Fan lead")).to_be_visible()
    owed = page.get_by_test_id("owed")
    expect(owed.get_by_text("3 steps of the teardown not back")).to_be_visible()
    page.get_by_role("button", name="Put together").click()
    expect(turn.get_by_text("Crosswise as numbered, a little at a time")).to_be_visible()
    bench.check_access()
    turn.get_by_label("counted").fill("3")
    page.keyboard.press("Enter")
    steps = page.get_by_role("list", name="Steps of the recipe")
    expect(steps.get_by_text("4 came out, 3 went in.")).to_be_visible()
    turn.get_by_label("counted").fill("4")
    turn.get_by_role("button", name="It is on").click()
    expect(turn.get_by_role("heading", name="Backplate", exact=True)).to_be_visible()
    page.keyboard.press("Enter")
    expect(turn.get_by_role("heading", name="Backplate screws")).to_be_visible()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="All that came off is back")).to_be_visible()
    expect(owed.get_by_text("Nothing is owed.")).to_be_visible()


def test_a_recipe_is_written_on_the_drawing_and_a_cooler_lent(bench):
    bench.sign_in(at="/library/garganey-8/teardown")
    page = bench.page
    page.get_by_role("button", name="Add a step").click()
    page.get_by_label("what", exact=True).fill("Cooler screws")
    drawing = page.get_by_role("img", name="Board of Garganey 8")
    box = drawing.bounding_box()
    assert box
    for across, down in ((0.35, 0.4), (0.6, 0.4), (0.6, 0.6), (0.35, 0.6)):
        page.mouse.click(box["x"] + across * box["width"], box["y"] + down * box["height"])
    expect(page.get_by_text("4 so far")).to_be_visible()
    page.get_by_label("tightened crosswise").check()
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("edition 1, Mirren Tarn")).to_be_visible()
    bench.check_access()

    address = bench.new_job("PL8-300", model="garganey-8")
    bench.go(f"{address}/teardown")
    expect(page.get_by_test_id("in-turn").get_by_role("heading", name="Cooler screws")).to_be_visible()
    owed = page.get_by_test_id("owed")
    owed.get_by_label("promise").select_option("loan")
    owed.get_by_label("what is lent").fill("Test cooler 7")
    owed.get_by_role("button", name="Promise it").click()
    expect(owed.get_by_text("Test cooler 7")).to_be_visible()
    bench.go(f"{bench.new_job('PL8-301', model='garganey-8')}/look")
    owed.get_by_label("promise").select_option("loan")
    owed.get_by_label("what is lent").fill("test cooler 7")
    owed.get_by_role("button", name="Promise it").click()
    expect(owed.get_by_role("alert")).to_contain_text("already")
    expect(owed.get_by_label("what is lent")).to_have_value("test cooler 7")


def test_a_photograph_is_straightened_by_its_four_corners(bench):
    bench.sign_in()
    page = bench.page
    bench.go(f"{bench.new_job('PL8-400')}/look")
    shot = photograph(TEAL, 4.0, 2.0)
    file = {"name": "front.jpg", "mimeType": "image/jpeg", "buffer": shot.jpeg}
    page.get_by_test_id("job-photograph").set_input_files(file)
    page.get_by_role("button", name="Straighten").click()
    for at in ((0, 104), (236, 104), (236, 0), (0, 0)):
        click_picture(page, "The photograph to straighten", shot.pixel(at))
    page.get_by_role("button", name="Straighten it").click()
    expect(page.get_by_text("Straightened.")).to_be_visible()
    expect(page.get_by_role("img", name="Photograph of the front")).to_have_count(2)
