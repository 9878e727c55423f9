"""The first hour of a new shop, by the page that leads through it."""

from __future__ import annotations

import pytest

from tests.browser.expecting import expect

pytestmark = pytest.mark.browser
EMPTY = {"money": False, "others": 0, "board_models": 0, "jobs": 0}


@pytest.fixture
def shop(bench):
    """What the server says is there; a test changes it as its lead would."""
    there = dict(EMPTY)
    bench.page.route("**/api/v1/setup", lambda route: route.fulfill(json=there))
    bench.sign_in("lead", at="/shelf")
    return there


def step(page, title):
    return page.get_by_role("listitem").filter(has=page.get_by_role("heading", name=title, exact=True))


def test_each_step_is_open_in_its_turn_can_be_skipped_and_is_closed_once_it_is_done(bench, shop):
    page = bench.page
    bench.go("/setup")
    money = step(page, "Money and warranty")
    expect(money.get_by_label("currency")).to_be_visible()
    expect(step(page, "Who works here").get_by_role("link", name="Invite people")).to_have_count(0)
    bench.check_access()
    shop["money"] = True
    money.get_by_role("button", name="Save").last.click()
    expect(money.get_by_text("set", exact=True)).to_be_visible()
    expect(money.get_by_label("currency")).to_have_count(0)

    people = step(page, "Who works here")
    expect(people.get_by_role("link", name="Invite people")).to_be_visible()
    people.get_by_role("button", name="Skip").click()
    expect(people).to_contain_text("skipped; later: People")
    board = step(page, "The first board")
    expect(board.get_by_role("link", name="bench plan")).to_be_visible()
    bench.load("/setup")
    expect(people).to_contain_text("skipped")  # kept in this browser
    shop |= {"board_models": 2, "jobs": 1}
    bench.load("/setup")
    expect(board).to_contain_text("2 board models")
    expect(page.get_by_role("status")).to_have_text("That is all. To the shelf")
    people.get_by_role("button", name="Do it after all").click()
    expect(people.get_by_role("link", name="Invite people")).to_be_visible()


def test_the_lead_of_an_empty_shelf_is_pointed_to_it(bench, shop):
    page = bench.page
    nothing = {"groups": [], "drawings": {}}
    page.route("**/api/v1/shelf*", lambda route: route.fulfill(json=nothing))
    bench.load("/shelf")
    page.get_by_role("link", name="Set it up").click()
    expect(page.get_by_role("heading", name="Set up the shop")).to_be_visible()


def test_who_comes_by_the_link_of_a_new_shop_is_led_there(bench, shop, chromium):
    made = bench.page.evaluate(
        "async () => { const session = await (await fetch('/api/v1/session')).json();"
        " const headers = {'Content-Type': 'application/json', 'X-CSRFToken': session.csrf};"
        " const body = JSON.stringify({role: 'lead'});"
        " return (await fetch('/api/v1/invitations', {method: 'POST', headers, body})).json() }"
    )
    window = chromium.new_context(viewport={"width": 1280, "height": 800})
    page = window.new_page()
    page.route("**/api/v1/setup", lambda route: route.fulfill(json=shop))
    page.goto(bench.served.address + made["path"])
    page.get_by_label("Your name").fill("Ida Fenn")
    page.get_by_label("Name to sign in with").fill("ida-fenn")
    page.get_by_label("Password").fill("quiet-lamp-and-tea")
    page.get_by_role("button", name="Start").click()
    expect(page.get_by_role("heading", name="Set up the shop")).to_be_visible()
    window.close()
