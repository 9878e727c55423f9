"""Clocks that survive, worth with its numbers, tasks taken once."""

from __future__ import annotations

from datetime import date, timedelta
from uuid import uuid4

import pytest
from rest_framework.test import APIClient

from uvrix.shop.clock.models import ClockSpan
from uvrix.shop.config.roles import Role
from uvrix.shop.offers.queries import places_of


@pytest.fixture
def start(technician, job):
    def send(step="look", number=None, client=None):
        body = {"id": str(uuid4()), "step": step}
        return (client or technician).post(f"/api/v1/jobs/{number or job.pk}/clock", body)

    return send


def run_for(minutes):
    """As if the running clock had been started so long ago."""
    for span in ClockSpan.objects.filter(ended_at=None):
        ClockSpan.objects.filter(pk=span.pk).update(at=span.at - timedelta(minutes=minutes))


def test_one_clock_a_person_runs_on_while_nobody_looks(start, technician, job):
    assert start("look").status_code == 201
    run_for(30)
    found = start("memory").json()
    assert {step["step"]: round(step["minutes"]) for step in found["steps"]} == {"look": 30, "memory": 0}
    assert technician.get("/api/v1/clock").json()["running"]["step"] == "memory"
    assert technician.delete("/api/v1/clock").status_code == 204
    assert technician.get("/api/v1/clock").json() == {"running": None}
    assert technician.get(f"/api/v1/jobs/{job.pk}/time").json()["running"] == []


def test_two_people_have_two_clocks(start, as_role, job):
    start()
    found = start("look", client=as_role("lead")).json()
    assert {entry["by"] for entry in found["running"]} == {"Technician", "Lead"}


def test_a_clock_left_on_overnight_is_put_right_by_who_worked(start, technician, as_role):
    span = start().json()["running"][0]["id"]
    run_for(900)
    address = f"/api/v1/clocks/{span}/minutes"
    assert as_role("lead").post(address, {"minutes": 20}).json()["code"] == "not-yours"
    found = technician.post(address, {"minutes": 20}).json()
    assert (round(found["minutes"]), found["running"]) == (20, [])


def test_worth_says_its_numbers(technician, as_role, start, job):
    address = f"/api/v1/jobs/{job.pk}/worth"
    money = {"currency": "crowns", "hour": 60, "share": 0.5}
    assert as_role("lead").put("/api/v1/money", money).json() == money | {"dates": "day-month", "decimal": "point"}
    start()
    run_for(30)
    known = technician.post(address, {"id": str(uuid4()), "value": 200}).json()["worth"]
    assert (known["verdict"], known["budget_minutes"], round(known["left_minutes"])) == ("open", 100, 70)
    own = technician.post(address, {"id": str(uuid4()), "value": 200, "chance": 0.5, "minutes": 40}).json()["worth"]
    assert (own["verdict"], own["going_on"], own["own"]) == ("go-on", 60, True)
    assert own["why"].startswith("Worth going on: 0.50 × 200 − 40 = 60 crowns")
    poor = technician.post(address, {"id": str(uuid4()), "value": 20, "chance": 0.5, "minutes": 40}).json()["worth"]
    assert poor["verdict"] == "stop"
    assert technician.post(address, {"id": str(uuid4()), "value": 20, "chance": 1.5}).status_code == 400


def test_amounts_and_dates_are_written_as_the_lead_set_it(as_role, people, job):
    anyone = APIClient()
    assert anyone.get("/api/v1/writing").json() == {"dates": "day-month", "decimal": "point"}
    money = {"currency": "thalers", "hour": 50, "share": 0.4, "dates": "iso", "decimal": "comma"}
    assert as_role("lead").put("/api/v1/money", money).json() == money
    assert anyone.get("/api/v1/writing").json() == {"dates": "iso", "decimal": "comma"}
    one_chip = {"name": "One chip", "price": 1234.5, "chance": 0.8}
    who = {"by": people[Role.FRONT_DESK], "at": job.opened_at}
    job.offer_rows.create(id=uuid4(), **who, title="Which?", found="A chip.", options=[one_chip])
    places = places_of(job)
    assert places["options"].startswith("- One chip: 1.234,50 thalers, 80")
    assert date.fromisoformat(places["due"]) > job.opened_at.date()


