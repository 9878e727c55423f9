"""The library at work: editions, copies, families, editing by keyboard, two at once, recipes, habits, open places."""

from __future__ import annotations

import json
import re

import pytest

from tests.browser.conftest import SAMPLES, SIGN_INS, Bench
from tests.browser.expecting import expect
from tests.core.boards.strategies import BOARDS
from uvrix.core.boards.document import read_board
from uvrix.standins.camera import photograph

pytestmark = pytest.mark.browser


def teal(**changed):
    return json.loads((BOARDS / "teal-8.board.json").read_text()) | changed


@pytest.fixture
def imported(bench, tmp_path):
    """Imports a board model for this test alone; the person is signed in as the lead."""

    def send(document):
        bench.sign_in("lead", at="/library")
        file = tmp_path / f"{document['id']}.board.json"
        file.write_text(json.dumps(document))
        bench.page.locator("input[type=file]").set_input_files(file)
        expect(bench.page.get_by_role("link", name=document["name"])).to_be_visible()
        return document["id"]

    return send


@pytest.fixture
def board(bench):
    return bench.page.get_by_role("img", name="Model being drawn")


def saved(bench, slug):
    return bench.page.request.get(f"{bench.served.address}/api/v1/board-models/{slug}/file").json()


def site(document, designator):
    return next(entry for entry in document["sites"] if entry["designator"] == designator)


def test_sites_are_nudged_turned_aligned_and_spread_by_keyboard_and_saved_with_ctrl_s(bench, board, imported):
    slug = imported(teal(id="keys-8", name="Keys 8"))
    page = bench.page
    bench.go(f"/library/{slug}/edit")
    before = saved(bench, slug)
    board.get_by_text("U16", exact=True).click()
    for key in ("ArrowRight", "ArrowRight", "Shift+ArrowUp", "q"):
        page.keyboard.press(key)
    expect(page.get_by_label("x, mm")).to_have_value(str(site(before, "U16")["x_mm"] + 1))
    expect(page.get_by_label("y, mm")).to_have_value(f"{site(before, 'U16')['y_mm'] + 0.1:g}")
    expect(page.get_by_label("turned, °")).to_have_value(str((site(before, "U16")["rotation_deg"] + 90) % 360))
    # the three on the right in line with U16 again
    board.get_by_text("U16", exact=True).click()
    for name in ("U17", "U18"):
        board.get_by_text(name, exact=True).click(modifiers=["Shift"])
    page.get_by_role("button", name="In one column").click()
    page.get_by_label("What changed, for the history").fill("measured")
    page.keyboard.press("Control+s")
    expect(page.get_by_text("edition 2", exact=False).first).to_be_visible()
    expect(page.get_by_text("measured")).to_be_visible()
    after = saved(bench, slug)
    xs = {site(after, name)["x_mm"] for name in ("U16", "U17", "U18")}
    assert xs == {site(before, "U16")["x_mm"] + 1}
    assert site(after, "U11") == site(before, "U11")


def test_dragging_moves_a_chip_in_every_orientation(bench, board, imported):
    slug = imported(teal(id="drag-8", name="Drag 8"))
    page = bench.page
    bench.go(f"/library/{slug}/edit")
    before = site(saved(bench, slug), "U14")
    chip = board.get_by_text("U14", exact=True)
    expect(chip).to_be_visible()
    page.keyboard.press("r")
    expect(page.get_by_test_id("orientation")).to_contain_text("bracket down")
    box = chip.bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2 + 30, box["y"] + box["height"] / 2, steps=4)
    page.mouse.up()
    # turned a quarter counterclockwise, what runs right on the screen runs down on the board
    expect(page.get_by_label("x, mm")).to_have_value(str(before["x_mm"]))
    expect(page.get_by_label("y, mm")).not_to_have_value(str(before["y_mm"]))
    assert float(page.get_by_label("y, mm").input_value()) < before["y_mm"]


def test_an_old_edition_is_brought_back(bench, imported, tmp_path):
    slug = imported(teal(id="old-8", name="Old 8"))
    page = bench.page
    changed = tmp_path / "changed.board.json"
    changed.write_text(json.dumps(teal(id="old-8", name="Old 8", revision="Z")))
    page.locator("input[type=file]").set_input_files(changed)
    expect(page.get_by_text("Old 8, revision Z: edition 2.")).to_be_visible()
    bench.go(f"/library/{slug}")
    page.get_by_role("link", name="Edition 1", exact=True).click()
    page.get_by_role("button", name="Bring it back as edition 3").click()
    expect(page.get_by_text("edition 1 brought back")).to_be_visible()
    assert saved(bench, slug)["revision"] == "B"


