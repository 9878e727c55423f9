"""The look of browser tests that writes down no page is as strict as Playwright's own."""

from __future__ import annotations

import pytest
from playwright.sync_api import Error

from tests.browser.expecting import expect

BUTTONS = "<button>Keep</button><button hidden>Lose</button><p>Twice</p><p>Twice</p>"


def test_what_is_not_seen_fails_and_says_what_was_looked_for(chromium):
    page = chromium.new_page()
    page.set_content(BUTTONS)
    expect(page.get_by_text("Keep")).to_be_visible()
    for missing in ("Lose", "Throw away"):
        with pytest.raises(AssertionError, match=missing):
            expect(page.get_by_text(missing)).to_be_visible(timeout=50)
    with pytest.raises(Error, match="strict mode violation"):
        expect(page.get_by_text("Twice")).to_be_visible()  # fails at once; a busy machine may need longer for that
    page.context.close()
