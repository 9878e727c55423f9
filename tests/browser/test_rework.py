"""Rework on screen: lifted, surveyed, reballed and placed; a timer over another job; an old image kept and compared."""

from __future__ import annotations

from uuid import uuid4

import pytest

from tests.api.conftest import small_picture
from tests.browser.conftest import SAMPLES
from tests.browser.expecting import expect
from tests.browser.test_proving import Api
from uvrix.core.rework.image_file import made_image, sha256_of
from uvrix.shop.demo.rework import curve

pytestmark = pytest.mark.browser
FACTS = {"bus": "256", "memory": "type G", "vendors": ["Ousel"], "core_mhz": 1500, "memory_mhz": 1750, "text": "1.02"}


def test_a_chip_is_lifted_surveyed_reballed_and_placed(bench):
    bench.sign_in()
    page = bench.page
    address = bench.new_job("RW8-1", model="scaup-24")
    bench.go(f"{address}/rework")
    page.get_by_label("site or part").fill("u15")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="U15: remove")).to_be_visible()
    heed = page.get_by_test_id("heed")
    expect(heed.get_by_text("Shield U14, U16")).to_be_visible()
    expect(page.get_by_test_id("heat").locator("[data-near=U14]")).to_be_visible()
    cautions = page.get_by_test_id("cautions")
    expect(cautions).to_contain_text("Fume extraction on.")
    cautions.get_by_role("button", name="Understood for this shift").click()
    # the hazard at hand stays, what was read does not
    expect(cautions).to_contain_text("Eye protection")
    expect(cautions).not_to_contain_text("Fume extraction")
    form = page.get_by_test_id("rework-form")
    done = form.get_by_role("button", name="Done: remove U15")
    expect(done).to_be_disabled()
    form.get_by_role("button", name="Photograph U15").click()
    picture = {"name": "u15.png", "mimeType": "image/png", "buffer": small_picture()}
    page.get_by_test_id("camera-file").set_input_files(picture)
    expect(page.get_by_text("Kept with the job.")).to_be_visible()
    page.get_by_test_id("camera").get_by_role("button", name="Close").click()
    before = page.get_by_test_id("before-lifting")
    expect(before).to_contain_text("Photographed.")
    number = address.rsplit("/", 1)[1]
    asked = f"{bench.served.address}/api/v1/jobs/{number}/rework/before?site=U15&do=remove"
    corner = page.request.get(asked).json()["pin1"]
    wrong = "upper left" if corner != "upper left" else "lower right"
    before.get_by_label("pin 1 lies").select_option(wrong)
    done.click()
    expect(form.get_by_role("alert")).to_contain_text(f"the model has it {corner}. Look again.")
    before.get_by_label("pin 1 lies").select_option(corner)
    # the checklist goes on with one key
    page.locator("body").click(position={"x": 5, "y": 5})
    page.keyboard.press("x")
    expect(form.get_by_role("checkbox", name="photograph")).to_be_checked()
    expect(form.get_by_role("checkbox", name="U14")).to_be_checked()
    form.get_by_label("air, as soak").fill("soak 150/90, lift 360/28")
    form.get_by_label("minutes").fill("ten")
    expect(form.get_by_role("alert").first).to_contain_text("minutes: found “ten”, expected a number.")
    expect(done).to_be_disabled()
    form.get_by_label("minutes").fill("10")
    bench.check_access()
    done.click()
    history = page.get_by_role("list", name="What was done")
    expect(history).to_contain_text("U15 removed. Soak 150 °C 90 s, lift 360 °C 28 s, shields on")
    expect(page.get_by_role("list", name="Loose chips")).to_contain_text("RW8-1/U15")
    expect(page.get_by_test_id("owed")).to_contain_text("U15 is off")
    expect(page.get_by_role("heading", name="U15: place")).to_be_visible()
    # survey by click, by key and by sweep
    bench.go(f"{address}/rework/pads/U15")
    pads = page.get_by_test_id("pads")
    expect(pads.get_by_role("heading", name="Pads below U15: Not surveyed yet")).to_be_visible()
    page.locator("[data-pad=K3]").click()
    expect(page.locator("[data-pad=K3]")).to_have_attribute("data-looks", "torn")
    expect(pads.get_by_role("heading", name="Fixable")).to_be_visible()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("y")
    expect(page.locator("[data-looks=grey]")).to_have_count(1)
    page.keyboard.press("ArrowRight")
    page.keyboard.press("x")
    expect(page.locator("[data-looks=unused]")).to_have_count(1)
    page.get_by_role("button", name="torn").click()
    first, last = page.locator("[data-pad=A1]").bounding_box(), page.locator("[data-pad=A9]").bounding_box()
    page.mouse.move(first["x"] + 4, first["y"] + 4)
    page.mouse.down()
    page.mouse.move(last["x"] + 4, last["y"] + 4, steps=60)
    page.mouse.up()
    expect(page.locator("[data-looks=torn]")).to_have_count(10)
    expect(pads.get_by_role("list", name="Broken")).to_be_visible()
    bench.check_access()
    bench.nothing_cut()
    page.reload()
    expect(page.locator("[data-looks=torn]")).to_have_count(10)
    # reballed in the hand, then placed
    bench.go(f"{address}/rework?site=U15")
    page.get_by_label("to do").select_option("reball the chip")
    expect(form.get_by_label("which chip")).to_have_value("RW8-1/U15")
    form.locator("select").filter(has_text="by stencil").select_option("by stencil")
    form.get_by_label("size, mm").fill("0,45")
    form.get_by_label("balls taken").fill("190")
    form.get_by_role("button", name="Done: reball the chip U15").click()
    expect(history).to_contain_text("RW8-1/U15 reballed. Balls by stencil 0.45 mm, 190")
    page.get_by_label("to do").select_option("place a chip")
    form.get_by_label("chip that comes").fill("RW8-1/U16")
    form.get_by_role("button", name="Done: place a chip U15").click()
    expect(form.get_by_role("alert")).to_contain_text("on U16 of RW8-1")
    form.get_by_label("chip that comes").fill("RW8-1/U15")
    form.get_by_role("button", name="Done: place a chip U15").click()
    expect(history).to_contain_text("U15 placed, RW8-1/U15 on.")
    expect(page.get_by_test_id("owed")).not_to_contain_text("U15 is off")
    expect(page.get_by_test_id("heat").locator("[data-cycles=U15]")).to_contain_text("2")
    # taken back, it is owed again
    history.get_by_role("button", name="Take back").first.click()
    history.get_by_label("why it did not happen").fill("another chip")
    history.get_by_role("button", name="Take it back").click()
    expect(page.get_by_test_id("owed")).to_contain_text("U15 is off")
    expect(page.get_by_role("heading", name="U15: place")).to_be_visible()
    bench.nothing_cut()


