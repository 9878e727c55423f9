"""No text stands outside the catalogues: where the shop speaks the pseudo-locale a plain English word would show.

What the screens show is held against their own catalogue, and what the server says against the server's: a sentence
of an answer is accented too, or somebody typed it.
"""

from __future__ import annotations

import contextlib
import itertools
import json
import os
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import psycopg
import pytest
from playwright.sync_api import Error

from tests.browser.conftest import SIGN_INS, Bench, Served
from uvrix.launch.templates import copy_demo

pytestmark = pytest.mark.browser
HANDS = 3
# Values of answers that stand in no catalogue of ours: what a browser says, names put together, a code of two words.
OF_NO_CATALOGUE = {"browser", "names", "seen", "lot", "lots", "pairs", "clock", "compares", "found"}
# The courier's words, and what the framework says of a wrong call.
OF_OTHERS = ("/api/v1/parcels", "/api/v1/stock/substitutes")
# Shown as they are: a browser's own name, and the blanks of a recipe.
AS_THEY_ARE = re.compile(r"^Mozilla/|^[{]\w+[}]")
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
# What is left plain inside a translated sentence; places to be filled, and the id of a check, may be.
BLANK = re.compile(r"[{]\w+[}]|, sensors:")
PHRASE = re.compile(r"[A-Za-z]{2,}(?:[ -][A-Za-z]{2,})*")
# Names of months come from the browser, by the shop's region; a unit is the same in every language.
OF_NO_LANGUAGE = {
    *("uvrix", "min", "mhz", "khz"),
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
    yield from ("/practice", "/practice/rounds", "/practice/cards")
    yield from ("/people", "/people/audit", "/parcels", "/library/pinouts", "/library/teal-8/watchlist")


class Abroad(Served):
    """The demo shop, its server in the pseudo-locale; what was told of its cards in English is forgotten."""

    typed = ""

    def make(self) -> None:
        copy_demo(Path(os.environ["UVRIX_TEMPLATES"]), self.environment["UVRIX_DB_NAME"], self.data)
        with psycopg.connect(_connection(self.environment), autocommit=True) as connection:
            connection.execute("delete from case_jobtold")
            tables = connection.execute("select tablename from pg_tables where schemaname = 'public'").fetchall()
            rows = "\n".join(
                str(row[0])
                for (table,) in tables
                for row in connection.execute(f'select t::text from "{table}" t').fetchall()
            )
            self.typed = _bare(rows)
        self.start()


def _connection(environment: dict[str, str]) -> str:
    parts = {"host": "HOST", "port": "PORT", "dbname": "NAME", "user": "USER", "password": "PASSWORD"}
    return " ".join(f"{key}={environment[f'UVRIX_DB_{name}']}" for key, name in parts.items())


@pytest.fixture(scope="module")
def abroad(tmp_path_factory, process) -> Iterator[Abroad]:
    server = Abroad(f"uvrix_{process}_abroad", tmp_path_factory.mktemp("abroad"))
    server.environment["UVRIX_LANGUAGE"] = "pseudo"
    server.make()
    yield server
    server.stop()


@pytest.fixture
def bench(chromium, abroad) -> Iterator[Bench]:
    context = chromium.new_context(viewport={"width": 1280, "height": 800})
    bench = Bench(context.new_page(), abroad)
    yield bench
    context.close()
    assert bench.broken == []


@pytest.mark.in_turn(3)
@pytest.mark.parametrize("hand", range(HANDS))
@pytest.mark.own_window
def test_every_text_of_a_screen_stands_in_a_catalogue(bench, abroad, hand):
    page = bench.page
    _sign_in(bench)
    told: list[Any] = []
    page.on("response", lambda response: _told(response, told))
    plain: dict[str, list[str]] = {}
    others = ""
    for address in itertools.islice(addresses(bench), hand, None, HANDS):
        bench.load(address)
        page.wait_for_load_state("networkidle")
        texts = page.evaluate(TEXTS)
        assert any(TRANSLATED.search(text) for text in texts), f"{address} shows nothing in the pseudo-locale"
        for path, answer in told:
            if path in OF_OTHERS:
                others += json.dumps(answer).lower()
                continue
            for key, text in _sentences(answer):
                if not TRANSLATED.search(text) and _bare(text) not in abroad.typed:
                    plain[f"{path} {key}: {text[:80]}"] = []
                elif strange := [
                    words for words in PHRASE.findall(BLANK.sub("", text)) if _bare(words) not in abroad.typed
                ]:
                    plain[f"{path} {key}: {text[:80]}"] = strange
        for text in texts:
            words = set(WORD.findall(text.lower())) - OF_NO_LANGUAGE
            strange = [word for word in words if word not in abroad.typed and word not in others]
            if strange and not TRANSLATED.search(text) and not AS_THEY_ARE.match(text):
                plain[f"{address}: {text.strip()[:60]}"] = strange
        told.clear()
        wide, window = page.evaluate("() => [document.documentElement.scrollWidth, innerWidth]")
        assert wide <= window, f"{address} runs out of the window where its texts are longer"
    assert plain == {}


def _sign_in(bench: Bench) -> None:
    bench.load("/shelf")
    bench.page.locator("input[type=password]").wait_for()
    name, password = SIGN_INS["lead"]
    bench.page.locator("input").first.fill(name)
    bench.page.locator("input[type=password]").fill(password)
    bench.page.keyboard.press("Enter")
    bench.page.get_by_role("navigation").first.wait_for()


def _told(response: Any, told: list[Any]) -> None:
    """Keep what an answer of the API says."""
    if "/api/" in response.url and response.ok and "json" in response.headers.get("content-type", ""):
        with contextlib.suppress(Error):  # the page has gone on
            told.append((urlsplit(response.url).path, response.json()))


def _sentences(value: Any, key: str = "") -> Iterator[tuple[str, str]]:
    """The texts of an answer with their keys: of more than one word, or it is a code or a name."""
    if isinstance(value, dict):
        for name, entry in value.items():
            yield from _sentences(entry, name)
    elif isinstance(value, list):
        for entry in value:
            yield from _sentences(entry, key)
    elif isinstance(value, str) and key not in OF_NO_CATALOGUE and WORD.search(value) and " " in value:
        yield key, value


def _bare(text: str) -> str:
    """A text without case, quotes and the signs that JSON escapes."""
    return re.sub(r"[^\w]+", " ", text.lower().replace("\\n", " ")).strip()


def test_a_report_on_paper_speaks_the_language_too(bench):
    import pypdfium2

    _sign_in(bench)
    job = bench.job_of("TL8-54100").removesuffix("/memory")
    answer = bench.page.request.get(f"{bench.served.address}/api/v1{job}/report.pdf")
    assert answer.ok
    document = pypdfium2.PdfDocument(answer.body())
    words = " ".join(page.get_textpage().get_text_range() for page in document)
    document.close()
    assert TRANSLATED.search(words)
    for plain in ("We found", "We did", "Proof", "Warranty", "passed", "Serial", "Worked on"):
        assert plain not in words
