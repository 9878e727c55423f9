"""Stock over the API: lives, moves, fits, values, lots priced both ways, donors, sets."""

from __future__ import annotations

from datetime import date
from uuid import uuid4

import pytest
from django.utils import timezone

from tests.api.conftest import BOARDS
from tests.api.test_ohms import power, read
from tests.api.test_rework import LIFT, do, lift, pin1
from uvrix.shop.config.roles import Role
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.library.services import import_package
from uvrix.shop.returning.report import report_of
from uvrix.shop.stock.models import StockMove

CHIP = {"kind": "chip", "marking": "OX8-14", "vendor": "Ousel", "gbit": 8, "width": 32, "volts": 1.35, "speed": 14}


@pytest.fixture
def card(people, job):
    import_package((BOARDS.parent / "packages/fb180.csv").read_bytes(), "fb180", people[Role.LEAD])
    return job


@pytest.fixture
def other(people, card):
    entry = NewJob(uuid4(), "TL8-OTHER", card.card.model.slug, "Petra Quill", "Squares.")
    return open_job(entry, people[Role.FRONT_DESK])[0]


@pytest.fixture
def lead(as_role):
    return as_role("lead")


def take(client, facts=CHIP, to="tray 1", **more):
    answer = client.post("/api/v1/stock", {"id": str(uuid4()), "facts": facts, "to": to, **more})
    assert answer.status_code == 201, answer.content
    return answer.json()["label"]


def move(client, label, what, **more):
    return client.post("/api/v1/stock/moves", {"id": str(uuid4()), "label": label, "do": what, **more})


def life(client, label):
    return client.get("/api/v1/stock/life", {"label": label}).json()


def test_a_part_gets_a_label_of_the_shops_own_and_one_scan_shows_its_life(technician):
    first, second = take(technician), take(technician, to="tray 2", condition="tested")
    assert (first, second) == ("P-0001", "P-0002")
    found = life(technician, second)
    assert found["part"]["where"] == "in tray 2"
    assert (found["part"]["condition"], found["facts"]["vendor"]) == ("tested", "Ousel")
    assert [step["words"] for step in found["steps"]] == ["received, in tray 2"]
    sought = technician.get("/api/v1/stock/sought", {"text": "p-0002"}).json()
    assert sought == [{"label": "P-0002", "words": "in tray 2", "exact": True}]
    label = technician.get("/api/v1/stock/label", {"label": "P-0002"})
    assert label["Content-Type"] == "application/pdf"
    listed = technician.get("/api/v1/stock", {"text": "tray 2"}).json()
    assert [part["label"] for part in listed["parts"]] == ["P-0002"]
    assert listed["trays"] == [{"name": "tray 1", "parts": 1}, {"name": "tray 2", "parts": 1}]


def test_the_same_part_sent_twice_is_one_and_a_used_label_is_refused(technician):
    entry = {"id": str(uuid4()), "facts": CHIP, "to": "tray 1", "label": "A1"}
    assert [technician.post("/api/v1/stock", entry).status_code for _ in range(2)] == [201, 200]
    assert StockMove.objects.count() == 1
    again = technician.post("/api/v1/stock", {**entry, "id": str(uuid4())})
    assert (again.status_code, again.json()["code"]) == (409, "label-used")
    wrong = technician.post("/api/v1/stock", {**entry, "id": str(uuid4()), "label": "B", "facts": {"kind": "spoon"}})
    assert wrong.status_code == 422
    assert "spoon" in wrong.json()["detail"]


