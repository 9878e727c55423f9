"""Board models: drawn from a photograph and used at once, imported, edited, printed and measured."""

from __future__ import annotations

import io
import json
import re

import pypdfium2
import pytest

from tests.browser.conftest import ROOT, SAMPLES
from tests.browser.expecting import expect
from tests.core.boards.strategies import BOARDS
from uvrix.core.boards.document import read_board
from uvrix.core.boards.sheet import CHECK_MM
from uvrix.core.boards.walk import places
from uvrix.core.virtual.reports import simulate
from uvrix.standins.camera import contact_ends, photograph

pytestmark = pytest.mark.browser
SMEW = read_board((ROOT / "data/virtual/smew-6.board.json").read_bytes())
# A person looks and clicks once in so many seconds, slowly.
SECONDS_A_STEP = 6


class Hand:
    """Clicks and keys, counted."""

    def __init__(self, bench):
        self.bench, self.steps = bench, 0

    def click(self, locator):
        self.steps += 1
        locator.click()

    def point(self, *pixels):
        self.steps += len(pixels)
        self.bench.click_photograph(*pixels)

    def fill(self, locator, text):
        self.steps += 1
        locator.fill(text)

    def key(self, key):
        self.steps += 1
        self.bench.page.keyboard.press(key)


def millimetres(site):
    return float(site.centre[0]), float(site.centre[1])


def test_a_new_model_from_a_photograph_in_under_five_minutes_and_used_at_once(bench):
    bench.sign_in(at="/shelf")
    page, hand = bench.page, Hand(bench)
    number = page.request.get(f"{bench.served.address}/api/v1/jobs?search=SM6-00415").json()[0]["number"]
    bench.go(f"/jobs/{number}/memory")
    expect(bench.finding).to_contain_text("channel")
    shot = photograph(SMEW, turn_deg=1.6)
    hand.click(page.get_by_role("link", name="Draw").first)
    in_hand = page.get_by_test_id("in-hand")
    expect(in_hand).to_contain_text("first and the last contact")
    first, last, many = contact_ends(SMEW)
    hand.point(shot.pixel(first), shot.pixel(last))
    hand.fill(page.get_by_label("contacts", exact=True), str(many))
    hand.click(page.get_by_role("button", name="Set the scale"))
    expect(in_hand).to_contain_text("opposite corners of the board")
    left, bottom, right, top = (float(edge) for edge in SMEW.extents)
    hand.point(shot.pixel((left, bottom)), shot.pixel((right, top)))
    hand.click(page.get_by_role("button", name="Take these as opposite corners"))
    expect(in_hand).to_contain_text("corners of the core")
    core = SMEW.core
    half = float(core.size[0]) / 2, float(core.size[1]) / 2
    cx, cy = float(core.centre[0]), float(core.centre[1])
    hand.point(shot.pixel((cx - half[0], cy - half[1])))
    hand.point(shot.pixel((cx + half[0], cy + half[1])))
    expect(in_hand).to_contain_text("marked corner")
    hand.point(shot.pixel((cx - half[0] + 2, cy + half[1] - 2)))
    expect(page.get_by_label("next is called")).to_be_visible()
    front = sorted((site for site in SMEW.sites if site.side == "front"), key=lambda site: site.designator)
    hand.fill(page.get_by_label("next is called"), front[0].designator)
    for site in front:
        hand.point(shot.pixel(millimetres(site)))
        expect(page.locator("svg").get_by_text(site.designator, exact=True)).to_be_visible()
    hand.steps += 1
    page.get_by_label("Core family").select_option("plover")
    hand.click(page.get_by_role("button", name="Propose the family’s order"))
    expect(page.get_by_text("Proposed from")).to_be_visible()
    expect(page.get_by_test_id("misfits")).to_be_hidden()
    hand.click(page.get_by_role("button", name="Save the model"))
    expect(page.get_by_role("heading", name="Smew 6")).to_be_visible()
    print(f"{hand.steps} steps")
    assert hand.steps * SECONDS_A_STEP < 5 * 60
    # what was clicked is what was photographed
    drawn = page.request.get(f"{bench.served.address}/api/v1/board-models/smew-6/file").json()
    for site in front:
        made = next(entry for entry in drawn["sites"] if entry["designator"] == site.designator)
        assert made["x_mm"] == pytest.approx(millimetres(site)[0], abs=1)
        assert made["y_mm"] == pytest.approx(millimetres(site)[1], abs=1)
    assert drawn["core"]["mark_corner"] == core.mark_corner
    # used at once: the job's channel is a chip now, and the right one
    truth = {place.channel: place.site.designator for place in places(core, SMEW.walk, SMEW.sites)}
    bench.go(f"/jobs/{number}/memory")
    expect(bench.finding).to_contain_text(f"{truth['B1']} ")
    expect(page.get_by_role("img", name="Board of J-")).to_be_visible()


