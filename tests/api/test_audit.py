"""Who did what and from where, for the lead: changes, refusals, data taken along; no question, no way in."""

from __future__ import annotations

from datetime import timedelta
from uuid import uuid4

import pytest
from django.db import DatabaseError
from django.utils import timezone

from tests.api.conftest import close_files
from uvrix.shop.accounts.audit import ASKS, LASTS, TAKEN_ALONG, forget_old
from uvrix.shop.accounts.models import AuditEntry
from uvrix.shop.config.urls import urlpatterns


def rows(client, **asked):
    return client.get("/api/v1/audit", asked).json()


def test_changes_are_kept_with_who_and_where_and_questions_are_not(technician, as_role, job):
    note = {"id": str(uuid4()), "text": "The fan rubs."}
    assert technician.post(f"/api/v1/jobs/{job.pk}/timeline", note, REMOTE_ADDR="192.0.2.4").status_code == 201
    technician.get(f"/api/v1/jobs/{job.pk}")
    technician.post(f"/api/v1/jobs/{job.pk}/timeline", {"id": "none"})
    assert technician.put("/api/v1/people/lead", {"role": "technician"}).status_code == 403
    lead = as_role("lead")
    found = rows(lead)
    assert [(entry["route"], entry["status"], entry["name"]) for entry in found] == [
        ("person", 403, "Technician"),
        ("job-timeline", 201, "Technician"),
    ]
    assert (found[1]["job"], found[1]["address"]) == (job.pk, "192.0.2.4")
    close_files(lead.get(f"/api/v1/jobs/{job.pk}/archive"))
    assert rows(lead)[0]["route"] == "job-archive"
    assert [row["route"] for row in rows(lead, job=job.pk)] == ["job-archive", "job-timeline"]
    assert [row["route"] for row in rows(lead, person="technician", before=found[0]["id"])] == ["job-timeline"]
    assert technician.get("/api/v1/audit").status_code == 403
    assert lead.get("/api/v1/audit", {"job": "x"}).status_code == 400


def test_what_opens_a_door_is_not_in_it(client, people):
    client.post(f"/api/v1/invitations/{'x' * 43}", {"password": "x"}, content_type="application/json")
    for _ in range(2):
        client.put("/api/v1/session/password", {}, content_type="application/json")
    assert [entry.status for entry in AuditEntry.objects.all()] == [401, 401]
    assert not AuditEntry.objects.filter(path__contains="xxx").exists()


def test_an_entry_that_cannot_be_kept_refuses_nothing(technician, job, monkeypatch):
    def broken(*_, **__):
        raise DatabaseError

    monkeypatch.setattr(AuditEntry.objects, "create", broken)
    note = {"id": str(uuid4()), "text": "The fan rubs."}
    assert technician.post(f"/api/v1/jobs/{job.pk}/timeline", note).status_code == 201


@pytest.mark.django_db
def test_it_reaches_back_a_year_and_a_bit():
    for days in (-1, 1):
        kept = AuditEntry.objects.create(method="POST", route="x", path="x", status=200)
        AuditEntry.objects.filter(pk=kept.pk).update(at=timezone.now() - LASTS + timedelta(days=days))
    assert forget_old() == 1
    assert AuditEntry.objects.count() == 1


def test_the_routes_that_it_names_are_there():
    named = {entry.name for entry in _every(urlpatterns)}
    assert named >= ASKS | TAKEN_ALONG


def _every(patterns):
    for pattern in patterns:
        yield from _every(pattern.url_patterns) if hasattr(pattern, "url_patterns") else [pattern]
