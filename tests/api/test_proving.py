"""Prove, Return and the customer's page over the API: nothing leaves too early, and everybody knows what was agreed."""

from __future__ import annotations

import json
from datetime import timedelta
from uuid import uuid4

import pytest
from django.core import mail
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone
from rest_framework.test import APIClient

from tests.api.conftest import BOARDS, close_files
from tests.api.test_rework import do, lift
from tests.core.proving.test_steady import heated
from uvrix.core.proving.protocol import USUAL
from uvrix.shop.accounts.models import User
from uvrix.shop.config.roles import Role
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.library.services import import_package
from uvrix.shop.offers.models import CustomerLink, Message, OfferAnswer
from uvrix.shop.proving.models import CheckSaid
from uvrix.shop.returning.models import FollowUp
from uvrix.shop.stock.models import Donor

COLUMNS = {"seconds": "time", "celsius": "temp", "watts": "power", "mhz": "clock"}
ORIGIN = "http://testserver"


@pytest.fixture
def card(people, job):
    import_package((BOARDS.parent / "packages/fb180.csv").read_bytes(), "fb180", people[Role.LEAD])
    return job


@pytest.fixture
def lead(as_role):
    return as_role("lead")


@pytest.fixture
def desk(as_role):
    return as_role("front-desk")


@pytest.fixture
def public(as_role):
    return as_role(None)


def csv_of(log):
    figures = log.figures
    rows = ["time,temp,power,clock"]
    rows += [
        f"{second:g},{figures['celsius'][at]:.1f},{figures['watts'][at]:.1f},{figures['mhz'][at]:.0f}"
        for at, second in enumerate(log.seconds)
    ]
    return "\n".join(rows).encode()


def send_log(client, job, data, name="stress.csv", **more):
    body = {"entry": str(uuid4()), "file": SimpleUploadedFile(name, data), **more}
    return client.post(f"/api/v1/jobs/{job.pk}/proof/logs", body, format="multipart")


def say(client, job, check, passed=True, **more):
    entry = {"id": str(uuid4()), "check_id": check, "passed": passed, **more}
    return client.post(f"/api/v1/jobs/{job.pk}/proof/checks", entry)


def checks(answer):
    return {check["id"]: check for check in answer.json()["checks"]}


def test_columns_are_said_once_and_idle_is_refused(technician, card):
    log = csv_of(heated(4, 45, 180))
    asked = send_log(technician, card, log)
    assert (asked.status_code, asked.json()["code"]) == (409, "columns")
    assert asked.json()["guess"] == COLUMNS
    assert asked.json()["headers"] == ["time", "temp", "power", "clock"]
    assert technician.put("/api/v1/log-columns", {"columns": {"seconds": "time"}}).json()["code"] == "no-column"
    assert technician.put("/api/v1/log-columns", {"columns": COLUMNS}).status_code == 200
    idle = send_log(technician, card, csv_of(heated(4, 45, 180, watts=(24.0, 25.0))), "idle.csv")
    assert idle.status_code == 201
    stress = checks(idle)["stress"]
    assert stress["judged"] == "refused"
    assert "Idle proves nothing" in stress["why"][0]
    good = checks(send_log(technician, card, log))
    assert [good[name]["judged"] for name in ("stress", "sensors", "clocks")] == ["passed"] * 3
    broken = send_log(technician, card, b"time,temp\n0,36\n0,37\n", "broken.csv")
    assert (broken.status_code, broken.json()["place"]) == (422, "3")


def test_a_proof_asks_no_more_of_many_logs(technician, card):
    technician.put("/api/v1/log-columns", {"columns": COLUMNS})

    def asked():
        with CaptureQueriesContext(connection) as taken:
            assert technician.get(f"/api/v1/jobs/{card.pk}/proof").status_code == 200
        return len(taken)

    def more():
        assert send_log(technician, card, csv_of(heated(4, 45, 180))).status_code == 201

    more()
    of_one = asked()
    for _ in range(3):
        more()
    assert asked() == of_one


