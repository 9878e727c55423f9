"""Every screen: reachable, named for those who cannot see it, nothing cut, in both themes."""

from __future__ import annotations

import itertools

import pytest

from tests.browser.expecting import expect

pytestmark = pytest.mark.browser
# The screens are dealt out to so many tests, which processes share.
HANDS = 4


def screens(bench):
    yield "/shelf", bench.page.get_by_text("J-0023")
    yield "/wall", bench.page.get_by_role("heading", name="At the bench")
    yield "/jobs/new", bench.page.get_by_label("Serial of the card")
    yield bench.job_of("SC24-0093"), bench.finding
    yield bench.job_of("TL8-55210"), bench.finding
    yield "/library", bench.page.get_by_text("Scaup 24 clamshell")
    yield "/library/scaup-24", bench.page.get_by_text("Round the core")
    yield bench.job_of("SM6-00415"), bench.finding
    yield bench.job_of("GG8-32014"), bench.page.get_by_label("Bus index of the card")
    yield "/library/smew-6", bench.page.get_by_role("heading", name="Smew 6")
    yield "/library/teal-8/edit", bench.page.get_by_label("Core family")
    yield "/library/new", bench.page.get_by_test_id("photograph")
    yield "/library/recipes/lapwing-on-bench-1", bench.page.get_by_label("Build of the tester")
    yield "/library/packages/fb180", bench.page.get_by_role("img", name="Ball map")
    yield "/library/habits", bench.page.get_by_label("Minutes of Reball")
    yield "/library/readers/teach", bench.page.get_by_label("Paste a sample")
    dead, waits = (bench.job_of(serial).removesuffix("/memory") for serial in ("SC24-0121", "TL8-54388"))
    yield f"{dead}/volts", bench.page.get_by_test_id("volt-field")
    yield f"{dead}/volts/power", bench.page.get_by_test_id("volt-power")
    yield f"{dead}/volts/converter", bench.page.get_by_role("list", name="What it hangs on")
    yield f"{dead}/volts/supervisor", bench.page.get_by_test_id("supervisor")
    yield f"{waits}/rework?site=U17", bench.page.get_by_test_id("rework-form")
    yield f"{waits}/rework/pads/U16", bench.page.get_by_role("heading", name="Pads below U16")
    yield f"{waits}/rework/images", bench.page.get_by_test_id("images")
    yield f"{waits}/rework/timers", bench.page.get_by_test_id("timers")
    yield "/stock", bench.page.get_by_test_id("take-in")
    yield "/stock?label=TL8-51006%2FU13", bench.page.get_by_test_id("genealogy")
    yield "/stock/donors?card=TL8-51006", bench.page.get_by_test_id("inspection")
    yield "/stock/lots?job=J-0037", bench.page.get_by_test_id("priced")
    yield "/stock/find?pitch=2&pins=4&marking=GW7K", bench.page.get_by_role("list", name="Boards that bear it")
    yield "/stock/values?model=teal-8", bench.page.get_by_test_id("note-value")
    proven, asked = (bench.job_of(serial).removesuffix("/memory") for serial in ("TL8-54100", "TL8-55210"))
    yield f"{proven}/prove", bench.page.get_by_test_id("log-plot")
    yield f"{proven}/return", bench.page.get_by_test_id("let-go")
    yield f"{asked}/return/customer", bench.page.get_by_test_id("written")
    yield f"{proven}/return/report", bench.page.get_by_test_id("report")
    yield "/figures?by=cause", bench.page.get_by_test_id("figures")
    yield "/figures/learning", bench.page.get_by_role("heading", name="Cards that left repaired")
    yield "/figures/archive", bench.page.get_by_test_id("take-along")
    yield "/practice", bench.page.get_by_test_id("of-the-day")
    yield "/practice/rounds", bench.page.get_by_role("heading", name="Practice", exact=True)
    yield "/practice/cards", bench.page.get_by_test_id("practice-card")
    yield "/library/proof", bench.page.get_by_test_id("protocol")
    yield "/library/teal-8/proof", bench.page.get_by_test_id("protocol")
    yield "/messages", bench.page.get_by_role("heading", name="Messages to send")
    yield "/library/pinouts?marking=GW7K", bench.page.get_by_test_id("pinout-form")
    yield "/library/rework", bench.page.get_by_test_id("rework-settings")
    yield "/library/scaup-24/startup", bench.page.get_by_test_id("node-form")
    for nowhere in ("/nowhere", "/figures/nowhere", "/stock/nowhere", "/practice/nowhere"):
        yield nowhere, bench.page.get_by_text("There is no page at this address")


@pytest.mark.parametrize("hand", range(HANDS))
def test_every_screen_is_named_for_those_who_cannot_see_it_and_nothing_runs_out_of_the_window(bench, hand):
    bench.go("/shelf")
    bench.page.get_by_label("Name").wait_for()
    bench.check_access()
    bench.sign_in()
    for address, sign in itertools.islice(screens(bench), hand, None, HANDS):
        bench.go(address)
        sign.first.wait_for()
        bench.check_access()
        bench.in_dim_theme(lambda: bench.check_access("color-contrast"))
        for width, height in ((1024, 768), (640, 400), (1280, 800)):
            bench.page.set_viewport_size({"width": width, "height": height})
            bench.nothing_cut()


def test_the_page_behind_board_and_panel_does_not_scroll(bench):
    bench.sign_in()
    for address in (
        bench.job_of("TL8-55871"),
        bench.job_of("SM6-00415"),
        bench.job_of("GG8-32014"),
        "/library/teal-8",
        "/library/teal-8/edit",
        "/library/new",
    ):
        bench.go(address)
        bench.page.get_by_test_id("orientation").or_(bench.finding).first.wait_for()
        bench.page.wait_for_load_state("networkidle")
        bench.page_stands_still()


