"""What open pages are told of each other."""

from __future__ import annotations

from datetime import timedelta
from uuid import uuid4

import pytest
from django.utils import timezone

from uvrix.shop.accounts.models import AuditEntry
from uvrix.shop.config.roles import Role
from uvrix.shop.live.models import Presence


@pytest.fixture
def desk(as_role):
    return as_role(Role.FRONT_DESK)


def ask(client, **query):
    answer = client.get("/api/v1/live", query)
    assert answer.status_code == 200, answer.json()
    return answer.json()


def note(client, job):
    answer = client.post(f"/api/v1/jobs/{job.pk}/timeline", {"id": str(uuid4()), "text": "Bubbled resin."})
    assert answer.status_code == 201
    return answer.headers["X-Request-ID"]


def test_what_somebody_enters_is_told_to_all_others_by_its_requests_number(technician, desk, job):
    begun = ask(desk)
    assert begun["changes"] == []
    number = note(technician, job)
    told = ask(desk, since=begun["at"])
    assert {"request": number, "job": job.pk} in told["changes"]
    assert not told["all"]
    # told once more for a moment: who asks knows the number by then
    assert {"request": number, "job": job.pk} in ask(desk, since=told["at"])["changes"]


def test_what_was_refused_or_only_read_changed_nothing(technician, desk, job):
    begun = ask(desk)
    assert desk.post(f"/api/v1/jobs/{job.pk}/readings", {}).status_code == 403
    assert technician.get(f"/api/v1/jobs/{job.pk}").status_code == 200
    assert ask(technician, since=begun["at"])["changes"] == []


def test_a_page_that_slept_asks_for_everything(desk, people):
    assert ask(desk, since=(timezone.now() - timedelta(hours=1)).isoformat())["all"]
    AuditEntry.objects.bulk_create(
        AuditEntry(user=people[Role.LEAD], method="POST", route="x", path="/x", status=201, request=str(number))
        for number in range(300)
    )
    many = ask(desk, since=timezone.now().isoformat())
    assert many["all"]
    assert len(many["changes"]) == 200


def test_who_else_has_the_job_open_is_named_until_they_leave(technician, desk, people, job):
    assert ask(technician, job=job.pk)["others"] == []
    assert ask(desk, job=job.pk)["others"] == [people[Role.TECHNICIAN].shown_name]
    assert ask(technician, job=job.pk)["others"] == [people[Role.FRONT_DESK].shown_name]
    assert ask(technician, job=job.pk + 1)["others"] == []
    Presence.objects.filter(user=people[Role.FRONT_DESK]).update(at=timezone.now() - timedelta(seconds=9))
    assert ask(technician, job=job.pk)["others"] == []
    # what is old goes with the next look at another job
    Presence.objects.filter(user=people[Role.FRONT_DESK]).update(at=timezone.now() - timedelta(minutes=2))
    ask(desk, job=job.pk + 2)
    assert list(Presence.objects.filter(user=people[Role.FRONT_DESK]).values_list("job", flat=True)) == [job.pk + 2]


@pytest.mark.parametrize("query", [{"since": "yesterday"}, {"job": "0"}, {"job": "x"}])
def test_an_odd_question_is_answered_in_words(desk, query):
    assert desk.get("/api/v1/live", query).status_code == 400
