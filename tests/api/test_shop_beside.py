"""What the shop knows beside a card weighs in its case: lots that failed, past cards that were proven, the worth."""

from __future__ import annotations

from uuid import uuid4

import pytest
from django.utils import timezone

from tests.api.test_stock import move
from uvrix.core.case.shop import Watched
from uvrix.shop.case.given import shop_beside
from uvrix.shop.case.models import JobTold
from uvrix.shop.config.roles import Role
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.library.sheets import save_sheet
from uvrix.shop.returning.models import Return


@pytest.fixture
def another(people, technician, teal):
    """Opens another card of the model and posts to it."""

    def opened(serial):
        job = open_job(NewJob(uuid4(), serial, "teal-8", "Una Brack", "Snow."), people[Role.FRONT_DESK])[0]

        def post(room, **body):
            answer = technician.post(f"/api/v1/jobs/{job.pk}/{room}", {"id": str(uuid4()), **body})
            assert answer.status_code in {200, 201}, answer.content
            return answer.json()

        return job, post

    return opened


def proven(job, by):
    Return.objects.create(job=job, by=by, at=timezone.now(), way="parcel", found="It was a joint.")


def test_what_returned_cards_had_is_counted_by_symptom(people, another):
    job, post = another("PAST-0")
    post("symptom", often="always", kinds=["artefacts"])
    for number, kinds in enumerate((["artefacts"], ["artefacts", "hangs"], ["dead"])):
        other, told = another(f"PAST-{number + 1}")
        told("symptom", often="always", kinds=kinds)
        told("rework", do="reball", site="U14", balls="stencil")
        proven(other, people[Role.LEAD])
    _, unproven = another("PAST-9")
    unproven("symptom", often="always", kinds=["artefacts"])
    unproven("rework", do="reball", site="U14", balls="stencil")
    [past] = shop_beside(job).past
    assert (past.cause, past.designators, past.had, past.of) == ("chip-joint", ("U14",), 2, 2)
    assert past.symptoms == {"artefacts"}


def test_a_lot_that_fails_here_is_known_from_every_card(technician, another):
    job, post = another("LOT-0")
    assert shop_beside(job).lots == ()
    post("lots", chip="LOT-0/U14", lot="KX 2231")
    for number in range(3):
        _, told = another(f"LOT-{number + 1}")
        told("lots", chip=f"LOT-{number + 1}/U15", lot="KX 2231" if number else "QZ 1")
        if number:
            told("rework", do="remove", site="U15", no_photo="at hand", pin1="upper left")
    assert move(technician, "LOT-1/U15", "condition", condition="dead").status_code == 201
    assert move(technician, "LOT-2/U15", "condition", condition="dead").status_code == 201
    [lot] = shop_beside(job).lots
    assert (lot.lot, lot.failed, lot.of) == ("KX 2231", 1, 3), "a lot of another card says nothing"


def test_the_worth_is_what_the_repair_may_cost(another, as_role):
    job, post = another("WORTH-0")
    assert shop_beside(job).worth.hour is None
    post("worth", value=300)
    worth = shop_beside(job).worth
    assert worth.card == 300
    assert worth.price is not None
    assert 0 < worth.price < 300
    assert worth.hour


def test_a_part_on_the_models_watchlist_weighs_and_a_new_watchlist_is_told_at_once(people, another, technician):
    job, post = another("WATCHED-0")
    post("symptom", often="always", kinds=["artefacts"])
    assert shop_beside(job).watched == ()
    technician.get(f"/api/v1/jobs/{job.pk}")
    watch = {"watch": [{"cause": "Joint of a memory chip", "part": "U15"}, {"cause": "Fan plug half seated"}]}
    save_sheet(job.card.model, "watchlist", watch, 0, people[Role.LEAD])
    job.refresh_from_db()
    assert shop_beside(job).watched == (Watched("U15", "Joint of a memory chip"),)
    assert JobTold.objects.get(job=job).content is None, "what was told without it is forgotten"


def test_what_a_chip_costs_here_is_known_to_every_case(as_role, another):
    job, _ = another("COST-0")
    lead = as_role("lead")
    habits = lead.get("/api/v1/habits").json()["set"]
    assert shop_beside(job).part_minutes == habits["part_minutes"] == 20
    answer = lead.put("/api/v1/habits", {**habits, "part_minutes": 75})
    assert answer.status_code == 200, answer.content
    assert shop_beside(job).part_minutes == 75
