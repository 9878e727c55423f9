"""Teaching a reader with the mouse; runs compared under flexing."""

from __future__ import annotations

import re

import pytest

from tests.browser.conftest import SAMPLES
from tests.browser.expecting import expect

pytestmark = pytest.mark.browser


def test_a_reader_is_taught_from_a_report_that_nobody_knows_and_reads_it(bench):
    bench.sign_in()
    page = bench.page
    bench.go(bench.job_of("TL8-55210"))
    expect(bench.finding).to_contain_text("Both channels of one controller")
    bench.drop(SAMPLES / "readers/lapwing-wide.txt")
    page.get_by_role("button", name="Teach a reader from it").click()
    sample = page.get_by_test_id("sample")
    expect(page.get_by_test_id("read-counts")).to_have_text("0 rows read, 11 lines not")
    row = sample.locator("li").filter(has_text="C1")
    asked = page.get_by_role("region", name="What is")

    def tell(word, column):
        word.click()
        asked.get_by_role("button", name=column, exact=True).first.click()

    tell(row.get_by_role("button", name="C1"), "channel")
    tell(row.get_by_role("button", name="510"), "errors")
    tell(row.get_by_role("button").nth(3), "line 0, the next 31 follow")
    expect(page.get_by_test_id("read-counts")).to_have_text("8 rows read, 3 lines not")
    expect(page.get_by_test_id("tried-finding")).to_contain_text("U12: One byte lane, DQ 8 to 15")
    tell(sample.get_by_role("button", name="cold"), "condition")
    expect(page.get_by_test_id("read-counts")).to_have_text("8 rows read, 2 lines not")
    tell(sample.get_by_role("button", name="Lapwing"), "lines to pass over")
    expect(page.get_by_test_id("read-counts")).to_have_text("8 rows read, 1 lines not")
    bench.check_access()
    bench.nothing_cut()
    page.get_by_label("Name of the reader").fill("Lapwing wide")
    page.get_by_role("button", name="Save it, and read the report").click()
    expect(page.get_by_text(re.compile("run 2 by the reader Lapwing wide, 8 rows"))).to_be_visible()
    page.get_by_role("link", name="Library").click()
    expect(page.get_by_text("Lapwing wide")).to_be_visible()
    with page.expect_download() as download:
        page.get_by_role("listitem").filter(has_text="Lapwing wide").get_by_role("link", name="Export").click()
    assert b"uvrix-reader" in download.value.path().read_bytes()


def test_a_mark_is_taken_off_again_and_the_draft_outlives_a_reload(bench):
    bench.sign_in()
    page = bench.page
    bench.go("/library/readers/teach")
    page.get_by_label("Paste a sample").fill("bank A0 fails 3\nbank B1 fails 0\n")
    page.get_by_test_id("sample").get_by_role("button", name="A0").click()
    page.get_by_role("region", name="What is").get_by_role("button", name="channel").first.click()
    expect(page.get_by_test_id("read-counts")).to_have_text("2 rows read, 0 lines not")
    page.reload()
    expect(page.get_by_test_id("read-counts")).to_have_text("2 rows read, 0 lines not")
    page.get_by_role("button", name="take off channel").click()
    expect(page.get_by_test_id("read-counts")).to_have_text("0 rows read, 2 lines not")


def test_runs_under_flexing_are_compared_and_point_at_a_joint(bench, tmp_path):
    bench.sign_in()
    page = bench.page
    bench.go(bench.job_of("TL8-56390"))
    expect(page.get_by_text("Drop the tester’s report here")).to_be_visible()
    rows = "".join(f"A0,{0x1234 * n & 0xFFFFFFFF:08X}\n" for n in range(1, 60))
    runs = {
        "cold.csv": "# condition: cold\n# result: pass\nchannel\n",
        "up.csv": "# condition: flexed up\n# result: fail\nchannel,bits\n" + rows,
        "down.csv": "# condition: flexed down\n# result: pass\nchannel\n",
        "again.csv": "# condition: flexed up\n# result: fail\nchannel,bits\n" + rows[9:],
    }
    for number, (name, text) in enumerate(runs.items(), 1):
        path = tmp_path / name
        path.write_text(text)
        bench.drop(path)
        expect(page.get_by_role("link", name=re.compile(f"^{number} "))).to_be_visible()
    expect(bench.finding).to_contain_text("A joint")
    expect(bench.finding).to_contain_text("U11")
    expect(page.get_by_test_id("compared")).to_contain_text("Comes and goes")
    expect(page.get_by_test_id("compared")).to_contain_text("flexed up")
    expect(bench.page.get_by_test_id("next-actions")).to_contain_text("tried on simulated cards")
    page.get_by_role("link", name="1 cold").click()
    expect(bench.finding).to_contain_text("No errors")
    page.get_by_role("link", name="All runs together").click()
    expect(bench.finding).to_contain_text("A joint")