def test_the_test_computer_says_what_it_sees(technician, card):
    said = {"format": "uvrix-identity", "version": 1, "device": "Teal 8", "memory_mib": 8192}
    said |= {
        "link": {"width": 16, "gt_per_s": 16.0},
        "link_most": {"width": 16, "gt_per_s": 16.0},
        "errors": {"replays": 0},
    }
    found = checks(send_log(technician, card, json.dumps(said).encode(), "card.json"))
    assert (found["identity"]["judged"], found["link"]["judged"]) == ("passed", "passed")
    half = checks(send_log(technician, card, json.dumps({**said, "memory_mib": 4096}).encode(), "card.json"))
    assert half["identity"]["judged"] == "failed"
    assert send_log(technician, card, b'{"format": "other"}', "card.json").status_code == 422


def test_what_follows_from_measurement_cannot_be_said_and_a_failure_needs_words(technician, card):
    assert say(technician, card, "stress").json()["code"] == "follows"
    assert say(technician, card, "outputs", False).json()["code"] == "no-note"
    assert say(technician, card, "prayer").json()["code"] == "no-check"
    assert say(technician, card, "cold-start").json()["code"] == "no-off"
    early = say(technician, card, "cold-start", off_since=(timezone.now() - timedelta(hours=2)).isoformat())
    assert checks(early)["cold-start"]["judged"] == "refused"
    late = say(technician, card, "cold-start", off_since=(timezone.now() - timedelta(hours=14)).isoformat())
    assert checks(late)["cold-start"]["judged"] == "passed"
    assert checks(say(technician, card, "loads", minutes=20))["loads"]["judged"] == "open"
    assert CheckSaid.objects.count() == 3


def test_a_late_fault_sends_the_job_back_names_neighbours_and_old_evidence_counts_no_more(technician, card):
    technician.put("/api/v1/log-columns", {"columns": COLUMNS})
    lift(technician, card, "U16")
    do(technician, card, do="place", site="U16", chip_in=f"{card.card.serial}/U16")
    assert checks(say(technician, card, "outputs"))["outputs"]["judged"] == "passed"
    send_log(technician, card, csv_of(heated(4, 45, 180)))
    fault = {
        "id": str(uuid4()),
        "check_id": "stress",
        "words": "Blocks on the screen",
        "minutes": 23,
        "back_to": "memory",
    }
    answer = technician.post(f"/api/v1/jobs/{card.pk}/proof/faults", fault)
    assert answer.status_code == 201, answer.content
    named = [suspect["designator"] for suspect in answer.json()["faults"][0]["suspects"]]
    assert named[0] in {"U15", "U17"}
    assert "from U16, which was" in answer.json()["faults"][0]["suspects"][0]["why"]
    # everything is kept, nothing of it counts for the next round
    found = checks(answer)
    assert (found["outputs"]["judged"], found["stress"]["judged"]) == ("open", "open")
    assert [log["counts"] for log in answer.json()["logs"]] == [False]
    step = technician.get(f"/api/v1/jobs/{card.pk}").json()["next"]
    assert step["what"] == "fault"
    assert step["do"] == "Back to Memory, everything is kept"
    assert named[0] in step["why"]
    # once something is done about it the sentence goes on
    lift(technician, card, named[0])
    assert technician.get(f"/api/v1/jobs/{card.pk}").json()["next"]["what"] != "fault"


def test_figures_are_compared_before_and_after_and_scores_with_other_cards(technician, people, card):
    technician.put("/api/v1/log-columns", {"columns": COLUMNS})
    send_log(technician, card, csv_of(heated(1, 30, 180, end_c=91)), "before.csv", phase="before")
    send_log(technician, card, csv_of(heated(2, 30, 180, end_c=74)), "after.csv")
    address = f"/api/v1/jobs/{card.pk}/proof/figures"
    for phase, value in (("before", 49), ("after", 41)):
        technician.post(address, {"id": str(uuid4()), "what": "noise", "phase": phase, "value": value})
    for number, score in enumerate((1000, 1006, 994, 1002)):
        entry = NewJob(uuid4(), f"TL8-S{number}", "teal-8", "Petra Quill", "Fine.")
        other = open_job(entry, people[Role.FRONT_DESK])[0]
        body = {"id": str(uuid4()), "what": "score", "phase": "after", "value": score}
        technician.post(f"/api/v1/jobs/{other.pk}/proof/figures", body)
    low = technician.post(address, {"id": str(uuid4()), "what": "score", "phase": "after", "value": 900})
    pairs = {pair["name"]: pair for pair in low.json()["pairs"]}
    assert pairs["noise"] == {"name": "noise", "unit": "dB", "before": 49, "after": 41}
    assert pairs["temperature under load"]["before"] > pairs["temperature under load"]["after"] + 10
    assert checks(low)["score"]["judged"] == "failed"