def test_a_swap_between_two_cards_is_seen_from_both_sides(technician, card, other):
    lift(technician, card, "U14")
    lift(technician, other, "U11")
    label = f"{card.card.serial}/U14"
    assert move(technician, label, "put", to="tray 3").status_code == 201
    assert do(technician, other, do="place", site="U11", chip_in=label).status_code == 201
    here = technician.get(f"/api/v1/cards/{card.card.serial}/parts").json()
    there = technician.get("/api/v1/cards/TL8-OTHER/parts").json()
    assert [(entry["label"], entry["site"], entry["other"]) for entry in here["went"]] == [(label, "U14", "TL8-OTHER")]
    assert [(entry["label"], entry["site"], entry["other"]) for entry in there["came"]] == [
        (label, "U11", card.card.serial)
    ]
    found = life(technician, label)
    assert [step["words"] for step in found["steps"]][-2:] == ["put away, in tray 3", "placed on U11 of TL8-OTHER"]
    assert found["card"] == "TL8-OTHER"
    assert found["job"] == other.pk
    assert found["steps"][-1]["job"] == other.pk
    assert {lane["name"] for lane in found["drawn"]["lanes"]} == {card.card.serial, "off any card", "TL8-OTHER"}


def test_what_is_on_a_card_is_not_moved_in_stock_and_what_is_lent_is_not_placed(technician, card):
    label = f"{card.card.serial}/U14"
    refused = move(technician, label, "put", to="tray 1")
    assert (refused.status_code, refused.json()["code"]) == (422, "does-not-fit")
    assert "at Rework" in refused.json()["detail"]
    lift(technician, card, "U14")
    lent = move(technician, label, "lent", to="Lowen Computers", due="2026-01-02")
    assert lent.json()["part"]["where"] == "lent to Lowen Computers"
    listed = technician.get("/api/v1/stock").json()["loans"]
    assert [(row["to"], row["due"], row["overdue"]) for row in listed] == [("Lowen Computers", "2026-01-02", True)]
    placed = do(technician, card, do="place", site="U14", chip_in=label)
    assert placed.status_code == 422
    assert "lent to Lowen Computers" in placed.json()["detail"]
    assert move(technician, label, "back", to="tray 1").status_code == 201
    assert do(technician, card, do="place", site="U14", chip_in=label).status_code == 201
    assert move(technician, "NONE/U1", "put", to="tray 1").status_code == 404
    assert life(technician, "NOBODY")["code"] == "no-part"


def test_a_replacement_that_does_not_fit_is_refused_with_reasons(technician, card):
    wrong = take(technician, {**CHIP, "gbit": 4, "speed": 12, "vendor": "Pochard"})
    lift(technician, card, "U14")
    refused = do(technician, card, do="place", site="U14", chip_in=wrong)
    assert (refused.status_code, refused.json()["code"]) == (409, "no-fit")
    assert refused.json()["refused"] == [
        "capacity 4 Gbit, wanted 8 Gbit",
        "speed 12, at least 14 wanted",
        "the firmware carries no settings for Pochard",
    ]
    seen = technician.get(
        f"/api/v1/jobs/{card.pk}/rework/before", {"site": "U14", "do": "place", "chip_in": wrong}
    ).json()["fits"]
    assert (seen["judged"], len(seen["refused"])) == ("no", 3)
    kept = do(technician, card, do="place", site="U14", chip_in=wrong, despite="Only to see whether it starts.")
    assert kept.status_code == 201
    assert "Only to see" in kept.json()["events"][-1]["note"]
    right = take(technician)
    asked = technician.get(f"/api/v1/jobs/{card.pk}/fits", {"label": right, "site": "U15"}).json()
    # its neighbour is of another maker now: alike across the card
    assert asked["refused"] == ["Ousel beside Pochard: alike across the card"]


def test_facts_are_changed_in_editions(technician, card):
    label = f"{card.card.serial}/U14"
    address = f"/api/v1/stock/life?label={label}"
    saved = technician.put(address, {"facts": CHIP, "base": 0})
    assert (saved.status_code, saved.json()["edition"]) == (200, 1)
    again = technician.put(address, {"facts": CHIP, "base": 0})
    assert (again.status_code, again.json()["code"]) == (409, "changed")
    assert saved.json()["part"]["where"] == f"on U14 of {card.card.serial}"


