"""Stock at size: a move, a fit and a part's page with 50,000 rework events and 20,000 parts: ./test --speed.

Bar: p95 at most 3 times the bare session's in the same run.
"""

from __future__ import annotations

import json
from uuid import uuid4

import pytest
from django.db import connection
from rest_framework.test import APIClient

from tests.api.conftest import BOARDS
from tests.speed.test_api import p95
from uvrix.shop.acts.models import Act
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.library.services import import_board

pytestmark = [pytest.mark.django_db]
CARDS, EVENTS, PARTS = 5_000, 50_000, 20_000
FACTS = {"kind": "chip", "marking": "OX8-14", "vendor": "Ousel", "gbit": 8, "width": 32, "volts": 1.35, "speed": 14}
BAR = 3.0


def fill(user):
    """Cards with ten acts each, two of which put a part of the stock on; parts with their facts and where they went."""
    import_board((BOARDS / "teal-8.board.json").read_bytes(), "teal-8", user)
    job = open_job(NewJob(uuid4(), "TL8-NOW", "teal-8", "Petra Quill", "Squares."), user)[0]
    with connection.cursor() as cursor:
        cursor.execute(
            "insert into jobs_card (serial, model_id) select 'CL8-' || n, %s from generate_series(1, %s) n",
            [job.card.model_id, CARDS],
        )
        cursor.execute(
            "insert into jobs_job (entry, card_id, customer_id, complaint, place, express, move, waits_for, lie_side,"
            " lie_turns, opened_by_id, opened_at, closed_at)"
            " select gen_random_uuid(), id, %s, 'Snow.', '', false, 'hands', '', 'front',"
            " 0, %s, now() - interval '90 days', now() - interval '80 days' from jobs_card where serial like 'CL8-%%'",
            [job.customer_id, user.pk],
        )
        cursor.execute(
            "insert into stock_partedition (label, number, facts, by_id, at)"
            " select 'P-' || lpad(n::text, 5, '0'), 1, %s::jsonb, %s, now() from generate_series(1, %s) n",
            [json.dumps(FACTS), user.pk, PARTS],
        )
        cursor.execute(
            'insert into stock_stockmove (id, label, "do", "to", condition, note, by_id, at)'
            " select gen_random_uuid(), label, 'received', 'tray ' || id %% 40, 'new', '', %s,"
            " now() - interval '100 days' from stock_partedition",
            [user.pk],
        )
        columns = [field.column for field in Act._meta.concrete_fields if field.column]
        made = {
            "id": "gen_random_uuid()",
            "job_id": "jobs_job.id",
            "card_id": "card_id",
            "by_id": str(user.pk),
            "at": "opened_at + n * interval '1 hour'",
            "step": "'rework'",
            "do": "case when n %% 5 = 0 then 'place' when n %% 5 = 4 then 'remove' else 'reball' end",
            "site": "'U1' || (1 + n / 5)",
            "chip_in": "case when n %% 5 = 0 then 'P-' || lpad((1 + (jobs_job.id * 2 + n / 5) %% 20000)::text, 5, '0')"
            " else '' end",
        }
        empty = {"air": "'[]'", "shields": "'[]'", "rails": "'[]'"}
        texts = (
            "select column_name from information_schema.columns where table_name = 'acts_act' and is_nullable = 'NO'"
        )
        cursor.execute(texts)
        wanted = {row[0] for row in cursor.fetchall()}
        kept = [name for name in columns if name in wanted or name in made]
        values = ", ".join(made.get(name, empty.get(name, "''")) for name in kept)
        named = ", ".join(f'"{name}"' for name in kept)
        cursor.execute(
            f"insert into acts_act ({named}) select {values} from jobs_job, generate_series(1, %s) n"
            " where closed_at is not null",
            [EVENTS // CARDS],
        )
        cursor.execute("analyze")
    return job


def test_a_move_a_fit_and_a_parts_page_beside_a_bare_session(lead, capsys):
    job = fill(lead)
    client = APIClient(raise_request_exception=True)
    client.force_login(lead, backend="django.contrib.auth.backends.ModelBackend")

    def label(number):
        return f"P-{1 + 37 * number % PARTS:05}"

    def get(address, **asked):
        assert client.get(address, asked).status_code == 200

    def move(number):
        body = {"id": str(uuid4()), "label": label(number), "do": "condition", "condition": "tested"}
        assert client.post("/api/v1/stock/moves", body).status_code == 201

    work = {
        "session": lambda _: get("/api/v1/session"),
        "a move": move,
        "a fit": lambda number: get(f"/api/v1/jobs/{job.pk}/fits", label=label(number), site="U13"),
        "a part's page": lambda number: get("/api/v1/stock/life", label=label(number)),
    }
    for one in work.values():
        one(0)  # once unmeasured: imports and caches
    found = {name: p95(one) for name, one in work.items()}
    with capsys.disabled():
        print(f"\n{EVENTS} rework events, {PARTS} parts: p95 in ms, and times the bare session")
        for name, taken in found.items():
            print(f"  {name:14} {taken:7.2f}  {taken / found['session']:5.2f} x")
    assert all(taken <= BAR * found["session"] for taken in found.values())
