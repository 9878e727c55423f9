"""The main job from end to end: sign in, open, drop, right chip, mark, restart, all still there."""

from __future__ import annotations

import re

import pytest

from tests.browser.conftest import SAMPLES
from tests.browser.expecting import expect

pytestmark = pytest.mark.browser
COLD = SAMPLES / "teal-8-cold.csv"


def test_with_the_mouse(bench):
    bench.sign_in(at="/shelf")
    page = bench.page
    page.get_by_role("link", name="J-0032").click()
    page.get_by_role("navigation", name="Steps").get_by_role("link", name="Memory").click()
    expect(page.get_by_text("Drop the tester’s report here")).to_be_visible()
    bench.drop(COLD)
    expect(bench.finding).to_contain_text("U18")
    expect(bench.finding).to_contain_text("One data line, DQ 6")
    expect(page.get_by_test_id("orders")).to_contain_text("A1 is 2nd in the report, 5th round the board")
    expect(page.get_by_label("DQ 6: 238", exact=True)).to_be_visible()
    # before a chip is touched, another condition tells joint from die; then the mark is asked for
    expect(page.get_by_test_id("next-step")).to_contain_text("Confirm the mark on U18")
    bench.drop(COLD.with_name("teal-8-warm.csv"))
    expect(page.get_by_test_id("next-step")).to_contain_text("Confirm the mark on U18")
    page.get_by_label("Designator printed").fill("u18")
    bench.answer_truly()
    expect(bench.mark).to_contain_text("U18 is marked, by Mirren Tarn")
    page.get_by_role("button", name="Flip").click()
    with page.expect_response(
        lambda got: got.url.endswith("/orientation") and '"turns":1' in (got.request.post_data or "")
    ):
        page.get_by_role("button", name="Turn").click()
    expect(page.get_by_test_id("orientation")).to_have_text("Back side, bracket up, contacts right")
    bench.served.restart()
    page.reload()
    expect(bench.finding).to_contain_text("U18")
    expect(bench.mark).to_contain_text("U18 is marked, by Mirren Tarn")
    expect(page.get_by_test_id("orientation")).to_have_text("Back side, bracket up, contacts right")
    page.get_by_role("link", name="1 cold").click()
    expect(page.get_by_text("teal-8-cold.csv, ")).to_be_visible()
    with page.expect_download() as download:
        page.get_by_role("link", name="The report as it came").click()
    assert download.value.path().read_bytes() == COLD.read_bytes()


def test_with_the_keyboard_alone(bench):
    page, keys = bench.page, bench.page.keyboard
    # choosers are intercepted from the start: turned on only at the key, it can come too late
    page.on("filechooser", lambda _: None)
    bench.go("/shelf")
    page.get_by_label("Name").wait_for()

    def tab_to(name, *, most=60):
        for _ in range(most):
            keys.press("Tab")
            focused = page.evaluate(
                "() => { const e = document.activeElement;"
                " return (e.getAttribute('aria-label') || e.closest('label')?.innerText || e.innerText || '') }"
            )
            if name in focused:
                return
        raise AssertionError(f"no {name!r} within {most} tabs")

    tab_to("Name")
    keys.type("mirren")
    tab_to("Password")
    keys.type("heron-at-low-tide")
    keys.press("Enter")
    page.get_by_role("heading", name="Shelf").wait_for()
    keys.press("/")
    keys.type("TL8-56002")
    keys.press("Enter")
    expect(page.get_by_test_id("resume")).to_be_visible()
    keys.press("g")
    keys.press("m")
    expect(page.get_by_text("Drop the tester’s report here")).to_be_visible()
    with page.expect_file_chooser() as chooser:
        keys.press("d")
    chooser.value.set_files(SAMPLES / "teal-8-warm.csv")
    expect(bench.finding).to_contain_text("U18")
    keys.press("r")
    expect(page.get_by_test_id("orientation")).to_have_text("Front side, bracket down, contacts right")
    keys.press("f")
    expect(page.get_by_test_id("orientation")).to_have_text("Back side, bracket down, contacts left")
    keys.press("f")
    keys.press("r")
    keys.press("r")
    keys.press("r")
    expect(page.get_by_test_id("orientation")).to_have_text("Front side, bracket left, contacts down")
    before = page.get_by_role("img", name="Board of").get_attribute("viewBox")
    keys.press("+")
    keys.press("ArrowRight")
    expect(page.get_by_role("img", name="Board of")).not_to_have_attribute("viewBox", before)
    keys.press("m")
    keys.type("U18")
    for answer in (" ", "ArrowRight"):
        tab_to("yes" if answer == " " else "no") if answer == " " else keys.press("ArrowRight")
        if answer == " ":
            keys.press(" ")
        keys.press("Enter")
        taken, refused = bench.mark.get_by_text("is marked, by"), bench.mark.get_by_role("alert")
        expect(taken.or_(refused)).to_be_visible()
        if taken.is_visible():
            break
    expect(bench.mark).to_contain_text("U18 is marked, by Mirren Tarn")
    keys.press("?")
    expect(page.get_by_role("heading", name="Keys")).to_be_visible()
    keys.press("Escape")
    expect(page.get_by_role("heading", name="Keys")).to_be_hidden()


