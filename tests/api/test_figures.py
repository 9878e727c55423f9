"""Figures over the API against a slow recount of the demo shop; learning from proven cards, and back."""

from __future__ import annotations

import csv
import io
from uuid import uuid4

import pytest

from tests.api.test_proving import let_go, photograph_both, say, short_protocol
from tests.api.test_rework import do, lift
from uvrix.shop.figures.queries import cases
from uvrix.shop.hypotheses.models import HypothesisWord
from uvrix.shop.jobs.models import Job
from uvrix.shop.ohms.models import KnownReading


@pytest.fixture
def lead(as_role):
    return as_role("lead")


@pytest.fixture
def desk(as_role):
    return as_role("front-desk")


@pytest.fixture
def client(demo):
    from rest_framework.test import APIClient

    from uvrix.shop.accounts.models import User

    browser = APIClient()
    browser.force_login(User.objects.get(username="mirren"), backend="django.contrib.auth.backends.ModelBackend")
    return browser


def test_figures_of_the_demo_shop_agree_with_a_recount(client):
    by_cause = client.get("/api/v1/figures", {"by": "cause"}).json()
    customers = [job for job in Job.objects.all() if job.customer.name != "The shop itself"]
    assert by_cause["cases"] == len(customers)
    for row in by_cause["rows"]:
        slow = set()
        for job in customers:
            last = HypothesisWord.objects.filter(job=job, cause=row["name"]).order_by("-at").first()
            if last and last.state == "confirmed":
                slow.add(job.pk)
        assert set(row["jobs"]) == slow
        assert (row["seen"]["hits"], row["seen"]["of"]) == (len(slow), len(customers))
    joint = next(row for row in by_cause["rows"] if row["name"] == "Joint of a memory chip")
    assert joint["seen"]["few"] is False
    assert joint["seen"]["low"] < len(joint["jobs"]) / len(customers) < joint["seen"]["high"]
    ended = [job for job in customers if job.pk in joint["jobs"] and job.closed_at]
    assert (joint["repaired"]["hits"], joint["repaired"]["of"]) == (len(ended), len(ended))
    by_model = client.get("/api/v1/figures", {"by": "model", "cause": "Joint of a memory chip"}).json()
    assert sum(len(row["jobs"]) for row in by_model["rows"]) == len(joint["jobs"])
    none = client.get("/api/v1/figures", {"by": "model", "since": "2099-01-01"}).json()
    assert (none["cases"], none["rows"]) == (0, [])
    assert client.get("/api/v1/figures", {"by": "colour"}).json()["code"] == "no-by"
    assert client.get("/api/v1/figures", {"by": "model", "since": "soon"}).json()["code"] == "no-date"
    sheet = client.get("/api/v1/figures.csv", {"by": "cause"})
    table = list(csv.DictReader(io.StringIO(sheet.content.decode())))
    assert [row["name"] for row in table] == [row["name"] for row in by_cause["rows"]]
    assert table[0]["jobs"] == str(len(by_cause["rows"][0]["jobs"]))


def test_queries_do_not_grow_with_jobs(client, django_assert_max_num_queries):
    with django_assert_max_num_queries(19):
        cases()


@pytest.fixture
def proven(technician, lead, desk, upload, job):
    """A card that left repaired, read cold after its last rework."""
    short_protocol(lead)
    technician.post(f"/api/v1/jobs/{job.pk}/power", {"id": str(uuid4()), "state": "off"})
    entry = {"point": "L9", "quantity": "resistance", "mode": "ohms"}
    early = {"id": str(uuid4()), "value": "50", **entry}
    technician.post(f"/api/v1/jobs/{job.pk}/readings", early)
    lift(technician, job, "U14")
    do(technician, job, do="place", site="U14", chip_in=f"{job.card.serial}/U14")
    for point, value in (("L9", "120"), ("C41", "900")):
        reading = {"id": str(uuid4()), **entry, "point": point, "value": value, "sure": True}
        assert technician.post(f"/api/v1/jobs/{job.pk}/readings", reading).status_code == 201
    say(technician, job, "outputs")
    photograph_both(technician, upload, job)
    return job


def test_readings_of_a_proven_card_join_the_library_by_consent_and_leave_it_again(technician, desk, proven):
    address = f"/api/v1/jobs/{proven.pk}/learning"
    assert technician.post(address).json()["code"] == "not-proven"
    assert let_go(desk, proven).status_code == 201
    assert desk.post(address).status_code == 403
    before = technician.get("/api/v1/learning").json()
    assert [(entry["number"], entry["counts"], entry["readings"]) for entry in before] == [(proven.pk, False, 2)]
    after = technician.post(address).json()
    assert [(entry["counts"], entry["by"]) for entry in after] == [(True, "Technician")]
    rows = KnownReading.objects.filter(source=f"{proven.label}, proven", out_at=None)
    # what was read before the repair does not join
    assert sorted(row.low or 0.0 for row in rows) == [120, 900]
    assert technician.post(address).status_code == 200
    assert rows.all().count() == 2
    figures = technician.get("/api/v1/board-models/teal-8/known-good/figures").json()
    assert len(figures) == 2
    assert technician.delete(address).json()[0]["counts"] is False
    assert rows.all().count() == 0
    assert technician.get("/api/v1/board-models/teal-8/known-good/figures").json() == []
    # and in again: as new rows, the record keeps the old ones
    technician.post(address)
    assert rows.all().count() == 2
    assert KnownReading.objects.filter(source=f"{proven.label}, proven").count() == 4