def test_two_edit_at_once_and_the_later_is_told_and_loses_nothing(bench, board, imported, chromium):
    slug = imported(teal(id="both-8", name="Both 8"))
    context = chromium.new_context(viewport={"width": 1280, "height": 800})
    other = Bench(context.new_page(), bench.served)
    other.sign_in("technician", at=f"/library/{slug}/edit")
    other.page.get_by_label("Revision").fill("mine")
    other.page.get_by_label("Revision").press("Tab")
    bench.go(f"/library/{slug}/edit")
    bench.page.get_by_label("Revision").fill("first")
    bench.page.get_by_label("Revision").press("Tab")
    bench.page.get_by_role("button", name="Save as edition 2").click()
    expect(bench.page.get_by_role("heading", name="History")).to_be_visible()
    other.page.get_by_role("button", name="Save as edition 2").click()
    expect(other.page.get_by_role("alert")).to_contain_text("is at edition 2 by Casper Holm")
    expect(other.page.get_by_role("alert")).to_contain_text("The draft is kept")
    expect(other.page.get_by_label("Revision")).to_have_value("mine")
    context.close()


def test_a_copy_is_a_relative_and_takes_the_original_for_its_order(bench, imported):
    slug = imported(teal(id="first-8", name="First 8", family=""))
    page = bench.page
    bench.load(f"/library/{slug}")
    page.get_by_label("Name of the core").fill("Whimbrel")
    page.get_by_role("button", name="Make a core family").click()
    expect(page.get_by_role("heading", name="Core family Whimbrel")).to_be_visible()
    page.get_by_role("link", name="Copy to a new model").click()
    page.get_by_label("Name", exact=True).fill("Second 8")
    page.get_by_label("Id, for files").fill("second-8")
    page.get_by_role("button", name="Save the model").click()
    expect(page.get_by_role("heading", name="Second 8")).to_be_visible()
    expect(page.get_by_text("Relatives:")).to_contain_text("First 8")
    made = saved(bench, "second-8")
    assert (made["relative_of"], made["family"]) == ("first-8", "whimbrel")


def open_job(bench, serial, model="", name=""):
    bench.go(f"{bench.new_job(serial, model, name=name)}/memory")
    expect(bench.page.get_by_test_id("report-file")).to_be_attached()


def test_an_open_place_is_filled_in_by_a_proven_repair(bench, imported):
    document = teal(id="open-8", name="Open 8")
    document["walk"]["order"] = [None if entry == "A1" else entry for entry in document["walk"]["order"]]
    imported(document)
    page = bench.page
    open_job(bench, "OP8-1", "open-8")
    page.get_by_test_id("report-file").set_input_files(SAMPLES / "teal-8-cold.csv")
    page.get_by_role("button", name="Read it for this card").click()
    expect(page.get_by_text("1 place of this board is open")).to_be_visible()
    expect(page.get_by_text("Errors of A1 lie in one of U18")).to_be_visible()
    page.get_by_label("Place that the repair proved").select_option("U18")
    page.get_by_role("button", name="Proven: fill it in").click()
    expect(page.get_by_text("1 place of this board is open")).to_be_hidden()
    expect(bench.finding).to_contain_text("U18 ")
    bench.go("/library/open-8")
    expect(page.get_by_text("U18 is A1: proven on J-")).to_be_visible()


def test_a_board_nobody_knows_is_named_photographed_and_gives_totals(bench):
    bench.sign_in("front-desk")
    page = bench.page
    open_job_page = "PH8-1"
    bench.go(f"{bench.new_job(open_job_page, name='Pochard 8')}/memory")
    picture = photograph(read_board((BOARDS / "teal-8.board.json").read_bytes()), px_per_mm=4).jpeg
    file = {"name": "front.jpg", "mimeType": "image/jpeg", "buffer": picture}
    page.get_by_test_id("board-photograph").set_input_files(file)
    expect(page.get_by_role("img", name=re.compile("photograph", re.IGNORECASE))).to_be_visible()
    job = page.url
    page.get_by_role("button", name="Signed in as").click()
    page.get_by_role("menuitem", name="Sign out").click()
    name, password = SIGN_INS["technician"]
    page.get_by_label("Name").fill(name)
    page.get_by_label("Password").fill(password)
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("button", name="Signed in as Mirren")).to_be_visible()
    bench.go(job)
    page.get_by_test_id("report-file").set_input_files(SAMPLES / "teal-8-cold.csv")
    expect(bench.finding).to_contain_text("Channel A1: One data line, DQ 6")
    expect(page.get_by_test_id("next-step")).to_contain_text("Draw this board")
    broken = {"name": "x.png", "mimeType": "image/png", "buffer": b"no picture"}
    page.get_by_role("button", name="The back").click()
    page.get_by_test_id("board-photograph").set_input_files(broken)
    expect(page.get_by_text("expected a photograph as PNG or JPEG")).to_be_visible()


def test_the_lead_sets_habits_and_a_wrong_figure_is_named(bench):
    bench.sign_in("lead", at="/library/habits")
    page = bench.page
    minutes = page.get_by_label("Minutes of Lift the core")
    minutes.fill("-3")
    page.get_by_role("button", name="Set them").click()
    expect(page.get_by_role("alert")).to_contain_text("costs.lift-core.minutes")
    minutes.fill("200")
    page.get_by_role("button", name="Set them").click()
    expect(page.get_by_text("Kept.")).to_be_visible()
    page.reload()
    expect(minutes).to_have_value("200")
    expect(page.get_by_text("Set by Casper Holm")).to_be_visible()


