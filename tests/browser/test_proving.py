"""Prove and Return on screen: a late failure, a customer on a phone, a parcel that may not leave."""

from __future__ import annotations

import re
from uuid import uuid4

import pytest

from tests.api.conftest import BOARDS, small_picture
from tests.browser.expecting import expect
from uvrix.core.boards.document import read_board
from uvrix.core.virtual.reports import simulate
from uvrix.shop.demo.proving import run_log

pytestmark = pytest.mark.browser


class Api:
    """What a test enters beside the screen, as whoever is signed in."""

    def __init__(self, bench) -> None:
        self.bench = bench
        session = self.get("session")
        self.headers = {"X-CSRFToken": session["csrf"]}

    def get(self, address):
        return self.bench.page.request.get(f"{self.bench.served.address}/api/v1/{address}").json()

    def post(self, address, **body):
        answer = self.bench.page.request.post(
            f"{self.bench.served.address}/api/v1/{address}", data={"id": str(uuid4()), **body}, headers=self.headers
        )
        assert answer.ok, answer.text()
        return answer.json()

    def reworked(self, number, site, serial):
        """A chip lifted and placed again."""
        corner = self.get(f"jobs/{number}/rework/before?site={site}&do=remove")["pin1"]
        self.post(f"jobs/{number}/rework", do="remove", site=site, pin1=corner, no_photo="Seen.")
        self.post(f"jobs/{number}/rework", do="place", site=site, chip_in=f"{serial}/{site}")


def number_of(address):
    return int(address.rsplit("/", 1)[1])


def file_of(name, text):
    return {"name": name, "mimeType": "text/csv", "buffer": text.encode()}


def test_a_failure_well_into_the_stress_run_is_caught_sent_back_and_named_as_a_neighbour(bench):
    bench.sign_in()
    page = bench.page
    address = bench.new_job("PV8-1")
    number = number_of(address)
    api = Api(bench)
    api.reworked(number, "U16", "PV8-1")
    bench.go(f"{address}/prove")
    stress = page.locator("[data-check=stress]")
    expect(stress).to_contain_text("No log yet; 30 min under load.")
    # an hour at rest proves nothing, twelve minutes are too few
    idle = "elapsed s,core °C,core MHz,board W,fan rpm\n" + "".join(f"{s},38,300,23,0\n" for s in range(0, 3600, 10))
    page.get_by_test_id("proof-log").set_input_files(file_of("idle.csv", idle))
    expect(stress).to_have_attribute("data-judged", "refused")
    expect(stress).to_contain_text("Idle proves nothing")
    page.get_by_test_id("proof-log").set_input_files(file_of("short.csv", run_log("short", 76, 12)))
    expect(stress).to_contain_text("30 min are wanted: 18 more")
    expect(stress.get_by_role("button", name=re.compile("Timer 1[89] min"))).to_be_visible()
    expect(page.get_by_test_id("log-plot")).to_contain_text("short.csv under stress, after the repair, 14 min")
    expect(page.get_by_role("heading", name=re.compile("of 17 proven"))).to_be_visible()
    bench.check_access()
    # after 23 minutes blocks come: back to Memory, and who stands near the rework is named
    page.get_by_role("button", name="It failed: send it back").click()
    back = page.get_by_test_id("send-back")
    expect(back).to_contain_text("from U16, which was")
    back.get_by_label("minutes into it").fill("23")
    back.get_by_label("what happened").fill("Blocks on the screen")
    back.get_by_role("button", name="Send it back").click()
    page.wait_for_url(re.compile("/memory$"))
    step = page.get_by_test_id("next-step")
    expect(step).to_contain_text("Back to Memory, everything is kept")
    expect(step).to_contain_text("U17")
    # the report of the warm card names that neighbour
    board = read_board((BOARDS / "teal-8.board.json").read_bytes())
    report = simulate(board, "cells:U17", 150, 4, condition="warm").report
    page.get_by_test_id("report-file").set_input_files(file_of("warm.csv", report))
    expect(bench.finding).to_contain_text("U17")
    bench.go(f"{address}/prove")
    expect(page.get_by_role("heading", name="Came back from here")).to_be_visible()
    expect(page.get_by_text("older than the last rework: counts no more")).to_be_visible()
    expect(stress).to_contain_text("No log yet")


