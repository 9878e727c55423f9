"""Practice over the API: cards played to the end by the advice, harm, help, the card of the day, files, isolation."""

from __future__ import annotations

import json
from dataclasses import replace
from uuid import uuid4

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from rest_framework.test import APIClient

from tests.api.conftest import BOARDS
from uvrix.core.boards.mark import question_for
from uvrix.core.case.answer import step_json
from uvrix.core.case.belief.believe import believe
from uvrix.core.case.plan.order import plan
from uvrix.core.practice.card_file import PracticeCard
from uvrix.core.practice.levels import LEVELS
from uvrix.shop.accounts.models import User
from uvrix.shop.acts.models import Act
from uvrix.shop.case.threads import thread
from uvrix.shop.config.roles import Role
from uvrix.shop.jobs.models import FIRST_PRACTICE, Job
from uvrix.shop.library.services import import_board
from uvrix.shop.library.sheets import save_sheet
from uvrix.shop.practice.models import PracticeFile, PracticeJob
from uvrix.shop.practice.queries import at_the_bench, drawn, quick_bench
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
        assert job["label"] == f"PR-{number - FIRST_PRACTICE:04d}"
        assert job["complaint"]
        assert len(technician.get(f"/api/v1/jobs/{number}/look").json()["photographs"]) == 2
    assert len(technician.get("/api/v1/practice").json()["rounds"]) == len(LEVELS)
    # found by its own label alone, and no parcel leaves with it
    assert [found["label"] for found in technician.get("/api/v1/jobs?search=pr-0001").json()] == ["PR-0001"]
    assert technician.get("/api/v1/jobs?search=scaup").json() == []
    assert technician.get("/api/v1/shelf").json()["groups"][0]["jobs"] == []
    left = {"id": str(uuid4()), "way": "parcel", "found": "U12."}
    refused = technician.post(f"/api/v1/jobs/{number}/return", left)
    assert (refused.status_code, refused.json()["code"]) == (409, "practice")


@pytest.mark.in_turn(3)
@pytest.mark.parametrize("level", ["shorts", "two-faults", "nothing"])
def test_a_card_is_worked_through_by_the_advice_on_its_screens(technician, scaup, level):
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


def test_power_on_a_short_is_locked_until_one_goes_ahead_and_then_does_harm(technician, scaup):
    number = begin(technician, "shorts", seed=2)
    assert ask(technician, number, "read", "PA", quantity="resistance").json()["code"] == "not-off"
    ask(technician, number, "power", "off")
    locked = ask(technician, number, "power", "supply")
    assert (locked.status_code, locked.json()["code"]) == (409, "locked")
    assert at(technician, number)["harm"] == []
    done = ask(technician, number, "power", "supply", despite=True)
    assert done.status_code == 201
    assert "power on a short" in done.json()["harm"][0]
    stands = at(technician, number)
    assert (stands["power"], len(stands["harm"])) == ("supply", 1)
    assert stands["minutes"] == 2
    # the guard of a job of the shop is talked over by nobody
    assert ask(technician, 1, "power", "supply", despite=True).status_code == 404


def test_what_was_done_to_a_virtual_card_cannot_be_taken_back(technician, scaup):
    number = begin(technician, "counting")
    assert act(technician, number, "remove", "U40").status_code == 201
    done = Act.objects.get(job=number)
    refused = technician.post(f"/api/v1/acts/{done.pk}/withdrawal", {"reason": "slip"})
    assert (refused.status_code, refused.json()["code"]) == (409, "practice")
    assert "a good part lifted: U40" in at(technician, number)["harm"][0]["words"]
    assert at(technician, number)["heats"] == 1


def test_the_advice_is_kept_back_shown_when_asked_for_and_counted(technician, scaup):
    number = begin(technician, help="on-request")

    ask(technician, number, "run", "cold", condition=["cold"])

    def minds():
        # what each try would settle is advice too
        tries = technician.get(f"/api/v1/jobs/{number}/plan").json()["actions"]
        job = technician.get(f"/api/v1/jobs/{number}").json()
        case = technician.get(f"/api/v1/jobs/{number}/case").json()
        return job["next"]["what"], bool(job["mind"]["next"]), bool(case["next"]), bool(tries)

    assert minds() == ("practice", False, False, False)
    shown = technician.post(f"/api/v1/jobs/{number}/practice/help")
    assert (shown.status_code, shown.json()["asked"]) == (200, 1)
    assert minds()[1:] == (True, True, True)
    # it spoke of the point at which it was asked
    ask(technician, number, "power", "off")
    assert minds() == ("practice", False, False, False)
    off = begin(technician, help="off")
    refused = technician.post(f"/api/v1/jobs/{off}/practice/help")
    assert (refused.status_code, refused.json()["code"]) == (409, "no-help")