def test_a_recipe_is_written_and_taken_out_of_use(bench):
    bench.sign_in("lead", at="/library/recipes/new")
    page = bench.page
    page.get_by_label("Name", exact=True).fill("Lapwing on bench 7")
    page.get_by_label("Host, the test computer").fill("bench 7")
    page.get_by_label("Build of the tester").fill("3.9")
    page.get_by_label("Step 1, command").fill("lapwing39 -c {slot}")
    page.get_by_role("button", name="Save the recipe").click()
    expect(page.get_by_role("alert")).to_contain_text("What you entered is kept here")
    page.get_by_label("Step 1, command").fill("lapwing39 -m {amount_mib}")
    page.get_by_role("button", name="Save the recipe").click()
    page.get_by_role("link", name="Lapwing on bench 7").click()
    expect(page.get_by_label("Step 1, command")).to_have_value("lapwing39 -m {amount_mib}")
    page.get_by_role("button", name="Take out of use").click()
    expect(page.get_by_role("heading", name="Library")).to_be_visible()
    expect(page.get_by_role("link", name="Lapwing on bench 7")).to_be_hidden()


def at_watchlist(bench, role, slug):
    bench.sign_in(role, at=f"/library/{slug}/watchlist")
    expect(bench.page.get_by_role("heading", name="Watchlist")).to_be_visible()
    return bench.page


def test_a_watchlist_is_typed_by_two_people_and_neither_loses_a_word(bench, imported, chromium):
    slug = imported(teal(id="watch-8", name="Watch 8", family="watch"))
    bench.go(f"/library/{slug}/watchlist")
    page = bench.page
    expect(page.get_by_text("has none yet")).to_be_visible()
    save = {"name": "Save", "exact": True}
    expect(page.get_by_role("button", **save)).to_be_disabled()
    page.get_by_role("button", name="Add a cause").click()
    page.get_by_label("cause", exact=True).fill("Fan plug half seated")
    page.get_by_label("where and how to look").fill("Push it home.")
    page.get_by_label("looked at even when").check()

    context = chromium.new_context(viewport={"width": 1280, "height": 800})
    other = at_watchlist(Bench(context.new_page(), bench.served), "technician", slug)
    other.get_by_role("button", name="Add a cause").click()
    other.get_by_label("cause", exact=True).fill("Torn socket")
    other.get_by_role("button", **save).click()
    expect(other.get_by_text("edition 1, Mirren Tarn")).to_be_visible()
    context.close()

    page.get_by_role("button", **save).click()
    expect(page.get_by_role("alert")).to_contain_text("What you entered is kept here.")
    expect(page.get_by_label("cause", exact=True)).to_have_value("Fan plug half seated")
    page.get_by_role("button", **save).click()  # pressing again overwrites nothing
    expect(page.get_by_role("alert")).to_contain_text("What you entered is kept here.")
    page.get_by_role("button", name="Back to what is saved").click()
    expect(page.get_by_label("cause", exact=True)).to_have_value("Torn socket")
    expect(page.get_by_role("alert")).to_be_hidden()
    page.get_by_role("button", name="Add a cause").click()
    page.get_by_label("cause", exact=True).nth(1).fill("Fan plug half seated")
    page.get_by_role("button", **save).click()
    expect(page.get_by_text("edition 2, Casper")).to_be_visible()
    bench.check_access()
    bench.nothing_cut()
    # it opens the hypotheses of the model's next job, where one is settled and opened again
    bench.go(f"{bench.new_job('WA8-1', model=slug)}/memory")
    thoughts = page.get_by_test_id("hypotheses")
    expect(thoughts.get_by_text("on the watchlist")).to_have_count(2)
    thoughts.get_by_text("Torn socket").click()
    expect(thoughts.get_by_role("button", name="Rule out")).to_be_disabled()
    thoughts.get_by_label("by what").fill("all four hold a plug")
    thoughts.get_by_role("button", name="Rule out").click()
    expect(thoughts.get_by_text("ruled out by: all four hold a plug")).to_be_visible()
    thoughts.get_by_text("Torn socket").click()
    thoughts.get_by_role("button", name="Open again").click()
    expect(thoughts.get_by_text("ruled out by")).to_be_hidden()
    bench.go(page.url.removesuffix("/memory"))
    expect(page.get_by_role("list", name="Timeline")).to_contain_text(
        "Ruled out: Torn socket, by: all four hold a plug."
    )


def test_the_front_desk_reads_a_watchlist_and_changes_nothing(bench):
    page = at_watchlist(bench, "front-desk", "teal-8")
    expect(page.get_by_label("cause", exact=True).first).to_be_disabled()
    expect(page.get_by_role("button", name="Save", exact=True)).to_be_hidden()
    expect(page.get_by_role("button", name="Add a cause")).to_be_hidden()
