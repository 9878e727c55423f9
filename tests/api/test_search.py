"""Search that forgives typing errors, the shelf filtered, filters kept, labels in one go."""

from __future__ import annotations

import io
from uuid import uuid4

import pypdfium2
import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from uvrix.shop.config.roles import Role
from uvrix.shop.jobs.models import Job, SpelledWord
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.library.services import name_unknown_board


@pytest.fixture
def shop(people, teal):
    """Some jobs, by customer."""

    def make(serial, customer, complaint, **more):
        return open_job(NewJob(uuid4(), serial, "teal-8", customer, complaint, **more), people[Role.FRONT_DESK])[0]

    return {
        "roe": make("TL8-55871", "Ansel Roe", "Green squares in every game."),
        "quill": make("TL8-20018", "Petra Quill", "Black screen.", express=True),
        "marsh": make("WG4-90310", "Isolde Marsh", "Runs an hour, then it hangs."),
    }


@pytest.fixture
def find(technician):
    return lambda text: [entry["number"] for entry in technician.get("/api/v1/jobs", {"search": text}).json()]


@pytest.mark.parametrize(
    ("text", "whose"),
    [
        ("TL8-55871", "roe"), ("tl8-5587", "roe"), ("TL8-55817", "roe"), ("TL8 55871", "roe"),
        ("Quil", "quill"), ("Petra Qiull", "quill"), ("isolde marhs", "marsh"), ("gren squares", "roe"),
    ],
)  # fmt: skip
def test_what_is_meant_is_found_first_whatever_the_fingers_did(shop, find, text, whose):
    assert find(text)[0] == shop[whose].pk


def test_a_number_means_that_job_alone_and_nonsense_nothing(shop, find):
    assert find(shop["quill"].label) == [shop["quill"].pk]
    assert find("zzzzzz") == []
    assert find("\0") == []


def test_notes_and_designators_are_found(shop, find, technician):
    job = shop["roe"]
    note = {"id": str(uuid4()), "text": "Bubbled resin at the far corner."}
    technician.post(f"/api/v1/jobs/{job.pk}/timeline", note)
    assert find("bubbled resin") == [job.pk]
    part = {"id": str(uuid4()), "kind": "missing-part", "side": "front", "x_mm": 206.8, "y_mm": 83.0}
    found = technician.post(f"/api/v1/jobs/{job.pk}/look/findings", part).json()["findings"][0]["part"]
    assert find(found.lower()) == [job.pk]


def test_the_shelf_shows_what_is_asked(shop, technician):
    def shown(**query):
        groups = technician.get("/api/v1/shelf", query).json()["groups"]
        return [job["number"] for group in groups for job in group["jobs"]]

    assert len(shown()) == 3
    assert shown(text="marsh") == [shop["marsh"].pk]
    assert shown(text="marhs") == [shop["marsh"].pk]
    assert shown(express="true") == [shop["quill"].pk]
    assert shown(move="part") == []
    assert shown(board_model="none") == []


@pytest.fixture
def undrawn(people):
    """A job whose board nobody has drawn."""
    model = name_unknown_board("Avocet 8")
    return open_job(NewJob(uuid4(), "AV8-1", model.slug, "Ansel Roe", "Dead."), people[Role.LEAD])[0]


def test_each_board_is_sent_once_for_all_jobs_that_are_drawn_on_it(shop, technician, undrawn):
    found = technician.get("/api/v1/shelf").json()
    jobs = {job["number"]: job for group in found["groups"] for job in group["jobs"]}
    assert [group["move"] for group in found["groups"]] == ["hands", "customer", "part", "courier"]
    assert set(found["drawings"]) == {"teal-8"}
    assert len(found["drawings"]["teal-8"]["sites"]) == 8
    assert {jobs[job.pk]["drawing"] for job in shop.values()} == {"teal-8"}
    assert jobs[undrawn.pk]["drawing"] == ""
    assert (jobs[undrawn.pk]["suspects"], jobs[undrawn.pk]["marked"]) == ([], None)


