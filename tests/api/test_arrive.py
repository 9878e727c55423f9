"""Arrive: symptom, elimination matrix, reproductions, label."""

from __future__ import annotations

from uuid import uuid4

import numpy as np
import pypdfium2
import pytest

from tests.api.conftest import PNG
from uvrix.shop.arrive.models import EvidenceWord, Symptom, Trial
from uvrix.shop.jobs.services import NewJob, open_job


@pytest.fixture
def arrived(technician, job):
    return lambda: technician.get(f"/api/v1/jobs/{job.pk}/arrive").json()


@pytest.fixture
def trial(technician, job):
    def send(cell, *, shows, **more):
        body = {"id": str(uuid4()), "cell": cell, "shows": shows, **more}
        return technician.post(f"/api/v1/jobs/{job.pk}/trials", body)

    return send


def cell(found, name):
    return next(entry for entry in found["cells"] if entry["id"] == name)


def chance(found, thing):
    return next(entry["chance"] for entry in found["chances"] if entry["thing"] == thing)


def test_each_cell_says_what_it_rules_out_and_a_test_taken_back_counts_no_more(trial, arrived, technician):
    before = arrived()
    assert len(before["cells"]) == 16
    assert before["next"]
    answer = trial("computer+lead", shows=True)
    assert answer.status_code == 201
    found = answer.json()
    assert set(cell(found, "computer+lead")["rules_out"]) == {"computer", "lead"}
    assert chance(found, "card") > chance(before, "card")
    assert sum(item["chance"] for item in found["chances"]) == pytest.approx(1, abs=0.01)
    entry = cell(found, "computer+lead")["trials"][0]["id"]
    assert technician.post(f"/api/v1/trials/{entry}/withdrawal").json() == before
    assert Trial.objects.count() == 1, "it stays in the record"


def test_the_card_is_convicted_where_a_good_one_does_well(trial):
    trial("own", shows=True)
    found = trial("card", shows=False).json()
    assert found["chances"][0]["thing"] == "card"
    assert found["chances"][0]["chance"] > 0.8


def test_how_often_it_shows_changes_what_a_test_says(trial, technician, job, arrived):
    found = trial("card", shows=False).json()
    assert cell(found, "card")["rules_out"]
    said = {"id": str(uuid4()), "often": "rarely", "seen": "Once a day.", "conditions": ["warm"]}
    rare = technician.post(f"/api/v1/jobs/{job.pk}/symptom", said).json()
    assert cell(rare, "card")["rules_out"] == []
    assert rare["tries"] > found["tries"]
    assert (rare["symptom"]["seen"], rare["symptom"]["conditions"]) == ("Once a day.", ["warm"])
    technician.post(f"/api/v1/jobs/{job.pk}/symptom", {**said, "id": str(uuid4()), "often": "always"})
    assert arrived()["symptom"]["often"] == "always"
    assert Symptom.objects.count() == 2, "what was said before stays in the record"


@pytest.mark.parametrize("wrong", [{"cell": "screen"}, {"tries": 0}, {"tries": 5000}, {"shows": "perhaps"}])
def test_a_trial_that_does_not_fit_is_refused(trial, wrong):
    assert trial(**{"cell": "card", "shows": True, **wrong}).status_code == 400
    assert Trial.objects.count() == 0


def test_the_same_entry_twice_is_one(trial, technician, job):
    entry = str(uuid4())
    assert [trial("card", shows=True, id=entry).status_code for _ in range(2)] == [201, 200]
    body = {"id": str(uuid4()), "load": "a scene", "minutes": 12.5, "outcome": "hangs"}
    address = f"/api/v1/jobs/{job.pk}/reproductions"
    assert [technician.post(address, body).status_code for _ in range(2)] == [201, 200]
    shown = technician.get(f"/api/v1/jobs/{job.pk}/arrive").json()["reproductions"]
    assert [(row["load"], row["minutes"], row["outcome"]) for row in shown] == [("a scene", 12.5, "hangs")]