def test_protocols_are_the_models_own_or_the_shops(lead, technician, card):
    one = {"id": "outputs", "kind": "hand", "name": "Each output", "fails": "no picture"}
    assert lead.put("/api/v1/proof-protocol", {"document": {"checks": [one]}}).status_code == 200
    assert len(technician.get(f"/api/v1/jobs/{card.pk}/proof").json()["checks"]) == 1
    two = {"document": {"checks": [one, {**one, "id": "fans"}]}, "base": 0}
    assert lead.put("/api/v1/board-models/teal-8/proof", two).status_code == 200
    assert len(technician.get(f"/api/v1/jobs/{card.pk}/proof").json()["checks"]) == 2
    assert lead.put("/api/v1/board-models/teal-8/proof", two).status_code == 409
    wrong = lead.put("/api/v1/proof-protocol", {"document": {"checks": [{**one, "kind": "stress"}]}})
    assert wrong.json()["place"] == "$.checks[0].minutes"


def short_protocol(lead):
    one = {"id": "outputs", "kind": "hand", "name": "Each output", "fails": "no picture"}
    lead.put("/api/v1/proof-protocol", {"document": {"checks": [one]}})


def photograph_both(technician, upload, job):
    from tests.api.conftest import small_picture

    for side in ("front", "back"):
        picture = upload("pictures", f"{side}.png", small_picture()).json()["sha256"]
        body = {"id": str(uuid4()), "sha256": picture, "side": side}
        answer = technician.post(f"/api/v1/jobs/{job.pk}/photographs", body)
        assert answer.status_code == 201, answer.content


def let_go(client, job, **more):
    entry = {"id": str(uuid4()), "way": "parcel", "found": "A joint of a memory chip was cracked.", **more}
    return client.post(f"/api/v1/jobs/{job.pk}/return", entry)


def test_a_parcel_cannot_leave_with_a_lifted_coil_unproven_or_unseen(technician, lead, desk, upload, card):
    short_protocol(lead)
    promise = {"id": str(uuid4()), "kind": "coil-lifted", "words": "L21 lifted"}
    technician.post(f"/api/v1/jobs/{card.pk}/owed", promise)
    blocked = let_go(desk, card)
    assert (blocked.status_code, blocked.json()["code"]) == (409, "blocked")
    assert set(blocked.json()["blocking"]) == {promise["id"], "proof:outputs", "photo:front", "photo:back"}
    assert "L21 lifted" in blocked.json()["detail"]
    assert Job.objects.get(pk=card.pk).closed_at is None
    say(technician, card, "outputs")
    photograph_both(technician, upload, card)
    assert let_go(desk, card).json()["blocking"] == [promise["id"]]
    # waived by the lead alone, with a reason
    body = {"key": promise["id"], "reason": "The customer wants it as it is."}
    assert desk.post(f"/api/v1/jobs/{card.pk}/return/waivers", body).status_code == 403
    assert lead.post(f"/api/v1/jobs/{card.pk}/return/waivers", {**body, "key": "nothing"}).status_code == 404
    assert lead.post(f"/api/v1/jobs/{card.pk}/return/waivers", body).status_code == 201
    gone = let_go(desk, card, price=120, handling="Hold the card when the plug is pulled.")
    assert gone.status_code == 201, gone.content
    closed = Job.objects.get(pk=card.pk)
    assert closed.closed_at is not None
    assert closed.warranty_until == (closed.closed_at + timedelta(days=365)).date()
    assert FollowUp.objects.filter(job=card).count() == 2
    assert let_go(desk, card).json()["code"] == "closed"


