"""What every browser test relies on: whatever goes wrong on a page without a word is noted."""

from __future__ import annotations

import pytest

OUTSIDE = "https://outside.invalid"


@pytest.mark.browser
@pytest.mark.parametrize(
    "asks",
    [
        f"fetch('{OUTSIDE}/figures').catch(() => 0)",
        f"new Promise(done => {{ const image = new Image(); image.onerror = done; image.src = '{OUTSIDE}/a.png' }})",
        f"""new Promise(done => {{
            const style = document.createElement('link');
            Object.assign(style, {{ rel: 'stylesheet', href: '{OUTSIDE}/a.css', onerror: done }});
            document.head.append(style);
        }})""",
    ],
)
def test_a_request_outside_is_noted(bench, asks):
    bench.sign_in(at="/shelf")
    assert bench.broken == []
    bench.page.evaluate(f"() => {asks}")
    bench.page.evaluate("() => 0")
    assert any(OUTSIDE in noted for noted in bench.broken)
    bench.broken.clear()


@pytest.mark.browser
def test_an_error_on_a_page_is_noted(bench):
    bench.sign_in(at="/shelf")
    bench.page.evaluate("() => new Promise(done => setTimeout(() => { done(); throw new Error('it broke') }))")
    bench.page.evaluate("() => 0")
    assert bench.broken == ["it broke"]
    bench.broken.clear()
