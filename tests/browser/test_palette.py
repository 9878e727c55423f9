"""Ctrl K, the shelf in one line a card, and the view for a wall: by the keyboard, as somebody in a hurry would."""

from __future__ import annotations

import pytest

from tests.browser.expecting import expect

pytestmark = pytest.mark.browser


@pytest.fixture
def palette(bench):
    """Opens the palette and types."""

    def typed(text):
        bench.page.keyboard.press("Control+k")
        field = bench.page.get_by_label("Go to a job, part, point or screen, or do something")
        expect(field).to_be_focused()
        bench.page.keyboard.type(text)
        return bench.page.get_by_role("dialog").get_by_role("option")

    return typed


def chosen(bench, options, text):
    expect(options.first).to_contain_text(text)
    bench.page.keyboard.press("Enter")
    expect(bench.page.get_by_role("dialog")).to_have_count(0)


def test_typing_goes_to_jobs_points_parts_and_screens_and_does_what_keys_do(bench, palette):
    page = bench.page
    bench.sign_in(at="/shelf")
    chosen(bench, palette("TL8-55871"), "J-0026")
    expect(page).to_have_url(f"{bench.served.address}/jobs/26")
    chosen(bench, palette("ohms"), "Ohms")
    expect(page).to_have_url(f"{bench.served.address}/jobs/26/ohms")

    chosen(bench, palette("RS2"), "RS2")
    expect(page.get_by_test_id("reading").get_by_role("heading")).to_have_text("RS2")
    board = page.get_by_role("img", name="Board of J-0026")
    before = board.get_attribute("aria-label")
    palette("turn it")
    expect(page.get_by_role("dialog").get_by_role("option").first).to_contain_text("turn it a quarter")
    page.keyboard.press("Enter")
    expect(board).not_to_have_attribute("aria-label", before)

    palette("zzqq xx")
    expect(page.get_by_role("dialog").get_by_role("status")).to_have_text("Nothing fits “zzqq xx”.")
    bench.check_access()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)

    options = palette("stock")
    expect(options.first).to_contain_text("Stock: parts")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(page).not_to_have_url(f"{bench.served.address}/jobs/26/ohms?point=RS2")


def test_the_shelf_keeps_one_line_a_card_and_the_wall_shows_it_without_anything_to_press(bench):
    page = bench.page
    bench.sign_in(at="/shelf")
    rows = page.get_by_role("listitem").filter(has_text="J-0023")
    tall = rows.first.bounding_box()["height"]
    page.get_by_role("switch", name="one line a card").click()
    expect(page.get_by_role("switch", name="one line a card")).to_be_checked()
    bench.load("/shelf")
    expect(page.get_by_role("switch", name="one line a card")).to_be_checked()
    expect(page.get_by_text("J-0023")).to_be_visible()
    assert rows.first.bounding_box()["height"] <= 0.7 * tall
    page.get_by_role("switch", name="one line a card").click()

    page.set_viewport_size({"width": 640, "height": 400})  # as at 200 %
    new = page.get_by_role("link", name="New job").bounding_box()
    assert new["x"] + new["width"] <= 640
    page.get_by_role("link", name="Wall view").click()
    expect(page.get_by_role("heading", name="At the bench")).to_be_visible()
    assert page.get_by_text("Confirm the mark on U38").bounding_box()["width"] > 150
    page.set_viewport_size({"width": 1280, "height": 800})
    expect(page.get_by_text("J-0023")).to_be_visible()
    assert page.get_by_role("button").count() + page.get_by_role("textbox").count() == 0
    assert page.evaluate("document.documentElement.scrollHeight <= innerHeight")
