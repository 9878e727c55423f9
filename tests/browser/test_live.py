"""Two people at one job, and at the shelf: each sees what the other enters without reloading."""

from __future__ import annotations

import time

import pytest

from tests.browser.conftest import Bench
from tests.browser.expecting import expect

pytestmark = pytest.mark.browser


@pytest.fixture
def colleague(chromium, served):
    window = chromium.new_context(viewport={"width": 1280, "height": 800})
    yield Bench(window.new_page(), served)
    window.close()


def test_two_people_see_each_others_entries_within_two_seconds_and_who_is_there(bench, colleague):
    bench.sign_in()
    address = bench.new_job("LV8-1")
    colleague.sign_in("lead", address)
    here = bench.page.get_by_test_id("others-here")
    expect(here).to_have_text("Casper Holm has this job open too")
    expect(colleague.page.get_by_test_id("others-here")).to_have_text("Mirren Tarn has this job open too")
    expect(colleague.page.get_by_text("Corner bent in transit.")).to_have_count(0)

    bench.page.keyboard.press("n")
    bench.page.get_by_label("Note").fill("Corner bent in transit.")
    bench.page.get_by_role("button", name="Note it").click()
    expect(bench.page.get_by_test_id("quick-note")).to_have_count(0)
    begun = time.monotonic()
    expect(colleague.page.get_by_text("Corner bent in transit.").first).to_be_visible()
    assert time.monotonic() - begun < 4  # asked every second and a half; the machine may be busy beside it

    colleague.go("/shelf")
    expect(here).to_have_count(0)
    row = colleague.page.get_by_role("listitem").filter(has_text=f"J-{int(address.rsplit('/', 1)[1]):04}")
    expect(row).to_be_visible()
    bench.go(address)
    bench.page.get_by_label("shelf place").fill("K9")
    bench.page.get_by_role("button", name="Set it").click()
    expect(row).to_contain_text("K9")
    assert colleague.broken == []


def test_what_is_taken_into_stock_stands_on_anothers_screen(bench, colleague):
    bench.sign_in(at="/stock")
    colleague.sign_in("lead", "/stock")
    form = bench.page.get_by_test_id("take-in")
    form.get_by_label("marking").first.fill("KX4-LIVE")
    form.get_by_label("tray").fill("tray 12")
    form.get_by_role("button", name="Take it in").click()
    expect(colleague.page.get_by_text("KX4-LIVE").first).to_be_visible()
    assert colleague.broken == []
