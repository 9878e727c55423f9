"""A part that is read alone has lived as in the whole shop: histories at random, every part both ways."""

from __future__ import annotations

import random
from datetime import timedelta
from uuid import UUID

import pytest
from django.utils import timezone

from uvrix.core.rework.acts import DOES
from uvrix.shop.acts.models import Act, ActWithdrawal
from uvrix.shop.config.roles import Role
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.stock.models import StockMove
from uvrix.shop.stock.parts import Stock, lives_of, whole_stock

SITES = ("U11", "U12", "C3")
OF_THE_CARD = ("bake",)
PLACES = ("P-0001", "P-0002", "P-0003", "BAG-1")


@pytest.fixture
def jobs(people, job):
    """Three cards of one model."""
    entries = [
        NewJob(UUID(int=number), f"TL8-R{number}", job.card.model.slug, "Petra Quill", "Snow.") for number in (1, 2)
    ]
    return [job, *(open_job(entry, people[Role.FRONT_DESK])[0] for entry in entries)]


def happen(jobs, by, seed, many=60):
    """Acts and moves in the order of time, one in twelve withdrawn."""
    dice, now = random.Random(seed), timezone.now()
    own = [f"{job.card.serial}/{site}" for job in jobs for site in SITES]
    for number in range(many):
        job, at = dice.choice(jobs), now + timedelta(minutes=number)
        key = UUID(int=dice.getrandbits(128))
        if dice.random() < 0.15:
            StockMove.objects.create(
                pk=key, by=by, at=at, label=dice.choice([*own, *PLACES]), do="condition", condition="tested"
            )
            continue
        do = dice.choice(list(DOES))
        whole = do in OF_THE_CARD
        comes = do in {"place", "swap"}
        act = Act.objects.create(
            pk=key,
            job=job,
            card=job.card,
            step="rework",
            do=do,
            by=by,
            at=at,
            site="" if whole else dice.choice(SITES),
            chip="" if whole or dice.random() < 0.6 else dice.choice([*own, *PLACES]),
            chip_in=dice.choice([*own, *PLACES[:3], ""]) if comes else "",
            drawer="BAG-1" if comes and dice.random() < 0.2 else "",
        )
        if dice.random() < 1 / 12:
            ActWithdrawal.objects.create(act=act, by=by)


@pytest.mark.parametrize("seed", range(12))
def test_a_part_read_alone_has_lived_as_in_the_whole_shop(jobs, people, seed):
    happen(jobs, people[Role.TECHNICIAN], seed)
    whole = whole_stock()
    assert len(whole.lives) > 5
    for label, life in whole.lives.items():
        assert lives_of([label]) == {label: life}
    assert lives_of(list(whole.lives)) == whole.lives
    assert lives_of(["nobody's", "TL8-R9/U1"]) == {}


@pytest.mark.parametrize("seed", range(12))
def test_what_stands_on_a_card_is_what_every_life_says(jobs, people, seed):
    happen(jobs, people[Role.TECHNICIAN], 100 + seed)
    whole = whole_stock()
    for job in jobs:
        serial = job.card.serial
        expected = {}
        for site in SITES:
            name = f"{serial}/{site}"
            there = {label for label, life in whole.lives.items() if life.place.card and life.place.name == name}
            if not there and name not in whole.lives:
                there = {name}
            expected[site] = there
        for stock in (Stock(), whole):
            found = stock.standing_on(serial, SITES)
            assert set(found) == {site for site, there in expected.items() if there}
            assert all(label in expected[site] for site, label in found.items())


def test_facts_and_lots_of_one_part_are_those_of_the_list(technician, people, jobs):
    facts = {"kind": "chip", "marking": "OX8-14", "vendor": "Ousel", "gbit": 8, "width": 32, "volts": 1.35, "speed": 14}
    for number in range(3):
        entry = {"id": str(UUID(int=500 + number)), "facts": {**facts, "speed": 14 + number}, "to": "tray 1"}
        assert technician.post("/api/v1/stock", entry).status_code == 201
    technician.put("/api/v1/stock/life?label=P-0002", {"facts": {**facts, "speed": 20}, "base": 1})
    alone, whole = Stock(), whole_stock()
    labels = ["P-0001", "P-0002", "P-0003", "P-0009"]
    assert [alone.facts_of(label) for label in labels] == [whole.facts_of(label) for label in labels]
    assert alone.facts_of_all(labels) == whole.facts_of_all(labels) == [whole.facts.get(label, {}) for label in labels]
    assert alone.facts_of("P-0002")["speed"] == 20
    assert [alone.lot_of(label) for label in labels] == [whole.lot_of(label) for label in labels] == [""] * 4