def test_rework_after_the_proof_makes_it_open_again(technician, lead, upload, card):
    short_protocol(lead)
    say(technician, card, "outputs")
    photograph_both(technician, upload, card)
    assert technician.get(f"/api/v1/jobs/{card.pk}/return").json()["may_leave"] is True
    lift(technician, card, "U14")
    do(technician, card, do="place", site="U14", chip_in=f"{card.card.serial}/U14")
    found = technician.get(f"/api/v1/jobs/{card.pk}/return").json()
    assert {item["key"] for item in found["items"] if item["blocks"]} == {"proof:outputs", "photo:front", "photo:back"}


def test_no_fix_needs_no_proof_and_a_donor_goes_to_stock(technician, desk, upload, card):
    photograph_both(technician, upload, card)
    assert let_go(desk, card, way="donor").json()["code"] == "no-why"
    gone = let_go(desk, card, way="donor", no_fix="The core is dead; a new one costs more than the card.")
    assert gone.status_code == 201, gone.content
    assert Donor.objects.get(card=card.card).job_id == card.pk
    assert Job.objects.get(pk=card.pk).warranty_until is None
    assert FollowUp.objects.count() == 0


def test_parts_that_stay_off_hold_no_card_that_goes_back_unrepaired(technician, desk, upload, card):
    """Nobody lets each of them go: the report names them all."""
    for site in ("U14", "U15", "U16"):
        lift(technician, card, site)
    photograph_both(technician, upload, card)
    found = technician.get(f"/api/v1/jobs/{card.pk}/return?no_fix=true").json()
    assert [item["key"] for item in found["items"] if item["blocks"]] == []
    repaired = technician.get(f"/api/v1/jobs/{card.pk}/return").json()
    assert sum(item["words"].endswith("fit it again, or a good one.") for item in repaired["items"]) == 3
    gone = let_go(desk, card, no_fix="The pads below three chips are gone.")
    assert gone.status_code == 201, gone.content
    report = technician.get(f"/api/v1/jobs/{card.pk}/report").json()
    assert report["left_off"] == [f"{site}: off the board" for site in ("U14", "U15", "U16")]


OPTIONS = [
    {"name": "Replace U16", "price": 88, "chance": 0.6, "consequence": "The other chips stay.", "against_advice": True},
    {"name": "Replace all eight", "price": 424, "chance": 0.92, "consequence": "None of the lot is left."},
]


def ask(client, job, **more):
    entry = {"id": str(uuid4()), "title": "One chip, or all eight", "found": "U16 failed.", "options": OPTIONS, **more}
    answer = client.post(f"/api/v1/jobs/{job.pk}/offers", entry)
    assert answer.status_code == 201, answer.content
    return answer.json()


def write(client, job, template="options", **more):
    draft = client.get(f"/api/v1/jobs/{job.pk}/message-draft", {"template": template}).json()
    body = {**draft, "to": "ansel@example.invalid", "id": str(uuid4()), "origin": ORIGIN, **more}
    return client.post(f"/api/v1/jobs/{job.pk}/messages", body)


def token_of(message):
    return message.json()["link"].split(f"{ORIGIN}/c/")[1]


