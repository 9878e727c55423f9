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
    jobs = [api.get(f"jobs/{number}") for number in range(1, 30)]
    gone = next(
        job for job in jobs if job.get("left") and job["board_model"] == "teal-8" and job["measured"]["power"] == "off"
    )
    address, panel = f"/jobs/{gone['number']}", page.get_by_test_id("panel")
    offered = {}
    for step, stands, entry in (
        ("arrive", "The customer says", panel.get_by_role("button", name=re.compile("Take it in|Keep it"))),
        ("ohms?point=F1", "Read so far", panel.get_by_label("value")),
        ("volts/power", "No power: the card is not here", panel.get_by_role("button", name="Unplugged and discharged")),
        ("rework?site=U15", "What was done", panel.get_by_label("site or part")),
        ("prove", "proven", panel.get_by_role("button", name=re.compile("^(Record|Passed|Mark as)"))),
    ):
        bench.go(f"{address}/{step}")
        expect(panel.get_by_role("heading", name=re.compile(stands)).first).to_be_visible()
        expect(page.get_by_test_id("left")).to_contain_text("nothing more is measured or done here")
        offered[step] = sum(control.is_enabled() for control in entry.all())
    assert offered == dict.fromkeys(offered, 0)
    expect(page.get_by_text("Owed before it may leave")).to_have_count(0)
    expect(page.get_by_test_id("next-step")).to_contain_text("The job is closed.")
    bench.check_access()
    page.get_by_test_id("left").get_by_role("link").click()
    if gone["left"]["here_as"]:
        expect(page).to_have_url(re.compile(f"/jobs/{gone['left']['here_as']}$"))
    else:
        expect(page.get_by_label("Serial of the card")).to_have_value(gone["serial"])
