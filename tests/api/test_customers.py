"""Whose card it is: two of one name are two, parallel entries make one, the lead merges and splits."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from uuid import uuid4

import pytest
from django.db import connection

from uvrix.shop.config.roles import Role
from uvrix.shop.jobs.customers import customer_for
from uvrix.shop.jobs.models import Customer, Job, JobCustomer
from uvrix.shop.offers.services import make_link


def opens(client, serial, contact="", **more):
    body = {"entry": str(uuid4()), "serial": serial, "board_model": "teal-8", "complaint": "Dead.", "contact": contact}
    return client.post("/api/v1/jobs", {**body, "customer": "Ansel Roe", **more})


@pytest.fixture
def lead(as_role):
    return as_role("lead")


@pytest.fixture
def desk(as_role):
    return as_role("front-desk")


def test_a_second_person_of_that_name_is_asked_about(desk, teal):
    assert opens(desk, "CU8-1", "ansel@mill.test").status_code == 201
    asked = opens(desk, "CU8-2", "roe@quay.test")
    assert (asked.status_code, asked.json()["code"]) == (409, "which-customer")
    assert (
        "Which Ansel Roe is it? Found 1 of that name, none of them reached at roe@quay.test." in asked.json()["detail"]
    )
    (offered,) = asked.json()["customers"]
    assert (offered["contact"], offered["jobs"]) == ("ansel@mill.test", 1)
    assert not Job.objects.filter(card__serial="CU8-2").exists()
    # another person
    assert opens(desk, "CU8-2", "roe@quay.test", another_customer=True).status_code == 201
    assert Customer.objects.count() == 2
    # the same one, who says no contact or another this time
    assert opens(desk, "CU8-3", "", customer_id=offered["id"]).status_code == 201
    assert Job.objects.get(card__serial="CU8-3").customer_id == offered["id"]
    # name and contact say who it is, whatever their case
    assert opens(desk, "CU8-4", " Roe@Quay.test ", customer="ansel roe").status_code == 201
    assert Customer.objects.count() == 2


def test_what_was_asked_is_answered_under_the_same_entry(desk, teal):
    opens(desk, "CU8-1", "ansel@mill.test")
    entry = str(uuid4())
    assert opens(desk, "CU8-2", "roe@quay.test", entry=entry).status_code == 409
    assert opens(desk, "CU8-2", "roe@quay.test", entry=entry, another_customer=True).status_code == 201


def test_who_is_chosen_bears_the_name(desk, teal):
    opens(desk, "CU8-1")
    chosen = Customer.objects.get().pk
    refused = opens(desk, "CU8-2", customer="Una Brack", customer_id=chosen)
    assert (refused.status_code, refused.json()["code"]) == (422, "no-customer")
    assert opens(desk, "CU8-2", customer_id=2**40).json()["code"] == "no-customer"


def test_a_job_goes_to_another_customer_and_the_former_ones_links_end(desk, lead, people, teal):
    opens(desk, "CU8-1", "ansel@mill.test")
    job = Job.objects.get()
    make_link(job, uuid4(), people[Role.FRONT_DESK])
    body = {"id": str(uuid4()), "customer": "Ansel Roe", "contact": "roe@quay.test"}
    address = f"/api/v1/jobs/{job.pk}/customer"
    assert lead.post(address, body).json()["code"] == "which-customer"
    given = lead.post(address, {**body, "another_customer": True})
    assert given.status_code == 201
    assert lead.post(address, {**body, "another_customer": True}).status_code == 200
    job.refresh_from_db()
    assert job.customer.contact == "roe@quay.test"
    assert not job.customerlink_rows.filter(ended_at=None).exists()
    assert JobCustomer.objects.get().before.contact == "ansel@mill.test"
    assert lead.post(address, {**body, "id": str(uuid4())}).json()["code"] == "same-customer"


def test_two_that_are_one_become_one_and_may_be_split_again(desk, lead, teal):
    opens(desk, "CU8-1", "ansel@mill.test")
    opens(desk, "CU8-2", "roe@quay.test", another_customer=True)
    first, second = Customer.objects.order_by("pk")
    listed = desk.get("/api/v1/customers", {"search": "roe"}).json()
    assert [(row["contact"], row["jobs"]) for row in listed] == [("ansel@mill.test", 1), ("roe@quay.test", 1)]
    merged = lead.post(f"/api/v1/customers/{second.pk}/merge", {"id": str(uuid4()), "into": first.pk})
    assert merged.json()["jobs"] == 2
    assert lead.post(f"/api/v1/customers/{first.pk}/merge", {"id": str(uuid4()), "into": first.pk}).status_code == 422
    job = Job.objects.get(card__serial="CU8-2")
    body = {"id": str(uuid4()), "customer": "Ansel Roe", "contact": "roe@quay.test"}
    assert lead.post(f"/api/v1/jobs/{job.pk}/customer", body).status_code == 201
    assert [customer.jobs.count() for customer in (first, second)] == [1, 1]


@pytest.mark.django_db(transaction=True)
def test_parallel_entries_make_one_customer():
    def made(_):
        try:
            return customer_for("Ansel Roe", "ansel@mill.test", None, another=False).pk
        finally:
            connection.close()

    with ThreadPoolExecutor(6) as pool:
        assert len(set(pool.map(made, range(6)))) == 1
    assert Customer.objects.count() == 1