def test_pieces_are_counted_and_balls_taken_at_rework_are_off(technician, card, lead):
    facts = {"kind": "balls", "marking": "balls 0.45", "ball_mm": 0.45, "alloy": "leaded"}
    label = take(technician, facts, "jar 1", amount=500)
    lift(technician, card, "U14")
    chip = f"{card.card.serial}/U14"
    reball = {"chip": chip, "alloy_on": "leaded", "balls": "stencil", "ball_mm": 0.45, "ball_count": 190}
    assert do(technician, card, do="reball", **reball).status_code == 201
    assert life(technician, label)["part"]["amount"] == 310
    assert move(technician, label, "used", amount=60).json()["part"]["amount"] == 250
    assert move(technician, label, "counted", amount=100).json()["part"]["amount"] == 100
    lead.put("/api/v1/stock-settings", {"document": {"lead_days": 60}})
    hints = technician.get("/api/v1/stock").json()["hints"]
    assert [hint["name"] for hint in hints] == ["balls 0.45"]
    assert hints[0]["order"] > 0
    one_piece = move(technician, take(technician), "used", amount=1)
    assert one_piece.json()["code"] == "not-counted"


def test_values_with_sources_conflicts_and_what_is_asked_for(technician, card):
    spot = {"id": str(uuid4()), "kind": "burn", "side": "front", "x_mm": 198.7, "y_mm": 66.7}
    assert technician.post(f"/api/v1/jobs/{card.pk}/look/findings", spot).status_code == 201
    address = "/api/v1/board-models/teal-8/values"
    wanted = technician.get(address).json()["wanted"]
    assert [(item["designator"], item["why"], item["job"]) for item in wanted] == [("C116", "burnt", card.pk)]
    entry = {"id": str(uuid4()), "designator": "C116", "text": "10u", "origin": "donor", "of": "TL8-D", "job": card.pk}
    said = technician.post(address, entry)
    assert said.status_code == 201, said.content
    assert said.json()["wanted"] == []
    no_donor = technician.post(address, {**entry, "id": str(uuid4()), "of": ""})
    assert no_donor.json()["code"] == "no-donor"
    second = {**entry, "id": str(uuid4()), "text": "22u", "origin": "measured", "of": ""}
    found = technician.post(address, second).json()["values"][0]
    assert (found["best"], len(found["conflicts"])) == ("10u", 1)
    taken_back = technician.post(f"/api/v1/part-values/{second['id']}/withdrawal")
    assert taken_back.json()["values"][0]["conflicts"] == []
    # a small part that does not fit the value is refused
    lifted = do(technician, card, do="remove", site="C116", no_photo="Seen.", pin1="none")
    assert lifted.status_code == 201
    small = take(technician, {"kind": "small", "part": "capacitor", "value": "1u"}, "drawer", amount=20)
    refused = do(technician, card, do="place", site="C116", chip_in=small)
    assert refused.json()["code"] == "no-fit"


def read_lot(client, job, site, lot):
    chip = f"{job.card.serial}/{site}"
    return client.post(f"/api/v1/jobs/{job.pk}/lots", {"id": str(uuid4()), "chip": chip, "lot": lot})


