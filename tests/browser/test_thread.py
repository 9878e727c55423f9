"""Never losing the thread: another hand goes on from the card alone; what is typed without a server is sent."""

from __future__ import annotations

import pytest

from tests.browser.expecting import expect

pytestmark = pytest.mark.browser


def sign_out(bench):
    bench.page.get_by_role("button", name="Signed in as").click()
    bench.page.get_by_role("menuitem", name="Sign out").click()
    expect(bench.page.get_by_label("Password")).to_be_visible()


def test_a_job_left_in_mid_diagnosis_is_resumed_by_another_from_its_card(bench):
    bench.sign_in()
    page = bench.page
    address = bench.new_job("TH8-1", complaint="Black screen.")
    number = address.rsplit("/", 1)[1]
    page.get_by_label("The shop sees").fill("Fans turn, no picture.")
    page.get_by_label("listed, no picture").check()
    page.get_by_role("button", name="Keep it").click()
    bench.go(f"{address}/teardown")
    page.get_by_test_id("clock").click()
    expect(page.get_by_test_id("clock")).to_contain_text("stop")
    turn = page.get_by_test_id("in-turn")
    expect(turn.get_by_role("heading", name="Backplate screws")).to_be_visible()
    page.keyboard.press("Enter")
    expect(turn.get_by_role("heading", name="Backplate", exact=True)).to_be_visible()
    thoughts = page.get_by_test_id("hypotheses")
    thoughts.get_by_text("Power stage with input joined to output").click()
    thoughts.get_by_label("by what").fill("plug 1 reads 4k2, both leads")
    thoughts.get_by_role("button", name="Rule out").click()
    expect(thoughts.get_by_text("ruled out by: plug 1 reads 4k2, both leads")).to_be_visible()
    owed = page.get_by_test_id("owed")
    owed.get_by_label("promise").select_option("coil-lifted")
    owed.get_by_label("what, and where").fill("L4 lifted, in the tray")
    owed.get_by_role("button", name="Promise it").click()
    expect(owed.get_by_text("L4 lifted, in the tray")).to_be_visible()
    page.get_by_role("heading", name="Taken apart").or_(page.get_by_role("link", name="Taken apart")).first.click()
    page.keyboard.press("n")
    page.get_by_label("Note at Look").fill("Next I wanted the back beside the plugs.")
    page.get_by_test_id("quick-note").get_by_role("button", name="Note it").click()
    expect(page.get_by_test_id("quick-note")).to_be_hidden()
    sign_out(bench)

    # the lead, next morning: nothing but the card
    bench.sign_in("lead", at="/shelf")
    page.get_by_role("link", name="TH8-1").or_(page.get_by_role("link", name=f"J-{int(number):04d}")).first.click()
    card = page.get_by_test_id("resume")
    expect(card.get_by_text("Look at the").first).to_be_visible()
    expect(card.get_by_text("plug 1 reads 4k2, both leads").first).to_be_visible()
    expect(card.get_by_text("Backplate screws, black, short: 6 out, none back.").first).to_be_visible()
    expect(card.get_by_text("L4 lifted, in the tray").first).to_be_visible()
    expect(card.get_by_text("Next I wanted the back beside the plugs.")).to_be_visible()
    bench.check_access()
    bench.nothing_cut()
    card.get_by_role("link", name="Go on there").click()
    expect(page.get_by_test_id("region")).to_be_visible()
    expect(thoughts.get_by_text("ruled out by: plug 1 reads 4k2, both leads")).to_be_visible()
    # the clock of who left still runs, and stands with the job
    bench.go(address)
    expect(page.get_by_test_id("time")).to_contain_text("look")
    # each event has its link
    row = page.get_by_role("list", name="Timeline").get_by_role("listitem").filter(has_text="L4 lifted")
    row.get_by_role("button", name="Link").click()
    expect(row).to_have_class("border-t border-rule py-1.5 border-l-4 border-l-ink bg-tray pl-2")
    linked = page.url
    page.reload()
    assert page.url == linked
    expect(row).to_be_in_viewport()


