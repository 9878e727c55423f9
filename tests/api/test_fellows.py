"""Chips read ball by ball, slot contacts, two cards in turn: over the API."""

from __future__ import annotations

from uuid import uuid4

import pytest

from tests.api.conftest import PNG, ROOT
from tests.api.test_ohms import click, power, read
from uvrix.shop.config.roles import Role
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.library.services import import_package, name_unknown_board


@pytest.fixture
def fb180(people):
    return import_package((ROOT / "data/packages/fb180.csv").read_bytes(), "fb180", people[Role.LEAD])


@pytest.fixture
def cold(technician, job, fb180):
    assert fb180
    power(technician, job)
    return job


def diode(client, job, point, value, *condition, to=""):
    more = {"quantity": "diode", "mode": "diode", "condition": list(condition), "to": to}
    return read(client, job, point, value, **more)


def chips(client, job):
    return client.get(f"/api/v1/jobs/{job.pk}/chips").json()


def lines(client):
    return client.get("/api/v1/board-models/teal-8/ball-maps/U11").json()["lines"]


def test_the_odd_chip_is_found_and_lifting_tells_where_it_belongs(technician, cold):
    ball, *others = lines(technician)[:7]
    for chip, millivolts in (("U11", "412"), ("U12", "414"), ("U13", "411")):
        assert diode(technician, cold, f"{chip}.{ball}", millivolts).json()["verdict"] in {"within", "no-reference"}
    said = diode(technician, cold, f"U14.{ball}", "452").json()
    assert (said["verdict"], said["shown"]) == ("high", "0.452 V")
    assert "three other chips at" in said["why"]
    [odd] = chips(technician, cold)["odd"]
    assert (odd["pin"], odd["chips"], odd["shared"]) == (ball, ["U14"], False)
    assert odd["lifted"][0]["answer"] == "lift"
    for at, name in enumerate([ball, *others]):
        diode(technician, cold, f"U14.{name}", f"{430 + at % 3}", "site pads")
    [odd] = chips(technician, cold)["odd"]
    assert odd["lifted"][0]["words"] == "left with the chip"
    owed = [entry["words"] for entry in technician.get(f"/api/v1/jobs/{cold.pk}/owed").json()]
    assert owed == ["U14 is off: fit it again, or a good one."]
    assert next(entry for entry in chips(technician, cold)["chips"] if entry["designator"] == "U14")["lifted"] is True
    for at, name in enumerate([ball, *others]):
        value = "OL" if name == ball else f"{440 + at % 3}"
        diode(technician, cold, f"U14.{name}", value, "chip alone")
    [odd] = chips(technician, cold)["odd"]
    assert (odd["lifted"][0]["answer"], "replace it" in odd["lifted"][0]["says"]) == ("chip", True)


def test_chips_that_share_a_line_are_said_together(technician, cold):
    for number, value in enumerate(["514", "33", "515", "516", "33.4", "515"], 11):
        read(technician, cold, f"U{number}.B3", value)
    [odd] = chips(technician, cold)["odd"]
    assert (odd["shared"], sorted(odd["chips"]), odd["peers"]) == (True, ["U12", "U15"], "515 Ω")


def test_fellows_in_two_groups_are_all_suspects_until_one_is_lifted(technician, cold):
    for number, value in enumerate(["800", "4.7M", "810", "4.6M"], 11):
        read(technician, cold, f"U{number}.B3", value)
    found = chips(technician, cold)
    assert found["odd"] == []
    [split] = found["split"]
    assert [(group["shown"], group["chips"]) for group in split["groups"]] == [
        ("805 Ω", ["U11", "U13"]),
        ("4.65 MΩ", ["U12", "U14"]),
    ]
    assert split["signal"]
    assert "all are suspects" in split["why"]
    assert {ball["verdict"] for ball in found["balls"]} == {"no-reference"}
    assert split["lifted"] == []
    # the chip came off and its pad reads as before: it was not the chip
    read(technician, cold, "U11.B3", "805", condition=["site pads"])
    [split] = chips(technician, cold)["split"]
    assert [(entry["chip"], entry["answer"]) for entry in split["lifted"]] == [("U11", "board")]
    read(technician, cold, "U11.B3", "4.7M", condition=["site pads"])
    [split] = chips(technician, cold)["split"]
    assert [(entry["chip"], entry["answer"]) for entry in split["lifted"]] == [("U11", "left")]


