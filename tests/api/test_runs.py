"""Dropping reports on a job: kept as they came, read once, asked about, never half stored."""

from __future__ import annotations

import hashlib
from uuid import uuid4

import pytest
from django.core.files.storage import default_storage
from django.core.files.uploadedfile import SimpleUploadedFile

from tests.api.conftest import SAMPLES, close_files
from uvrix.shop.bench.models import MemoryRun, ReportFile
from uvrix.shop.library.services import import_board

COLD = "teal-8-cold.csv"


def stored_files(tmp_path):
    return [path for path in tmp_path.rglob("*") if path.is_file()]


def test_a_report_shows_the_chip_and_is_kept_as_it_came(drop, technician, job):
    answer = drop(COLD)
    assert answer.status_code == 201
    run = answer.json()
    assert run["located"]["finding"]["designators"] == ["U18"]
    assert run["condition"] == ["cold"]
    assert run["sha256"] == hashlib.sha256((SAMPLES / COLD).read_bytes()).hexdigest()
    kept = technician.get(f"/api/v1/runs/{run['id']}/file")
    assert b"".join(kept.streaming_content) == (SAMPLES / COLD).read_bytes()
    close_files(kept)
    assert "attachment" in kept["Content-Disposition"]
    page = technician.get(f"/api/v1/jobs/{job.pk}").json()
    assert page["located"]["finding"]["designators"] == ["U18"]
    # nothing is lifted before the mark is confirmed
    assert page["next"]["do"] == "Confirm the mark on U18"
    assert page["next"]["why"]


def test_which_runs_are_after_rework_follows_from_the_acts_and_is_typed_by_nobody(drop, technician, job):
    """A clean run after a reball is a cure, not a fault that comes and goes; a refusal is answered by the next run."""
    address = f"/api/v1/jobs/{job.pk}"

    def compared():
        return {
            entry["designator"]: entry["verdict"] for entry in technician.get(address).json()["located"]["compared"]
        }

    drop(COLD)
    body = {"id": str(uuid4()), "do": "reball", "site": "U18", "balls": "stencil"}
    acts = technician.post(f"{address}/rework", body).json()["events"]
    assert drop("clean.csv", b"# result: pass\nchannel\n", condition="cold").status_code == 201
    assert compared() == {"U18": "gone-after-rework"}
    told = technician.get(f"{address}/case").json()
    assert any("Cured so far" in warning for warning in told["warnings"])
    technician.post(f"/api/v1/acts/{acts[-1]['id']}/withdrawal", {"reason": "It was another card."})
    assert compared() == {"U18": "comes-and-goes"}, "without the act between them the runs are of one card"
    technician.post(f"{address}/rework", {**body, "id": str(uuid4())})
    assert drop("again.csv", (SAMPLES / COLD).read_bytes(), another="true").status_code == 201
    assert compared() == {"U18": "stays"}, "another reball, and the same fault since"


def test_the_same_entry_sent_twice_counts_once(drop):
    entry = str(uuid4())
    first, second = drop(COLD, id=entry), drop(COLD, id=entry)
    assert (first.status_code, second.status_code) == (201, 200)
    assert first.json() == second.json()
    assert MemoryRun.objects.count() == 1


def test_an_entry_id_is_not_taken_for_another_report(drop):
    entry = str(uuid4())
    drop(COLD, id=entry)
    answer = drop("teal-8-warm.csv", id=entry)
    assert (answer.status_code, answer.json()["code"]) == (409, "id-used")


def test_the_same_file_twice_is_asked_about_and_stored_once(drop, tmp_path):
    drop(COLD)
    asked = drop(COLD)
    assert (asked.status_code, asked.json()["code"], asked.json()["number"]) == (409, "same-file", 1)
    assert MemoryRun.objects.count() == 1
    another = drop(COLD, another="true")
    assert another.status_code == 201
    assert another.json()["number"] == 2
    assert ReportFile.objects.count() == 1
    assert len(stored_files(tmp_path)) == 1


def test_another_boards_report_is_asked_about_never_refused(drop):
    asked = drop("garganey-8-tally.csv", b"# board: garganey-8\nchannel,errors\nA0,3\n")
    assert (asked.status_code, asked.json()["code"], asked.json()["named"]) == (409, "other-board", "garganey-8")
    assert MemoryRun.objects.count() == 0
    assert drop("x.csv", b"# board: garganey-8\nchannel,errors\nA0,3\n", board_confirmed="true").status_code == 201