def test_a_suspect_lot_is_priced_both_ways_and_waits_for_the_customer(technician, lead, card, people):
    rules = [{"name": "Ousel", "vendor": "Ousel", "pattern": r"OK (?P<year>\d{2})(?P<week>\d{2})"}]
    saved = lead.put("/api/v1/stock-settings", {"document": {"rules": rules, "chip": 20, "work": 30, "start": 40}})
    assert saved.status_code == 200, saved.content
    for site in ("U11", "U12", "U13", "U14", "U15", "U16", "U17", "U18"):
        assert read_lot(technician, card, site, "OK 1931").status_code == 201
    fine = []
    for number in range(4):
        entry = NewJob(uuid4(), f"GOOD-{number}", "teal-8", "Petra Quill", "Fine.")
        fine.append(open_job(entry, people[Role.FRONT_DESK])[0])
        for site in ("U11", "U12", "U13", "U14", "U15", "U16", "U17", "U18"):
            read_lot(technician, fine[-1], site, "OK 2204")
    for site in ("U11", "U12", "U16"):
        lift(technician, card, site)
        assert move(technician, f"{card.card.serial}/{site}", "condition", condition="dead").status_code == 201
    lots = technician.get("/api/v1/stock/lots").json()["lots"]
    assert [(lot["lot"], lot["seen"], lot["failed"], lot["suspect"]) for lot in lots] == [
        ("Ousel 2019-31", 8, 3, True),
        ("Ousel 2022-04", 32, 0, False),
    ]
    assert lots[0]["low"] < 3 / 8 < lots[0]["high"]
    priced = technician.get(f"/api/v1/jobs/{card.pk}/one-or-all", {"failed": "U11,U12,U16"}).json()
    one, every = priced["options"]
    assert (one["sites"], one["price"], every["price"]) == (["U11", "U12", "U16"], 190, 440)
    assert one["fails"] > every["fails"]
    assert (priced["lots"], priced["unread"]) == (["Ousel 2019-31"], [])
    offer = {
        "id": str(uuid4()),
        "title": "Two chips or all eight",
        "found": "Two memory chips failed; the others are of the same lot.",
        "options": [
            {"name": x["name"], "price": x["price"], "chance": 1 - x["fails"], "consequence": x["why"]}
            for x in priced["options"]
        ],
    }
    assert technician.post(f"/api/v1/jobs/{card.pk}/offers", offer).status_code == 201
    job = technician.get(f"/api/v1/jobs/{card.pk}").json()
    assert (job["move"], job["waits_for"]) == ("customer", "Two chips or all eight")
    wrong = technician.get(f"/api/v1/jobs/{card.pk}/one-or-all", {"failed": "X9"})
    assert wrong.json()["code"] == "no-place"


WHOLE = {"straight": True, "clean": True, "unheated": True, "complete": True, "unmoved": True, "inputs": True}


def inspected(**more):
    known = {
        "answers": WHOLE,
        "missing": [],
        "moved": [],
        "repaired": [],
        "core": "unknown",
        "board": "unknown",
        "memory": "unknown",
    }
    return {"entry": str(uuid4()), **known, **more}


def test_a_donor_is_accepted_by_inspection_and_halves_are_matched(technician, card):
    donor = {"entry": str(uuid4()), "serial": "TL8-D", "board_model": "teal-8", "origin": "bought as scrap"}
    taken = technician.post("/api/v1/stock/donors", donor)
    assert taken.status_code == 201, taken.content
    assert [(entry["serial"], entry["judged"]) for entry in taken.json()["donors"]] == [("TL8-D", "open")]
    assert technician.post("/api/v1/stock/donors", donor).status_code == 200
    # the shop's own cards do not lie among the customers' on the shelf
    shelf = technician.get("/api/v1/shelf").json()["groups"]
    assert all(one["serial"] != "TL8-D" for group in shelf for one in group["jobs"])
    half = technician.post("/api/v1/cards/TL8-D/inspections", inspected(missing=["C116"], core="good", board="dead"))
    assert half.json()["donors"][0]["why"] == ["C116 is missing: put it right first"]
    done = inspected(missing=["C116"], repaired=["C116"], core="good", board="dead", memory="good")
    whole = technician.post("/api/v1/cards/TL8-D/inspections", done).json()
    assert (whole["donors"][0]["judged"], whole["donors"][0]["serves"]) == (
        "accepted",
        ["core", "memory", "small parts"],
    )
    assert whole["matches"] == []
    on_bench = technician.post(f"/api/v1/cards/{card.card.serial}/inspections", inspected(core="dead", board="good"))
    assert [(match["core_from"], match["board_from"]) for match in on_bench.json()["matches"]] == [
        ("TL8-D", card.card.serial)
    ]
    busy = technician.post("/api/v1/stock/donors", {**donor, "entry": str(uuid4()), "serial": card.card.serial})
    assert busy.json()["code"] == "on-the-bench"


