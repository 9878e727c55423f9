"""Volts on screen: power refused on a short, a missing rail solved by following the next probe, the ladder."""

from __future__ import annotations

import re
import threading

import pytest

from tests.browser.expecting import expect
from uvrix.standins.lines import InstrumentServer
from uvrix.standins.meter import Temper, shipped_cards
from uvrix.standins.supply import Supply

pytestmark = pytest.mark.browser
BEHIND = {"pg_3v3", "g_1v8", "en_1v8", "1v8", "en_pex", "pex", "mem", "en_core", "core", "xtal", "release", "draw"}
INPUTS = {"C2": "8k1", "C8": "640", "PA": "9k", "PB": "9k2"}


def read_cold(page, job, values):
    """Cold readings and ticks by the API, as a colleague did before."""
    number = job.removesuffix("/").rsplit("/", 1)[1]
    base = page.url.split("/jobs")[0]
    headers = {"X-CSRFToken": page.request.get(f"{base}/api/v1/session").json()["csrf"], "Referer": base}

    def post(address, body):
        identity = page.evaluate("() => crypto.randomUUID()")
        return page.request.post(
            f"{base}/api/v1/jobs/{number}/{address}", data={"id": identity, **body}, headers=headers
        )

    assert post("power", {"state": "off"}).ok
    for point, value in values.items():
        assert post("readings", {"point": point, "quantity": "resistance", "value": value, "mode": "ohms"}).ok
    for fuse in ("F11", "F12", "F13"):
        assert post("ticks", {"point": fuse}).ok


def test_power_is_refused_on_a_short(bench):
    bench.sign_in()
    page = bench.page
    address = bench.new_job("VO8-1", model="scaup-24")
    read_cold(page, address, {**INPUTS, "PA": "0R4"})
    bench.go(f"{address}/volts")
    power = page.get_by_test_id("volt-power")
    expect(power.get_by_role("heading")).to_have_text("Power stays locked")
    expect(
        power.get_by_text("PA on Plug 1, 12 V reads 0.4 Ω to ground: under 100 ohms nothing is powered.")
    ).to_be_visible()
    expect(power.get_by_role("button", name="On the bench supply")).to_be_disabled()
    expect(page.get_by_test_id("volt-field")).to_be_hidden()
    bench.check_access()
    power.get_by_role("link", name="To inputs and fuses").click()
    expect(page).to_have_url(f"{address}/ohms/power")


def test_a_missing_rail_is_solved_by_following_the_next_probe(bench):
    bench.sign_in()
    page = bench.page
    address = bench.new_job("VO8-2", model="scaup-24")
    read_cold(page, address, INPUTS)
    bench.go(f"{address}/volts")
    power = page.get_by_test_id("volt-power")
    expect(power.get_by_text("Supply first, its limit at 0.5 A")).to_be_visible()
    expect(power.get_by_role("button", name="On the bench supply")).to_be_disabled()
    page.get_by_label("all 2 plugs are in").check()
    power.get_by_role("button", name="On the bench supply").focus()
    page.keyboard.press("Enter")
    expect(power.get_by_role("heading")).to_have_text("May be powered")
    power.get_by_role("button", name="On the bench supply").click()
    expect(page.get_by_test_id("power-state")).to_have_text("on the supply")
    # the complaint: 1.8 V is missing
    page.locator("[data-node='1v8']").click()
    field = page.get_by_test_id("volt-field")
    expect(field.get_by_role("heading")).to_have_text("L22")
    field.get_by_label("value, V").fill("0.02")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("volt-said")).to_contain_text("1.8 V is there from 1.71 to 1.89 V: missing")
    number = address.rsplit("/", 1)[1]
    for _ in range(6):
        found = page.request.get(f"{page.url.split('/jobs')[0]}/api/v1/jobs/{number}/volts").json()
        if found["suspects"][0]["chance"] > 0.9:
            break
        job = page.request.get(f"{page.url.split('/jobs')[0]}/api/v1/jobs/{number}").json()
        step = job["mind"]["next"][0]
        assert (step["do"], step["step"]) == ("read", "volts")
        node = next(entry for entry in found["nodes"] if step["target"] in {entry["point"], entry["id"]})
        # the screen asks for what the one list has first
        expect(field.get_by_role("heading")).to_have_text(step["target"])
        value = 0.03 if node["id"] in BEHIND else (node["low"] + node["high"]) / 2
        field.get_by_role("textbox").first.fill(f"{value:g}")
        page.keyboard.press("Enter")
        state = "missing" if node["id"] in BEHIND else "present"
        expect(page.locator(f"[data-node='{node['id']}']")).to_have_attribute("data-state", state)
    first = page.get_by_label("Suspects").get_by_role("listitem").first
    expect(first).to_contain_text("3.3 V is good")
    expect(first).to_contain_text("Q7")
    expect(first).to_contain_text("although everything it needs is there: 5 V would not be, without")
    bench.check_access()
    bench.nothing_cut()