def test_a_round_is_kept_by_person_seen_by_them_and_the_lead(technician, as_role, people, scaup):
    number = begin(technician)
    other = User.objects.create(username="other", role=Role.TECHNICIAN)
    stranger = APIClient()
    stranger.force_login(other, backend="django.contrib.auth.backends.ModelBackend")
    lead = as_role("lead")
    assert ask(stranger, number, "power", "off").status_code == 403
    ended = technician.post(f"/api/v1/jobs/{number}/practice/end", {"ended": "no-fix"})
    assert ended.status_code == 201
    assert not ended.json()["person"]["right"]
    again = ask(technician, number, "power", "off")
    assert (again.status_code, again.json()["code"]) == (409, "ended")
    assert technician.get("/api/v1/practice").json()["rounds"][0]["ended"] == "no-fix"
    assert stranger.get("/api/v1/practice").json()["rounds"] == []
    assert len(lead.get("/api/v1/practice").json()["rounds"]) == 1
    assert stranger.get(f"/api/v1/jobs/{number}/practice/end").status_code == 403
    assert lead.get(f"/api/v1/jobs/{number}/practice/end").status_code == 200
    assert stranger.delete(f"/api/v1/jobs/{number}/practice").status_code == 403
    assert technician.delete(f"/api/v1/jobs/{number}/practice").status_code == 204
    assert not Job.objects.filter(pk=number).exists()


def test_the_card_of_the_day_is_one_for_all_and_names_only_who_consents(technician, as_role, scaup):
    lead = as_role("lead")
    before = technician.get("/api/v1/practice/day").json()
    assert (before["number"], before["rounds"], before["advice_minutes"]) == (None, [], None)

    def worked(client):
        body = {"id": str(uuid4()), "source": "day", "help": "off"}
        number = client.post("/api/v1/practice/jobs", body).json()["number"]
        assert client.post("/api/v1/practice/jobs", {**body, "id": str(uuid4())}).json()["number"] == number
        client.post(f"/api/v1/jobs/{number}/practice/end", {"ended": "repaired"})
        return number

    first, second = worked(technician), worked(lead)
    cards = [PracticeJob.objects.get(pk=number).card for number in (first, second)]
    assert cards[0] == cards[1]
    told = technician.get("/api/v1/practice/day").json()
    assert [(row["by"] != "", row["mine"]) for row in told["rounds"]] == [(True, True), (False, False)]
    assert told["advice_right"]
    refused = technician.put(f"/api/v1/jobs/{second}/practice/named", {"named": True})
    assert refused.status_code == 403
    lead.put(f"/api/v1/jobs/{second}/practice/named", {"named": True})
    assert all(row["by"] for row in technician.get("/api/v1/practice/day").json()["rounds"])


def test_cards_are_files_that_go_out_and_come_in(technician, as_role, scaup):
    number = begin(technician)
    assert technician.get(f"/api/v1/jobs/{number}/practice/card").status_code == 404
    technician.post(f"/api/v1/jobs/{number}/practice/end", {"ended": "no-fix"})
    sent = technician.get(f"/api/v1/jobs/{number}/practice/card")
    assert "attachment" in sent["Content-Disposition"]
    file = SimpleUploadedFile("card.json", sent.content)
    kept = technician.post("/api/v1/practice/cards", {"file": file}, format="multipart")
    assert kept.status_code == 201
    assert technician.get(f"/api/v1/practice/cards/{kept.json()['id']}").json() == json.loads(sent.content)
    begun = technician.post(
        "/api/v1/practice/jobs", {"id": str(uuid4()), "source": "file", "file": kept.json()["id"], "help": "off"}
    )
    assert PracticeJob.objects.get(pk=begun.json()["number"]).card == json.loads(sent.content)
    wrong = SimpleUploadedFile("card.json", sent.content.replace(b'"seed"', b'"sead"'))
    refused = technician.post("/api/v1/practice/cards", {"file": wrong}, format="multipart")
    assert (refused.status_code, refused.json()["code"]) == (422, "refused-file")
    assert technician.delete(f"/api/v1/practice/cards/{kept.json()['id']}").status_code == 403
    assert as_role("lead").delete(f"/api/v1/practice/cards/{kept.json()['id']}").status_code == 204
    assert not PracticeFile.objects.exists()


