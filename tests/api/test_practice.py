"""Practice over the API: cards played to the end by the advice, harm, help, the card of the day, files, isolation."""

from __future__ import annotations

from uuid import uuid4

import pytest

from tests.api.conftest import BOARDS
from uvrix.core.boards.mark import question_for
from uvrix.core.case.answer import step_json
from uvrix.core.case.belief.believe import believe
from uvrix.core.case.plan.order import plan
from uvrix.core.practice.levels import LEVELS
from uvrix.shop.case.threads import thread
from uvrix.shop.config.roles import Role
from uvrix.shop.jobs.models import FIRST_PRACTICE, Job
from uvrix.shop.library.services import import_board
from uvrix.shop.practice.queries import at_the_bench, drawn
from uvrix.shop.practice.writing import Written, write

MOST_STEPS = 120
OFF_THE_BENCH = {"symptom", "look", "mark", "ask"}
ON_THE_BOARD = {"remove", "place", "swap", "reball", "contact-repaired", "cut-layers", "renew-joint"}


@pytest.fixture
def scaup(people):
    return import_board((BOARDS / "scaup-24.board.json").read_bytes(), "scaup-24.board.json", people[Role.LEAD])[0]


def begin(client, level="counting", model="scaup-24", seed=1, **more):
    body = {"id": str(uuid4()), "source": "level", "level": level, "board_model": model, "seed": seed, "help": "on"}
    sent = client.post("/api/v1/practice/jobs", {**body, **more})
    assert sent.status_code == 201, sent.content
    return sent.json()["number"]


def ask(client, number, do, target, **more):
    return client.post(
        f"/api/v1/jobs/{number}/practice/steps", {"id": str(uuid4()), "do": do, "target": target, **more}
    )


def at(client, number):
    return client.get(f"/api/v1/jobs/{number}/practice").json()


def act(client, number, do, site, **more):
    before = client.get(f"/api/v1/jobs/{number}/rework/before", {"site": site, "do": do}).json()
    shields = [near["designator"] for near in before["neighbours"] if near["shield"]]
    body = {"id": str(uuid4()), "do": do, "site": site, "no_photo": "virtual", "pin1": before["pin1"] or "none"}
    body |= {"shields": shields, **more}
    if do in {"place", "swap"}:
        body |= {"chip_in": f"NEW-{uuid4().hex[:6]}", "despite": "practice"}
    return client.post(f"/api/v1/jobs/{number}/rework", body)


def carry_out(client, number, step):
    """What a technician does with a step of the advice: on the step's own screen, or by the bench."""
    do, target = step["do"], step["target"]
    base, entry = f"/api/v1/jobs/{number}", {"id": str(uuid4())}
    if do == "symptom":
        return client.post(f"{base}/symptom", {**entry, "kinds": ["dead"], "often": "always"})
    if do == "look":
        return look(client, number, target)
    if do == "mark":
        question = question_for(drawn(Job.objects.get(pk=number).card.model), target)
        answered = {"designator": target, "typed": target, "answer": question.answer if question else ""}
        return client.post(f"{base}/marks", {**entry, **answered})
    if do in ON_THE_BOARD:
        return act(client, number, do, target)
    more = {key: step[key] for key in ("quantity", "volts", "amps_limit") if step.get(key) is not None}
    if do == "run":
        more["condition"] = [target]
    return ask(client, number, do, target, **more)


def look(client, number, target):
    """What the eye finds at a place is entered; where it finds nothing, the regions are clear."""
    job = Job.objects.get(pk=number)
    bench = at_the_bench(job)
    for seen in bench.bench.ask({"do": "look", "target": target}):
        if "seen" in seen:
            write(seen, Written(job, uuid4(), bench.board, job.opened_by))
            return client.get(f"/api/v1/jobs/{number}")
    regions = client.get(f"/api/v1/jobs/{number}/look").json()["regions"]
    for region in [region["id"] for region in regions if region["side"] == target] or [target]:
        body = {"id": str(uuid4()), "region": region, "clear": True}
        sent = client.post(f"/api/v1/jobs/{number}/look/regions", body)
    return sent


def told(job):
    """The steps of the advice with what carries them out, which the screens know of their own."""
    facts = thread(job).facts
    return [step_json(step) for step in plan(facts, believe(facts))]


def play(client, number):
    """Work a card through by the advice; gives what the debrief says. It comes unplugged, which is confirmed."""
    assert ask(client, number, "power", "off").status_code == 201
    for _ in range(MOST_STEPS):
        step = told(Job.objects.get(pk=number))[0]
        if step["do"] == "return":
            return client.post(f"/api/v1/jobs/{number}/practice/end", {"ended": step["target"]}).json()
        sent = carry_out(client, number, step)
        assert sent.status_code in {200, 201}, (step, sent.content)
    raise AssertionError(f"no end after {MOST_STEPS} steps; the last was {step}")


def test_a_card_of_every_level_is_begun_and_marked(technician, scaup):
    shown = technician.get("/api/v1/practice").json()
    assert [level["level"] for level in shown["levels"]] == list(LEVELS)
    assert shown["models"] == [{"board_model": "scaup-24", "name": str(scaup.model), "levels": list(LEVELS)}]
    for level in LEVELS:
        number = begin(technician, level)
        job = technician.get(f"/api/v1/jobs/{number}").json()
        assert job["practice"]
        assert job["label"] == f"P-{number - FIRST_PRACTICE:04d}"
        assert job["complaint"]
        assert len(technician.get(f"/api/v1/jobs/{number}/look").json()["photographs"]) == 2
    assert len(technician.get("/api/v1/practice").json()["rounds"]) == len(LEVELS)


@pytest.mark.parametrize("level", LEVELS)
def test_a_card_of_every_level_is_worked_through_by_the_advice(technician, scaup, level):
    number = begin(technician, level, seed=LEVELS.index(level) + 3)
    found = play(technician, number)
    assert found["person"]["right"], found["hidden"]
    assert found["person"]["harm"] == found["advice"]["harm"] == []
    astray = [
        (moment["words"], moment["advice"]["says"])
        for moment in found["moments"]
        if moment["do"] != "power" and not moment["as_advised"]
    ]
    assert astray == []
    assert technician.get(f"/api/v1/jobs/{number}").json()["closed_at"]