def test_core_and_memory_move_as_a_set_or_not_at_all(technician, card):
    donor = {"entry": str(uuid4()), "serial": "TL8-D", "board_model": "teal-8", "origin": "bought as scrap"}
    giver = technician.post("/api/v1/stock/donors", donor).json()["donors"][0]["job"]
    sites = ["U1", "U11", "U12", "U13"]
    lift(technician, card, "U11")
    entry = {
        "entry": str(uuid4()),
        "giver": giver,
        "taker": card.pk,
        "sites": sites,
        "reason": "Both sides photographed.",
    }
    moved = technician.post("/api/v1/stock/set-moves", entry)
    assert moved.status_code == 201, moved.content
    assert moved.json()["moved"] == ["TL8-D/U1", "TL8-D/U11", "TL8-D/U12", "TL8-D/U13"]
    assert life(technician, "TL8-D/U1")["part"]["where"] == f"on U1 of {card.card.serial}"
    assert life(technician, f"{card.card.serial}/U1")["part"]["place"] == "hand"
    went = technician.get("/api/v1/cards/TL8-D/parts").json()["went"]
    assert {item["other"] for item in went} == {card.card.serial}
    # the second of these is empty by now: none of them moves
    again = {**entry, "entry": str(uuid4()), "sites": ["U14", "U11"]}
    assert technician.post("/api/v1/stock/set-moves", again).json()["code"] == "empty"
    assert life(technician, "TL8-D/U14")["part"]["where"] == "on U14 of TL8-D"


def test_a_set_holds_its_members(technician, card):
    lift(technician, card, "U14")
    label = take(technician, {"kind": "set", "marking": "core and memory of a teal"}, "drawer")
    chip = f"{card.card.serial}/U14"
    assert move(technician, chip, "joined", to="no such").json()["code"] == "no-set"
    assert move(technician, chip, "joined", to=label).status_code == 201
    assert life(technician, label)["members"] == [chip]
    assert life(technician, chip)["part"]["where"] == f"with the set {label}"


def test_connectors_are_found_by_pitch_pins_and_anchors_and_markings_across_donors(technician, scaup_job):
    wide = take(
        technician, {"kind": "connector", "pitch_mm": 0.5, "pins": 32, "rows": 1, "anchors": 2, "seen_on": "a drive"}
    )
    right = take(technician, {"kind": "connector", "pitch_mm": 0.5, "pins": 30, "rows": 1, "anchors": 2})
    take(technician, {"kind": "connector", "pitch_mm": 0.8, "pins": 30, "rows": 1, "anchors": 2})
    found = technician.get("/api/v1/stock/substitutes", {"pitch_mm": 0.5, "pins": 30, "anchors": 2}).json()
    assert [entry["label"] for entry in found] == [right, wide]
    assert found[1]["fits"]["unknown"] == ["32 pins, 2 to cut off"]
    assert found[0]["where"] == "in tray 1"
    assert technician.get("/api/v1/stock/substitutes", {"pitch_mm": "x", "pins": 3}).status_code == 400
    donor = {"entry": str(uuid4()), "serial": "SC-D", "board_model": scaup_job.card.model.slug, "origin": "scrap"}
    technician.post("/api/v1/stock/donors", donor)
    bearers = technician.get("/api/v1/stock/bearers", {"marking": "gw7k"}).json()
    assert bearers
    assert all(bearer["donors"] == ["SC-D"] for bearer in bearers)


def test_a_loan_is_due_by_date(technician, card):
    label = take(technician)
    assert move(technician, label, "lent", to="Hale Studio", due=str(date(2099, 1, 1))).status_code == 201
    assert technician.get("/api/v1/stock").json()["loans"][0]["overdue"] is False
    assert timezone.now().year < 2099
    assert (
        do(
            technician,
            card,
            **{**LIFT, "do": "swap", "site": "U14", "pin1": pin1(technician, card, "U14"), "chip_in": label},
        ).status_code
        == 422
    )


def move_along(client, job, donor, sites=("U1", "U11", "U12"), entry=None):
    body = {"entry": entry or str(uuid4()), "giver": job.pk, "taker": donor, "sites": list(sites), "goes_along": True}
    return client.post("/api/v1/stock/set-moves", {**body, "reason": "Both sides photographed."})


