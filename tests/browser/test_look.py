"""Look: regions one by one, findings where they are clicked, a missing part found by laying a photograph over."""

from __future__ import annotations

import json
import re

import pytest

from tests.browser.expecting import expect
from tests.core.boards.strategies import BOARDS
from uvrix.core.boards.document import read_board
from uvrix.standins.camera import Light, photograph

pytestmark = pytest.mark.browser
TEAL = read_board((BOARDS / "teal-8.board.json").read_bytes())
LANDMARKS = [(230.0, 98.0), (230.0, 14.0), (70.0, 70.0)]


def look_of(bench, serial):
    return bench.job_of(serial).replace("/memory", "/look")


def click_picture(page, title, pixel):
    image = page.get_by_role("img", name=title).locator("image")
    here = image.evaluate(
        "(image, [x, y]) => { const p = new DOMPoint(x, y).matrixTransform(image.getScreenCTM()); return [p.x, p.y] }",
        list(pixel),
    )
    page.mouse.click(*here)


def new_job(bench, serial):
    return f"{bench.new_job(serial, complaint='No picture.')}/look"


def lost_card(part):
    """A photograph of a card that lost a part, as JPEG and as geometry."""
    return photograph(
        TEAL, 6.5, -1.5, shift_px=(12.0, 8.0), light=Light(lamp=0.72, slope=-0.2, seed=404), without=(part,)
    )


def test_a_missing_part_is_found_by_overlay(bench):
    bench.sign_in()
    page = bench.page
    address = new_job(bench, "LK8-1")
    bench.go(address)
    expect(page.get_by_text("Photograph both sides before anything")).to_be_visible()
    shot = lost_card("C118")
    file = {"name": "front.jpg", "mimeType": "image/jpeg", "buffer": shot.jpeg}
    page.get_by_test_id("job-photograph").set_input_files(file)
    page.get_by_role("button", name="Lay over the model’s").click()
    document = page.request.get(f"{bench.served.address}/api/v1/board-models/teal-8/file").json()
    from uvrix.core.boards.photograph import photograph_from

    reference = photograph_from(document["photographs"][0])
    for number, at in enumerate(LANDMARKS):
        # nobody hits a landmark by the pixel
        off = (2.5 * (-1) ** number, -2.0)
        click_picture(page, "The model’s photograph", reference.pixel(at))
        here = shot.pixel(at)
        click_picture(page, "This card", (here[0] + off[0], here[1] + off[1]))
    page.get_by_role("button", name="Lay it over").click()
    places = page.get_by_role("list", name="Places").get_by_role("listitem")
    expect(places.first).to_be_visible(timeout=90_000)
    named = [places.nth(number).inner_text() for number in range(min(3, places.count()))]
    rank = next(number for number, text in enumerate(named) if "C118" in text)
    assert "missing here" in named[rank]
    page.get_by_role("button", name="Difference").click()
    page.keyboard.press("b")
    places.nth(rank).get_by_role("button", name="It is missing").click()
    seen = page.get_by_role("list", name="Seen")
    expect(seen).to_contain_text("Missing part: C118")
    expect(seen).to_contain_text("Was hit together with it, so measure")
    page.keyboard.press("Escape")
    expect(page.locator("[data-finding='1']")).to_be_visible()
    page.reload()
    expect(seen).to_contain_text("Missing part: C118")
    page.get_by_role("button", name="Lay over the model’s").click()
    # the landmarks are kept with the photograph
    expect(page.get_by_role("button", name="Lay it over")).to_be_enabled()


def test_regions_one_by_one_with_enter_and_a_finding_where_it_is_clicked(bench):
    bench.sign_in()
    page = bench.page
    bench.go(new_job(bench, "LK8-2"))
    region = page.get_by_test_id("region")
    expect(region.get_by_role("heading")).to_have_text("Front, bracket end, upper")
    page.keyboard.press("Enter")
    expect(region.get_by_role("heading")).to_have_text("Front, bracket end, lower")
    expect(page.get_by_role("link", name="Look 1 of 16")).to_be_visible()
    part = next(candidate for candidate in TEAL.parts if candidate.designator == "C105")
    assert part.centre
    centre = [float(part.centre[0]), float(part.centre[1])]
    lit = page.locator("[data-region]")
    expect(lit).to_have_attribute("data-region", "front-1-2")
    board = page.get_by_role("img", name=re.compile("^Board of J-"))
    screen = board.evaluate(
        "(svg, [x, y]) => { const g = svg.querySelector('[data-region]');"
        " const p = new DOMPoint(x, y).matrixTransform(g.getScreenCTM()); return [p.x, p.y] }",
        centre,
    )
    page.mouse.click(*screen)
    page.get_by_label("note, if the kind does not say it all").fill("Half of it is gone.")
    page.get_by_role("button", name="Crooked or cracked part").click()
    seen = page.get_by_role("list", name="Seen")
    expect(seen).to_contain_text("Crooked or cracked part: C105")
    expect(seen).to_contain_text("Half of it is gone.")
    expect(page.get_by_role("link", name="Look 1 finding")).to_be_visible()
    seen.get_by_role("button", name="Take back").click()
    expect(seen).to_be_hidden()
    page.get_by_role("button", name="front, bracket end, upper").click()
    page.get_by_role("button", name="Look again").click()
    expect(region.get_by_role("button", name="Nothing here")).to_be_visible()
    # a region of the back turns the board
    page.get_by_role("button", name="back, far end, lower").click()
    expect(page.get_by_test_id("orientation")).to_contain_text("Back side")
    page.keyboard.press("g")
    page.keyboard.press("m")
    expect(page.get_by_test_id("report-file")).to_be_attached()