def test_the_lead_sets_what_the_shop_allows(bench):
    bench.sign_in("lead")
    page = bench.page
    bench.go("/library/rework")
    form = page.get_by_test_id("rework-settings")
    form.get_by_label("shield what is within").fill("40")
    form.get_by_role("button", name="Save").click()
    expect(form.get_by_role("alert")).to_contain_text("expected at most near_mm, 12")
    form.get_by_label("shield what is within").fill("6,5")
    form.get_by_label("another alloy").fill("bench low")
    form.get_by_role("button", name="Add it").click()
    form.get_by_label("steps, separated").first.fill("photograph; pin 1 noted; lift")
    form.get_by_label("steps, separated").first.blur()
    with page.expect_response(lambda response: response.request.method == "PUT" and response.ok):
        form.get_by_role("button", name="Save").click()
    expect(form.get_by_text("bench low")).to_be_visible()
    page.reload()
    expect(form.get_by_label("shield what is within")).to_have_value("6.5")
    expect(form.get_by_label("steps, separated").first).to_have_value("photograph; pin 1 noted; lift")
    bench.check_access()
    bench.nothing_cut()


def test_below_a_chip_that_came_off_the_advice_asks_for_its_pads_until_they_are_surveyed(bench):
    bench.sign_in()
    page = bench.page
    address = bench.new_job("RW8-9", complaint="Snow after ten minutes.")
    bench.go(f"{address}/memory")
    page.get_by_test_id("report-file").set_input_files(SAMPLES / "teal-8-cold.csv")
    expect(bench.finding).to_contain_text("U18 ")
    bench.go(f"{address}/rework?site=U18")
    before = page.get_by_test_id("before-lifting")
    number = address.rsplit("/", 1)[1]
    asked = f"{bench.served.address}/api/v1/jobs/{number}/rework/before?site=U18&do=remove"
    before.get_by_label("pin 1 lies").select_option(page.request.get(asked).json()["pin1"])
    before.get_by_label("or why not").fill("the camera is away")
    page.get_by_role("button", name="Done: remove U18").click()
    mind = page.get_by_test_id("mind")
    mind.get_by_text("Survey the pads of U18").click()
    mind.get_by_role("link", name="Show U18").click()
    pads = page.get_by_test_id("pads")
    expect(pads.get_by_role("heading", name="Pads below U18: Not surveyed yet")).to_be_visible()
    bench.nothing_cut()
    pads.get_by_role("button", name="No pad is torn or grey").click()
    expect(pads.get_by_role("heading", name="Pads below U18: Good")).to_be_visible()
    expect(mind).not_to_contain_text("Survey the pads")
    bench.go(f"{address}/case")
    expect(page.get_by_text("Pads of U18: good")).to_be_visible()


