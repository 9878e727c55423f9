"""Arrive: a scanned label opens its job wherever the focus is; the matrix says what it is not."""

from __future__ import annotations

import pytest

from tests.browser.expecting import expect

pytestmark = pytest.mark.browser


def arrive_of(bench, serial):
    return bench.job_of(serial).replace("/memory", "/arrive")


def test_a_scanned_label_opens_its_job_and_types_into_no_field(bench):
    bench.sign_in(at="/jobs/new")
    page = bench.page
    number = int(bench.job_of("TL8-56002").split("/")[2])
    page.get_by_label("Complaint").focus()
    page.keyboard.type("half a sen")
    page.keyboard.type(f"|J-{number:04}|")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name=f"J-{number:04}")).to_be_visible()
    bench.go("/jobs/new")
    expect(page.get_by_label("Complaint")).to_have_value("half a sen")


def test_the_matrix_says_what_it_is_not_and_what_to_test_next(bench):
    bench.sign_in("front-desk")
    page = bench.page
    bench.new_job("AR8-1", complaint="Goes black in games.")
    address = page.url
    page.get_by_label("The shop sees").fill("Black after four minutes, fans go on.")
    page.get_by_label("it shows").select_option("often")
    page.get_by_label("under load", exact=True).check()
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_text("Odile Fenn")).to_be_visible()
    expect(page.get_by_role("button", name="With another card: not tried")).to_be_visible()
    page.get_by_role("button", name="Signed in as").click()
    page.get_by_role("menuitem", name="Sign out").click()
    bench.sign_in(at=address.removeprefix(bench.served.address))
    expect(page.get_by_label("The shop sees")).to_have_value("Black after four minutes, fans go on.")
    matrix = page.get_by_test_id("matrix")
    matrix.get_by_role("button", name="With another computer and lead: not tried").click()
    page.get_by_label("tries").fill("3")
    page.get_by_role("button", name="The fault shows").click()
    tried = matrix.get_by_role("button", name="With another computer and lead: shows not computer and lead")
    expect(tried).to_contain_text("not computer and lead")
    expect(matrix.get_by_role("list", name="Tests that settle most").get_by_role("listitem").first).to_contain_text(
        "min"
    )
    tried.click()
    page.get_by_test_id("cell").get_by_role("button", name="Take back").click()
    expect(matrix.get_by_role("button", name="With another computer and lead: not tried")).to_be_visible()
    page.get_by_label("load", exact=True).fill("the usual scene")
    page.get_by_label("minutes", exact=True).fill("4")
    page.get_by_label("what came of it").fill("black, fans go on")
    page.get_by_role("button", name="Enter it").click()
    expect(page.get_by_text("the usual scene")).to_be_visible()
    page.reload()
    expect(page.get_by_text("the usual scene")).to_be_visible()


@pytest.mark.parametrize("theme", ["light", "dim"])
def test_arrive_is_named_for_those_who_cannot_see_it_and_fits(bench, theme):
    bench.go("/shelf")
    bench.page.evaluate("theme => localStorage.setItem('uvrix-theme', theme)", theme)
    bench.sign_in()
    bench.go(arrive_of(bench, "TL8-55871"))
    expect(bench.page.get_by_test_id("matrix")).to_be_visible()
    bench.check_access()
    bench.page_stands_still()
    for width, height in ((1280, 800), (1024, 768), (640, 400)):
        bench.page.set_viewport_size({"width": width, "height": height})
        bench.nothing_cut()


def test_a_parcel_is_taken_in_its_evidence_kept_and_another_customers_card_noticed(bench):
    bench.sign_in("front-desk")
    page = bench.page
    bench.new_job("PA8-77", complaint="Smells burnt.")
    parcel = page.get_by_test_id("parcel")
    parcel.get_by_label("serial on the card itself").fill("PA8-78")
    expect(parcel.get_by_text("The ticket says PA8-77.")).to_be_visible()
    parcel.get_by_role("button", name="Take it in").click()
    expect(page.get_by_role("alert").filter(has_text="another customer")).to_be_visible()
    expect(parcel.get_by_label("serial on the card itself")).to_have_value("PA8-78")
    parcel.get_by_label("serial on the card itself").fill("PA8-77")
    parcel.get_by_label("where it is from").select_option("broken")
    parcel.get_by_label("missing").fill("two screws")
    parcel.get_by_role("button", name="Take it in").click()
    page.get_by_text("The parcel").click()
    expect(parcel).to_contain_text("missing: two screws")
    page.get_by_label("what it says").fill("They said: the core is dead.")
    page.get_by_label("from whom").fill("another workshop")
    page.get_by_role("button", name="Add this evidence").click()
    evidence = page.get_by_role("list", name="Evidence")
    expect(evidence).to_contain_text("from another workshop: unproven")
    expect(evidence.get_by_role("button", name="seen here too")).to_be_hidden()
