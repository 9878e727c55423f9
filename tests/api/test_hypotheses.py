"""Hypotheses: from the watchlist and past cards, with counts; ruled out by something, confirmed, opened again."""

from __future__ import annotations

from uuid import uuid4

import pytest

from uvrix.shop.arrive.services import NewSymptom, say_symptom
from uvrix.shop.config.roles import Role
from uvrix.shop.hypotheses.services import NewWord, say
from uvrix.shop.jobs.services import NewJob, open_job


@pytest.fixture
def past(people, teal):
    def make(serial, kinds, cause):
        by = people[Role.TECHNICIAN]
        job = open_job(NewJob(uuid4(), serial, "teal-8", "Bram Osier", "It hangs."), by)[0]
        say_symptom(job, NewSymptom(uuid4(), "often", kinds=kinds), by)
        say(job, NewWord(uuid4(), cause, "confirmed", "clean afterwards"), by)
        return job

    return make


@pytest.fixture
def hypotheses(technician, job):
    return lambda: technician.get(f"/api/v1/jobs/{job.pk}/hypotheses").json()


@pytest.fixture
def word(technician, job):
    def send(cause, state, by_what="", **more):
        body = {"id": str(uuid4()), "cause": cause, "state": state, "by_what": by_what, "step": "look", **more}
        return technician.post(f"/api/v1/jobs/{job.pk}/hypotheses", body)

    return send


def symptom(technician, job, *kinds):
    body = {"id": str(uuid4()), "often": "often", "kinds": list(kinds)}
    return technician.post(f"/api/v1/jobs/{job.pk}/symptom", body)


def test_past_cards_with_the_same_symptom_propose_causes_with_counts(technician, job, past, hypotheses):
    first = past("TL8-11", ("hangs",), "Joint of a chip")
    past("TL8-12", ("hangs", "hot"), "joint of a CHIP")
    past("TL8-13", ("hangs",), "Stage short")
    past("TL8-14", ("output",), "Torn socket")
    assert hypotheses() == []
    assert symptom(technician, job, "hangs").status_code == 201
    one, other = hypotheses()
    assert (one["key"], one["state"]) == ("joint of a chip", "open")
    assert (len(one["counts"]["model"]["had"]), one["counts"]["model"]["seen"]) == (2, 3)
    assert first.pk in one["counts"]["everywhere"]["had"]
    assert other["key"] == "stage short"
    assert one["counts"]["low"] < one["counts"]["share"] < one["counts"]["high"]


def test_a_cause_withdrawn_in_its_own_job_counts_no_more(technician, job, past, hypotheses, people):
    other = past("TL8-11", ("hangs",), "Joint of a chip")
    symptom(technician, job, "hangs")
    assert len(hypotheses()) == 1
    say(other, NewWord(uuid4(), "Joint of a chip", "ruled-out", "no change"), people[Role.TECHNICIAN])
    assert hypotheses() == []


def test_a_hypothesis_is_ruled_out_by_something_and_stays_in_the_record(word, hypotheses):
    assert word("Fan plug", "open").status_code == 201
    assert word("Fan plug", "ruled-out").json()["code"] == "by-what"
    assert word("…", "open").json()["code"] == "no-cause"
    ruled = word("Fan plug", "ruled-out", "pushed home, no change").json()[0]
    assert (ruled["state"], ruled["by_what"], ruled["step"]) == ("ruled-out", "pushed home, no change", "look")
    assert word("fan PLUG", "open").json()[0]["state"] == "open"
    word("Stage short", "confirmed", "plug 1 short, gone without it")
    assert [hypothesis["state"] for hypothesis in hypotheses()] == ["confirmed", "open"]


def test_the_watchlist_opens_hypotheses_and_is_kept_in_editions(technician, teal, job, hypotheses):
    address = "/api/v1/board-models/teal-8/watchlist"
    assert technician.get(address).json()["watch"] == []
    watch = [{"cause": "Fan plug half seated", "look": "Push it.", "always": True}]
    assert technician.put(address, {"edition": 0, "watch": watch}).json()["edition"] == 1
    assert technician.put(address, {"edition": 0, "watch": watch}).json()["code"] == "saved-meanwhile"
    assert technician.put(address, {"edition": 1, "watch": watch * 2}).json()["place"] == "$.watch[1].cause"
    [one] = hypotheses()
    assert (one["watch"]["look"], one["watch"]["always"], one["counts"]) == ("Push it.", True, None)


def test_a_symptom_of_an_unknown_kind_is_refused(technician, job):
    assert symptom(technician, job, "haunted").status_code == 400


def test_the_past_says_what_a_card_had_and_whether_it_is_in_warranty(technician, job, people, past):
    from datetime import timedelta

    from django.utils import timezone

    job.closed_at = timezone.now()
    job.save()
    by = people[Role.TECHNICIAN]
    say(job, NewWord(uuid4(), "Fan bearing worn", "confirmed", "it scrapes"), by)
    for days, inside in ((3, True), (-1, False)):
        job.warranty_until = timezone.localdate() + timedelta(days=days)
        job.save()
        back = open_job(NewJob(uuid4(), "TL8-1", "teal-8", "Ansel Roe", "Again."), by)[0]
        [one] = technician.get(f"/api/v1/jobs/{back.pk}/arrive").json()["past"][-1:]
        assert one["in_warranty"] is inside
        assert one["done"] == ["Fan bearing worn, confirmed by Technician: it scrapes"]
        back.closed_at = timezone.now()
        back.save()