def test_a_wrong_designator_is_refused_and_shown_where_it_lies(bench):
    bench.sign_in()
    bench.go(bench.job_of("TL8-55871"))
    expect(bench.finding).to_contain_text("U15")
    field = bench.page.get_by_label("Designator printed")
    # no name is in sight while it is asked for: not in the panel, not on the board, not on the button beside it
    strip, on_board = bench.page.get_by_test_id("next-step"), bench.page.locator("[data-site=U15] text").first
    expect(strip).to_be_visible()
    field.focus()
    for shown in (bench.finding, strip, on_board):
        expect(shown).to_be_hidden()
    assert "U15" not in bench.mark.inner_text()
    bench.page.get_by_role("button", name="Flip").focus()
    for shown in (bench.finding, strip, on_board):
        expect(shown).to_be_visible()
    field.fill("U1")
    expect(field).to_have_class(re.compile("text-soft"))
    field.fill("U12")
    bench.mark.get_by_label("yes", exact=True).check()
    bench.page.keyboard.press("Enter")
    expect(bench.mark.get_by_role("alert")).to_contain_text("You typed U12, but the mark is for U15")
    circle = bench.page.locator("circle[stroke-dasharray='3 1.5']")
    expect(circle).to_be_visible()
    ring, chip = circle.bounding_box(), bench.page.locator("[data-site=U12] polygon").first.bounding_box()
    assert ring["x"] < chip["x"] + chip["width"] / 2 < ring["x"] + ring["width"]
    assert ring["y"] < chip["y"] + chip["height"] / 2 < ring["y"] + ring["height"]
    bench.mark.get_by_label("no", exact=True).check()
    field.fill("U15")
    expect(circle).to_be_hidden()
    expect(bench.page.get_by_role("button", name="Take the mark back")).to_be_hidden()


def test_a_hidden_chip_is_said_to_be_on_the_other_side(bench):
    bench.sign_in()
    bench.go(bench.job_of("SC24-0093"))
    expect(bench.finding).to_contain_text("U38")
    lies = bench.page.get_by_test_id("orientation")
    # the card lies back up in the demo shop, and as it was turned last
    if "Back side" in lies.inner_text():
        bench.page.keyboard.press("f")
    expect(lies).to_contain_text("Front side")
    expect(bench.finding).to_contain_text("U38 is on the back, behind what you see")
    bench.finding.get_by_role("button", name="Flip").click()
    expect(lies).to_contain_text("Back side")
    expect(bench.finding).not_to_contain_text("behind what you see")