def test_a_message_carries_a_link_of_its_own_and_the_answer_is_kept_with_its_wording(desk, technician, public, card):
    ask(technician, card)
    sent = write(desk, card)
    assert sent.status_code == 201, sent.content
    assert "Replace U16: 88 crowns, 60\N{NO-BREAK SPACE}% that it holds." in sent.json()["text"]
    assert [one.to for one in mail.outbox] == [["ansel@example.invalid"]]
    assert write(desk, card, to="nobody").json()["code"] == "no-address"
    token = token_of(sent)
    assert token not in str(list(CustomerLink.objects.values()))
    page = public.get(f"/api/v1/customer/{token}").json()
    assert (page["stands"], page["label"], len(page["offer"]["options"])) == ("asked", card.label, 2)
    assert page["board"]["suspects"] == ["U16"]
    assert "against our advice" in page["offer"]["options"][0]["terms"]
    choice = {"option": 0, "name": "Ansel Roe"}
    refused = public.post(f"/api/v1/customer/{token}/answer", choice)
    assert refused.json()["code"] == "against-advice"
    assert public.post(f"/api/v1/customer/{token}/answer", {**choice, "option": 7}).json()["code"] == "no-option"
    taken = public.post(f"/api/v1/customer/{token}/answer", {**choice, "agreed": True, "words": "One will do."})
    assert (taken.status_code, taken.json()["stands"]) == (201, "answered")
    assert public.post(f"/api/v1/customer/{token}/answer", {**choice, "agreed": True}).json()["code"] == "answered"
    row = OfferAnswer.objects.get()
    assert (row.name, row.how) == ("Ansel Roe", "page")
    assert "against our advice" in row.wording
    job = technician.get(f"/api/v1/jobs/{card.pk}").json()
    assert job["move"] == "hands"
    line = [entry["words"] for entry in technician.get(f"/api/v1/jobs/{card.pk}/timeline").json()]
    assert any(entry.startswith("The customer said: Replace U16. One will do.") for entry in line)


def test_a_link_ends_by_date_by_hand_and_shows_its_job_alone(desk, technician, public, card):
    ask(technician, card)
    token = token_of(write(desk, card))
    assert public.get("/api/v1/customer/not-a-token").status_code == 410
    # neither the page nor the report tell what is the shop's
    said = public.get(f"/api/v1/customer/{token}").content.decode()
    assert "technician" not in said.casefold()
    assert public.get(f"/api/v1/customer/{token}/report").status_code == 404
    CustomerLink.objects.update(expires_at=timezone.now())
    assert public.get(f"/api/v1/customer/{token}").json()["code"] == "link-over"
    other = token_of(write(desk, card))
    assert public.get(f"/api/v1/customer/{other}").status_code == 200
    assert desk.delete(f"/api/v1/jobs/{card.pk}/links").json()["ended"] >= 1
    assert public.get(f"/api/v1/customer/{other}").status_code == 410
    shown = desk.post(f"/api/v1/jobs/{card.pk}/links", {"entry": str(uuid4()), "origin": ORIGIN}).json()["address"]
    assert public.get(f"/api/v1/customer/{shown.rsplit('/', 1)[1]}").status_code == 200


def test_an_answer_told_by_voice_names_who_was_told(desk, technician, card):
    offer = ask(technician, card)
    told = desk.post(
        f"/api/v1/offers/{offer['id']}/answer", {"option": None, "name": "Ansel Roe", "words": "Too dear."}
    )
    assert told.status_code == 201, told.content
    assert told.json()["answer"]["option"] is None
    assert told.json()["answer"]["how"] == "told"


def test_templates_refuse_places_that_nothing_fills(lead, desk, card):
    known = desk.get("/api/v1/message-templates").json()["document"]
    known["templates"][0]["text"] = "Dear {custmer}"
    wrong = lead.put("/api/v1/message-templates", {"document": known})
    assert wrong.json()["place"] == "$.templates[0].text"
    known["templates"][0]["text"] = "Dear {customer}, {link}"
    assert lead.put("/api/v1/message-templates", {"document": known}).status_code == 200
    draft = desk.get(f"/api/v1/jobs/{card.pk}/message-draft", {"template": "options"}).json()
    assert draft["text"] == "Dear Ansel Roe, {link}"
    assert desk.get(f"/api/v1/jobs/{card.pk}/message-draft", {"template": "none"}).status_code == 404


