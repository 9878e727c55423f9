"""A lost password is chosen anew, the lead reads who did what, and a card lives on on a donor's board."""

from __future__ import annotations

import re

from tests.browser.conftest import SIGN_INS
from tests.browser.expecting import expect

DONOR = "TL8-53301"


def test_a_password_is_reset_by_a_link_that_serves_once(bench, chromium):
    bench.sign_in("lead", at="/people")
    page = bench.page
    row = page.get_by_role("list", name="People").get_by_role("listitem").filter(has_text="Odile Fenn")
    row.get_by_role("button", name="Reset the password").click()
    link = re.search(r"http\S+/welcome/\S+", row.get_by_role("status").inner_text())
    assert link
    bench.check_access()
    name, password = SIGN_INS["front-desk"]
    other = chromium.new_context(viewport={"width": 1280, "height": 800}).new_page()
    other.goto(link[0])
    expect(other.get_by_role("heading", name=f"A new password for {name}")).to_be_visible()
    other.get_by_label("New password").fill(password)
    other.get_by_role("button", name="Set it and sign in").click()
    expect(other.get_by_role("heading", name="Shelf")).to_be_visible()
    other.goto(link[0])
    expect(other.get_by_role("alert")).to_contain_text("This link has been used or has expired.")
    other.context.close()
    page.reload()
    page.get_by_role("link", name="All entries").click()
    expect(page.get_by_role("heading", name="Audit")).to_be_visible()
    expect(page.get_by_role("row").filter(has_text="Odile Fenn").filter(has_text="signed in").first).to_be_visible()
    page.get_by_label("of whom").select_option("casper")
    expect(page.get_by_role("row").filter(has_text="entered: recovery")).to_be_visible()
    expect(page.get_by_role("row").filter(has_text="Odile Fenn")).to_have_count(0)
    bench.check_access()
    bench.nothing_cut()
    bench.served.signed_in.pop("front-desk", None)


def test_a_second_factor_is_set_up_and_not_counted_before_a_code_of_it_was_typed(bench):
    bench.sign_in("technician", at="/people")
    factor = bench.page.get_by_test_id("second-factor")
    factor.get_by_label("your password").fill("wrong")
    factor.get_by_role("button", name="Set one up").click()
    expect(factor.get_by_role("status")).to_contain_text("The password is wrong.")
    factor.get_by_label("your password").fill(SIGN_INS["technician"][1])
    factor.get_by_role("button", name="Set one up").click()
    expect(factor.get_by_role("img", name="Code for the authenticator app")).to_be_visible()
    bench.check_access()
    factor.get_by_label("the code that the app shows").fill("000000")
    factor.get_by_role("button", name="Switch it on").click()
    expect(factor.get_by_role("status")).to_contain_text("This code is wrong.")
    expect(factor.get_by_role("heading")).to_contain_text("(off)")


def test_a_card_lives_on_on_a_donors_board_and_its_job_says_since_when(bench):
    bench.sign_in()
    page = bench.page
    job = bench.new_job("LIVES-1")
    bench.go(f"/stock/donors?card={DONOR}")
    board = page.get_by_role("region", name="Put a card’s core and memory on this board")
    board.get_by_label("serial of the card on the bench").fill("LIVES-1")
    board.get_by_role("button", name="Choose it").click()
    board.get_by_label("core and places").fill("u1 u11")
    board.get_by_label("where both boards").fill("Both sides, on the job")
    expect(board.get_by_role("checkbox")).to_be_checked()
    bench.check_access()
    board.get_by_role("button", name="Move them").click()
    expect(page.get_by_text("the card has lived on the board")).to_contain_text(DONOR)
    expect(page.get_by_test_id("case-entries")).to_contain_text("U1 was swapped")
    expect(page.get_by_role("banner").or_(page.locator("header"))).to_contain_text(DONOR)
    bench.check_access()
    # and back: the board that was left is a donor, and takes its core again
    bench.go("/stock/donors?card=LIVES-1")
    board.get_by_label("serial of the card on the bench").fill(DONOR)
    board.get_by_role("button", name="Choose it").click()
    board.get_by_label("core and places").fill("U1 U11")
    board.get_by_label("where both boards").fill("Both sides, on the job")
    board.get_by_role("button", name="Move them").click()
    expect(page.get_by_text("the card has lived on the board")).to_contain_text("LIVES-1")
    bench.go(f"{job}/ohms")
    expect(page.get_by_test_id("next-step")).to_contain_text("Next:")


def test_dates_are_written_at_once_as_the_lead_sets_it(bench):
    bench.sign_in("lead", "/people")
    form = bench.page.locator("form").filter(has=bench.page.get_by_role("heading", name="Money and writing"))
    iso, usual = re.compile(r"since \d{4}-\d{2}-\d{2}, "), re.compile(r"since \d{1,2} \w{3} \d{4}, ")
    own = bench.page.get_by_role("list", name="Sessions").get_by_role("listitem").first
    for style, expected in (("iso", iso), ("day-month", usual)):
        form.get_by_label("a date is written").select_option(style)
        form.get_by_role("button", name="Save").click()
        expect(own).to_contain_text(expected)