def test_a_draft_survives_leaving_the_page_and_undo_brings_back(bench):
    bench.sign_in(at="/library/wigeon-4/edit")
    page = bench.page
    board = page.get_by_role("img", name="Model being drawn")
    chip = board.get_by_text("U502", exact=True)
    before = chip.bounding_box()
    chip.click()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    assert chip.bounding_box()["x"] > before["x"]
    page.reload()
    expect(page.get_by_text("This is your unsaved draft")).to_be_visible()
    expect(page.get_by_role("button", name="Save as edition 2")).to_be_enabled()
    with page.expect_event("load"):
        page.get_by_role("button", name="Discard it").click()
    expect(page.get_by_text("This is your unsaved draft")).to_be_hidden()
    board.get_by_text("U502", exact=True).click()
    page.keyboard.press("Delete")
    expect(board.get_by_text("U502", exact=True)).to_be_hidden()
    page.keyboard.press("Control+z")
    expect(board.get_by_text("U502", exact=True)).to_be_visible()
    page.keyboard.press("Control+Shift+z")
    expect(board.get_by_text("U502", exact=True)).to_be_hidden()
    page.get_by_role("button", name="Undo").click()
    expect(board.get_by_text("U502", exact=True)).to_be_visible()
    page.get_by_label("Name", exact=True).fill("")
    page.get_by_label("Name", exact=True).press("Tab")
    expect(page.get_by_test_id("misfits")).to_contain_text("name")
    expect(page.get_by_role("button", name="Save as edition 2")).to_be_disabled()


def test_a_placement_file_makes_a_model(bench, tmp_path):
    bench.sign_in(at="/library/new")
    page = bench.page
    rows = ["Ref Des;Mid X (mil);Mid Y (mil);Layer;Rot;Value;Case"]
    for site in SMEW.document["sites"]:
        x, y = site["x_mm"] / 0.0254, site["y_mm"] / 0.0254
        rows.append(f"{site['designator']};{x:.1f};{y:.1f};TopLayer;{site['rotation_deg']};RAM 8;fb180")
    rows += [f"C{n};{1000 + 90 * n};900;BottomLayer;0;100n;0402" for n in range(20)]
    x, y = (float(value) / 0.0254 for value in SMEW.core.centre)
    rows += [f"U1;{x:.1f};{y:.1f};TopLayer;0;core;big", "M99;not a number;3;TopLayer;0;;"]
    file = tmp_path / "placement.csv"
    file.write_text("\n".join(rows))
    page.get_by_text("Import a placement file").click()
    page.get_by_test_id("placement").set_input_files(file)
    panel = page.get_by_test_id("panel")
    expect(panel.get_by_text("27 components in")).to_be_visible()
    expect(panel.get_by_text("1 rows could not be read, first line 29")).to_be_visible()
    expect(panel.get_by_label("6 × M, RAM 8, fb180")).to_be_checked()
    expect(panel.get_by_label("by designator")).to_have_value("M1 M2 M3 M4 M5 M6")
    panel.get_by_label("by designator").fill("M1 M2 M77")
    expect(panel.get_by_text("M77: not in the file")).to_be_visible()
    panel.get_by_label("6 × M, RAM 8, fb180").check()
    expect(panel.get_by_label("The core is")).to_have_value("U1")
    panel.get_by_role("button", name="Take them in").click()
    board = page.get_by_role("img", name="Model being drawn")
    for number in range(1, 7):
        expect(board.get_by_text(f"M{number}", exact=True)).to_be_visible()
    panel.get_by_label("Name", exact=True).fill("Placed 6")
    panel.get_by_label("Id, for files").fill("placed-6")
    page.get_by_role("button", name="Save the model").click()
    expect(page.get_by_role("heading", name="Placed 6")).to_be_visible()
    made = page.request.get(f"{bench.served.address}/api/v1/board-models/placed-6/file").json()
    for site in SMEW.sites:
        found = next(entry for entry in made["sites"] if entry["designator"] == site.designator)
        assert (found["x_mm"], found["y_mm"]) == pytest.approx(millimetres(site), abs=0.01)
    assert len(made["parts"]) == 20


def new_job(bench, serial, model):
    """A job of a card that nobody else's test touches."""
    bench.go(f"{bench.new_job(serial, model)}/memory")
    expect(bench.page.get_by_test_id("report-file")).to_be_attached()


