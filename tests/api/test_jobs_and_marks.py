"""Sign-in, shelf, jobs, the orientation of the board, marks, board models."""

from __future__ import annotations

import json
from uuid import uuid4

import pytest

from tests.api.conftest import BOARDS
from uvrix.shop.accounts.models import User
from uvrix.shop.accounts.services import invite
from uvrix.shop.bench.models import ChipMark
from uvrix.shop.config.roles import Role
from uvrix.shop.demo.shop import JOBS, PEOPLE
from uvrix.shop.jobs.models import Job


def form(**more):
    return {
        "entry": str(uuid4()),
        "serial": "TL8-77",
        "board_model": "teal-8",
        "customer": "Nerys Loch",
        "complaint": "Snow",
        **more,
    }


def test_a_job_is_opened_once_whatever_is_sent_twice(technician, teal):
    body = form()
    first, second = technician.post("/api/v1/jobs", body), technician.post("/api/v1/jobs", body)
    assert (first.status_code, second.status_code) == (201, 200)
    assert first.json()["number"] == second.json()["number"]
    assert first.json()["opened_by"] == "Technician"


def test_a_card_that_is_here_already_or_of_another_model_is_named(technician, teal, people):
    number = technician.post("/api/v1/jobs", form()).json()["number"]
    again = technician.post("/api/v1/jobs", form())
    assert (again.status_code, again.json()["code"], again.json()["job"]) == (409, "already-here", number)
    from uvrix.shop.library.services import import_board

    import_board((BOARDS / "wigeon-4.board.json").read_bytes(), "w", people[Role.LEAD])
    other = technician.post("/api/v1/jobs", form(board_model="wigeon-4"))
    assert (other.status_code, other.json()["code"]) == (409, "other-model")
    unknown = technician.post("/api/v1/jobs", form(board_model="none", serial="N"))
    assert (unknown.status_code, unknown.json()["code"]) == (422, "unknown-model")
    assert Job.objects.count() == 1


def test_a_returning_serial_shows_its_past(technician, job):
    card = technician.get("/api/v1/cards/TL8-1").json()
    assert card["board_model"] == "teal-8"
    assert [entry["number"] for entry in card["jobs"]] == [job.pk]


@pytest.mark.parametrize("text", ["tl8-1", "ansel", "no pict", "Teal", "J-{n:04d}", "{n}"])
def test_search_finds_by_what_a_person_remembers(technician, job, text):
    found = technician.get("/api/v1/jobs", {"search": text.format(n=job.pk)}).json()
    assert [entry["number"] for entry in found] == [job.pk]


@pytest.mark.parametrize("text", ["", "zzz", "\0", "%", "J-99999999999999999999", "²"])
def test_search_for_nothing_finds_nothing(technician, job, text):
    assert technician.get("/api/v1/jobs", {"search": text}).json() == []


def test_the_orientation_of_the_board_is_kept(technician, job):
    assert technician.put(f"/api/v1/jobs/{job.pk}/orientation", {"side": "back", "turns": 3}).status_code == 200
    assert technician.get(f"/api/v1/jobs/{job.pk}").json()["orientation"] == {"side": "back", "turns": 3}
    for wrong in ({"side": "top", "turns": 0}, {"side": "back", "turns": 4}, {}, [], "x"):
        assert technician.put(f"/api/v1/jobs/{job.pk}/orientation", wrong).status_code == 400


@pytest.fixture
def marking(technician, job, drop):
    drop("teal-8-cold.csv")

    def send(typed, answer=None, designator="U18", entry=None):
        truth = {"U18": "yes"}[designator] if answer is None else answer
        body = {"id": entry or str(uuid4()), "designator": designator, "typed": typed, "answer": truth}
        return technician.post(f"/api/v1/jobs/{job.pk}/marks", body)

    return send


def test_a_mark_is_confirmed_by_designator_and_landmark(marking, technician, job):
    question = technician.get(f"/api/v1/jobs/{job.pk}/mark-question", {"designator": "U18"}).json()
    assert "nearer to" in question["text"]
    right = [answer for answer in ("yes", "no") if marking("u18", answer).status_code == 201]
    assert len(right) == 1
    page = technician.get(f"/api/v1/jobs/{job.pk}").json()
    assert page["mark"]["designator"] == "U18"
    assert (page["next"]["what"], page["next"]["step"]) == ("reball", "rework")


def test_the_wrong_designator_is_refused_and_named(marking):
    answer = marking("U15")
    assert (answer.status_code, answer.json()["code"]) == (422, "wrong-designator")
    assert (answer.json()["typed"], answer.json()["meant"]) == ("U15", "U18")
    unknown = marking("U1")
    assert (unknown.status_code, unknown.json()["code"]) == (422, "unknown-designator")
    assert ChipMark.objects.count() == 0


