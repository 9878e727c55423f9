"""Stock at size: a move, a fit and a part's page with 50,000 rework events and 20,000 parts: ./test --speed.

Bar: p95 at most 3 times that of the same endpoint in a bare shop, in the same run. A bare session is told beside it.
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
BARE, LARGE = (4, 40), (5_000, 20_000)
EVENTS_A_CARD = 10
FACTS = {"kind": "chip", "marking": "OX8-14", "vendor": "Ousel", "gbit": 8, "width": 32, "volts": 1.35, "speed": 14}
BAR = 3.0


def fill(user, job, cards, parts):
    """Cards with ten acts each, two of which put a part of the stock on; parts with their facts and where they went."""
    with connection.cursor() as cursor:
        cursor.execute("delete from acts_act; delete from stock_stockmove; delete from stock_partedition")
        cursor.execute("delete from jobs_job where id <> %s", [job.pk])
        cursor.execute("delete from jobs_card where id <> %s", [job.card_id])
        cursor.execute(
            "insert into jobs_card (serial, model_id) select 'CL8-' || n, %s from generate_series(1, %s) n",
            [job.card.model_id, cards],
        )
        cursor.execute(
            "insert into jobs_job (entry, card_id, customer_id, complaint, place, express, move, waits_for,"
            " orientation_side, orientation_turns, opened_by_id, opened_at, closed_at)"
            " select gen_random_uuid(), id, %s, 'Snow.', '', false, 'hands', '', 'front',"
            " 0, %s, now() - interval '90 days', now() - interval '80 days' from jobs_card where serial like 'CL8-%%'",
            [job.customer_id, user.pk],
        )
        cursor.execute(
            "insert into stock_partedition (label, number, facts, by_id, at)"
            " select 'P-' || lpad(n::text, 5, '0'), 1, %s::jsonb, %s, now() from generate_series(1, %s) n",
            [json.dumps(FACTS), user.pk, parts],
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
            "chip_in": "case when n %% 5 = 0 then"
            f" 'P-' || lpad((1 + (jobs_job.id * 2 + n / 5) %% {parts})::text, 5, '0') else '' end",
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
            [EVENTS_A_CARD],
        )
        cursor.execute("analyze")


def test_a_move_a_fit_and_a_parts_page_at_size(lead, capsys):
    import_board((BOARDS / "teal-8.board.json").read_bytes(), "teal-8", lead)
    job = open_job(NewJob(uuid4(), "TL8-NOW", "teal-8", "Petra Quill", "Squares."), lead)[0]
    client = APIClient(raise_request_exception=True)
    client.force_login(lead, backend="django.contrib.auth.backends.ModelBackend")
    bare, large = (measured(client, lead, job, *size) for size in (BARE, LARGE))
    with capsys.disabled():
        cards, parts = LARGE
        print(
            f"\n{cards * EVENTS_A_CARD} rework events, {parts} parts: p95 in ms, times a bare shop's, times the session"
        )
        for name, taken in large.items():
            print(f"  {name:14} {taken:7.2f}  {taken / bare[name]:5.2f} x  {taken / large['session']:5.2f} x")
    assert all(taken <= BAR * bare[name] for name, taken in large.items())


def measured(client, user, job, cards, parts):
    """The p95 of each endpoint in a shop of that size, milliseconds."""
    fill(user, job, cards, parts)

    def label(number):
        return f"P-{1 + 37 * number % parts:05}"

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
    for call in work.values():
        call(0)  # once unmeasured: imports and caches
    return {name: p95(call) for name, call in work.items()}