def test_an_edited_model_moves_the_finding(bench, tmp_path):
    bench.sign_in(at="/library")
    page = bench.page
    document = json.loads((BOARDS / "teal-8.board.json").read_text()) | {"id": "moved-8", "name": "Moved 8"}
    # of no family: a model of that family that is drawn after it would take this wrong order for its own
    del document["family"]
    file = tmp_path / "moved-8.board.json"
    file.write_text(json.dumps(document))
    page.locator("input[type=file]").set_input_files(file)
    expect(page.get_by_role("link", name="Moved 8")).to_be_visible()
    new_job(bench, "MV8-1", "moved-8")
    job = page.url
    page.get_by_test_id("report-file").set_input_files(SAMPLES / "teal-8-cold.csv")
    page.get_by_role("button", name="Read it for this card").click()
    expect(bench.finding).to_contain_text("U18 ")
    bench.go("/library/moved-8/edit")
    # this board goes round the other way
    page.get_by_label("Direction, seen from the front").select_option("counterclockwise")
    positions = page.locator("[data-position='1']")
    expect(positions).to_be_visible()
    page.get_by_label("What changed, for the history").fill("goes round the other way")
    page.get_by_role("button", name="Save as edition 2").click()
    expect(page.get_by_text("goes round the other way")).to_be_visible()
    document["walk"]["direction"] = "counterclockwise"
    turned = read_board(json.dumps(document).encode())
    met = places(turned.core, turned.walk, turned.sites)
    chip = next(place.site.designator for place in met if place.channel == "A1")
    assert chip != "U18"
    bench.go(job)
    expect(bench.finding).to_contain_text(f"{chip} ")


def test_a_print_is_measured(bench):
    bench.sign_in()
    page = bench.page
    bench.go(bench.job_of("TL8-55210"))
    page.get_by_label("Print at 1:1 on").select_option("a4")
    address = page.get_by_role("link", name="Print", exact=True).get_attribute("href")
    pdf = pypdfium2.PdfDocument(io.BytesIO(page.request.get(bench.served.address + address).body()))
    for sheet in pdf:
        widths = [
            (right - left) * 25.4 / 72
            for left, bottom, right, top in (found.get_bounds() for found in sheet.get_objects(max_depth=12))
            if abs((top - bottom) * 25.4 / 72 - 2.5) < 0.05
        ]
        assert any(width == pytest.approx(CHECK_MM, abs=0.02) for width in widths)


def test_a_photographed_table_is_typed_and_its_slip_named(bench):
    bench.sign_in()
    page = bench.page
    new_job(bench, "TT8-1", "teal-8")
    page.keyboard.press("e")
    table = page.get_by_role("region", name="Type a photographed table")
    for number, count in enumerate(["0", "421", "0", "0", "0", "3", "0", "0"]):
        if number == 0:
            expect(table.get_by_label("A0")).to_be_focused()
        page.keyboard.type(count)
        page.keyboard.press("Enter")
    table.get_by_label("Total on the photograph").fill("415")
    page.keyboard.press("Enter")
    expect(table.get_by_role("alert")).to_contain_text("A1 412 rather than 421")
    table.get_by_label("A1").fill("412")
    table.get_by_label("Total on the photograph").press("Enter")
    expect(bench.finding).to_contain_text("U18 ")


def test_a_recipe_is_filled_and_what_was_tried_moves_the_plan(bench):
    bench.sign_in()
    page = bench.page
    bench.go(bench.job_of("GG8-32014"))
    page.get_by_label("Bus index of the card").fill("3")
    page.get_by_label("Bus index of the card").press("Enter")
    expect(page.get_by_text("lapwing31 -c 3 -m")).to_be_visible()
    expect(page.get_by_role("button", name="Copy").first).to_be_enabled()
    new_job(bench, "NX8-1", "teal-8")
    report = simulate(read_board((BOARDS / "teal-8.board.json").read_bytes()), "dq-line:U16:4", 90, 71).report
    for condition in ("cold", "warm"):
        page.get_by_label("Condition").fill(condition)
        file = {"name": f"{condition}.csv", "mimeType": "text/csv", "buffer": f"{report}\n# {condition}\n".encode()}
        page.get_by_test_id("report-file").set_input_files(file)
        expect(page.get_by_role("link", name=condition)).to_be_visible()
    # what a second run says moves the plan down: clicked before, a button may have gone from under the pointer
    expect(page.get_by_text("run 2, 90 rows")).to_be_visible()
    plan = page.get_by_test_id("next-actions")
    expect(page.get_by_text("U16 fails in both runs.").first).to_be_visible()
    expect(plan.get_by_role("button").first).to_contain_text("Reball: U16")
    plan.get_by_role("button", name="Reball").click()
    plan.get_by_label("took, min").fill("40")
    plan.get_by_role("button", name="It fails as before").click()
    expect(plan.get_by_label("Tried so far")).to_contain_text("40 min")
    expect(plan.get_by_role("button").first).not_to_contain_text("Reball")
    plan.get_by_role("button", name="Take back").click()
    expect(plan.get_by_role("button").first).to_contain_text("Reball: U16")