def test_an_address_asks_for_sign_in_and_goes_on_there(bench):
    bench.sign_in(at="/library/teal-8", by_page=True)
    expect(bench.page.get_by_role("heading", name="Teal 8")).to_be_visible()
    bench.page.get_by_role("button", name="Signed in as").click()
    bench.page.get_by_role("menuitem", name="Sign out").click()
    expect(bench.page.get_by_label("Password")).to_be_visible()


def test_the_front_desk_opens_a_job_and_reads_but_enters_no_run(bench):
    bench.sign_in("front-desk", at="/shelf")
    page = bench.page
    page.get_by_role("link", name="New job").click()
    page.get_by_label("Serial of the card").fill("GG8-70001")
    page.get_by_label("Board model").select_option("garganey-8")
    page.get_by_label("Customer", exact=True).fill("Una Brack")
    page.get_by_label("Complaint").fill("No picture on the left screen.")
    # What was chosen stands, and is sent, before the list of models has come.
    page.route("**/api/v1/board-models", lambda _: None)
    page.reload()
    expect(page.get_by_label("Complaint")).to_have_value("No picture on the left screen.")
    expect(page.get_by_label("Board model")).to_have_value("garganey-8")
    page.get_by_role("button", name="Open the job").click()
    page.unroute_all()
    expect(page.get_by_text("“No picture on the left screen.”").first).to_be_visible()
    expect(page.get_by_test_id("report-file")).to_be_hidden()
    page.get_by_role("link", name="Shelf").click()
    page.get_by_role("link", name="New job").click()
    page.get_by_label("Serial of the card").fill("GG8-70001")
    expect(page.get_by_text("This card was here before")).to_be_visible()
    page.get_by_label("Customer", exact=True).fill("Una Brack")
    page.get_by_label("Complaint").fill("Again.")
    page.get_by_role("button", name="Open the job").click()
    expect(page.get_by_role("alert")).to_contain_text("is already here as")


def test_a_board_model_is_imported_and_a_wrong_one_refused(bench, tmp_path):
    bench.sign_in("lead", at="/shelf")
    page = bench.page
    page.get_by_role("link", name="Library").click()
    wrong = tmp_path / "wrong.board.json"
    wrong.write_text('{"format": "uvrix-board"}')
    good = tmp_path / "smew-1.board.json"
    good.write_text(
        '{"format":"uvrix-board","version":1,"id":"smew-1","name":"Smew 1","outline_mm":[[0,0],[90,0],[90,60],[0,60]],'
        '"core":{"designator":"U1","x_mm":40,"y_mm":30,"size_mm":[20,20],"mark_corner":"top-left"},'
        '"sites":[{"designator":"U2","side":"front","x_mm":70,"y_mm":30}]}'
    )
    page.locator("input[type=file]").set_input_files([wrong, good])
    expect(page.get_by_text("wrong.board.json:$: found no")).to_be_visible()
    page.get_by_role("link", name="Smew 1").click()
    expect(page.get_by_text("This model has no walk yet")).to_be_visible()


def test_the_first_lead_signs_up_by_a_one_time_link(bench):
    import subprocess
    import sys

    made = subprocess.run(
        [sys.executable, "-c", "import django; django.setup(); from uvrix.shop.accounts.services import invite;"
         "print(invite('lead'))"],
        env=bench.served.environment, check=True, capture_output=True, text=True,
    )  # fmt: skip
    page = bench.page
    bench.go(f"/welcome/{made.stdout.strip()}")
    page.get_by_label("Your name").fill("Sunniva Reed")
    page.get_by_label("Name to sign in with").fill("sunniva")
    page.get_by_label("Password").fill("short")
    page.get_by_role("button", name="Start").click()
    expect(page.get_by_role("alert")).to_contain_text("too short")
    page.get_by_label("Password").fill("three-herons-in-fog")
    page.get_by_role("button", name="Start").click()
    expect(page.get_by_role("heading", name="Shelf")).to_be_visible()


@pytest.mark.own_window
def test_the_first_load_is_small(bench):
    sizes = []
    bench.page.on(
        "response",
        lambda answer: (
            sizes.append(int(answer.headers.get("content-length", 0))) if answer.url.endswith(".js") else None
        ),
    )
    bench.go("/shelf")
    bench.page.get_by_label("Name").wait_for()
    assert 0 < sum(sizes) <= 250_000


def test_a_page_whose_script_does_not_come_says_so_and_what_to_do(bench):
    """As after an update, when an open page asks for scripts that are no more."""
    page = bench.page
    page.route("**/assets/FiguresPage-*.js", lambda route: route.abort())
    bench.sign_in(at="/shelf")
    page.get_by_role("navigation", name="Pages").get_by_role("link", name="Figures").click()
    expect(page.get_by_role("alert")).to_contain_text("This page could not be shown")
    page.get_by_role("alert").get_by_role("link", name="Go to the shelf").click()
    expect(page.get_by_role("heading", name="Shelf")).to_be_visible()
    page.get_by_role("navigation", name="Pages").get_by_role("link", name="Figures").click()
    page.unroute("**/assets/FiguresPage-*.js")
    page.get_by_role("button", name="Reload the page").click()
    expect(page.get_by_role("heading", name="Figures")).to_be_visible()
    bench.broken.clear()  # the script that did not come, as the browser reports it
