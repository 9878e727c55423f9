"""Reports that do not fit: each a clear message, nothing lost, the page usable."""

from __future__ import annotations

import re

import pytest

from tests.browser.conftest import SAMPLES
from tests.browser.expecting import expect

pytestmark = pytest.mark.browser
COLD = SAMPLES / "teal-8-cold.csv"


@pytest.fixture
def at_job(bench):
    bench.sign_in()
    bench.go(bench.job_of("SC24-0121"))
    expect(bench.page.get_by_text("Drop the tester’s report here")).to_be_visible()
    return bench


def write(folder, name, data):
    path = folder / name
    path.write_bytes(data)
    return path


def test_every_kind_of_wrong_file_says_what_it_is_and_leaves_the_page_usable(at_job, tmp_path):
    page = at_job.page
    at_job.drop(
        write(tmp_path, "noise.bin", bytes(range(256)) * 9),
        write(tmp_path, "empty.csv", b""),
        write(tmp_path, "letter.txt", b"Dear shop,\nplease repair it.\n"),
        COLD,
    )
    expect(page.get_by_text("noise.bin:1: found a NUL byte")).to_be_visible()
    expect(page.get_by_text("empty.csv:1: found an empty file")).to_be_visible()
    expect(page.get_by_text('letter.txt:1: found "Dear shop,"')).to_be_visible()
    expect(page.get_by_text('The report says board "teal-8"; this job\'s card is "scaup-24"')).to_be_visible()
    page.get_by_role("button", name="Leave it").click()
    at_job.drop(write(tmp_path, "clean.csv", b"# result: pass\n# condition: warm\nchannel\n"))
    expect(at_job.finding).to_contain_text("No errors")
    expect(page.get_by_text("empty.csv:1: found an empty file")).to_be_visible()


def test_the_same_file_twice_asks_and_another_boards_report_warns(bench, tmp_path):
    bench.sign_in()
    page = bench.page
    bench.go(bench.job_of("TL8-55871"))
    expect(bench.finding).to_contain_text("U15")
    bench.drop(SAMPLES / "teal-8-warm.csv")
    expect(page.get_by_text("run 5, 251 rows")).to_be_visible()
    bench.drop(SAMPLES / "teal-8-warm.csv")
    expect(page.get_by_text("The same run, or another one that came out alike?")).to_be_visible()
    page.get_by_role("button", name="The same run, leave it").click()
    expect(page.get_by_role("link", name=re.compile(r"^6 "))).to_be_hidden()
    bench.drop(SAMPLES / "teal-8-warm.csv")
    page.get_by_role("button", name="Another run, add it").click()
    expect(page.get_by_role("link", name="6 warm")).to_be_visible()
    tally = b"# board: garganey-8\n# condition: cold\nchannel,errors\nA0,0\nB1,7\n"
    bench.drop(write(tmp_path, "other.csv", tally))
    page.get_by_role("button", name="Read it for this card").click()
    expect(page.get_by_role("link", name="7 cold")).to_be_visible()
    for number in (5, 6, 7):
        page.get_by_role("link", name=re.compile(rf"^{number} ")).click()
        page.get_by_role("button", name="Take out of the finding").click()
        page.get_by_label("Why this run does not count").fill("a test")
        page.get_by_role("button", name="Take out", exact=True).click()
        expect(page.get_by_text(f"Run {number} alone, taken out of the finding")).to_be_visible()


def test_a_report_is_pasted(bench):
    bench.sign_in()
    bench.go(bench.job_of("WG4-20117"))
    expect(bench.page.get_by_text("Drop the tester’s report here")).to_be_visible()
    bench.page.evaluate(
        """text => { const carried = new DataTransfer(); carried.setData("text/plain", text);
        document.body.dispatchEvent(new ClipboardEvent("paste", {clipboardData: carried, bubbles: true})); }""",
        "channel,errors\nA0,0\nA1,12\nB0,0\nB1,0\n",
    )
    expect(bench.page.get_by_text("pasted.csv")).to_be_visible()
    expect(bench.finding).to_contain_text("U503")


def test_a_report_of_200_megabytes_is_read_with_progress(bench, tmp_path):
    path = tmp_path / "large.csv"
    row = b"A0,0x0000001000,FFFFFFFF,FFFFFFFB\n"
    with path.open("wb") as file:
        file.write(b"# condition: cold\n# result: fail\nchannel,address,expected,actual\n")
        for _ in range(60):
            file.write(row * 100_000)
    assert path.stat().st_size > 200_000_000
    bench.sign_in()
    bench.go(bench.job_of("WG4-20544"))
    bench.page.set_default_timeout(90_000)
    bench.page.get_by_test_id("report-file").set_input_files(path)
    expect(bench.page.get_by_role("progressbar")).to_be_visible()
    expect(bench.page.get_by_text("6,000,000 rows, 6,000,000 errors")).to_be_visible(timeout=90_000)
    expect(bench.finding).to_contain_text("U501")
    bench.page.get_by_role("link", name="2 cold").click()
    bench.page.get_by_role("button", name="Take out of the finding").click()
    bench.page.get_by_role("button", name="Take out", exact=True).click()
    expect(bench.page.get_by_text("Run 2 alone, taken out")).to_be_visible()


def test_a_server_that_is_away_loses_nothing(bench):
    bench.sign_in()
    bench.go(f"{bench.new_job('AW8-1', 'garganey-8')}/memory")
    bench.served.stop()
    try:
        bench.page.get_by_test_id("report-file").set_input_files(SAMPLES / "garganey-8-tally.csv")
        expect(bench.page.get_by_text("The server does not answer")).to_be_visible()
    finally:
        bench.served.start()
    bench.page.get_by_role("button", name="Send it again").click()
    expect(bench.finding).to_contain_text("M1")
