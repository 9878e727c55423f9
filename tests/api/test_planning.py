"""What to try next: the plan of a job, attempts entered and taken back, habits set and learned."""

from __future__ import annotations

import json
from uuid import uuid4

import pytest

from tests.api.conftest import BOARDS, SAMPLES
from uvrix.shop.acts.models import Act
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.planning.models import Attempt


@pytest.fixture
def ran(drop):
    """Both conditions of one data line: hands-on work comes next."""
    drop("teal-8-cold.csv")
    drop("teal-8-warm.csv")


@pytest.fixture
def plan(technician, job):
    return lambda: technician.get(f"/api/v1/jobs/{job.pk}/plan").json()


@pytest.fixture
def attempt(technician, job):
    def send(do, outcome, number=None, **more):
        body = {"id": str(uuid4()), "do": do, "outcome": outcome, "minutes": 30, **more}
        return technician.post(f"/api/v1/jobs/{number or job.pk}/attempts", body)

    return send


def names(found):
    return [action["do"] for action in found["actions"]]


@pytest.mark.usefixtures("ran")
def test_the_plan_is_ranked_and_each_action_explains_itself(plan):
    found = plan()
    worth = {action["do"]: action["per_hour"] for action in found["actions"]}
    assert len(worth) >= 3
    assert found["school"] == "reball-first"
    # the school moves reballing before replacing and says so; all else is by the numbers
    rest = [worth[do] for do in worth if do != "reball"]
    assert rest == sorted(rest, reverse=True)
    assert "this shop reballs first" in next(entry["why"] for entry in found["actions"] if entry["do"] == "reball")
    for action in found["actions"]:
        assert action["why"]
        assert action["settles"]
        assert 0 <= action["chance"] <= 1
        assert action["minutes"] > 0
        assert {outcome["outcome"] for outcome in action["outcomes"]} <= {"yes", "no", "worse"}


@pytest.mark.usefixtures("ran")
def test_before_hands_on_work_the_mark_is_asked_for(technician, job, plan):
    step = technician.get(f"/api/v1/jobs/{job.pk}").json()["next"]
    assert names(plan())[0] in ("measure-lines", "reball", "replace")
    assert (step["what"], step["do"]) == ("mark", "Confirm the mark on U18")


@pytest.mark.usefixtures("ran")
def test_what_failed_goes_down_and_what_was_taken_back_returns(plan, attempt, technician):
    before = plan()
    tried = attempt("reball", "no")
    assert tried.status_code == 201
    after = plan()
    assert "reball" not in names(after)
    assert [(entry["do"], entry["said"]) for entry in after["tried"]] == [("reball", after["tried"][0]["said"])]
    chances = [{action["do"]: action["chance"] for action in found["actions"]} for found in (before, after)]
    # a new chip has new joints too, so what speaks against joints speaks a little against it, and for the core
    assert chances[1]["replace"] < chances[0]["replace"]
    assert chances[1]["lift-core"] > chances[0]["lift-core"]
    assert technician.post(f"/api/v1/attempts/{tried.json()['id']}/withdrawal").status_code == 201
    assert plan() == before
    assert Attempt.objects.count() == 1, "it stays in the record"


@pytest.mark.usefixtures("ran")
def test_a_repair_said_at_memory_is_the_cards_act_and_is_entered_once(plan, attempt, technician, job, drop):
    def acts():
        return [(act.do, act.site) for act in Act.objects.filter(job=job, withdrawal=None).order_by("at")]

    told = attempt("reball", "no").json()
    assert acts() == [("reball", "U18")]
    assert technician.get(f"/api/v1/jobs/{job.pk}").json()["mind"]["next"][0]["do"] in {"power", "read", "run", "rung"}
    assert technician.post(f"/api/v1/attempts/{told['id']}/withdrawal").status_code == 201
    assert acts() == []
    # done at Rework first, then said here: it is one act
    lifted = {"id": str(uuid4()), "do": "reball", "site": "U18", "no_photo": "photographed by the phone"}
    assert technician.post(f"/api/v1/jobs/{job.pk}/rework", lifted).status_code == 201
    attempt("reball", "no")
    assert acts() == [("reball", "U18")]
    # and a run after it that fails: the act counts as tried, whoever said so
    drop("teal-8-cold.csv", another="true")
    assert "reball" not in names(plan())