def test_the_draw_the_supervisor_and_the_ladder(bench):
    bench.sign_in()
    page = bench.page
    address = bench.new_job("VO8-3", model="scaup-24")
    read_cold(page, address, INPUTS)
    bench.go(f"{address}/volts/power")
    page.get_by_label("all 2 plugs are in").check()
    page.get_by_label("it stands without its cooler").check()
    page.get_by_test_id("volt-power").get_by_role("button", name="On the bench supply").click()
    expect(page.get_by_role("alert")).to_contain_text("seconds only")
    page.get_by_label("it draws, A").fill("0,1")
    page.get_by_role("button", name="Store").click()
    expect(page.get_by_text("almost nothing, the core was never released")).to_be_visible()
    page.get_by_role("link", name="Supervisor").click()
    rows = page.get_by_test_id("supervisor")
    rows.get_by_label("PA").fill("12.1")
    page.keyboard.press("Enter")
    expect(rows.get_by_text("the supervisor's own pin U60.2 was not read")).to_be_visible()
    rows.get_by_label("U60.2").fill("3.4")
    page.keyboard.press("Enter")
    expect(rows.get_by_text("the sense path between them has gone high")).to_be_visible()
    reported = page.get_by_test_id("reported")
    reported.get_by_label("before it, V").fill("12.1")
    reported.get_by_label("behind it, V").fill("12.0")
    page.keyboard.press("Enter")
    expect(reported.get_by_role("status")).to_contain_text("a corroded sense resistor fakes such a drop")
    bench.check_access()
    page.get_by_role("link", name="Phases").click()
    phases = page.get_by_test_id("phases")
    for name, khz in (("U71", "500"), ("U72", "500"), ("U73", "0")):
        phases.get_by_label(f"{name}, kHz").fill(khz)
        page.keyboard.press("Enter")
        expect(phases.locator(f"[data-phase={name}]")).not_to_contain_text("was not read")
    expect(phases.get_by_text("U73 does not switch, others do")).to_be_visible()
    phases.get_by_label("what core draws, A").fill("100")
    page.keyboard.press("Enter")
    expect(phases.get_by_text("100 A on 2 phases (1 of 3 gone): 50 A each, rated 40 A, too much.")).to_be_visible()
    bench.check_access()
    page.get_by_role("link", name="Ladder").click()
    ladder = page.get_by_test_id("ladder")
    ladder.get_by_label("it came to").select_option("picture")
    expect(ladder.get_by_role("button", name="Store")).to_be_disabled()
    ladder.get_by_label("it came to").select_option("listed on the bus")
    ladder.get_by_label("beeps").fill("one long, three short")
    ladder.get_by_role("button", name="Store").click()
    expect(ladder.get_by_text("Memory, firmware and the core's own insides are open")).to_be_visible()
    bench.check_access()
    bench.go(address)
    expect(page.get_by_text("In a computer: listed on the bus, one long, three short.").first).to_be_visible()