def on_board(page, x, y):
    """Where a place of the board lies on the screen, in millimetres of the front view."""
    outline = page.get_by_role("img", name="Model being drawn").locator("g[transform^=matrix]").first
    return outline.evaluate(
        "(g, [x, y]) => { const p = new DOMPoint(x, y).matrixTransform(g.getScreenCTM()); return [p.x, p.y] }", [x, y]
    )


def test_every_tool_puts_its_thing_where_it_is_clicked_on_both_sides(bench, tmp_path):
    bench.sign_in(at="/library")
    page = bench.page
    document = json.loads((BOARDS / "wigeon-4.board.json").read_text()) | {"id": "tools-4", "name": "Tools 4"}
    file = tmp_path / "tools-4.board.json"
    file.write_text(json.dumps(document))
    page.locator("input[type=file]").set_input_files(file)
    expect(page.get_by_role("link", name="Tools 4")).to_be_visible()
    bench.go("/library/tools-4/edit")
    board = page.get_by_role("img", name="Model being drawn")
    expect(board).to_be_visible()
    spots = {"i": (30.0, 20.0), "a": (36.0, 26.0), "l": (42.0, 18.0), "c": (25.0, 60.0)}
    for key, spot in spots.items():
        page.keyboard.press(key)
        page.mouse.click(*on_board(page, *spot))
    expect(board.get_by_text("P1", exact=True)).to_be_visible()
    expect(board.get_by_text("U505", exact=True)).to_be_visible()
    # the back: what is clicked there lies there, seen through the board
    page.keyboard.press("f")
    expect(page.get_by_test_id("orientation")).to_contain_text("Back side")
    page.keyboard.press("i")
    page.mouse.click(*on_board(page, 60.0, 40.0))
    expect(board.get_by_text("P2", exact=True)).to_be_visible()
    page.keyboard.press("f")
    page.keyboard.press("c")
    page.get_by_role("button", name="A twin behind each").click()
    expect(page.get_by_test_id("misfits")).to_be_hidden()
    page.get_by_label("next is called").fill("Z5")
    page.get_by_role("button", name="Number round the core from Z5").click()
    expect(board.get_by_text("Z5", exact=True)).to_be_visible()
    page.get_by_role("button", name="Save as edition 2").click()
    expect(page.get_by_role("heading", name="History")).to_be_visible()
    made = page.request.get(f"{bench.served.address}/api/v1/board-models/tools-4/file").json()
    point = made["points"][0]
    assert (point["id"], point["side"]) == ("P1", "front")
    assert (point["x_mm"], point["y_mm"]) == pytest.approx(spots["i"], abs=0.6)
    behind = made["points"][1]
    assert (behind["side"], behind["x_mm"], behind["y_mm"]) == (
        "back",
        pytest.approx(60, abs=0.6),
        pytest.approx(40, abs=0.6),
    )
    part, landmark = made["parts"][-1], made["landmarks"][-1]
    assert (part["x_mm"], part["y_mm"]) == pytest.approx(spots["a"], abs=0.6)
    assert (landmark["x_mm"], landmark["y_mm"]) == pytest.approx(spots["l"], abs=0.6)
    front = [site for site in made["sites"] if site.get("side", "front") == "front"]
    back = [site for site in made["sites"] if site.get("side") == "back"]
    assert len(front) == len(back) == 5
    assert {(site["x_mm"], site["y_mm"]) for site in front} == {(site["x_mm"], site["y_mm"]) for site in back}
    assert {site["designator"] for site in front} == {"Z5", "Z6", "Z7", "Z8", "Z9"}


def test_a_print_is_asked_for_as_the_board_lies_and_the_paper_is_kept(bench):
    bench.sign_in(at="/library/scaup-24")
    page = bench.page
    page.get_by_label("Print at 1:1 on").select_option("a3")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Flip").click()
    page.get_by_role("button", name="Turn").click()
    link = page.get_by_role("link", name="Print", exact=True)
    expect(link).to_have_attribute("href", re.compile("side=back&turns=1&paper=a3"))
    pdf = pypdfium2.PdfDocument(io.BytesIO(page.request.get(bench.served.address + link.get_attribute("href")).body()))
    text = "".join(pdf[0].get_textpage().get_text_bounded().split())
    assert "Backside" in text
    bench.go("/library/teal-8")
    expect(page.get_by_label("Print at 1:1 on")).to_have_value("a3")