def test_a_curing_timer_rings_while_another_job_is_open(bench):
    bench.sign_in()
    page = bench.page
    glued, other = bench.new_job("RW8-2"), bench.new_job("RW8-3")
    bench.go(f"{glued}/rework/timers")
    timers = page.get_by_test_id("timers")
    timers.get_by_label("of what").fill("glue at B14")
    timers.get_by_label("minutes").fill("0,05")
    timers.get_by_role("button", name="Start").click()
    expect(timers.get_by_role("list", name="Timers")).to_contain_text("glue at B14, curing")
    bench.go(f"{other}/rework")
    sign = page.get_by_test_id("timer-sign")
    expect(sign.get_by_role("status")).to_have_text("glue at B14")
    expect(sign).to_contain_text(f"J-{int(glued.rsplit('/', 1)[1]):04d}")
    bench.check_access()
    sign.click()
    expect(page).to_have_url(f"{glued}/rework/timers")
    timers.get_by_role("button", name="Heard").click()
    expect(sign).to_be_hidden()


def test_an_old_image_is_kept_and_compared_and_a_curve_judged(bench):
    bench.sign_in()
    page = bench.page
    text = uuid4().hex[:8]
    old = made_image({**FACTS, "text": text}, bytes(range(256)) * 8)
    other = bytearray(made_image({**FACTS, "text": f"{text[:7]}x"}, bytes(range(256)) * 8))
    other[900:940] = b"ANOTHER EDITION OF A MADE-UP IMAGE, LONG"
    address = bench.new_job("RW8-4")
    bench.go(f"{address}/rework/images")
    images = page.get_by_test_id("images")
    expect(images.get_by_role("heading", name="The old image first")).to_be_visible()
    expect(page.get_by_test_id("image-read")).to_have_count(0)
    images.get_by_role("button", name="3.3 V", exact=True).click()
    read = page.get_by_test_id("image-read")
    read.set_input_files({"name": "old.img", "mimeType": "application/octet-stream", "buffer": old})
    expect(images.get_by_role("alert")).to_contain_text("takes 1.8 V, not 3.3 V")
    images.get_by_role("button", name="1.8 V", exact=True).click()
    flipped = bytearray(old)
    flipped[1000] ^= 1
    read.set_input_files({"name": "1.img", "mimeType": "application/octet-stream", "buffer": bytes(flipped)})
    expect(images.get_by_role("list", name="Reads").get_by_role("listitem")).to_have_count(1)
    read.set_input_files({"name": "2.img", "mimeType": "application/octet-stream", "buffer": old})
    expect(images.get_by_role("alert")).to_contain_text("The last two reads are not alike.")
    read.set_input_files({"name": "3.img", "mimeType": "application/octet-stream", "buffer": old})
    expect(images.get_by_role("heading", name="The old image is kept")).to_be_visible()
    bench.check_access()
    store = page.get_by_test_id("image-store")
    store.set_input_files({"name": "new.img", "mimeType": "application/octet-stream", "buffer": bytes(other)})
    row = images.get_by_role("list", name="Images that fit").get_by_role("listitem").filter(has_text="new.img")
    row.get_by_role("button", name="Compare with the old one").click()
    compared = page.get_by_test_id("compared")
    expect(compared.get_by_role("heading", name="Another edition, or settings changed")).to_be_visible()
    expect(compared).to_contain_text("became “ANOTHER EDITION OF A MADE-UP IMAGE, LONG”")
    bench.check_access()
    bench.nothing_cut()
    write = page.get_by_test_id("write-form")
    expect(write.get_by_role("button", name="Enter the write")).to_be_disabled()
    write.get_by_label("written").select_option(label=f"new.img {hash_of(bytes(other))}")
    write.get_by_label("power was fully off").check()
    write.get_by_role("button", name="Enter the write").click()
    expect(images.get_by_role("list", name="Written")).to_contain_text("new.img written at 1.8 V: it works.")
    bench.go(f"{address}/rework/curve")
    curves = page.get_by_test_id("curves")
    curves.get_by_label("alloy").select_option("sac305")
    file = page.get_by_test_id("curve-file")
    file.set_input_files({"name": "bad.csv", "mimeType": "text/csv", "buffer": b"seconds,celsius\n1,warm\n"})
    expect(curves.get_by_role("alert")).to_contain_text("warm")
    file.set_input_files({"name": "log.csv", "mimeType": "text/csv", "buffer": curve().encode()})
    expect(curves.get_by_text("Within the window")).to_be_visible()
    bench.check_access()
    bench.nothing_cut()


