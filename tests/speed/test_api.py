"""How long capture, job page and shelf take beside a bare session, and how that grows: ./test --speed.

Bars: p95 at most 3 times the bare session's in the same run; growth of p95 from 1,000 to 100,000 jobs (with a million
readings) at most 1.5 times. There are 40 open jobs at each size.
"""

from __future__ import annotations

import time
from uuid import uuid4

import pytest
from django.db import connection
from rest_framework.test import APIClient

from tests.api.conftest import BOARDS
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.library.services import import_board

pytestmark = [pytest.mark.django_db]
OPEN, ROUNDS = 40, 120
SIZES = (1_000, 100_000)
READINGS = 10


def fill(user, size):
    """So many closed jobs with their readings, written straight into the tables; 40 open ones by the services."""
    import_board((BOARDS / "teal-8.board.json").read_bytes(), "teal-8", user)
    opened = []
    for number in range(OPEN):
        new = NewJob(uuid4(), f"OP8-{number}", "teal-8", f"Customer {number % 9}", "Green squares in every game.")
        opened.append(open_job(new, user)[0])
    with connection.cursor() as cursor:
        cursor.execute(
            "insert into jobs_card (serial, model_id) select 'CL8-' || n, %s from generate_series(1, %s) n",
            [opened[0].card.model_id, size - OPEN],
        )
        cursor.execute(
            "insert into jobs_job (entry, card_id, customer_id, complaint, place, express, move, waits_for,"
            " orientation_side, orientation_turns, opened_by_id, opened_at, closed_at)"
            " select gen_random_uuid(), id, %s, 'Snow on the screen, number ' || id, '', false, 'hands', '', 'front',"
            " 0, %s, now() - interval '90 days', now() - interval '80 days' from jobs_card where serial like 'CL8-%%'",
            [opened[0].customer_id, user.pk],
        )
        cursor.execute(
            'insert into ohms_reading (id, job_id, point, "to", quantity, mode, text, low, high, polarity, condition,'
            " lead_ohms, note, by_id, at) select gen_random_uuid(), id, 'L' || n, 'ground', 'resistance', 'ohms',"
            " '212', 212, 212, '', '[]', 0, '', %s, now() from jobs_job, generate_series(1, %s) n"
            " where closed_at is not null",
            [user.pk, READINGS],
        )
        cursor.execute("analyze")
    return opened


def p95(work):
    taken = []
    for number in range(ROUNDS):
        begun = time.perf_counter()
        work(number)
        taken.append(time.perf_counter() - begun)
    return 1000 * sorted(taken)[int(0.95 * len(taken))]


def measured(user, size):
    opened = fill(user, size)
    client = APIClient(raise_request_exception=True)
    client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
    job = opened[3]

    def get(address):
        assert client.get(address).status_code == 200

    def capture(number):
        body = {"id": str(uuid4()), "kind": "other", "words": f"promise {number}"}
        assert client.post(f"/api/v1/jobs/{opened[number % OPEN].pk}/owed", body).status_code == 201

    for entry in opened:
        client.post(f"/api/v1/jobs/{entry.pk}/power", {"id": str(uuid4()), "state": "off"})

    def read(number):
        body = {"id": str(uuid4()), "point": "L5", "quantity": "resistance", "value": "1k4", "mode": "ohms"}
        assert client.post(f"/api/v1/jobs/{opened[number % OPEN].pk}/readings", body).status_code == 201

    work = {
        "session": lambda _: get("/api/v1/session"),
        "job page": lambda number: get(f"/api/v1/jobs/{opened[number % OPEN].pk}"),
        "shelf": lambda _: get("/api/v1/shelf"),
        "capture": capture,
        "capture, a reading": read,
        "ohms": lambda _: get(f"/api/v1/jobs/{job.pk}/ohms"),
        "timeline": lambda number: get(f"/api/v1/jobs/{opened[number % OPEN].pk}/timeline"),
        "resume": lambda number: get(f"/api/v1/jobs/{opened[number % OPEN].pk}/resume"),
        "live": lambda _: get(f"/api/v1/live?job={job.pk}&since=2031-01-01T00:00:00Z"),
        "search": lambda number: get(f"/api/v1/jobs?search=CL8-{number}77"),
        "search, mistyped": lambda _: get("/api/v1/jobs?search=snwo%20on%20screne"),
    }
    for one in work.values():
        one(0)  # once unmeasured: imports and caches
    return {name: p95(one) for name, one in work.items()}


@pytest.mark.parametrize("size", SIZES)
def test_p95_beside_a_bare_session(lead, size, capsys, request):
    found = measured(lead, size)
    with capsys.disabled():
        print(f"\n{size} jobs, {size * READINGS} readings, {OPEN} open: p95 in ms, and times the bare session")
        for name, taken in found.items():
            print(f"  {name:18} {taken:7.2f}  {taken / found['session']:5.2f} x")
    request.config.cache_of_speed = {**getattr(request.config, "cache_of_speed", {}), size: found}
    known = request.config.cache_of_speed
    if set(SIZES) <= set(known):
        with capsys.disabled():
            print("growth of p95 from 1,000 to 100,000 jobs")
            for name in found:
                print(f"  {name:18} {known[SIZES[1]][name] / known[SIZES[0]][name]:5.2f} x")
