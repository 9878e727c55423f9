"""The drawing on the screen: every chip is where the core says, in all eight orientations; labels stay upright."""

from __future__ import annotations

import json

import pytest

from tests.browser.expecting import expect
from tests.core.boards.strategies import BOARDS

pytestmark = pytest.mark.browser


def centre_of(page, locator):
    box = locator.bounding_box()
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


@pytest.mark.parametrize("slug", ["scaup-24", "garganey-8"])
def test_chips_edges_and_words_agree_in_all_eight_orientations(bench, slug):
    bench.sign_in()
    page = bench.page
    bench.go(f"/library/{slug}")
    drawing = page.request.get(f"{bench.served.address}/api/v1/board-models/{slug}").json()["drawing"]
    views = {(view["side"], view["turns"]): view for view in drawing["views"]}
    orientation = ("front", 0)
    for key in ("r", "r", "r", "r", "f", "r", "r", "r"):
        view = views[orientation]
        contacts = f", contacts {view['edges']['contacts']}"
        side = "Front" if orientation[0] == "front" else "Back"
        expect(page.get_by_test_id("orientation")).to_have_text(
            f"{side} side, bracket {view['edges']['bracket']}{contacts}"
        )
        check_places(page, drawing, view)
        page.keyboard.press(key)
        following = view["turned"] if key == "r" else view["flipped"]
        orientation = (following["side"], following["turns"])


def check_places(page, drawing, view):
    """Chips that face us lie in the same order across and down as the core's matrix puts them."""
    a, b, c, d, e, f = view["matrix"]
    seen = [site for site in drawing["sites"] if site["side"] == view["side"]]
    expected, drawn = {}, {}
    for site in seen:
        x = sum(corner[0] for corner in site["corners"]) / 4
        y = sum(corner[1] for corner in site["corners"]) / 4
        expected[site["designator"]] = (a * x + c * y + e, b * x + d * y + f)
        drawn[site["designator"]] = centre_of(page, page.locator(f"[data-site={site['designator']}] polygon").first)
    if not expected:
        return  # no chip on this side: only the words are checked
    names = list(expected)
    first, last = names[0], max(names, key=lambda name: abs(expected[name][0] - expected[names[0]][0]))
    scale = (drawn[last][0] - drawn[first][0]) / (expected[last][0] - expected[first][0])
    assert scale > 0
    for name in names:
        for axis in (0, 1):
            moved = (expected[name][axis] - expected[first][axis]) * scale
            assert drawn[name][axis] - drawn[first][axis] == pytest.approx(moved, abs=1.5)


FITS = """element => document.fonts.status === "loaded" && Math.abs(
    element.viewBox.baseVal.width / element.viewBox.baseVal.height / (element.clientWidth / element.clientHeight) - 1
) < 0.005"""


def settled(page, board):
    """The drawing's box, once fonts are there and it fits its pane."""
    page.wait_for_function(FITS, arg=board.element_handle())
    return board.get_attribute("viewBox")


def changed(board, before):
    """The drawing's box after it is no longer `before`."""
    expect(board).not_to_have_attribute("viewBox", before)
    return board.get_attribute("viewBox")


def test_labels_stay_upright_and_the_plan_follows(bench):
    bench.sign_in()
    page = bench.page
    bench.go("/library/teal-8")
    board = page.get_by_role("img", name="Teal 8: ")
    settled(page, board)
    label = page.locator("[data-site=U15] text").first
    upright = label.bounding_box()
    page.keyboard.press("r")
    expect(page.get_by_test_id("orientation")).to_contain_text("bracket down")
    settled(page, board)
    turned = label.bounding_box()
    # glyph boxes are whole pixels at this size: a label on its side would be off by more than half
    assert turned["width"] / turned["height"] == pytest.approx(upright["width"] / upright["height"], rel=0.15)
    plan = page.get_by_role("img", name="Plan of the whole board")
    expect(plan).to_have_count(0)
    before = board.get_attribute("viewBox")
    page.get_by_role("button", name="Nearer").click()
    before = changed(board, before)
    page.get_by_role("button", name="Nearer").click()
    changed(board, before)
    expect(plan).to_be_visible()


def test_zooming_and_moving_and_coming_back(bench):
    bench.sign_in()
    page = bench.page
    bench.go("/library/teal-8")
    board = page.get_by_role("img", name="Teal 8: ")
    before = settled(page, board)
    page.get_by_role("button", name="Nearer").click()
    nearer = changed(board, before)
    assert float(nearer.split()[2]) < float(before.split()[2])
    box = board.bounding_box()
    page.mouse.move(box["x"] + 100, box["y"] + 100)
    page.mouse.wheel(0, 200)
    farther = changed(board, nearer)
    assert float(farther.split()[2]) > float(nearer.split()[2])
    page.mouse.down()
    page.mouse.move(box["x"] + 180, box["y"] + 140)
    page.mouse.up()
    moved = changed(board, farther)
    assert moved.split()[0] != farther.split()[0]
    page.keyboard.press("0")
    expect(board).to_have_attribute("viewBox", before)


