"""No text of a screen stands outside the catalogue: in the pseudo-locale a plain English word would show."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterator
from typing import Any

import pytest

pytestmark = pytest.mark.browser
HANDS = 3
# What a screen shows and says to those who hear it.
TEXTS = """() => {
    const texts = [];
    const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
    while (walker.nextNode()) if (walker.currentNode.parentElement.closest("script, style, textarea") === null)
        texts.push(walker.currentNode.textContent);
    for (const name of ["aria-label", "title", "placeholder", "alt"])
        for (const element of document.querySelectorAll(`[${name}]`)) texts.push(element.getAttribute(name));
    return [...new Set(texts)];
}"""
TRANSLATED = re.compile("[\u00c0-\u024f\u1e00-\u1eff]")
WORD = re.compile(r"[A-Za-z]{3,}")
# Names of months come from the browser, by the shop's region; a unit is the same in every language.
OF_NO_LANGUAGE = {
    *("uvrix", "min", "mhz"),
    *("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"),
}


def addresses(bench) -> Iterator[str]:
    """Every screen and tab that the demo shop fills."""
    dead, waits, proven, asked, memory, plain = (
        bench.job_of(serial).removesuffix("/memory")
        for serial in ("SC24-0121", "TL8-54388", "TL8-54100", "TL8-55210", "SC24-0093", "SM6-00415")
    )
    yield from ("/shelf", "/wall", "/jobs/new", "/messages", "/setup", "/meters", "/nowhere")
    yield from (f"{memory}/memory", f"{plain}/memory", f"{asked}/memory", proven, f"{proven}/case")
    yield from (f"{dead}/{step}" for step in ("arrive", "look", "ohms", "volts", "teardown"))
    yield from (f"{dead}/ohms/{tab}" for tab in ("shorts", "passes", "slot", "chips", "beside"))
    yield from (f"{dead}/volts/{tab}" for tab in ("power", "converter", "supervisor", "phases", "ladder"))
    yield from (f"{waits}/rework{tab}" for tab in ("?site=U17", "/pads/U16", "/images", "/timers", "/curve"))
    yield from (f"{proven}/prove", f"{proven}/return", f"{asked}/return/customer", f"{proven}/return/report")
    yield from (f"/library{page}" for page in ("", "/teal-8", "/teal-8/edit", "/new", "/habits", "/readers/teach"))
    yield from (f"/library/{page}" for page in ("packages/fb180", "proof", "pinouts?marking=GW7K", "rework", "plans"))
    yield from (f"/library/{page}" for page in ("scaup-24/startup", "recipes/lapwing-on-bench-1", "pack"))
    yield from (f"/stock{page}" for page in ("", "?label=TL8-51006%2FU13", "/donors?card=TL8-51006", "/find?pitch=2"))
    yield from ("/stock/lots?job=J-0037", "/stock/values?model=teal-8")
    yield from (f"/figures{page}" for page in ("?by=cause", "/learning", "/archive"))
    yield from ("/people", "/people/audit", "/parcels", "/library/pinouts", "/library/teal-8/watchlist")


@pytest.mark.parametrize("hand", range(HANDS))
def test_every_text_of_a_screen_stands_in_the_catalogue(bench, hand):
    page = bench.page
    bench.sign_in("lead")
    page.evaluate("localStorage.setItem('uvrix-language', 'pseudo')")
    told: list[str] = []
    page.on("response", lambda response: _told(response, told))
    plain: dict[str, list[str]] = {}
    for address in itertools.islice(addresses(bench), hand, None, HANDS):
        bench.load(address)
        page.wait_for_load_state("networkidle")
        answered = "\n".join(told).lower()
        texts = page.evaluate(TEXTS)
        assert any(TRANSLATED.search(text) for text in texts), f"{address} shows nothing in the pseudo-locale"
        for text in texts:
            words = set(WORD.findall(text.lower())) - OF_NO_LANGUAGE
            # what the server answered is shown as it said it
            strange = [word for word in words if word not in answered]
            if strange and not TRANSLATED.search(text):
                plain[f"{address}: {text.strip()[:60]}"] = strange
        wide, window = page.evaluate("() => [document.documentElement.scrollWidth, innerWidth]")
        assert wide <= window, f"{address} runs out of the window where its texts are longer"
    page.evaluate("localStorage.removeItem('uvrix-language')")
    assert plain == {}


def _told(response: Any, told: list[str]) -> None:
    """Keep every name and text of an answer of the API."""
    if "/api/" in response.url and "json" in response.headers.get("content-type", ""):
        told.append(response.text())
