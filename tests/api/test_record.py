"""The record of a job: all that happened in one line of time, notes that correct, the card that resumes, whose move."""

from __future__ import annotations

from uuid import UUID, uuid4, uuid5

import pytest

from tests.api.conftest import PNG, SAMPLES
from uvrix.shop.jobs.models import JobChange


@pytest.fixture
def timeline(technician, job):
    return lambda **query: technician.get(f"/api/v1/jobs/{job.pk}/timeline", query).json()


@pytest.fixture
def change(as_role, job):
    def send(entry=None, **changes):
        body = {"id": str(entry or uuid4()), **changes}
        return as_role("front-desk").post(f"/api/v1/jobs/{job.pk}/changes", body)

    return send


def note(client, job, text, **more):
    return client.post(f"/api/v1/jobs/{job.pk}/timeline", {"id": str(uuid4()), "text": text, **more})


def test_everything_stands_in_one_line_of_time_with_who(technician, job, timeline, drop):
    drop("teal-8-cold.csv")
    spot = {"id": str(uuid4()), "kind": "burn", "side": "front", "x_mm": 20, "y_mm": 30}
    technician.post(f"/api/v1/jobs/{job.pk}/look/findings", spot)
    technician.post(f"/api/v1/look-findings/{spot['id']}/withdrawal")
    technician.post(f"/api/v1/jobs/{job.pk}/power", {"id": str(uuid4()), "state": "off"})
    note(technician, job, "Smells of phenol.", step="look")
    events = timeline()
    assert [event["at"] for event in events] == sorted((event["at"] for event in events), reverse=True)
    assert len({event["id"] for event in events}) == len(events)
    assert all(event["by"] for event in events)
    kinds = {event["kind"] for event in events}
    assert {"job", "run", "finding", "correction", "power", "note"} <= kinds
    [back] = [event for event in events if event["kind"] == "correction"]
    assert back["corrects"] == spot["id"]
    assert {entry["step"] for entry in timeline(step="look")} == {"look"}
    assert [entry["words"] for entry in timeline(kind="note")] == ["Smells of phenol."]


def test_a_note_corrects_by_naming_what_it_corrects(technician, job, timeline):
    first = note(technician, job, "U15 runs hot.").json()[0]["id"]
    note(technician, job, "It was U16.", corrects=first)
    assert [entry["corrects"] for entry in timeline(kind="note")] == [first, ""]
    unknown = note(technician, job, "It was U16.", corrects="nothing")
    assert (unknown.status_code, unknown.json()["code"]) == (422, "unknown-event")


def test_the_number_of_queries_does_not_grow_with_the_record(technician, job, django_assert_max_num_queries):
    def owes(words):
        technician.post(f"/api/v1/jobs/{job.pk}/owed", {"id": str(uuid4()), "kind": "other", "words": words})

    for text in ("a", "b"):
        note(technician, job, text)
        owes(text)
    address = f"/api/v1/jobs/{job.pk}/timeline"
    from django.db import connection
    from django.test.utils import CaptureQueriesContext

    technician.get(address)
    with CaptureQueriesContext(connection) as taken:
        technician.get(address)
    few = len(taken)
    assert few <= 10, "tables that hold nothing of a job are not asked"
    for number in range(12):
        note(technician, job, str(number))
        owes(str(number))
    with django_assert_max_num_queries(few):
        technician.get(address)


def test_waiting_is_a_state_with_a_reason_and_stays_in_the_record(change, timeline, technician, job):
    assert change(move="part").json()["code"] == "no-reason"
    entry = uuid4()
    asked = {"move": "part", "waits_for": "Power plug, ordered", "due": "2026-12-04", "place": "B7"}
    set_now = change(entry, **asked)
    assert set_now.status_code == 201
    shown = set_now.json()
    assert (shown["move"], shown["waits_for"], shown["due"], shown["place"]) == (
        "part", "Power plug, ordered", "2026-12-04", "B7",
    )  # fmt: skip
    assert change(entry, **asked).status_code == 200
    assert change(entry, move="part", waits_for="x").json()["code"] == "id-used"
    assert JobChange.objects.count() == 1
    assert change(move="hands").json()["waits_for"] == ""
    said = [item["words"] for item in timeline(kind="move")]
    assert said[1] == "Waits: a part; for Power plug, ordered; due 2026-12-04; shelf place B7."
    assert said[0] == "Back in your hands; for Power plug, ordered no more."


def test_the_resume_card_says_what_one_needs_to_go_on(technician, job):
    def hypothesis(cause, state, by_what=""):
        body = {"id": str(uuid4()), "cause": cause, "state": state, "by_what": by_what}
        technician.post(f"/api/v1/jobs/{job.pk}/hypotheses", body)

    hypothesis("Fan plug", "ruled-out", "pushed home, no change")
    hypothesis("Stage short", "open")
    body = {"id": str(uuid4()), "kind": "coil-lifted", "words": "L4 lifted."}
    technician.post(f"/api/v1/jobs/{job.pk}/owed", body)
    loan = {"id": str(uuid4()), "kind": "loan", "words": "Test cooler 1"}
    technician.post(f"/api/v1/jobs/{job.pk}/owed", loan)
    card = technician.get(f"/api/v1/jobs/{job.pk}/resume").json()
    assert [entry["by_what"] for entry in card["ruled_out"]] == ["pushed home, no change"]
    assert [entry["cause"] for entry in card["open"]] == ["Stage short"]
    assert [entry["words"] for entry in card["off"]] == ["L4 lifted."]
    assert [debt["words"] for debt in card["owed"]] == ["Test cooler 1"]
    assert card["last"][0]["words"] == "Promised, on loan: Test cooler 1"