def test_the_shelf_shows_every_open_job_that_fits_however_many(shop, technician, people):
    """Closed cards of the same customer and more than a page of open ones hide none."""
    for number in range(70):
        job = open_job(NewJob(uuid4(), f"OLD-{number}", "teal-8", "Wick & Daughter", "Dead."), people[Role.LEAD])[0]
        if number < 40:
            Job.objects.filter(pk=job.pk).update(closed_at=timezone.now())
    groups = technician.get("/api/v1/shelf", {"text": "wick"}).json()["groups"]
    assert sum(len(group["jobs"]) for group in groups) == 30
    groups = technician.get("/api/v1/shelf", {"text": "OLD-"}).json()["groups"]
    assert sum(len(group["jobs"]) for group in groups) == 30


def test_a_filter_is_kept_under_its_name_by_its_person(technician, as_role):
    body = {"id": str(uuid4()), "name": "Express", "text": "", "express": True}
    assert [entry["name"] for entry in technician.post("/api/v1/filters", body).json()] == ["Express"]
    again = {**body, "id": str(uuid4()), "text": "teal"}
    assert [entry["text"] for entry in technician.post("/api/v1/filters", again).json()] == ["teal"]
    assert as_role("lead").get("/api/v1/filters").json() == []
    as_role("lead").delete(f"/api/v1/filters/{again['id']}")
    assert len(technician.get("/api/v1/filters").json()) == 1
    technician.delete(f"/api/v1/filters/{again['id']}")
    assert technician.get("/api/v1/filters").json() == []


def test_labels_of_several_jobs_are_one_document(shop, technician):
    numbers = ",".join(str(job.pk) for job in shop.values())
    pages = pypdfium2.PdfDocument(io.BytesIO(technician.get("/api/v1/labels", {"jobs": numbers}).content))
    texts = [page.get_textpage().get_text_range().replace(" ", "") for page in pages]
    assert len(texts) == 3
    assert all(job.label in text for job, text in zip(shop.values(), texts, strict=True))
    assert technician.get("/api/v1/labels", {"jobs": "x"}).status_code == 422


def test_shelf_and_job_take_as_many_queries_however_many_jobs_there_are(shop, technician, people, teal):
    def queries(address):
        technician.get(address)
        with CaptureQueriesContext(connection) as taken:
            technician.get(address)
        return len(taken)

    job = shop["roe"]
    before = [queries("/api/v1/shelf"), queries(f"/api/v1/jobs/{job.pk}")]
    for number in range(12):
        open_job(NewJob(uuid4(), f"TL8-3{number:04d}", "teal-8", f"Customer {number}", "Dead."), people[Role.LEAD])
    for region in ("front-1-1", "front-1-2"):
        technician.post(f"/api/v1/jobs/{job.pk}/look/regions", {"id": str(uuid4()), "region": region, "clear": True})
    assert [queries("/api/v1/shelf"), queries(f"/api/v1/jobs/{job.pk}")] == before
    assert before[1] <= 6


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("bubled rezin", ["roe"]),  # a note
        ("hangs runns", ["marsh"]),  # both words, in whatever order
        ("quill hagns", ["quill"]),  # no one place holds both: whose words are like enough
        ("gren zzzzzz", ["roe"]),  # nobody here ever wrote anything like the second word
        ("TL8-2O018", ["quill"]),
    ],
)
def test_words_spelled_nearly_so_are_looked_for_where_words_stand(shop, find, technician, text, found):
    note = {"id": str(uuid4()), "text": "Bubbled resin at the far corner."}
    technician.post(f"/api/v1/jobs/{shop['roe'].pk}/timeline", note)
    jobs = find(text)
    assert set(jobs) >= {shop[name].pk for name in found}
    assert jobs[0] == shop[found[0]].pk


def test_the_database_learns_each_word_once_however_it_is_written(shop):
    known = SpelledWord.objects.filter(word__in=("green", "squares", "quill", "ansel"))
    words = list(known.values_list("word", flat=True))
    assert sorted(words) == ["ansel", "green", "quill", "squares"]
    Job.objects.filter(pk=shop["roe"].pk).update(complaint="GREEN stripes since Tuesday; ok at 1.5 V")
    assert SpelledWord.objects.filter(word="green").count() == 1
    learned = SpelledWord.objects.filter(word__in=("stripes", "tuesday", "ok", "v"))
    assert set(learned.values_list("word", flat=True)) == {"stripes", "tuesday"}