def test_columns_of_a_shops_logs_are_said_once(bench):
    bench.sign_in()
    page = bench.page
    address = bench.new_job("PV8-2")
    bench.go(f"{address}/prove")
    text = "t;die;draw\n" + "".join(f"{s};{38 + s / 200:.1f};{23 if s < 60 else 200}\n" for s in range(0, 600, 10))
    page.get_by_test_id("proof-log").set_input_files(file_of("other.csv", text))
    columns = page.get_by_test_id("columns")
    expect(columns).to_contain_text("other.csv: say once which column is which.")
    known = columns.get_by_role("button", name="Save these columns")
    expect(known).to_be_disabled()
    columns.get_by_label("time").select_option("t")
    columns.get_by_label("temperature").select_option("die")
    columns.get_by_label("power").select_option("draw")
    bench.check_access()
    known.click()
    expect(page.get_by_test_id("log-plot")).to_contain_text("other.csv")
    # as it was, for the other tests
    api = Api(bench)
    columns = {"seconds": "elapsed s", "celsius": "core °C", "mhz": "core MHz", "watts": "board W", "fan": "fan rpm"}
    put = page.request.put(f"{bench.served.address}/api/v1/log-columns", data={"columns": columns}, headers=api.headers)
    assert put.ok


def test_a_customer_answers_on_a_phone_and_everybody_knows_what_was_agreed(bench, chromium):
    bench.sign_in("front-desk")
    page = bench.page
    address = bench.new_job("PV8-3")
    bench.go(f"{address}/return/customer")
    page.get_by_role("button", name="Ask something").click()
    form = page.get_by_test_id("new-offer")
    form.get_by_label("what it is about").fill("One chip, or all eight")
    form.get_by_label("what was found").fill("U16 failed, and its lot failed here before.")
    form.get_by_label("option 1").fill("Replace U16")
    form.get_by_label("price").nth(0).fill("88")
    form.get_by_label("holds, %").nth(0).fill("60")
    form.get_by_label("against our advice").nth(0).check()
    form.get_by_label("option 2").fill("Replace all eight")
    form.get_by_label("price").nth(1).fill("424")
    form.get_by_role("button", name="Send it to the customer").click()
    expect(page.get_by_test_id("asked")).to_contain_text("Replace U16: 88, 60 % that it holds, against our advice")
    written = page.get_by_test_id("written")
    written.get_by_role("button", name="Fill it").click()
    draft = page.get_by_test_id("draft")
    expect(draft.get_by_label("text;")).to_have_value(re.compile("Replace all eight: 424 crowns"))
    draft.get_by_label("to", exact=True).fill("una@example.invalid")
    bench.check_access()
    draft.get_by_role("button", name="Send it").click()
    expect(written.get_by_text("what we found on your Teal 8")).to_be_visible()
    number = number_of(address)
    by_hand = written.get_by_role("status").inner_text()
    link = re.search(r"https?://\S+/c/\S+", by_hand)
    assert link
    assert link[0] not in str(Api(bench).get(f"jobs/{number}/messages")), "it is shown once and not kept"
    phone = chromium.new_context(viewport={"width": 390, "height": 844})
    own = phone.new_page()
    own.goto(link[0])
    expect(own.get_by_text("We need your word before we go on.")).to_be_visible()
    # nothing of the page runs out of a phone
    assert own.evaluate("document.documentElement.scrollWidth <= window.innerWidth")
    own.get_by_role("radio").first.check()
    yes = own.get_by_role("button", name="Yes: Replace U16")
    expect(yes).to_be_disabled()
    own.get_by_role("checkbox").check()
    own.get_by_label("anything you want to tell us").fill("One will do.")
    yes.click()
    expect(own.get_by_text("You chose: Replace U16")).to_be_visible()
    own.reload()
    expect(own.get_by_text("You chose: Replace U16")).to_be_visible()
    expect(own.get_by_role("radio")).to_have_count(0)
    own.goto(link[0][:-3] + "xyz")
    expect(own.get_by_role("alert")).to_contain_text("This link has expired")
    phone.close()
    page.reload()
    expect(page.get_by_test_id("asked")).to_contain_text("Accepted by Una Brack, on their own page")
    bench.go(address)
    expect(page.get_by_test_id("timeline")).to_contain_text("The customer said: Replace U16. One will do.")


