"""`expect` as Playwright has it, save that waiting for something to be seen writes down no page."""

from __future__ import annotations

from typing import Any

from playwright import sync_api
from playwright.sync_api import Locator

# A small machine beside other work: what is waited for may take a while.
PATIENCE_MS = 40_000
sync_api.expect.set_options(timeout=PATIENCE_MS)


def expect(actual: Any) -> Any:
    """Playwright's assertions about a page or something on it.

    Each look of its `to_be_visible` that finds nothing writes down all that a reader of the page would hear: a tenth
    of what the browser does in a run. `Locator.wait_for` looks as strictly and writes nothing.
    """
    assertions = sync_api.expect(actual)
    if isinstance(actual, Locator):

        def to_be_visible(timeout: float = PATIENCE_MS) -> None:
            __tracebackhide__ = True
            try:
                actual.wait_for(state="visible", timeout=timeout)
            except sync_api.TimeoutError as late:
                raise AssertionError(f"expected to see {actual}, which was not there: {late}") from None

        vars(assertions)["to_be_visible"] = to_be_visible
    return assertions