def test_the_report_says_what_concerns_the_customer_and_names_no_other_card(
    technician, lead, desk, upload, public, card, people
):
    short_protocol(lead)
    donor = {"entry": str(uuid4()), "serial": "TL8-SECRET", "board_model": "teal-8", "origin": "bought"}
    giver = technician.post("/api/v1/stock/donors", donor).json()["donors"][0]["job"]
    lift(technician, Job.objects.get(pk=giver), "U12")
    lift(technician, card, "U14")
    do(technician, card, do="place", site="U14", chip_in="TL8-SECRET/U12")
    say(technician, card, "outputs")
    photograph_both(technician, upload, card)
    assert let_go(desk, card, price=150, handling="Hold the card when the plug is pulled.").status_code == 201
    said = technician.get(f"/api/v1/jobs/{card.pk}/report").json()
    assert said["fitted"] == [{"site": "U14", "origin": "a used part, taken from a donor card and tested"}]
    assert said["removed"] == ["U14"]
    assert said["proof"] == [["Each output", "passed", "Passed."]]
    assert "TL8-SECRET" not in json.dumps(said)
    paper = technician.get(f"/api/v1/jobs/{card.pk}/report.pdf")
    assert paper["Content-Type"] == "application/pdf"
    assert paper.content.startswith(b"%PDF")
    close_files(paper)
    sent = write(desk, card, "repaired")
    assert "Price: 150 crowns" in sent.json()["text"]
    assert public.get(f"/api/v1/customer/{token_of(sent)}/report").content.startswith(b"%PDF")
    assert Message.objects.count() == 1


def test_a_comeback_in_warranty_is_linked_and_its_cause_named(technician, desk, lead, upload, people, card):
    short_protocol(lead)
    say(technician, card, "outputs")
    photograph_both(technician, upload, card)
    let_go(desk, card)
    entry = NewJob(uuid4(), card.card.serial, "teal-8", "Ansel Roe", "It is back.")
    again = open_job(entry, people[Role.FRONT_DESK])[0]
    found = technician.get(f"/api/v1/jobs/{again.pk}/return").json()
    assert found["in_warranty"]["number"] == card.pk
    body = {"id": str(uuid4()), "of": card.pk, "cause": "material", "words": "A ball of ours cracked."}
    said = technician.post(f"/api/v1/jobs/{again.pk}/comeback", body).json()["comeback"]
    assert said["cause_words"] == "the shop's own material"
    other = {**body, "id": str(uuid4()), "of": again.pk}
    assert technician.post(f"/api/v1/jobs/{again.pk}/comeback", other).json()["code"] == "other-card"


def test_reminders_are_due_by_date_and_end_when_done(desk, technician, lead, upload, card):
    short_protocol(lead)
    ask(technician, card)
    assert desk.get("/api/v1/reminders").json() == []
    card.offer_rows.update(at=timezone.now() - timedelta(days=9))
    assert [entry["kind"] for entry in desk.get("/api/v1/reminders").json()] == ["answer"]
    write(desk, card, "reminder")
    assert desk.get("/api/v1/reminders").json() == []
    desk.post(f"/api/v1/offers/{card.offer_rows.get().pk}/answer", {"option": 1, "name": "Ansel Roe"})
    say(technician, card, "outputs")
    photograph_both(technician, upload, card)
    assert let_go(desk, card).status_code == 201
    FollowUp.objects.update(due=timezone.localdate())
    due = desk.get("/api/v1/reminders").json()
    assert [entry["kind"] for entry in due] == ["follow-up", "follow-up"]
    left = desk.post(f"/api/v1/follow-ups/{due[0]['key']}/done").json()
    assert len(left) == 1


def test_every_usual_check_says_what_it_would_take_to_fail():
    assert all(entry["fails"] for entry in USUAL)
    assert len({entry["id"] for entry in USUAL}) == len(USUAL)