def test_a_past_job_becomes_a_card_without_its_names(demo):
    lead = APIClient()
    lead.force_login(User.objects.get(username="casper"), backend="django.contrib.auth.backends.ModelBackend")
    made = {}
    closed = Job.objects.exclude(closed_at=None).filter(pk__lt=FIRST_PRACTICE).select_related("customer", "card")
    for job in closed:
        answer = lead.post("/api/v1/practice/cards/of-job", {"job": job.pk})
        assert answer.status_code in {201, 422}, answer.content
        if answer.status_code == 201:
            made[job] = json.dumps(PracticeFile.objects.get(pk=answer.json()["id"]).content)
    assert made
    for job, text in made.items():
        assert job.card.serial not in text
        assert job.customer.name not in text
        assert job.complaint not in text
    job = next(iter(made))
    begun = lead.post("/api/v1/practice/jobs", {"id": str(uuid4()), "source": "past", "job": job.pk})
    assert begun.status_code == 201
    opened = Job.objects.filter(closed_at=None, pk__lt=FIRST_PRACTICE).earliest("pk")
    refused = lead.post("/api/v1/practice/jobs", {"id": str(uuid4()), "source": "past", "job": opened.pk})
    assert (refused.status_code, refused.json()["code"]) == (422, "not-past")


STEPS = (
    ("power", "off", {}),
    ("read", "PA", {"quantity": "resistance"}),
    ("read", "PA", {"quantity": "resistance"}),
    ("inject", "PA", {"volts": 0.5, "amps_limit": 2}),
    ("glow", "", {}),
    ("trial", "computer", {}),
    ("tick", "F11", {}),
    ("power", "supply", {"despite": True}),
    ("draw", "supply", {}),
    ("read", "L21", {"quantity": "voltage"}),
    ("power", "computer", {"despite": True}),
    ("rung", "computer", {}),
    ("run", "cold", {"condition": ["cold"]}),
)


def test_the_same_card_answers_the_same_steps_alike_and_a_step_sent_twice_once(technician, scaup):
    first, second = (begin(technician, "shorts", seed=5, help="off") for _ in range(2))
    for do, target, more in STEPS:
        entry = {"id": str(uuid4()), "do": do, "target": target, **more}
        sent = [
            technician.post(f"/api/v1/jobs/{first}/practice/steps", entry),
            technician.post(f"/api/v1/jobs/{first}/practice/steps", entry),
            ask(technician, second, do, target, **more),
        ]
        assert [answer.status_code for answer in sent] == [201] * 3, [answer.content for answer in sent]
        assert sent[0].json() == sent[1].json() == sent[2].json()
    assert at(technician, first) == at(technician, second)
    rows = [len(thread(Job.objects.get(pk=number)).rows) for number in (first, second)]
    assert rows[0] == rows[1]


def test_the_bench_put_together_quickly_is_the_whole_threads(technician, scaup):
    number = begin(technician, "shorts", seed=5, help="off")
    for do, target, more in STEPS[:8]:
        ask(technician, number, do, target, **more)
    ask(technician, number, "power", "off")
    # one act shielded, one not
    assert act(technician, number, "swap", "U15").status_code == 201
    assert act(technician, number, "swap", "U16", shields=[]).status_code == 201
    ask(technician, number, "run", "cold", condition=["cold"])
    job = Job.objects.get(pk=number)
    quick, whole = quick_bench(job, job.practice_row), at_the_bench(job).bench
    assert (quick.done, quick.power, quick.off, quick.fed) == (whole.done, whole.power, whole.off, whole.fed)
    assert [fault.text for fault in quick.faults] == [fault.text for fault in whole.faults]
    assert [harm.words for harm in quick.harmed] == [harm.words for harm in whole.harmed]
    assert len(quick.harmed) >= 3


def take_in(client, card):
    file = SimpleUploadedFile("card.json", json.dumps(card.document()).encode())
    return client.post("/api/v1/practice/cards", {"file": file}, format="multipart")


