"""A tablet at the bench: at 1024 by 768 under a finger nothing that is pressed is lower than 44 px, and all fits."""

from __future__ import annotations

import pytest

from tests.browser.conftest import Bench
from tests.browser.expecting import expect

pytestmark = pytest.mark.browser

LEAST_PX = 44
PRESSED = "button:not([role=switch]), summary, select, [role=tab], nav a, a.button, a.button-plain, li > a"
HEIGHTS = """pressed => [...document.querySelectorAll(pressed)]
    .filter(one => one.checkVisibility() && one.getBoundingClientRect().width > 1 && !one.closest("svg"))
    .map(one => [Math.round(one.getBoundingClientRect().height), (one.innerText || one.ariaLabel || "").slice(0, 40)])
"""


@pytest.mark.parametrize("step", ["look", "ohms/shorts", "volts", "rework", "return"])
def test_whatever_is_pressed_on_a_tablet_is_high_enough(chromium, served, step):
    context = chromium.new_context(viewport={"width": 1024, "height": 768}, has_touch=True, is_mobile=True)
    try:
        bench = Bench(context.new_page(), served)
        bench.sign_in("lead", at=f"/jobs/27/{step}")
        expect(bench.page.get_by_test_id("next-step")).to_be_visible()
        expect(bench.page.get_by_test_id("mind")).to_be_visible()
        bench.page_stands_still()
        assert bench.page.evaluate("matchMedia('(pointer: coarse)').matches")
        found = bench.page.evaluate(HEIGHTS, PRESSED)
        assert len(found) > 20
        assert [entry for entry in found if entry[0] < LEAST_PX] == []
        assert bench.page.evaluate("document.documentElement.scrollWidth") == 1024
    finally:
        context.close()