def fill_node(form, name, low, high, *, kind="rail", point="", needs=()):
    form.get_by_label("id", exact=True).fill(name)
    form.get_by_label("name", exact=True).fill(name.upper())
    form.get_by_label("kind").select_option(kind)
    form.get_by_label("from,").fill(low)
    form.get_by_label("to,").fill(high)
    if point:
        form.get_by_label("probed at").select_option(point)
    for need in needs:
        form.get_by_role("checkbox", name=need, exact=True).check()
    form.get_by_role("button", name="Add it").click()


def test_a_map_is_drawn_from_nothing(bench):
    bench.sign_in()
    page = bench.page
    bench.go("/library/garganey-8/startup")
    form = page.get_by_test_id("node-form")
    expect(page.get_by_text("Begin with an input")).to_be_visible()
    fill_node(form, "in12", "11,4", "12.6", kind="input")
    expect(page.locator("[data-node=in12]")).to_be_visible()
    fill_node(form, "5v0", "4.8", "5.2", needs=["in12"])
    expect(page.locator("[data-node='5v0']")).to_be_visible()
    fill_node(form, "1v8", "1.71", "1.89", needs=["5v0"])
    expect(page.locator("[data-node='1v8']")).to_be_visible()
    # a circle is refused and named, and the map stays as it was
    page.get_by_label("Nodes", exact=True).get_by_role("button", name="in12").click()
    form.get_by_role("checkbox", name="1v8", exact=True).check()
    form.get_by_role("button", name="Change it").click()
    expect(page.get_by_role("alert")).to_contain_text("a circle: in12 needs 1v8 needs 5v0 needs in12")
    expect(form.get_by_role("checkbox", name="1v8", exact=True)).to_be_checked()
    form.get_by_role("button", name="A new one").click()
    # arrows walk along what needs what; undo goes back
    page.locator("[data-node='5v0']").click()
    page.locator("[data-node='5v0']").focus()
    page.keyboard.press("ArrowRight")
    expect(form.get_by_role("heading")).to_have_text("Node 1v8")
    form.get_by_role("button", name="Take it away").click()
    expect(page.locator("[data-node='1v8']")).to_be_hidden()
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("[data-node='1v8']")).to_be_visible()
    bench.check_access()
    bench.nothing_cut()
    page.get_by_role("button", name="Save").click()
    expect(page).to_have_url(f"{bench.served.address}/library/garganey-8")
    # a card of the model is read by it at once
    address = bench.new_job("VO8-4", model="garganey-8")
    bench.go(f"{address}/volts")
    expect(page.locator("[data-node='1v8']")).to_be_visible()
    bench.go("/library/teal-8/startup")
    page.get_by_role("button", name="Begin with").click()
    expect(page.locator("[data-node=pex]")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Begin with")).to_be_visible()


@pytest.fixture
def supply():
    """A bench supply at the other end of a socket, its leads on the virtual card that does not start."""
    cards = shipped_cards()
    cards.dead["VO8-5"] = frozenset({"pg_3v3"})
    with InstrumentServer(0, Supply(cards, Temper(seed=5))) as server:
        threading.Thread(target=server.serve_forever, args=[0.02], daemon=True).start()
        yield server
        server.shutdown()


def test_a_start_is_logged_a_converter_is_looked_at_and_a_part_refuted(bench, supply):
    bench.sign_in("lead")
    page = bench.page
    bench.go("/meters")
    form = page.get_by_test_id("supplies")
    form.get_by_label("name").fill("second supply")
    form.get_by_label("address").fill("next to the kettle")
    form.get_by_role("button", name="Add it").click()
    expect(page.get_by_role("alert")).to_contain_text("expected TCPIP0::host::port::SOCKET")
    form.get_by_label("address").fill(supply.address)
    form.get_by_role("button", name="Add it").click()
    expect(form.get_by_text(f"second supply answers at {supply.address}")).to_be_visible()
    bench.check_access()
    address = bench.new_job("VO8-5", model="scaup-24")
    read_cold(page, address, INPUTS)
    bench.go(f"{address}/volts/power")
    page.get_by_label("all 2 plugs are in").check()
    page.get_by_role("button", name="On the bench supply").click()
    start = page.get_by_role("button", name="Switch on and log the current")
    start.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("start-curve")).to_be_hidden()
    start.click()
    expect(page.get_by_test_id("start-curve")).to_contain_text("It comes up in")
    assert supply.instrument.answer("OUTP?") == "1"
    expect(page.get_by_label("What it drew")).to_contain_text("the core was never released")
    bench.check_access()
    bench.go(f"{address}/volts?probe=1v8")
    page.get_by_test_id("volt-field").get_by_label("value, V").fill("0.02")
    page.keyboard.press("Enter")
    page.get_by_role("link", name="Converter", exact=True).click()
    room = page.get_by_test_id("converter")
    expect(room.locator("[data-step='1v8']")).to_contain_text("20 mV")
    expect(room.locator("[data-step=g_1v8]")).to_contain_text("made by U62 on the back")
    expect(page.get_by_test_id("lit-front").locator("[data-lit=L22]")).to_be_visible()
    expect(page.get_by_test_id("lit-back").locator("[data-lit=U62]")).to_be_visible()
    expect(room.get_by_label("Pins of U63")).to_contain_text("bears GW7K")
    bench.check_access()
    bench.nothing_cut()
    expect(room.get_by_label("Pins of U63").get_by_role("img")).to_have_attribute("aria-label", re.compile("pin 1 EN"))
    here = page.url
    bench.go("/library/pinouts")
    page.get_by_role("button", name="GW7K").click()
    noted = page.get_by_test_id("pinout-form")
    # boards that other tests drew may bear it too
    expect(page.get_by_text(re.compile("Sits on .*Scaup 24 clamshell U61"))).to_be_visible()
    noted.get_by_label("Pin 2, note").fill("0.6 V when it regulates")
    noted.get_by_role("button", name="Save").click()
    expect(page.get_by_text("edition 2")).to_be_visible()
    bench.check_access()
    bench.go(here)
    expect(room.get_by_label("Pins of U63")).to_contain_text("Pin 2: 0.6 V when it regulates.")
    room.get_by_role("button", name="Q7.3").click()
    expect(page.get_by_test_id("volt-field").get_by_role("heading")).to_have_text("Q7.3")
    page.get_by_role("button", name="A part of 3.3 V is good was tried").click()
    page.get_by_test_id("try-form").get_by_role("button", name="Store").click()
    expect(page.get_by_label("Tried", exact=True)).to_contain_text("Q7 for pg_3v3, replaced: no change")
    bench.go(f"{address}/volts/power")
    page.get_by_role("button", name="Unplugged and discharged").click()
    expect(page.get_by_test_id("power-state")).to_have_text("unplugged, discharged")
    assert supply.instrument.answer("OUTP?") == "0"
    # one that does not answer any more is switched off by hand, and until that is said the card counts as on
    page.get_by_label("all 2 plugs are in").check()
    page.get_by_role("button", name="On the bench supply").click()
    expect(page.get_by_test_id("power-state")).to_have_text("on the supply")
    supply.shutdown()
    supply.server_close()
    page.get_by_role("button", name="Unplugged and discharged").click()
    expect(page.get_by_role("alert")).to_contain_text("Switch its output off by hand")
    expect(page.get_by_test_id("power-state")).to_have_text("on the supply")
    page.get_by_role("button", name="Supply off by hand").click()
    expect(page.get_by_test_id("power-state")).to_have_text("unplugged, discharged")