def test_a_ball_that_the_package_lacks_is_refused_and_balls_stay_out_of_the_rails(technician, cold):
    assert diode(technician, cold, "U11.Z99", "0.4").json()["code"] == "unknown-point"
    assert diode(technician, cold, "X7.A1", "0.4").json()["code"] == "unknown-point"
    assert read(technician, cold, "U11.K3", "0R1").status_code == 201
    ohms = technician.get(f"/api/v1/jobs/{cold.pk}/ohms").json()
    assert ohms["readings"] == []
    assert ohms["blocks"]
    timeline = technician.get(f"/api/v1/jobs/{cold.pk}/timeline").json()
    assert any("U11.K3" in entry["words"] for entry in timeline)


def test_chips_of_a_board_that_nobody_has_drawn(technician, people):
    model = name_unknown_board("Avocet 8")
    job = open_job(NewJob(uuid4(), "AV8-1", model.slug, "Ansel Roe", "Dead."), people[Role.FRONT_DESK])[0]
    power(technician, job)
    for chip, value in (("U1", "101"), ("U2", "99"), ("U3", "100"), ("U4", "4")):
        assert read(technician, job, f"{chip}.7", value).status_code == 201
    assert [entry["chips"] for entry in chips(technician, job)["odd"]] == [["U4"]]
    assert technician.get(f"/api/v1/jobs/{job.pk}/slot").json()["located"] is False
    torn = {"id": str(uuid4()), "kind": "contact", "side": "back", "contact": "A16"}
    assert technician.post(f"/api/v1/jobs/{job.pk}/look/findings", torn).status_code == 201
    assert technician.get(f"/api/v1/jobs/{job.pk}/slot").json()["link"]["best_width"] == 8


@pytest.mark.usefixtures("fb180", "teal")
def test_a_ball_map_lies_as_its_chip_does(technician):
    found = technician.get("/api/v1/board-models/teal-8/ball-maps/U11").json()
    assert (len(found["balls"]), len(found["lines"]), len(found["views"])) == (180, 32, 16)
    views = {(view["side"], view["turns"], view["balls_up"]): view for view in found["views"]}
    flat, turned = views["front", 0, False], views["front", 1, False]
    a, b, c, d = flat["matrix"]
    assert turned["matrix"] == pytest.approx([b, -a, d, -c])
    for name in ("board-models/teal-8/ball-maps/U99", "board-models/none/ball-maps/U11"):
        assert technician.get(f"/api/v1/{name}").status_code == 404


def slot(client, job):
    return client.get(f"/api/v1/jobs/{job.pk}/slot").json()


def test_a_torn_contact_costs_its_lane(technician, cold):
    for lane_contact in ("B41", "A13"):
        torn = {"id": str(uuid4()), "kind": "contact", "side": "front", "contact": lane_contact}
        answer = technician.post(f"/api/v1/jobs/{cold.pk}/look/findings", torn)
        assert answer.status_code == 201
    found = slot(technician, cold)
    assert (found["link"]["best_width"], found["link"]["best_start"], found["clock"]) == (8, 15, "torn")
    assert found["verdicts"][6] == {"lane": 6, "verdict": "torn", "torn": ["B41"]}
    look = technician.get(f"/api/v1/jobs/{cold.pk}/look").json()["findings"]
    assert [(entry["part"], entry["side"]) for entry in look] == [("B41", "front"), ("A13", "back")]
    # a click on the contact row names its contact too
    at = {"id": str(uuid4()), "kind": "contact", "side": "front", "x_mm": look[0]["x_mm"] + 0.3, "y_mm": 5.0}
    technician.post(f"/api/v1/jobs/{cold.pk}/look/findings", at)
    assert technician.get(f"/api/v1/jobs/{cold.pk}/look").json()["findings"][2]["part"] == "B41"
    technician.post(f"/api/v1/look-findings/{look[1]['id']}/withdrawal")
    assert slot(technician, cold)["clock"] == "not read"


@pytest.mark.parametrize(("kind", "contact"), [("burn", "B41"), ("contact", "C41"), ("contact", "B83")])
def test_what_is_no_torn_contact_is_refused(technician, cold, kind, contact):
    body = {"id": str(uuid4()), "kind": kind, "side": "front", "contact": contact}
    assert technician.post(f"/api/v1/jobs/{cold.pk}/look/findings", body).json()["code"] == "unknown-contact"


