"""Arrive: symptom, elimination matrix, reproductions, label."""

from __future__ import annotations

from uuid import uuid4

import numpy as np
import pypdfium2
import pytest

from uvrix.shop.arrive.models import Symptom, Trial


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
    return next(one for one in found["cells"] if one["id"] == name)


def chance(found, thing):
    return next(one["chance"] for one in found["chances"] if one["thing"] == thing)


def test_each_cell_says_what_it_rules_out_and_a_test_taken_back_counts_no_more(trial, arrived, technician):
    before = arrived()
    assert len(before["cells"]) == 16
    assert before["next"]
    answer = trial("computer+lead", shows=True)
    assert answer.status_code == 201
    found = answer.json()
    assert set(cell(found, "computer+lead")["rules_out"]) == {"computer", "lead"}
    assert chance(found, "card") > chance(before, "card")
    assert sum(one["chance"] for one in found["chances"]) == pytest.approx(1, abs=0.01)
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
    assert [(one["load"], one["minutes"], one["outcome"]) for one in shown] == [("a scene", 12.5, "hangs")]


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