def test_a_repaired_socket_is_proven_at_every_socket_before_the_proof_has_its_outputs(technician, card):
    technician.put("/api/v1/log-columns", {"columns": COLUMNS})
    assert say(technician, card, "outputs", part="output 1").json()["code"] == "no-part", "it is said as a whole"
    do(technician, card, do="renew-joint", site="Output 2")
    found = checks(technician.get(f"/api/v1/jobs/{card.pk}/proof"))["outputs"]
    sockets = [entry["part"] for entry in found["parts"]]
    assert len(sockets) == 4
    assert say(technician, card, "outputs").json()["code"] == "no-part"

    def of_case():
        told = technician.get(f"/api/v1/jobs/{card.pk}/case").json()["checks"]
        return next(entry["state"] for entry in told if entry["check"] == "outputs")

    for part in sockets:
        assert of_case() == "open"
        answer = say(technician, card, "outputs", part=part)
    assert checks(answer)["outputs"]["judged"] == "passed"
    assert of_case() == "passed"
    # heated again, each is tried again
    do(technician, card, do="renew-joint", site="output 3")
    again = checks(technician.get(f"/api/v1/jobs/{card.pk}/proof"))["outputs"]
    assert [entry["passed"] for entry in again["parts"]] == [None] * 4
    failed = say(technician, card, "outputs", False, part="output 3", note="Flickers.")
    assert checks(failed)["outputs"]["why"] == ["output 3: Flickers."]


def test_memory_that_was_opened_is_tried_cold_again(technician, card):
    assert "memory-cold-again" not in checks(technician.get(f"/api/v1/jobs/{card.pk}/proof"))
    lift(technician, card, "U16")
    do(technician, card, do="place", site="U16", chip_in=f"{card.card.serial}/U16")
    asked = checks(technician.get(f"/api/v1/jobs/{card.pk}/proof"))
    assert asked["memory-cold-again"]["judged"] == "open"
    assert technician.get(f"/api/v1/jobs/{card.pk}/return").json()["items"]


def test_a_card_is_held_against_its_like_under_load(technician, people, card):
    technician.put("/api/v1/log-columns", {"columns": COLUMNS})
    for number, end_c in enumerate([70.0, 71.0, 70.5, 71.5]):
        new = NewJob(uuid4(), f"TL8-LIKE-{number}", card.card.model.slug, "Petra Quill", "Squares.")
        like = open_job(new, people[Role.FRONT_DESK])[0]
        assert send_log(technician, like, csv_of(heated(number, 45, 180, end_c=end_c))).status_code == 201
    send_log(technician, card, csv_of(heated(8, 45, 180, end_c=84.0)), phase="before")
    hot = checks(send_log(technician, card, csv_of(heated(9, 45, 180, end_c=92.0))))["stress"]
    assert hot["judged"] == "failed"
    assert "Before the repair it ran at 84" in " ".join(hot["why"])
    assert "4 cards of this model about 71" in " ".join(hot["why"])


def test_a_prototype_leaves_without_what_it_came_without_and_without_its_like(technician, lead, card):
    finding = {"id": str(uuid4()), "kind": "missing-part", "side": "front", "x_mm": 60, "y_mm": 60}
    assert technician.post(f"/api/v1/jobs/{card.pk}/look/findings", finding).status_code == 201

    def missing():
        items = technician.get(f"/api/v1/jobs/{card.pk}/return").json()["items"]
        return [item for item in items if "missing" in item["words"]]

    assert missing()
    intake = {"id": str(uuid4()), "serial": card.card.serial, "provenance": "prototype"}
    assert technician.post(f"/api/v1/jobs/{card.pk}/intake", intake).status_code == 201
    assert not missing()
    lift(technician, card, "U14")
    items = technician.get(f"/api/v1/jobs/{card.pk}/return").json()["items"]
    assert any("U14 is off" in item["words"] for item in items), "what was taken off here goes back on"


def test_the_strip_and_the_list_name_a_check_of_this_repair_before_the_way_out(demo):
    job = Job.objects.get(card__serial="TL8-54100")
    Job.objects.filter(pk=job.pk).update(move="hands")
    client = APIClient()
    client.force_login(User.objects.get(role=Role.LEAD), backend="django.contrib.auth.backends.ModelBackend")

    def told():
        page = client.get(f"/api/v1/jobs/{job.pk}").json()
        first = page["mind"]["next"][0]
        assert (page["next"]["what"], page["next"]["do"]) == (first["do"], first["says"])
        return first["do"], first["says"]

    assert told()[0] == "return"
    assert client.get(f"/api/v1/jobs/{job.pk}/proof").json()["proven"]
    # its memory was opened: warm is not the last word
    job.runs.get(file_name="cold again.csv").delete()
    assert told() == ("proof", "Memory, cold again")