@pytest.mark.usefixtures("ran")
def test_the_chances_of_tries_are_those_of_the_one_belief(plan, technician, job):
    """What Look saw counts here as well: a cracked joint makes the reball likelier than the report alone does."""

    def reball():
        return next(action["chance"] for action in plan()["actions"] if action["do"] == "reball")

    def joint():
        causes = technician.get(f"/api/v1/jobs/{job.pk}").json()["mind"]["causes"]
        return next(cause["chance"] for cause in causes if "joint of U18" in cause["says"] or "U18" in cause["says"])

    before = reball(), joint()
    site = next(entry for entry in json.loads(BOARDS.joinpath("teal-8.board.json").read_text())["sites"]
                if entry["designator"] == "U18")  # fmt: skip
    seen = {"id": str(uuid4()), "kind": "joint", "side": "front", "x_mm": site["x_mm"], "y_mm": site["y_mm"]}
    answer = technician.post(f"/api/v1/jobs/{job.pk}/look/findings", seen)
    assert answer.status_code == 201, answer.json()
    assert reball() > before[0]
    assert joint() > before[1]


@pytest.mark.usefixtures("ran")
def test_the_same_attempt_twice_is_one(attempt):
    entry = str(uuid4())
    assert [attempt("reball", "no", id=entry).status_code for _ in range(2)] == [201, 200]
    assert Attempt.objects.count() == 1


def test_nothing_is_tried_about_nothing(attempt):
    answer = attempt("reball", "no")
    assert (answer.status_code, answer.json()["code"]) == (409, "no-finding")


@pytest.mark.usefixtures("ran")
@pytest.mark.parametrize("wrong", [{"do": "paint"}, {"outcome": "maybe"}, {"minutes": -1}, {"minutes": "soon"}])
def test_an_attempt_that_does_not_fit_is_refused(technician, job, wrong):
    body = {"id": str(uuid4()), "do": "reball", "outcome": "no", "minutes": 30, **wrong}
    assert technician.post(f"/api/v1/jobs/{job.pk}/attempts", body).status_code == 400
    assert Attempt.objects.count() == 0


@pytest.mark.usefixtures("ran")
def test_a_cure_asks_for_a_run_and_a_failing_run_makes_it_none(plan, attempt, drop):
    attempt("reball", "yes")
    assert names(plan())[0] == "rerun"
    checked = plan()["actions"][0]["why"]
    drop("teal-8-cold.csv", another="true", condition="after-rework")
    assert "reball" not in names(plan())
    assert plan()["actions"][0]["why"] != checked


@pytest.mark.usefixtures("ran")
def test_the_lead_sets_times_and_school_and_plans_follow(plan, as_role):
    lead = as_role("lead")
    habits = lead.get("/api/v1/habits").json()["set"]
    habits["costs"]["replace"]["minutes"] = 5
    habits["school"] = "replace-at-once"
    answer = lead.put("/api/v1/habits", habits)
    assert answer.status_code == 200
    assert answer.json()["by"] == "Lead"
    order = names(plan())
    assert order.index("replace") < order.index("reball")
    habits["costs"]["replace"]["minutes"] = -4
    refused = lead.put("/api/v1/habits", habits)
    assert refused.status_code == 422
    assert "costs.replace.minutes" in refused.json()["detail"]
    assert lead.get("/api/v1/habits").json()["set"]["costs"]["replace"]["minutes"] == 5


@pytest.mark.usefixtures("ran")
def test_outcomes_of_the_shop_change_the_chances_once_there_are_enough(plan, attempt, people, as_role, upload):
    lead = as_role("lead")
    cold = (SAMPLES / "teal-8-cold.csv").read_bytes()
    before = {action["do"]: action["chance"] for action in plan()["actions"]}
    told = []
    for number in range(8):
        new = NewJob(uuid4(), f"TL8-9{number}", "teal-8", "Ansel Roe", "Snow.")
        other, _ = open_job(new, people["lead"])
        assert upload(f"jobs/{other.pk}/runs", "cold.csv", cold, id=str(uuid4())).status_code == 201
        attempt("reball", "no", other.pk)
        attempt("replace", "yes", other.pk)
        told.append(lead.get("/api/v1/habits").json()["outcomes"])
    after = {action["do"]: action["chance"] for action in plan()["actions"]}
    assert after["replace"] > before["replace"]
    assert after["reball"] < before["reball"]
    group = next(key for key, count in told[-1].items() if count)
    assert [entry[group] for entry in told] == list(range(1, 9))
    assert any("outcomes" in action["basis"] for action in plan()["actions"])