def test_the_plan_serves_where_nobody_estimates(technician, job, drop):
    drop("teal-8-cold.csv")
    worth = technician.post(f"/api/v1/jobs/{job.pk}/worth", {"id": str(uuid4()), "value": 500}).json()["worth"]
    assert 0.5 < worth["ahead"]["chance"] < 1
    assert worth["ahead"]["minutes"] > 10


def test_a_task_is_taken_by_one(technician, as_role, job):
    words = {"id": str(uuid4()), "words": "Strip the donor."}
    task = technician.post(f"/api/v1/jobs/{job.pk}/tasks", words).json()["tasks"][0]["id"]
    assert as_role("front-desk").post(f"/api/v1/tasks/{task}/taken").json()[0]["taken_by"] == "Front Desk"
    late = as_role("lead").post(f"/api/v1/tasks/{task}/taken")
    assert (late.status_code, late.json()["detail"]) == (409, "Front Desk took it already.")
    assert technician.get("/api/v1/tasks").json()[0]["words"] == "Strip the donor."
    assert as_role("front-desk").post(f"/api/v1/tasks/{task}/done").json() == []
    assert technician.post(f"/api/v1/tasks/{uuid4()}/done").status_code == 404


def test_what_a_clock_really_was_stands_beside_what_it_said(start, technician, job):
    span = start().json()["running"][0]["id"]
    run_for(900)
    address = f"/api/v1/clocks/{span}/minutes"
    technician.post(address, {"minutes": 20})
    found = technician.post(address, {"minutes": 35}).json()
    assert round(found["minutes"]) == 35, "the last word counts"
    kept = ClockSpan.objects.get(pk=span)
    assert kept.ended_at
    assert (kept.ended_at - kept.at).total_seconds() > 890 * 60, "what ran stays as it ran"
    said = technician.get(f"/api/v1/jobs/{job.pk}/timeline", {"kind": "correction"}).json()
    assert [entry["words"] for entry in said] == ["It was really 35 min.", "It was really 20 min."]
    assert {entry["corrects"] for entry in said} == {span}
    assert technician.post(address, {"minutes": -1}).status_code == 400
    assert technician.post(f"/api/v1/clocks/{uuid4()}/minutes", {"minutes": 1}).status_code == 404


def test_a_clock_started_twice_by_one_entry_is_one(technician, job):
    body = {"id": str(uuid4()), "step": "look"}
    codes = [technician.post(f"/api/v1/jobs/{job.pk}/clock", body).status_code for _ in range(2)]
    assert (codes, ClockSpan.objects.count()) == ([201, 200], 1)


def test_a_closed_jobs_tasks_and_a_done_one_leave_the_list(technician, as_role, job):
    address = f"/api/v1/jobs/{job.pk}/tasks"
    for words in ("Strip the donor.", "Wash the board."):
        technician.post(address, {"id": str(uuid4()), "words": words})
    first, second = technician.get("/api/v1/tasks").json()
    technician.post(f"/api/v1/tasks/{first['id']}/done")
    as_role("lead").post(f"/api/v1/tasks/{first['id']}/done")
    done = technician.get(f"/api/v1/jobs/{job.pk}/timeline", {"kind": "task"}).json()
    assert [(entry["words"], entry["by"]) for entry in done if entry["corrects"]] == [
        ("Done: Strip the donor.", "Technician")
    ]
    assert [entry["id"] for entry in technician.get("/api/v1/tasks").json()] == [second["id"]]
    job.closed_at = job.opened_at
    job.save()
    assert technician.get("/api/v1/tasks").json() == []