def test_a_wrong_answer_says_the_distances(marking):
    answers = [marking("U18", answer).json() for answer in ("yes", "no")]
    wrong = next(answer for answer in answers if answer.get("code") == "wrong-answer")
    assert wrong["detail"].count(" mm") == 2
    assert wrong["reference"]


def test_a_mark_sent_twice_counts_once_and_can_be_taken_back(marking, technician, job):
    entry = str(uuid4())
    right = next(answer for answer in ("yes", "no") if marking("U18", answer, entry=entry).status_code == 201)
    assert marking("U18", right, entry=entry).status_code == 200
    assert ChipMark.objects.count() == 1
    technician.post(f"/api/v1/marks/{entry}/withdrawal", {"reason": "slip"})
    assert technician.get(f"/api/v1/jobs/{job.pk}").json()["mark"] is None
    assert technician.get(f"/api/v1/jobs/{job.pk}/marks").json() == []
    assert ChipMark.objects.count() == 1


def test_board_models_come_in_and_go_out_unchanged(technician, people):
    data = (BOARDS / "scaup-24.board.json").read_bytes()

    def send(content):
        from django.core.files.uploadedfile import SimpleUploadedFile

        file = SimpleUploadedFile("s.board.json", content)
        return technician.post("/api/v1/board-models", {"file": file}, format="multipart")

    first, again = send(data), send(data)
    assert (first.status_code, again.status_code) == (201, 200)
    assert (first.json()["sites"], again.json()["edition"]) == (24, 1)
    changed = json.loads(data)
    changed["of_the_shop"] = {"kept": [1.25]}
    second = send(json.dumps(changed).encode())
    assert (second.status_code, second.json()["edition"]) == (201, 2)
    assert json.loads(technician.get("/api/v1/board-models/scaup-24/file").content) == changed
    drawing = technician.get("/api/v1/board-models/scaup-24").json()["drawing"]
    assert len(drawing["views"]) == 8
    assert len(drawing["sites"]) == 24
    refused = send(data.replace(b"bottom-left", b"middle"))
    assert (refused.status_code, refused.json()["code"], refused.json()["place"]) == (
        422,
        "refused-file",
        "$.core.mark_corner",
    )


def test_sign_in_sign_out_and_lock_out(client, db):
    User.objects.create_user("mirren", password="heron-at-low-tide", role=Role.TECHNICIAN)
    session = "/api/v1/session"
    assert client.get(session).json()["person"] is None
    right = {"username": "mirren", "password": "heron-at-low-tide"}
    assert client.post(session, right, "application/json").json()["person"]["role"] == "technician"
    assert client.get(session).json()["person"]["username"] == "mirren"
    assert client.delete(session).status_code == 204
    assert client.get("/api/v1/shelf").status_code == 401
    wrong = [client.post(session, {**right, "password": "no"}, "application/json") for _ in range(9)]
    assert wrong[0].json()["code"] == "wrong-sign-in"
    assert (wrong[-1].status_code, wrong[-1].json()["code"]) == (429, "locked-out")
    assert client.post(session, right, "application/json").status_code == 429


def test_an_invitation_serves_once_and_asks_for_a_strong_password(client, db):
    address = f"/api/v1/invitations/{invite(Role.LEAD)}"
    body = {"username": "casper", "name": "Casper Holm", "password": "12345"}
    assert client.post(address, body, "application/json").json()["code"] == "weak-password"
    body["password"] = "lamp-over-the-bench"
    assert client.post(address, body, "application/json").json()["role"] == "lead"
    assert client.post(address, {**body, "username": "other"}, "application/json").status_code == 410
    assert client.post("/api/v1/invitations/none", body, "application/json").status_code == 410


def test_the_demo_shop_fills_the_shelf_in_a_fixed_number_of_queries(demo, as_role, django_assert_max_num_queries):
    browser = as_role("lead")
    browser.get("/api/v1/shelf")  # the boards and what the shop learned are in memory from here
    with django_assert_max_num_queries(6):
        groups = browser.get("/api/v1/shelf").json()["groups"]
    jobs = [job for group in groups for job in group["jobs"]]
    assert len(jobs) == len(JOBS)
    assert sum(job["runs"] > 0 for job in jobs) >= 6
    assert User.objects.count() >= len(PEOPLE)
    hands = next(group["jobs"] for group in groups if group["move"] == "hands")
    assert hands[0]["express"]
    assert all(job["next"]["do"] for job in jobs)