def modules(page):
    """The label's code as a square of modules, dark is true, read off the printed page."""
    picture = np.asarray(page.render(scale=8).to_pil().convert("L")) < 128
    half = picture[:, picture.shape[1] // 2 :]
    rows, columns = np.nonzero(half)
    return half[rows.min() : rows.max() + 1, columns.min() : columns.max() + 1]


def test_the_label_has_the_jobs_size_words_and_a_code_that_opens_it(technician, job):
    import segno

    answer = technician.get(f"/api/v1/jobs/{job.pk}/label")
    assert answer["Content-Type"] == "application/pdf"
    pages = pypdfium2.PdfDocument(answer.content)
    assert len(pages) == 1
    page = pages[0]
    assert page.get_width() * 25.4 / 72 == pytest.approx(62, abs=0.1)
    assert page.get_height() * 25.4 / 72 == pytest.approx(29, abs=0.1)
    text = "".join(page.get_textpage().get_text_bounded().split())
    assert f"J-{job.pk:04}" in text
    assert "TL8-1" in text
    # the printed code, module by module, is the one of the job's number between the scanner's signs
    wanted = np.array(
        [[bool(module) for module in row] for row in segno.make(f"|J-{job.pk:04}|", error="m", micro=False).matrix]
    )
    printed = modules(page)
    size = wanted.shape[0]
    step = printed.shape[0] / size
    read = [
        [printed[int((row + 0.5) * step), int((column + 0.5) * step)] for column in range(size)] for row in range(size)
    ]
    assert (np.array(read) == wanted).mean() > 0.99


@pytest.fixture
def take_in(technician, job):
    def send(**more):
        body = {"id": str(uuid4()), "serial": "tl8-1", **more}
        return technician.post(f"/api/v1/jobs/{job.pk}/intake", body)

    return send


def test_the_card_in_hand_is_checked_against_the_ticket(take_in, arrived):
    wrong = take_in(serial="TL8-7")
    assert (wrong.status_code, wrong.json()["code"]) == (422, "other-card")
    assert (wrong.json()["expected"], wrong.json()["found"]) == ("TL8-1", "TL8-7")
    assert arrived()["intake"] is None
    kept = take_in(provenance="broken", seals="broken", came_with="card, lead", missing="one screw", bare=True)
    assert kept.status_code == 201
    shown = arrived()["intake"]
    assert (shown["provenance"], shown["seals"], shown["missing"], shown["bare"]) == (
        "broken",
        "broken",
        "one screw",
        True,
    )
    take_in(missing="")
    assert arrived()["intake"]["missing"] == ""
    assert take_in(provenance="stolen").status_code == 400


def test_evidence_is_unproven_until_the_shop_has_seen_it(technician, job, arrived, upload):
    address = f"/api/v1/jobs/{job.pk}/evidence"
    entry = {"id": str(uuid4()), "kind": "diagnosis", "source": "another workshop", "text": "Core is dead."}
    assert [technician.post(address, entry).status_code for _ in range(2)] == [201, 200]
    picture = upload("pictures", "listing.png", PNG).json()["sha256"]
    shown = {"id": str(uuid4()), "kind": "listing", "source": "the customer", "picture": picture}
    assert technician.post(address, shown).status_code == 201
    nothing = technician.post(address, {"id": str(uuid4()), "kind": "log", "source": "the customer"})
    assert (nothing.status_code, nothing.json()["code"]) == (422, "says-nothing")
    assert [item["word"] for item in arrived()["evidence"]] == ["unproven", "unproven"]
    for word in ("proven", "refuted"):
        assert technician.post(f"/api/v1/evidence/{entry['id']}/words", {"word": word}).status_code == 201
    assert [item["word"] for item in arrived()["evidence"]] == ["refuted", "unproven"]
    assert EvidenceWord.objects.count() == 2, "what was said before stays in the record"


def test_a_returning_card_shows_its_past(technician, job, people, drop, arrived):
    drop("teal-8-cold.csv")
    body = {"id": str(uuid4()), "do": "reball", "outcome": "yes", "minutes": 40}
    assert technician.post(f"/api/v1/jobs/{job.pk}/attempts", body).status_code == 201
    seen = {"id": str(uuid4()), "kind": "burn", "side": "front", "x_mm": 20, "y_mm": 30}
    technician.post(f"/api/v1/jobs/{job.pk}/look/findings", seen)
    assert arrived()["past"] == []
    job.refresh_from_db()
    job.closed_at = job.opened_at
    job.save()
    again, _ = open_job(NewJob(uuid4(), "TL8-1", "teal-8", "Ansel Roe", "Snow again."), people["lead"])
    past = technician.get(f"/api/v1/jobs/{again.pk}/arrive").json()["past"]
    assert [(entry["label"], entry["complaint"]) for entry in past] == [(job.label, "No picture.")]
    assert past[0]["done"] == ["Burn mark: output 4", "reball U18 by Technician: it is cured"]


def test_arrive_is_read_in_a_fixed_number_of_queries(technician, job, trial, people, django_assert_max_num_queries):
    job.closed_at = job.opened_at
    job.save()
    for _ in range(3):
        again, _ = open_job(NewJob(uuid4(), "TL8-1", "teal-8", "Ansel Roe", "Again."), people["lead"])
        for number in range(4):
            body = {"id": str(uuid4()), "cell": "card", "shows": bool(number % 2)}
            technician.post(f"/api/v1/jobs/{again.pk}/trials", body)
        again.closed_at = again.opened_at
        again.save()
    with django_assert_max_num_queries(18):
        assert len(technician.get(f"/api/v1/jobs/{again.pk}/arrive").json()["past"]) == 3


def test_a_file_is_evidence_as_it_came_and_only_ever_a_download(technician, job, upload):
    page = b"<script>alert(1)</script>"
    kept = upload("evidence-files", "log.html", page).json()
    said = {
        "id": str(uuid4()),
        "kind": "log",
        "source": "the customer",
        "file": kept["sha256"],
        "file_name": "log.html",
    }
    [one] = technician.post(f"/api/v1/jobs/{job.pk}/evidence", said).json()["evidence"]
    assert one["file_name"] == "log.html"
    answer = technician.get(f"/api/v1/evidence/{said['id']}/file")
    assert b"".join(answer) == page
    assert answer["Content-Disposition"] == 'attachment; filename="log.html"'
    assert answer["Content-Type"] == "application/octet-stream"
    nothing = {"id": str(uuid4()), "kind": "log", "source": "the customer"}
    assert technician.post(f"/api/v1/jobs/{job.pk}/evidence", nothing).json()["code"] == "says-nothing"


def test_a_new_card_with_whole_seals_is_asked_about_before_anything_is_opened(technician, job, arrived):
    def take_in(**more):
        body = {"id": str(uuid4()), "serial": "TL8-1", "provenance": "new", "seals": "whole", **more}
        assert technician.post(f"/api/v1/jobs/{job.pk}/intake", body).status_code == 201
        step = technician.get(f"/api/v1/jobs/{job.pk}").json()["mind"]["next"][0]
        return step["do"], step["target"]

    assert {warranty["word"] for warranty in arrived()["warranties"]} == {"", "over", "here", "valid"}
    assert take_in() == ("ask", "the seller's or maker's warranty")
    assert take_in(warranty="valid") == ("return", "no-fix")
    assert take_in(warranty="here")[0] == "symptom"
    assert take_in(warranty="", seals="broken")[0] == "symptom"
    assert take_in(warranty="", provenance="used")[0] == "symptom"