def test_what_is_entered_while_the_server_is_away_is_sent_once_when_it_is_back(bench):
    bench.sign_in()
    page = bench.page
    address = bench.new_job("TH8-2")
    bench.go(f"{address}/look")
    expect(page.get_by_test_id("owed")).to_be_visible()
    bench.served.stop()
    owed = page.get_by_test_id("owed")
    for words in ("First promise", "Second promise"):
        owed.get_by_label("what, and where").fill(words)
        owed.get_by_role("button", name="Promise it").click()
        expect(owed.get_by_label("what, and where")).to_have_value("")
    expect(page.get_by_test_id("unsent")).to_have_text("2 unsent")
    page.get_by_test_id("unsent").click()
    expect(page.get_by_text("Kept in this browser, sent in this order")).to_be_visible()
    bench.served.start()
    expect(page.get_by_test_id("unsent")).to_be_hidden(timeout=40_000)
    listed = owed.get_by_role("list", name="Owed").get_by_role("listitem")
    expect(listed).to_have_count(2)
    expect(listed.nth(0)).to_contain_text("First promise")
    expect(listed.nth(1)).to_contain_text("Second promise")


def test_entries_on_their_way_together_are_each_kept_and_later_ones_wait_behind_them(bench):
    """Two answers that never come, then the server is back: the third entry must not overtake the first two."""
    bench.sign_in()
    page = bench.page
    bench.go(f"{bench.new_job('TH8-4')}/look")
    owed = page.get_by_test_id("owed")
    field = owed.get_by_label("what, and where")
    held = []
    page.route("**/owed", lambda route: held.append(route) if route.request.method == "POST" else route.continue_())
    for words in ("First", "Second"):
        with page.expect_request(lambda request: request.method == "POST" and request.url.endswith("/owed")):
            field.fill(words)
            owed.get_by_role("button", name="Promise it").click()
    for route in held:
        route.abort()
    expect(page.get_by_test_id("unsent")).to_have_text("2 unsent")
    page.unroute("**/owed")
    field.fill("Third")
    owed.get_by_role("button", name="Promise it").click()
    expect(page.get_by_test_id("unsent")).to_be_hidden(timeout=40_000)
    listed = owed.get_by_role("list", name="Owed").get_by_role("listitem")
    expect(listed).to_have_count(3)
    assert [word in listed.nth(at).inner_text() for at, word in enumerate(("First", "Second", "Third"))] == [True] * 3


def test_the_shelf_is_filtered_kept_and_its_labels_printed(bench):
    bench.sign_in("front-desk", at="/shelf")
    page = bench.page
    rows = page.get_by_role("checkbox", name="Choose J-")
    expect(rows.nth(3)).to_be_visible()
    page.get_by_label("serial, customer, designator, note").fill("isolde marhs")
    expect(rows).to_have_count(1)
    page.get_by_label("keep it as").fill("Marsh")
    page.get_by_role("button", name="Keep", exact=True).click()
    page.get_by_role("button", name="Show all").click()
    expect(rows.nth(3)).to_be_visible()
    page.get_by_role("list", name="Kept filters").get_by_role("button", name="Marsh", exact=True).click()
    expect(rows).to_have_count(1)
    bench.check_access()
    rows.first.check()
    link = page.get_by_role("link", name="Print their labels").get_attribute("href")
    assert page.request.get(bench.served.address + (link or "")).headers["content-type"] == "application/pdf"
    page.get_by_role("button", name="Show all").click()
    # whose move it is, with its reason
    bench.go(bench.job_of("TL8-56377").replace("/memory", ""))
    move = page.get_by_test_id("whose-move")
    move.get_by_label("it waits for").select_option("customer")
    move.get_by_label("for what exactly").fill("Asked whether it ever got wet")
    move.get_by_role("button", name="Set it").click()
    expect(page.get_by_test_id("next-step")).to_contain_text("Waiting: Asked whether it ever got wet")
    move.get_by_label("it waits for").select_option("hands")
    move.get_by_role("button", name="Set it").click()
    expect(page.get_by_test_id("next-step")).to_contain_text("Next:")


def test_people_are_invited_and_the_lead_sees_what_was_done(bench):
    bench.sign_in("lead", at="/people")
    page = bench.page
    page.get_by_role("button", name="Make a link").click()
    expect(page.get_by_text("it serves for seven days")).to_be_visible()
    expect(page.get_by_role("list", name="Account history")).to_contain_text("Invited a technician.")
    expect(page.get_by_role("list", name="Sessions")).to_contain_text("this browser")
    bench.check_access()
    bench.nothing_cut()
    page.get_by_label("Role of Odile Fenn").select_option("technician")
    expect(page.get_by_role("list", name="Account history")).to_contain_text("Is technician from now on.")
    page.get_by_label("Role of Odile Fenn").select_option("front-desk")
    expect(page.get_by_role("list", name="Account history")).to_contain_text("Is front desk from now on.")
