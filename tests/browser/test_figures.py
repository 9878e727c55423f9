"""Figures on screen: a number opens its jobs, a card teaches and is taken out, a job is taken along."""

from __future__ import annotations

import re
import zipfile

import pytest

from tests.browser.expecting import expect

pytestmark = pytest.mark.browser


def test_a_number_opens_the_jobs_behind_it_and_few_look_uncertain(bench):
    bench.sign_in("lead", at="/figures")
    page = bench.page
    page.get_by_role("combobox", name="by").select_option("cause")
    row = page.locator("[data-row='Joint of a memory chip']")
    expect(row).to_contain_text("10 of 10")
    expect(row).not_to_contain_text(", few")
    expect(page.locator("[data-row='Fan bearing worn']")).to_contain_text(", few")
    row.get_by_role("button", name=re.compile("how often")).click()
    behind = page.get_by_test_id("behind")
    expect(behind.get_by_role("link")).to_have_count(10)
    bench.check_access()
    # asked for in the address, so it can be passed on
    page.get_by_label("of the model").select_option("Garganey 8, revision C")
    expect(page).to_have_url(re.compile("model=Garganey"))
    expect(row.get_by_role("button", name=re.compile("how often"))).to_have_text(re.compile(r"^2 of \d+$"))
    row.get_by_role("button", name=re.compile("how often")).click()
    behind.get_by_role("link").first.click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("J-")


def test_a_proven_card_teaches_its_model_and_is_taken_out_again(bench):
    bench.sign_in(at="/figures/learning")
    page = bench.page
    card = page.get_by_role("listitem").filter(has_text="TL8-53900")
    expect(card).to_contain_text("14 readings could join")
    card.get_by_role("button", name="Add them to known-good").click()
    expect(card).to_contain_text("14 readings count, let in by Mirren Tarn")
    # those that cannot teach stand behind
    expect(page.get_by_text("TL8-52210")).to_be_hidden()
    page.get_by_text(re.compile("cards of which nothing was read")).click()
    expect(page.get_by_text("TL8-52210")).to_be_visible()
    bench.check_access()
    card.get_by_role("button", name="Remove them from known-good").click()
    expect(card).to_contain_text("could join")


@pytest.mark.parametrize("role", ["technician", "lead"])
def test_a_job_that_is_not_here_is_said(bench, role):
    bench.sign_in(role, at="/figures/archive")
    page = bench.page
    page.get_by_label("job", exact=True).fill("J-9999")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("There is no job J-9999 here.")
    expect(page.get_by_text("Only the lead can export everything")).to_have_count(int(role == "technician"))


def test_a_job_is_taken_along_and_comes_in_only_once(bench, tmp_path):
    bench.sign_in("lead", at="/figures/archive")
    page = bench.page
    page.get_by_label("job", exact=True).fill("J-0036")
    with page.expect_download() as taken:
        page.get_by_role("button", name="Export it").click()
    target = tmp_path / "job.zip"
    taken.value.save_as(target)
    assert taken.value.suggested_filename == "J-0036.uvrix.zip"
    names = zipfile.ZipFile(target).namelist()
    assert {"manifest.json", "rows/jobs.job.jsonl", "tables/jobs.job.csv"} <= set(names)
    page.get_by_test_id("archive-file").set_input_files(str(target))
    expect(page.get_by_role("alert")).to_contain_text("J-0036 is here already.")
    target.write_bytes(b"no zip")
    page.get_by_test_id("archive-file").set_input_files(str(target))
    expect(page.get_by_role("alert")).to_contain_text("no archive")
    bench.check_access()
