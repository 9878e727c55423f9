"""Once a card left, nothing is measured on it or done to it under the job with which it went."""

from __future__ import annotations

from uuid import uuid4

import pytest
from django.apps import apps
from django.utils import timezone

from uvrix.shop.bench.models import MemoryRun
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.roles import Role
from uvrix.shop.jobs.leaving import must_be_at_hand
from uvrix.shop.jobs.models import FIRST_PRACTICE, Job
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.stock.models import Donor

# Rows that say nothing of what is measured on the card or done to it, or that an answer to one begun before makes.
COMES_AFTER = {
    *("JobBoard", "JobChange", "JobCustomer", "Return", "Comeback", "FollowUp", "Donor", "ExpectedParcel"),
    *("Offer", "CustomerLink", "Message", "Evidence", "Note", "Task", "ClockSpan", "JobWorth", "JobTold", "Waiver"),
    *("HypothesisWord", "Promise", "JobPhotograph", "JobBlank", "Attempt", "PracticeJob"),
    *("ChipLot", "PartValue"),  # what a part is, known from papers or from another card
    *("PowerState", "StartCurve", "SupplyOutput", "FirstDraw"),  # refused by the services that switch on
    *("MemoryRun", "ChipMark"),  # refused by their services
}


def body(**fields):
    return {"id": str(uuid4()), **fields}


READING = {"point": "L9", "to": "ground", "quantity": "resistance", "value": "8k2"}
ENTRIES = [
    ("readings", READING),
    ("power", {"state": "supply", "plugs_in": True}),
    ("draws", {"volts": 12, "amps": 0.4}),
    ("rework", {"do": "reball", "site": "U15", "balls": "stencil"}),
    ("taken-off", {"part": "L9"}),
    ("marks", {"designator": "U15", "typed": "U15", "answer": "yes"}),
    ("look/findings", {"kind": "burn", "side": "front", "x_mm": 20, "y_mm": 20}),
    ("look/regions", {"region": "L9", "clear": True}),
    ("symptom", {"often": "always", "kinds": ["no-picture"]}),
    ("proof/figures", {"what": "score", "phase": "after", "value": 900}),
    ("rungs", {"rung": "listed"}),
]


@pytest.fixture
def gone(job):
    job.closed_at = timezone.now()
    job.save()
    return job


def test_each_kind_of_row_is_said_to_need_the_card_or_not():
    kinds = {
        model
        for model in apps.get_models()
        if model.__module__.startswith("uvrix.shop")
        and any(field.name == "job" and field.related_model is Job for field in model._meta.fields)
    }
    at_the_card = {kind.__name__ for kind in kinds if getattr(kind, "at_the_card", False)}
    assert sorted({kind.__name__ for kind in kinds} ^ (at_the_card | COMES_AFTER)) == []
    assert not at_the_card & COMES_AFTER


@pytest.mark.parametrize(("address", "fields"), ENTRIES, ids=[address for address, _ in ENTRIES])
def test_nothing_is_entered_on_a_card_that_left(technician, gone, address, fields):
    answer = technician.post(f"/api/v1/jobs/{gone.pk}/{address}", body(**fields))
    assert (answer.status_code, answer.json()["code"]) == (409, "left"), answer.content
    says = f"The card {gone.card.serial} left with {gone.label}. Is it back? Open a new job for it."
    assert answer.json()["detail"] == says
    assert technician.get(f"/api/v1/jobs/{gone.pk}").json()["left"]["here_as"] is None


def test_an_entry_that_was_kept_before_is_known_when_it_is_sent_again(technician, job, drop):
    technician.post(f"/api/v1/jobs/{job.pk}/power", body(state="off"))
    sent = body(**READING)
    assert technician.post(f"/api/v1/jobs/{job.pk}/readings", sent).status_code == 201
    run = str(uuid4())
    assert drop("teal-8-cold.csv", id=run).status_code == 201
    Job.objects.filter(pk=job.pk).update(closed_at=timezone.now())
    assert technician.post(f"/api/v1/jobs/{job.pk}/readings", sent).status_code == 200
    assert drop("teal-8-cold.csv", id=run).status_code == 200
    refused = drop("teal-8-cold.csv", another="true")
    assert (refused.status_code, refused.json()["code"]) == (409, "left")
    assert MemoryRun.objects.count() == 1


def test_a_card_that_is_back_is_entered_under_its_new_job(technician, gone, people):
    back, _ = open_job(NewJob(uuid4(), gone.card.serial, "teal-8", "Ansel Roe", "Again."), people[Role.FRONT_DESK])
    answer = technician.post(f"/api/v1/jobs/{gone.pk}/readings", body(**READING))
    assert answer.status_code == 409
    assert answer.json()["job"] == back.pk
    assert f"is here as {back.label}" in answer.json()["detail"]
    assert technician.get(f"/api/v1/jobs/{gone.pk}").json()["left"]["here_as"] == back.pk
    assert technician.get(f"/api/v1/jobs/{back.pk}").json()["left"] is None
    technician.post(f"/api/v1/jobs/{back.pk}/power", body(state="off"))
    assert technician.post(f"/api/v1/jobs/{back.pk}/readings", body(**READING)).status_code == 201


def test_a_donor_stays_at_hand_under_the_visit_that_it_came_with(technician, gone, people):
    Donor.objects.create(card=gone.card, job=gone, origin="left by its owner", by=people[Role.LEAD])
    assert technician.get(f"/api/v1/jobs/{gone.pk}").json()["left"] is None
    technician.post(f"/api/v1/jobs/{gone.pk}/power", body(state="off"))
    assert technician.post(f"/api/v1/jobs/{gone.pk}/readings", body(**READING)).status_code == 201


def test_what_concerns_no_card_is_entered_after_it_left(technician, gone):
    address = f"/api/v1/jobs/{gone.pk}"
    assert technician.post(f"{address}/timeline", body(text="The courier says it arrived.")).status_code == 201
    assert technician.post(f"{address}/tasks", body(words="Ask how it runs.")).status_code == 201
    assert technician.post(f"{address}/power", body(state="off")).status_code == 201, "never refused"


def test_no_output_goes_on_for_a_card_that_left(technician, gone):
    answer = technician.post(
        f"/api/v1/jobs/{gone.pk}/starts", {"curve": str(uuid4()), "supply": 1, "volts": 12, "limit_amps": 0.5}
    )
    assert (answer.status_code, answer.json()["code"]) == (409, "left")


def test_a_practice_card_that_is_finished_takes_nothing_more(gone):
    with pytest.raises(Problem, match="PR-0007 is finished"):
        must_be_at_hand(Job(pk=FIRST_PRACTICE + 7, card=gone.card, closed_at=timezone.now()))