def test_lanes_are_read_and_the_width_follows(technician, cold):
    route = slot(technician, cold)["route"]
    assert len(route) == 66
    for point in route:
        value = "OL" if point == "slot.B37" else "0.36" if point.startswith("slot") else "0.38"
        assert diode(technician, cold, point, value).status_code == 201
    found = slot(technician, cold)
    link = found["link"]
    assert (link["lanes_read"], link["width"], link["start"]) == (16, 8, 15)
    assert next(reading for reading in found["readings"] if reading["point"] == "slot.B37")["verdict"] == "open"
    assert diode(technician, cold, "slot.A16", "0.4").json()["verdict"] == "low"
    assert read(technician, cold, "caps.A17", "3R", to="across").status_code == 201
    assert any("capacitor of A17" in note for note in slot(technician, cold)["notes"])
    assert diode(technician, cold, "slot.B99", "0.4").json()["code"] == "unknown-point"
    assert diode(technician, cold, "caps.B14", "0.4").json()["code"] == "unknown-point"


def test_two_cards_in_turn(technician, people, job, teal):
    other = open_job(NewJob(uuid4(), "TL8-2", "teal-8", "Una Brack", "Fine."), people[Role.FRONT_DESK])[0]
    for one, values in ((job, ("0R4", "228")), (other, ("212", "235"))):
        power(technician, one)
        for point, value in zip(("L9", "L7"), values, strict=True):
            read(technician, one, point, value, sure=True)
    address = f"/api/v1/jobs/{job.pk}/beside"
    found = technician.get(address).json()
    assert found["other"] is None
    assert [(entry["card"], entry["readings"], entry["off"]) for entry in found["others"]] == [("TL8-2", 2, True)]
    both = technician.get(f"{address}?job={other.pk}").json()
    assert [(row["point"], row["reads"], row["mine"], row["other"]) for row in both["rows"]] == [
        ("L9", "lower", "0.4 Ω", "212 Ω"),
        ("L7", "alike", "228 Ω", "235 Ω"),
    ]
    good = {"id": str(uuid4()), "card": "TG-1", "note": "a year of tests"}
    technician.post("/api/v1/board-models/teal-8/reference-cards", good)
    taken = {"id": str(uuid4()), "point": "L9", "quantity": "resistance", "value": "208", "mode": "ohms"}
    technician.post(f"/api/v1/reference-cards/{good['id']}", taken)
    beside = technician.get(f"{address}?reference={good['id']}").json()
    assert (beside["other"]["card"], beside["rows"][0]["other"]) == ("TG-1", "208 Ω")
    assert [entry["card"] for entry in beside["others"]] == ["TG-1", "TL8-2"]


def test_another_models_card_is_not_beside_this_one(technician, people, job):
    model = name_unknown_board("Avocet 8")
    other = open_job(NewJob(uuid4(), "AV8-1", model.slug, "Ansel Roe", "Dead."), people[Role.FRONT_DESK])[0]
    address = f"/api/v1/jobs/{job.pk}/beside"
    assert technician.get(f"{address}?job={other.pk}").json()["code"] == "not-alike"
    assert technician.get(f"{address}?job={job.pk}").json()["code"] == "not-alike"
    assert technician.get(f"{address}?job=x").json()["code"] == "unknown-job"
    assert technician.get(f"{address}?reference=x").json()["code"] == "unknown-card"
    assert technician.get(f"{address}?reference={uuid4()}").status_code == 404


def test_cards_that_nobody_has_drawn_share_their_points(technician, people, upload):
    model = name_unknown_board("Avocet 8")
    first, second = (
        open_job(NewJob(uuid4(), f"AV8-{n}", model.slug, "Ansel Roe", "Dead."), people[Role.FRONT_DESK])[0]
        for n in (1, 2)
    )
    picture = upload("pictures", "front.png", PNG).json()["sha256"]
    assert click(technician, first, "P1", picture).status_code == 201
    for job, value in ((first, "212"), (second, "0R4")):
        power(technician, job)
        assert read(technician, job, "P1", value).status_code == 201
    both = technician.get(f"/api/v1/jobs/{second.pk}/beside?job={first.pk}").json()
    assert [row["reads"] for row in both["rows"]] == ["lower"]
    assert click(technician, second, "P1", picture).json()["code"] == "name-taken"