def hash_of(data):
    return sha256_of(data)[:8]


def test_what_is_entered_outlives_an_act_done_elsewhere_and_one_s_own_begins_the_form_anew(bench):
    bench.sign_in()
    page = bench.page
    address = bench.new_job("RW8-10", model="scaup-24")
    number = address.rsplit("/", 1)[1]
    bench.go(f"{address}/rework")
    page.get_by_label("site or part").fill("u15")
    page.keyboard.press("Enter")
    form, history = page.get_by_test_id("rework-form"), page.get_by_role("list", name="What was done")
    form.get_by_label("minutes").fill("10")
    form.get_by_label("or why not").fill("Seen.")
    api = Api(bench)
    corner = api.get(f"jobs/{number}/rework/before?site=U16&do=remove")["pin1"]
    api.post(f"jobs/{number}/rework", do="remove", site="U16", pin1=corner, no_photo="Seen.")
    expect(history).to_contain_text("U16 removed")
    expect(form.get_by_label("minutes")).to_have_value("10")
    expect(form.get_by_label("or why not")).to_have_value("Seen.")
    corner = api.get(f"jobs/{number}/rework/before?site=U15&do=remove")["pin1"]
    form.get_by_label("pin 1 lies").select_option(corner)
    form.get_by_role("button", name="Done: remove U15").click()
    expect(history).to_contain_text("U15 removed")
    expect(page.get_by_role("heading", name="U15: place")).to_be_visible()
    # what is proposed follows the card beside what was entered: the chip on the place is another one by now
    page.get_by_label("to do").select_option("reball the chip")
    expect(form.get_by_label("which chip")).to_have_value("RW8-10/U15")
    form.get_by_label("note").fill("Ten balls flat.")
    api.post(f"jobs/{number}/rework", do="place", site="U15", chip_in="RW8-10/U16")
    expect(form.get_by_label("which chip")).to_have_value("RW8-10/U16")
    expect(form.get_by_label("note")).to_have_value("Ten balls flat.")
    page.get_by_label("to do").select_option("place")
    expect(page.get_by_role("heading", name="U15: place")).to_be_visible()
    expect(form.get_by_label("minutes")).to_have_value("")