def test_a_parcel_cannot_leave_with_a_lifted_coil(bench):
    bench.sign_in()
    page = bench.page
    address = bench.new_job("PV8-4")
    number = number_of(address)
    api = Api(bench)
    api.post(f"jobs/{number}/owed", kind="coil-lifted", words="L21 lifted")
    bench.go(f"{address}/return")
    check = page.get_by_test_id("return-check")
    expect(check.get_by_role("heading", level=2)).to_have_text(re.compile("It may not leave: 19 unsettled"))
    expect(check.get_by_role("listitem").first).to_contain_text("L21 lifted")
    leaves = page.get_by_test_id("let-go").get_by_role("button", name="It leaves")
    page.get_by_label("what was found").fill("A joint of U16 was cracked.")
    expect(leaves).to_be_disabled()
    expect(check.get_by_role("button", name="Waive it")).to_have_count(0)
    # beyond repair it needs no proof, and still not with the coil lifted
    page.get_by_label("how it ends").select_option("it cannot be repaired")
    expect(check.get_by_role("heading", level=2)).to_have_text("It may not leave: 3 unsettled")
    for side in ("front", "back"):
        picture = {"name": f"{side}.png", "mimeType": "image/png", "buffer": small_picture()}
        sent = page.request.post(
            f"{bench.served.address}/api/v1/pictures", multipart={"file": picture}, headers=api.headers
        ).json()
        api.post(f"jobs/{number}/photographs", sha256=sent["sha256"], side=side)
    page.context.clear_cookies()
    bench.sign_in("lead", at=f"/jobs/{number}/return")
    page.get_by_label("how it ends").select_option("it cannot be repaired")
    item = check.get_by_role("listitem").filter(has_text="L21 lifted")
    item.get_by_role("button", name="Waive it").click()
    item.get_by_label("reason").fill("It stays here as a donor.")
    item.get_by_role("button", name="Waive it").last.click()
    expect(check.get_by_role("heading", level=2)).to_have_text("It may leave")
    page.get_by_label("why it cannot be repaired").fill("The core is dead.")
    page.get_by_label("what was found").fill("The core does not answer.")
    page.get_by_label("it goes").select_option("stays as a donor")
    bench.check_access()
    page.get_by_role("button", name="Keep it as a donor").click()
    expect(page.get_by_test_id("gone")).to_contain_text("Stays here as a donor")
    bench.go("/stock/donors")
    expect(page.get_by_text("PV8-4").first).to_be_visible()


def test_nothing_can_be_pressed_before_its_cautions_stand(bench):
    """One that came late moved what stands below it: a click went to what had been there before."""
    bench.sign_in()
    page, held = bench.page, []
    address = bench.new_job("PV8-9")
    page.route("**/api/v1/cautions", lambda route: held.append(route))  # noqa: PLW0108 (Playwright takes no built-in)
    bench.load(f"{address}/return")
    expect(page.get_by_text("Opening the job")).to_be_visible()
    page.wait_for_timeout(1000)  # what needs no caution has come by now
    expect(page.get_by_test_id("let-go")).to_have_count(0)
    for route in held:
        route.continue_()
    expect(page.get_by_test_id("let-go")).to_be_visible()
    expect(page.get_by_test_id("cautions").first).to_contain_text("Wrist strap on")


def test_a_model_gets_a_protocol_of_its_own_and_a_slip_in_a_template_is_named(bench):
    bench.sign_in("lead", at="/library/wigeon-4/proof")
    page = bench.page
    protocol = page.get_by_test_id("protocol")
    stress = protocol.locator("[data-check=stress]")
    stress.get_by_label("minutes under load").fill("half an hour")
    protocol.get_by_role("button", name="Save", exact=True).click()
    expect(protocol.get_by_role("alert")).to_contain_text("$.checks[7].minutes")
    expect(stress.get_by_label("minutes under load")).to_have_value("half an hour")
    stress.get_by_label("minutes under load").fill("12,5")
    protocol.get_by_role("button", name="Leave out: Score").click()
    protocol.get_by_role("button", name="Up: Fans from every position").click()
    bench.check_access()
    protocol.get_by_role("button", name="Save", exact=True).click()
    expect(protocol.get_by_text("edition 1, Casper Holm")).to_be_visible()
    expect(stress.get_by_label("minutes under load")).to_have_value("12.5")
    saved = Api(bench).get("board-models/wigeon-4/proof")["document"]["checks"]
    assert [entry["id"] for entry in saved][-4:] == ["outputs", "fans", "plugs", "cold-start"]
    bench.go("/messages")
    templates = page.get_by_test_id("templates")
    templates.locator("summary").click()
    text = templates.get_by_label("text of Reminder")
    text.fill("Dear {custmer}")
    templates.get_by_role("button", name="Save the templates").click()
    expect(templates.get_by_role("alert")).to_contain_text("found the place 'custmer'")
    expect(text).to_have_value("Dear {custmer}")
