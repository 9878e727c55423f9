"""The case: an act entered on one screen makes void what another measured, and the page says which and by what."""

from __future__ import annotations

import json

from tests.browser.expecting import expect


def test_an_act_at_ohms_voids_what_was_read_before_it_and_the_page_says_so(bench):
    bench.sign_in()
    page = bench.page
    job = bench.new_job("CA8-1", complaint="Dead.")
    bench.go(f"{job}/ohms")
    page.get_by_test_id("gate").get_by_role("button", name="It is unplugged and discharged").click()
    field, said = page.get_by_test_id("reading"), page.get_by_test_id("said")
    for point, value in (("PL1", "8k9"), ("PL2", "9k3"), ("F2", "OL")):
        page.locator(f"[data-point={point}]").click()
        expect(field.get_by_role("heading")).to_have_text(point)
        field.get_by_label("value").fill(value)
        page.keyboard.press("Enter")
        expect(said).to_contain_text(point)
    expect(page.get_by_test_id("may-be")).to_contain_text("fuse F2 open or sick")
    page.get_by_role("link", name="Power: locked").click()
    fuse = page.get_by_test_id("lock").get_by_role("list", name="Fuses").get_by_role("listitem").filter(has_text="F2")
    expect(fuse).to_contain_text("blown")
    fuse.get_by_role("button", name="Replaced").click()
    fuse.get_by_label("rating of the new one").fill("10 A")
    fuse.get_by_role("button", name="It is replaced").click()
    expect(fuse).to_contain_text("replaced, 10 A")

    page.get_by_test_id("may-be").click()
    entries = page.get_by_test_id("case-entries")
    void = entries.locator("[data-void=true]")
    # the fuse lies on the first plug's net: its own reading and the plug's count no more, the second plug's does
    expect(void).to_have_count(2)
    expect(void.filter(has_text="F2 across itself: OL")).to_contain_text("before F2 was swapped")
    expect(void.filter(has_text="PL1 to ground")).to_contain_text("before F2 was swapped")
    expect(entries.locator("[data-void=false]").filter(has_text="PL2 to ground")).to_be_visible()
    says = page.get_by_test_id("case-says")
    expect(says.get_by_role("heading", name="What next")).to_be_visible()
    expect(says).to_contain_text("Read PL1 to ground")
    expect(says).to_contain_text("Plug 1, 12 V was not read to ground since F2 was swapped")
    bench.check_access()
    bench.nothing_cut()

    number = job.rsplit("/", 1)[1]
    kept = page.request.get(f"{bench.served.address}/api/v1/jobs/{number}/case/file")
    document = json.loads(kept.body())
    assert document["format"] == "uvrix-case"
    assert [entry.get("did") for entry in document["entries"]][-1] == "swap"