def test_a_card_lives_on_on_a_donors_board_and_what_was_measured_on_its_own_counts_no_more(technician, card):
    number, serial = card.pk, card.card.serial
    donor = {"entry": str(uuid4()), "serial": "TL8-D", "board_model": "teal-8", "origin": "bought as scrap"}
    there = technician.post("/api/v1/stock/donors", donor).json()["donors"][0]["job"]
    symptom = {"id": str(uuid4()), "kinds": ["dead"], "often": "always"}
    assert technician.post(f"/api/v1/jobs/{number}/symptom", symptom).status_code == 201
    power(technician, card)
    assert read(technician, card, "PL1", "0R4").status_code == 201
    lift(technician, card, "U14")
    burnt = {"id": str(uuid4()), "kind": "burn", "side": "front", "x_mm": 30.0, "y_mm": 30.0}
    assert technician.post(f"/api/v1/jobs/{number}/look/findings", burnt).status_code == 201
    before = technician.get(f"/api/v1/jobs/{number}/case/file").json()
    entry = str(uuid4())
    moved = move_along(technician, card, there, entry=entry)
    assert moved.status_code == 201, moved.content
    assert move_along(technician, card, there, entry=entry).json() == moved.json(), "sent again it is one move"
    job = technician.get(f"/api/v1/jobs/{number}").json()
    assert job["serial"] == "TL8-D", "the job follows the customer's card"
    case = technician.get(f"/api/v1/jobs/{number}/case/file").json()
    acts = [entry for entry in case["entries"] if "did" in entry]
    assert [(act["did"], act["site"]) for act in acts] == [("swap", "U1"), ("swap", "U11"), ("swap", "U12")]
    assert any("reading" in entry for entry in before["entries"])
    assert not any("reading" in entry for entry in case["entries"])
    assert [e["symptom"] for e in case["entries"] if "symptom" in e] == [["dead"]], "what its owner said goes along"
    read_before = next(reading for reading in technician.get(f"/api/v1/jobs/{number}/ohms").json()["readings"])
    assert "TL8-D" in read_before["void"]["why"]
    assert technician.get(f"/api/v1/jobs/{number}/look").json()["findings"] == []
    assert any(serial in line and "another board, TL8-D" in line for line in report_of(Job.objects.get(pk=number)).done)
    # the board that is left is a donor, and the place that was empty on it is empty there
    donors = {item["serial"]: item for item in technician.get("/api/v1/stock/donors").json()["donors"]}
    assert set(donors) == {serial}
    assert life(technician, f"{serial}/U1")["part"]["where"] == "on U1 of TL8-D"
    assert life(technician, f"{serial}/U14")["part"]["place"] == "hand"
    sites = {site["designator"]: site for site in technician.get(f"/api/v1/jobs/{number}/rework").json()["sites"]}
    assert sites["U14"]["chip"] == "TL8-D/U14"
    assert technician.get(f"/api/v1/cards/{serial}").json()["jobs"][0]["number"] == donors[serial]["job"]
    words = [item["words"] for item in technician.get(f"/api/v1/jobs/{number}/timeline").json()]
    assert any(serial in said and "TL8-D" in said and "goes on" in said for said in words)


def test_a_job_goes_on_with_a_donors_board_alone_and_may_go_back(technician, card, other):
    refused = move_along(technician, card, other.pk)
    assert (refused.status_code, refused.json()["code"]) == (409, "no-donor")
    donor = {"entry": str(uuid4()), "serial": "TL8-D", "board_model": "teal-8", "origin": "bought as scrap"}
    there = technician.post("/api/v1/stock/donors", donor).json()["donors"][0]["job"]
    serial = card.card.serial
    assert move_along(technician, card, there).status_code == 201
    back = technician.get("/api/v1/stock/donors").json()["donors"][0]["job"]
    assert move_along(technician, card, back).status_code == 201
    assert technician.get(f"/api/v1/jobs/{card.pk}").json()["serial"] == serial
    case = technician.get(f"/api/v1/jobs/{card.pk}/case/file").json()
    assert [(act["did"], act["site"]) for act in case["entries"] if "did" in act][-3:] == [
        ("place", "U1"), ("place", "U11"), ("place", "U12")
    ]  # fmt: skip