def test_what_is_found_on_a_photograph_moves_over_when_the_board_is_drawn(bench):
    bench.sign_in()
    page = bench.page
    made = bench.page.request
    bench.go(f"{bench.new_job('LK8-3', complaint='Nothing.', name='Avocet 8')}/memory")
    shot = photograph(TEAL, 5.0)
    file = {"name": "front.jpg", "mimeType": "image/jpeg", "buffer": shot.jpeg}
    page.get_by_test_id("board-photograph").set_input_files(file)
    expect(page.get_by_role("img", name="Photograph of the front of Avocet 8")).to_be_visible()
    address = page.url.replace("/memory", "/look")
    bench.go(address)
    at = (100.0, 30.0)
    click_picture(page, "Photograph of the front of Avocet 8", shot.pixel(at))
    page.get_by_role("button", name="Burn mark").click()
    expect(page.get_by_role("list", name="Seen")).to_contain_text("Burn mark")
    number = int(address.split("/")[-2])
    look = made.get(f"{bench.served.address}/api/v1/jobs/{number}/look").json()
    assert look["findings"][0]["x_mm"] is None
    document = {**json.loads((BOARDS / "teal-8.board.json").read_text()), "id": "avocet-8", "name": "Avocet 8"}
    document["photographs"] = [shot.entry(look["findings"][0]["picture"])]
    token = made.get(f"{bench.served.address}/api/v1/session").json()["csrf"]
    saved = made.post(
        f"{bench.served.address}/api/v1/board-drafts/saved",
        data={"document": document, "base": 0},
        headers={"X-CSRFToken": token, "Referer": bench.served.address},
    )
    assert saved.status == 201, saved.text()
    found = made.get(f"{bench.served.address}/api/v1/jobs/{number}/look").json()["findings"][0]
    assert (found["x_mm"], found["y_mm"]) == pytest.approx(at, abs=0.5)
    page.reload()
    expect(page.locator("[data-finding='1']")).to_be_visible()


def test_look_is_readable_by_the_front_desk_and_named_for_those_who_cannot_see_it(bench):
    bench.sign_in("front-desk")
    bench.go(look_of(bench, "TL8-55871"))
    expect(bench.page.get_by_role("list", name="Seen")).to_contain_text("somebody was here")
    expect(bench.page.get_by_role("button", name="Take back")).to_be_hidden()
    bench.check_access()
    bench.nothing_cut()
    bench.page_stands_still()
    bench.page.set_viewport_size({"width": 1024, "height": 768})
    bench.nothing_cut()


def _type_readings(phone, page):
    """On the phone, two points of the route; what was typed stays until it is taken."""
    form, stored = phone.get_by_test_id("phone-readings"), phone.get_by_role("list", name="Stored")
    first = form.get_by_label("point").input_value()
    form.get_by_label("it shows").fill("9k1")
    form.get_by_role("button", name="Store").click()
    expect(form.get_by_role("alert")).to_contain_text("Unplug the card, let it discharge")
    form.get_by_role("button", name="It is unplugged and discharged: store it").click()
    expect(stored.get_by_role("listitem")).to_contain_text(f"{first} 9.1 kΩ")
    expect(form.get_by_label("it shows")).to_have_value("")
    expect(form.get_by_label("point")).not_to_have_value(first)
    form.get_by_text("Diode").click()
    form.get_by_label("it shows").fill("0.45")
    form.get_by_role("button", name="Store").click()
    expect(stored.get_by_role("listitem")).to_have_count(2)
    kept = page.request.get(page.url.replace("/jobs/", "/api/v1/jobs/").replace("/look", "/ohms")).json()
    assert [reading["by"] for reading in kept["readings"]] == ["Mirren Tarn"] * 2


def test_a_phone_joins_by_a_code_and_its_photograph_is_there(bench, chromium):
    bench.sign_in()
    page = bench.page
    bench.go(new_job(bench, "LK8-4"))
    with page.expect_response(re.compile("/phone-pass$")) as asked:
        page.get_by_role("button", name="From a phone").click()
    expect(page.get_by_role("img", name="Code for the phone")).to_be_visible()
    context = chromium.new_context(viewport={"width": 390, "height": 780})
    phone = context.new_page()
    phone.goto(asked.value.json()["address"])
    expect(phone.get_by_role("heading", name=re.compile("^J-"))).to_be_visible()
    phone.get_by_label("Back").check()
    file = {"name": "back.jpg", "mimeType": "image/jpeg", "buffer": photograph(TEAL, 3.0).jpeg}
    phone.get_by_test_id("phone-photograph").set_input_files(file)
    expect(phone.get_by_text("Arrived")).to_be_visible()
    broken = {"name": "broken.jpg", "mimeType": "image/jpeg", "buffer": b"no picture"}
    phone.get_by_test_id("phone-photograph").set_input_files(broken)
    expect(phone.get_by_role("button", name="Again")).to_be_visible()
    _type_readings(phone, page)
    wide = phone.evaluate("() => [document.documentElement.scrollWidth, window.innerWidth]")
    assert wide[0] <= wide[1]
    phone.goto(f"{bench.served.address}/phone/none")
    expect(phone.get_by_text("This link has expired")).to_be_visible()
    context.close()
    page.get_by_role("button", name="Look for new ones").click()
    expect(page.get_by_role("img", name="Photograph of the back")).to_be_visible()