def test_a_card_is_handed_over_with_what_was_known_of_it(technician, scaup):
    known = (
        {"symptom": ["dead"]},
        {"looked": "front"},
        {"power": "off"},
        {"reading": {"point": "PA", "quantity": "resistance", "value": "0R4", "unit": "ohm", "mode": "ohms"}},
        {"lot": {"site": "U12", "lot": "L-7"}},
        {"did": "remove", "site": "U71"},
    )
    card = PracticeCard("Half done", "shorts", "scaup-24", ("joined:U71",), 3, entries=known)
    kept = take_in(technician, card).json()["id"]
    body = {"id": str(uuid4()), "source": "file", "file": kept, "help": "on"}
    number = technician.post("/api/v1/practice/jobs", body).json()["number"]
    facts = thread(Job.objects.get(pk=number)).facts
    assert list(facts.card.off) == ["U71"]
    assert "front" in facts.looked
    # what was done before is nobody's work, and no fault of theirs
    stands = at(technician, number)
    assert (stands["minutes"], stands["heats"]) == (0, 0)
    ended = technician.post(f"/api/v1/jobs/{number}/practice/end", {"ended": "repaired"}).json()
    assert [moment["do"] for moment in ended["moments"]] == ["return"]
    asked = PracticeCard("Asked", "shorts", "scaup-24", ("joined:U71",), 3, entries=({"answered": {"do": "ask"}},))
    refused = technician.post(
        "/api/v1/practice/jobs", {**body, "id": str(uuid4()), "file": take_in(technician, asked).json()["id"]}
    )
    assert (refused.status_code, refused.json()["code"]) == (422, "does-not-fit")
    assert refused.json()["detail"].startswith("$.case.entries[0]: ")
    assert PracticeJob.objects.count() == 1


def test_saved_cards_of_one_name_both_stay(technician, scaup):
    card = PracticeCard("One name", "counting", "scaup-24", ("cells:U12",), 3)
    first, again = take_in(technician, card).json(), take_in(technician, card).json()
    other = take_in(technician, replace(card, faults=("cells:U13",))).json()
    assert first["id"] == again["id"]
    assert (first["name"], other["name"]) == ("One name", "One name 2")
    faults = [kept.content["faults"] for kept in PracticeFile.objects.order_by("name")]
    assert faults == [["cells:U12"], ["cells:U13"]]


def test_nobody_reads_what_was_hidden_off_anothers_card(technician, as_role, scaup):
    number = begin(as_role("lead"))
    as_role("lead").post(f"/api/v1/jobs/{number}/practice/end", {"ended": "no-fix"})
    for address in ("card", "end"):
        assert technician.get(f"/api/v1/jobs/{number}/practice/{address}").status_code == 403
        assert as_role("lead").get(f"/api/v1/jobs/{number}/practice/{address}").status_code == 200


def test_a_fault_of_the_watchlist_is_hidden(technician, scaup, people):
    watch = [{"cause": "Power stage", "look": "The stages by the plug.", "part": "U72"}]
    save_sheet(scaup.model, "watchlist", {"watch": watch}, 0, people[Role.LEAD])
    body = {"id": str(uuid4()), "source": "watchlist", "board_model": "scaup-24", "help": "off"}
    number = technician.post("/api/v1/practice/jobs", body).json()["number"]
    assert PracticeJob.objects.get(pk=number).card["faults"] == ["joined:U72"]


def test_what_cannot_be_begun_is_said(technician, scaup):
    def refused(**body):
        sent = technician.post("/api/v1/practice/jobs", {"id": str(uuid4()), "source": "level", **body})
        assert sent.status_code == 422, sent.content
        return sent.json()["code"]

    assert refused(board_model="none", level="shorts") == "unknown-model"
    assert refused(board_model="scaup-24") == "no-level"
    assert refused(source="watchlist", board_model="scaup-24") == "no-watchlist"
    number = begin(technician)
    assert ask(technician, number, "read", "NOWHERE").json()["code"] == "no-step"
    assert ask(technician, number, "glow", "").json()["code"] == "not-fed"
    assert technician.get(f"/api/v1/jobs/{number}/practice/sight/NOWHERE").status_code == 404
    assert technician.get(f"/api/v1/jobs/{number}/practice/sight/U12")["Content-Type"] == "image/jpeg"


def test_a_part_is_looked_at_closely_by_its_name(technician, scaup, people):
    number = begin(technician, "start-up")
    base = f"/api/v1/jobs/{number}/look"
    clear = technician.post(f"{base}/regions", {"id": str(uuid4()), "region": "u63", "clear": True})
    assert clear.status_code == 201
    assert "U63" in thread(Job.objects.get(pk=number)).facts.looked
    seen = {"id": str(uuid4()), "kind": "burn", "side": "front", "part": "u71"}
    found = technician.post(f"{base}/findings", seen).json()["findings"][0]
    assert (found["part"], found["side"]) == ("U71", "front")
    for wrong in ({"region": "U999", "clear": True}, {"region": "front-9-9", "clear": True}):
        assert technician.post(f"{base}/regions", {"id": str(uuid4()), **wrong}).json()["code"] == "unknown-region"
    nowhere = technician.post(f"{base}/findings", {**seen, "id": str(uuid4()), "part": "U999"})
    assert nowhere.json()["code"] == "unknown-part"