@pytest.mark.parametrize(
    ("name", "data", "says"),
    [
        ("empty.csv", b"", "empty file"),
        ("noise.bin", bytes(range(256)) * 40, "NUL"),
        ("wide.csv", "channel\nA0\n".encode("utf-16"), "UTF-16"),
        ("letter.txt", b"Dear customer,\nyour card is here.\n", "expected a header"),
        ("half.jsonl", b'{"format": "uvrix-report"}\n', "uvrix-report"),
    ],
)
def test_a_refused_report_leaves_nothing_behind(drop, tmp_path, name, data, says):
    answer = drop(name, data)
    problem = answer.json()
    text_of_others = name in ("letter.txt", "half.jsonl")
    assert (answer.status_code, problem["code"]) == (422, "no-reader" if text_of_others else "refused-file")
    assert answer["Content-Type"] == "application/problem+json"
    assert problem["detail"].startswith(f"{name}:")
    assert says in problem["detail"]
    assert (MemoryRun.objects.count(), ReportFile.objects.count(), stored_files(tmp_path)) == (0, 0, [])


def test_a_report_over_the_limit_is_refused_with_both_sizes(drop, settings):
    settings.LARGEST_REPORT_BYTES = 100
    answer = drop(COLD)
    assert (answer.status_code, answer.json()["code"]) == (413, "too-large")


def test_the_typed_condition_stands_above_the_reports_own(drop):
    assert drop(COLD, condition="warm, flexed up").json()["condition"] == ["warm", "flexed up"]


def test_a_withdrawn_run_stays_in_the_record_and_does_not_count(drop, technician, job):
    run = drop(COLD).json()
    taken = technician.post(f"/api/v1/runs/{run['id']}/withdrawal", {"reason": "another card"})
    assert (taken.status_code, taken.json()["withdrawn"]) == (201, True)
    assert technician.post(f"/api/v1/runs/{run['id']}/withdrawal", {}).status_code == 201
    assert technician.get(f"/api/v1/jobs/{job.pk}").json()["located"] is None
    assert len(technician.get(f"/api/v1/jobs/{job.pk}/runs").json()) == 1
    assert technician.get(f"/api/v1/jobs/{job.pk}/finding").status_code == 404
    assert drop(COLD).status_code == 201


def test_runs_together_and_chosen(drop, technician, job):
    cold, warm = drop(COLD).json(), drop("teal-8-warm.csv").json()
    together = technician.get(f"/api/v1/jobs/{job.pk}/finding").json()
    alone = technician.get(f"/api/v1/jobs/{job.pk}/finding?run={warm['id']}").json()
    total = [sum(site["errors"] for site in found["sites"]) for found in (together, alone, cold["located"])]
    assert total[0] == total[1] + total[2]
    assert technician.get(f"/api/v1/jobs/{job.pk}/finding?run=none").status_code == 400


def test_a_new_edition_of_the_board_reads_old_runs_again(drop, technician, job, people, teal):
    drop(COLD)
    text = teal.text.replace('"order": ["C0", "B1", "D1", "D0", "A1"', '"order": ["A1", "B1", "D1", "D0", "C0"')
    assert text != teal.text
    import_board(text.encode(), "teal-8.board.json", people["lead"])
    found = technician.get(f"/api/v1/jobs/{job.pk}/finding").json()
    assert found["finding"]["designators"] == ["U14"]


def test_the_stored_name_is_never_a_path(drop):
    answer = drop(COLD, (SAMPLES / COLD).read_bytes())
    assert answer.status_code == 201
    run = MemoryRun.objects.get()
    assert default_storage.exists(run.file.stored_as)
    assert "/" not in run.file_name


def test_a_form_without_a_file_says_what_is_missing(technician, job):
    answer = technician.post(f"/api/v1/jobs/{job.pk}/runs", {"id": "x"}, format="multipart")
    assert answer.status_code == 400
    assert set(answer.json()["errors"]) == {"id", "file"}


def test_queries_do_not_grow_with_runs(drop, technician, job, django_assert_max_num_queries):
    for _ in range(4):
        drop(COLD, another="true")
    with django_assert_max_num_queries(8):
        technician.get(f"/api/v1/jobs/{job.pk}/runs")


def test_file_names_are_kept_short(technician, job):
    body = {"id": str(uuid4()), "file": SimpleUploadedFile("n" * 250 + ".csv", b"channel\nA0\n")}
    answer = technician.post(f"/api/v1/jobs/{job.pk}/runs", body, format="multipart")
    assert answer.status_code == 201
    assert len(answer.json()["file_name"]) <= 200
