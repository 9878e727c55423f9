"""One card from parcel in to parcel out with the keyboard alone: no mouse, no touch, files by the chooser's key."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.api.conftest import BOARDS, small_picture
from tests.browser.expecting import expect
from tests.browser.test_proving import Api
from uvrix.core.boards.document import read_board
from uvrix.core.virtual.reports import simulate

pytestmark = pytest.mark.browser
FOCUSED = """() => { const e = document.activeElement;
 const own = e.getAttribute('aria-label') || e.getAttribute('aria-labelledby') && '' ;
 return [own || e.closest('label')?.innerText || e.innerText || '', e.tagName].join('|') }"""


ROW = "() => document.activeElement.closest('li')?.innerText ?? ''"


class Keys:
    """A person without a mouse."""

    def __init__(self, page) -> None:
        self.page, self.keys = page, page.keyboard
        page.on("filechooser", lambda _: None)

    def to(self, name, most=160, back=False, of=""):
        """Tab until something of that name has the focus, in a row that says `of`."""
        for _ in range(most):
            self.keys.press("Shift+Tab" if back else "Tab")
            if self.page.evaluate(FOCUSED).startswith(name) and of in self.page.evaluate(ROW):
                return
        raise AssertionError(f"no {name!r} within {most} tabs")

    def enter(self, name, text, **how):
        self.to(name, **how)
        self.keys.type(text)

    def press(self, name, **how):
        self.to(name, **how)
        self.keys.press("Enter")

    def go(self, step):
        # letters act when no field has the focus; with Alt they act everywhere
        self.keys.press("Alt+g")
        self.keys.press(f"Alt+{step}")

    def choose(self, *files):
        with self.page.expect_file_chooser() as chooser:
            self.keys.press("Enter")
        chooser.value.set_files([str(file) for file in files])


def written(folder: Path, name: str, data: bytes) -> Path:
    path = folder / name
    path.write_bytes(data)
    return path


def test_one_card_from_parcel_in_to_parcel_out(bench, tmp_path):
    page = bench.page
    hands = Keys(page)
    keys = page.keyboard
    bench.go("/shelf")
    page.get_by_label("Name").wait_for()
    hands.enter("Name", "casper")
    hands.enter("Password", "lamp-over-the-bench")
    keys.press("Enter")
    page.get_by_role("heading", name="Shelf").wait_for()
    # a protocol of one check, so that this walk is not a day long
    api = Api(bench)
    one = {"id": "outputs", "kind": "hand", "name": "Each output", "fails": "no picture"}
    put = page.request.put(
        f"{bench.served.address}/api/v1/board-models/garganey-8/proof",
        data={"document": {"checks": [one]}, "base": 0},
        headers=api.headers,
    )
    assert put.ok, put.text()
    # a parcel is announced
    hands.press("Parcels to come")
    expect(page.get_by_role("heading", name="Parcels to come")).to_be_visible()
    hands.enter("customer", "Una Brack")
    hands.enter("tracking reference", "KV-300-001")
    hands.enter("expected on", "11202026")
    hands.enter("complaint, in", "Snow after an hour.")
    hands.press("Add to the list")
    expect(page.get_by_role("list", name="Parcels")).to_contain_text("Una Brack")
    # and is here: taken in, checked against its ticket
    hands.to("It has arrived", back=True, of="Una Brack")
    keys.press("Enter")
    expect(page.get_by_label("Customer", exact=True)).to_have_value("Una Brack")
    hands.enter("Serial of the card", "WJ8-1")
    hands.to("Board model")
    keys.type("Garganey")
    hands.press("Open the job")
    expect(page.get_by_role("heading", name="The customer says")).to_be_visible()
    hands.enter("serial on the card itself", "WJ8-1")
    hands.press("Take it in")
    expect(page.get_by_test_id("parcel")).to_contain_text("WJ8-1 checked")
    hands.enter("The shop sees", "Snow, sixty minutes in.")
    hands.press("Keep it")
    # the tester names a chip
    hands.go("m")
    expect(page.get_by_text("Drop the tester’s report here")).to_be_visible()
    board = read_board((BOARDS / "garganey-8.board.json").read_bytes())
    faulty = simulate(board, "cells:M3", 150, 4, condition="warm").report
    with page.expect_file_chooser() as chooser:
        keys.press("d")
    chooser.value.set_files(str(written(tmp_path, "warm.csv", faulty.encode())))
    expect(bench.finding).to_contain_text("M3")
    # it comes off and another goes on
    hands.go("w")
    hands.enter("site or part", "m3")
    keys.press("Enter")
    expect(page.get_by_role("heading", name="M3: remove")).to_be_visible()
    hands.enter("or why not", "On the bench photograph.")
    hands.to("pin 1 lies")
    number = page.url.split("/jobs/")[1].split("/")[0]
    keys.type(api.get(f"jobs/{number}/rework/before?site=M3&do=remove")["pin1"])
    hands.press("Done: remove M3")
    expect(page.get_by_role("list", name="What was done")).to_contain_text("M3 removed")
    hands.to("to do", back=True)
    keys.type("place")
    expect(page.get_by_role("heading", name="M3: place a chip")).to_be_visible()
    hands.enter("chip that comes", "S-77")
    hands.press("Done: place a chip M3")
    expect(page.get_by_role("list", name="What was done")).to_contain_text("S-77 on")
    # proven, photographed as it leaves
    hands.go("p")
    expect(page.get_by_role("heading", name="0 of 1 proven")).to_be_visible()
    hands.press("Record: Each output")
    hands.enter("what was seen", "All three.")
    hands.press("Passed")
    expect(page.get_by_role("heading", name="Proven", exact=True)).to_be_visible()
    hands.go("l")
    expect(page.get_by_role("heading", name="Photographs")).to_be_visible()
    for side in ("the front", "the back"):
        hands.to("What it shows", back=side == "the back")
        keys.type(side)
        hands.to("Choose photographs")
        hands.choose(written(tmp_path, f"{side[4:]}.png", small_picture()))
        many = "1 picture" if side == "the front" else "2 pictures"
        expect(page.get_by_role("link", name="Look")).to_contain_text(many)
    # nothing keeps it here
    hands.go("t")
    expect(page.get_by_role("heading", name="It may leave", exact=True)).to_be_visible()
    hands.enter("what was found", "A memory chip had failed.")
    hands.enter("price", "120")
    hands.press("It leaves")
    expect(page.get_by_test_id("gone")).to_contain_text("Left by parcel")
