"""A job whose card left can be read at every step and takes nothing more."""

from __future__ import annotations

import re

import pytest

from tests.browser.expecting import expect
from tests.browser.test_proving import Api

pytestmark = pytest.mark.browser


def test_a_card_that_left_is_read_and_offers_the_way_back(bench):
    bench.sign_in()
    page, api = bench.page, Api(bench)
    gone = next(job for job in (api.get(f"jobs/{number}") for number in range(1, 60)) if job.get("left"))
    address, panel = f"/jobs/{gone['number']}", page.get_by_test_id("panel")
    offered = panel.get_by_role("button", name=re.compile("^(Done|Enter|Record|Passed|Take it in|Keep it|Promise it)"))
    for step, stands in (
        ("arrive", "The customer says"),
        ("look", "Photographs"),
        ("ohms", "From the watchlist"),
        ("volts/power", "From the watchlist"),
        ("rework", "What was done"),
        ("prove", "proven"),
    ):
        bench.go(f"{address}/{step}")
        expect(panel.get_by_role("heading", name=stands).first).to_be_visible()
        expect(page.get_by_test_id("left")).to_contain_text("nothing more is measured or done here")
        assert [button for button in offered.all() if button.is_enabled()] == [], step
        expect(page.get_by_text("Owed before it may leave")).to_have_count(0)
    expect(page.get_by_test_id("next-step")).to_contain_text("The job is closed.")
    bench.check_access()
    page.get_by_test_id("left").get_by_role("link", name="Is it back? Open a new job for it").click()
    expect(page.get_by_label("Serial of the card")).to_have_value(gone["serial"])