def test_the_next_step_follows_the_order_of_the_trade(technician, job):
    def what():
        return technician.get(f"/api/v1/jobs/{job.pk}").json()["next"]["what"]

    assert what() == "symptom"
    technician.post(f"/api/v1/jobs/{job.pk}/symptom", {"id": str(uuid4()), "often": "always"})
    assert what() == "look"
    for region in technician.get(f"/api/v1/jobs/{job.pk}/look").json()["regions"]:
        entry = {"id": str(uuid4()), "region": region["id"], "clear": True}
        technician.post(f"/api/v1/jobs/{job.pk}/look/regions", entry)
    assert what() == "read"


@pytest.fixture
def send(technician):
    """Posts an entry to an address below the API; gives its id."""

    def post(address, **body):
        entry = str(uuid4())
        answer = technician.post(f"/api/v1/{address}", {"id": entry, **body})
        assert answer.status_code in {200, 201}, answer.json()
        return entry

    return post


def test_every_room_of_the_shop_writes_into_the_record_in_the_trades_words(send, as_role, job, timeline, upload):
    """One entry of each kind, and its sentence; each taken back says so, and what it takes back."""

    def post(address, **body):
        return send(f"jobs/{job.pk}/{address}", **body)

    post("intake", serial="TL8-1", missing="one screw")
    post("symptom", often="rarely", seen="Green squares.")
    claim = post("evidence", kind="diagnosis", source="another workshop", text="Core is dead.")
    send(f"evidence/{claim}/words", word="refuted")
    trial = post("trials", cell="computer+lead", shows=True, tries=2)
    send(f"trials/{trial}/withdrawal")
    post("reproductions", load="a scene", minutes=12.5, outcome="hangs")
    picture = upload("pictures", "front.png", PNG).json()["sha256"]
    post("photographs", sha256=picture, side="back", before="U15", note="Flux left.")
    for region in ("front-1-1", "front-1-2"):
        post("look/regions", region=region, clear=True)
    post("power", state="off")
    post("readings", point="PL1/PL2", quantity="resistance", value="12..55", mode="ohms", condition=["warm"])
    post("ticks", point="F3", skipped="Under the plate.")
    post("ticks", point="F1")
    loan = post("owed", kind="loan", words="Test cooler 2")
    post("settled", key=loan)
    promised = post("owed", kind="other", words="Send a picture.")
    body = {"key": promised, "reason": "He saw it himself."}
    as_role("lead").post(f"/api/v1/jobs/{job.pk}/waivers", body)
    post("changes", express=True)
    post("changes", express=False)
    post("worth", value=250, note="As he bought it.")
    report = (SAMPLES / "teal-8-cold.csv").read_bytes()
    upload(f"jobs/{job.pk}/runs", "cold.csv", report, id=str(uuid4()))
    tried = post("attempts", do="reball", outcome="yes", minutes=40)
    send(f"attempts/{tried}/withdrawal")
    said = {(entry["kind"], entry["words"]) for entry in timeline()}
    assert said >= {
        ("parcel", "Parcel taken in, TL8-1 checked; missing: one screw."),
        ("symptom", "Symptom: Green squares; shows rarely."),
        ("evidence", "Evidence from another workshop, another workshop's diagnosis: Core is dead."),
        ("evidence", "Evidence: not so."),
        ("test", "Called up: a scene, 12.5 min: hangs."),
        ("photograph", "Photograph of the back before U15 came off. Flux left."),
        ("look", "2 regions looked at, the last of them now."),
        ("power", "Unplugged and discharged."),
        ("reading", "PL1/PL2 across: 12 Ω to 55 Ω, warm."),
        ("tick", "F3 skipped: Under the plate."),
        ("tick", "F1 ticked by hand."),
        ("promise", "Promised, on loan: Test cooler 2"),
        ("promise", "Done: Test cooler 2"),
        ("promise", "Released with this still owed: He saw it himself."),
        ("move", "express."),
        ("move", "no longer express."),
        ("worth", "Worth 250 repaired. As he bought it."),
        ("attempt", "Reball U18: it is cured."),
    }
    back = {entry["corrects"] for entry in timeline(kind="correction")}
    assert back == {trial, tried, str(uuid5(UUID(tried), "U18"))}, "with the act that it was"
    [tested] = [entry["words"] for entry in timeline(kind="test") if entry["words"].startswith("Tested")]
    assert tested == "Tested with another computer, lead: shows, tried 2 times."
    assert {entry["step"] for entry in timeline(kind="reading")} == {"ohms"}
    assert all(entry["by"] for entry in timeline())


def test_a_closed_job_says_so_at_the_end_of_its_record(job, timeline):
    assert [entry["words"] for entry in timeline(kind="job")] == ["Job opened: “No picture.”"]
    job.closed_at = job.opened_at
    job.save()
    assert {entry["words"] for entry in timeline(kind="job")} == {"Job opened: “No picture.”", "Job closed."}


def test_the_resume_of_a_job_with_nothing_in_it_asks_no_table_that_is_empty(
    technician, job, django_assert_max_num_queries
):
    address = f"/api/v1/jobs/{job.pk}/resume"
    technician.get(address)
    with django_assert_max_num_queries(10):
        assert technician.get(address).status_code == 200