def test_the_dim_theme_is_remembered(bench):
    bench.sign_in(at="/shelf")
    page = bench.page
    page.get_by_role("button", name="Dim theme").click()
    expect(page.locator("html")).to_have_attribute("data-theme", "dim")
    page.reload()
    expect(page.locator("html")).to_have_attribute("data-theme", "dim")
    page.get_by_role("button", name="Light theme").click()
    expect(page.locator("html")).to_have_attribute("data-theme", "light")


def test_scanning_opens_the_only_hit_and_offers_several(bench):
    bench.sign_in(at="/shelf")
    page = bench.page
    page.keyboard.press("/")
    page.keyboard.type("TL8")
    page.keyboard.press("Enter")
    hits = page.get_by_role("button", name="TL8-")
    expect(hits.first).to_be_visible()
    expect(hits.nth(1)).to_be_visible()
    field = page.get_by_label("Scan a label").bounding_box()
    assert hits.first.bounding_box()["y"] >= field["y"] + field["height"] - 1
    page.get_by_label("Scan a label").fill("nothing like it")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Nothing fits")).to_be_visible()
    page.get_by_label("Scan a label").fill("SC24-0121")
    page.keyboard.press("Enter")
    expect(page.get_by_title("“Does not start with both leads in.”")).to_be_visible()


def many_parts():
    document = json.loads((BOARDS / "teal-8.board.json").read_text())
    kinds = ("capacitor", "resistor", "coil", "transistor")
    parts = [
        {
            "designator": f"C{number + 100}",
            "kind": kinds[number % 4],
            "side": "front" if number % 3 else "back",
            "x_mm": 4 + (number % 40) * 5.6,
            "y_mm": 4 + (number // 40) * 6,
        }
        for number in range(600)
    ]
    return {**document, "id": "many-600", "name": "Many 600", "parts": parts}


BUSY_ON_X = """() => window.addEventListener("keydown", event => {
    const end = performance.now() + (event.key === "x" ? 400 : 0);
    while (performance.now() < end) {}
})"""


def longest_task(page, keys):
    """The longest task in milliseconds of the page's own processor time while the keys are pressed.

    Not by the clock: on a crowded machine a task of 20 ms waits for its processor and takes 200 ms by the wall.
    """
    browser = page.context.browser
    browser.start_tracing(page=page, categories=["disabled-by-default-devtools.timeline"])
    for key in keys:
        page.keyboard.press(key)
        page.evaluate("() => new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)))")
    events = json.loads(browser.stop_tracing())["traceEvents"]
    return max(event.get("tdur", 0) for event in events if event["name"] == "RunTask") / 1000


@pytest.mark.parametrize("address", ["/library/many-600", "/library/many-600/edit"])
def test_a_board_of_600_parts_turns_and_zooms_without_a_long_task(bench, tmp_path, address):
    bench.sign_in(at="/library")
    file = tmp_path / "many-600.board.json"
    file.write_text(json.dumps(many_parts()))
    bench.page.locator("input[type=file]").set_input_files(file)
    expect(bench.page.get_by_role("link", name="Many 600")).to_be_visible()
    bench.go(address)
    expect(bench.page.get_by_test_id("orientation")).to_be_visible()
    expect(bench.page.get_by_text("U18", exact=True).first).to_be_visible()
    bench.page.wait_for_load_state("networkidle")
    bench.page.evaluate(BUSY_ON_X)
    assert longest_task(bench.page, "x") > 50, "a long task would be seen"
    before = bench.page.get_by_test_id("orientation").inner_text()
    # a neighbour on the same processor slows it as well: what the page itself takes is what it takes at best
    taken = [longest_task(bench.page, "rf+-r+-") for _ in range(5)]
    assert min(taken) <= 50
    assert bench.page.get_by_test_id("orientation").inner_text() != before


@pytest.mark.parametrize("width", [1024, 1280])
def test_nothing_covers_where_the_contacts_lie(bench, width):
    bench.sign_in()
    bench.page.set_viewport_size({"width": width, "height": 768})
    bench.go(bench.job_of("SC24-0093"))
    name = bench.page.locator("[data-edge]").filter(has_text="CONTACTS")
    expect(name).to_be_visible()
    box = name.bounding_box()
    for other in (bench.page.get_by_test_id("orientation"), bench.page.get_by_role("button", name="Flip")):
        beside = other.first.bounding_box()
        apart = beside["x"] + beside["width"] <= box["x"] or box["x"] + box["width"] <= beside["x"]
        assert apart or beside["y"] >= box["y"] + box["height"] or box["y"] >= beside["y"] + beside["height"]
