"""Ohms: the gate before the first reading, shop notation, points on photographs that move over."""

from __future__ import annotations

import json
from datetime import timedelta
from uuid import uuid4

import pytest

from tests.api.conftest import BOARDS
from uvrix.core.boards.document import read_board
from uvrix.core.boards.photograph import photograph_from
from uvrix.shop.config.roles import Role
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.library.services import import_board, name_unknown_board
from uvrix.shop.ohms.api import SHOWN_READINGS
from uvrix.shop.ohms.models import KnownReading, Reading
from uvrix.standins.camera import photograph

TEAL = read_board((BOARDS / "teal-8.board.json").read_bytes())


@pytest.fixture
def undrawn(people):
    """A job whose board nobody has drawn."""
    model = name_unknown_board("Avocet 8")
    new = NewJob(uuid4(), "AV8-1", model.slug, "Ansel Roe", "Dead.")
    return open_job(new, people[Role.FRONT_DESK])[0]


def power(client, job, state="off"):
    return client.post(f"/api/v1/jobs/{job.pk}/power", {"id": str(uuid4()), "state": state, "plugs_in": True})


def read(client, job, point, value, **more):
    body = {"id": str(uuid4()), "point": point, "quantity": "resistance", "value": value, "mode": "ohms", **more}
    return client.post(f"/api/v1/jobs/{job.pk}/readings", body)


def click(client, job, name, picture, at=(100, 60)):
    spot = {"side": "front", "picture": picture, "x_px": at[0], "y_px": at[1]}
    return client.post(f"/api/v1/jobs/{job.pk}/photo-points", {"id": str(uuid4()), "name": name, **spot})


@pytest.fixture
def picture(upload):
    return upload("pictures", "front.jpg", photograph(TEAL, 3.0).jpeg).json()["sha256"]


def test_nothing_is_read_before_somebody_says_that_it_is_off(technician, undrawn, picture):
    assert click(technician, undrawn, "P1", picture).status_code == 201
    early = read(technician, undrawn, "P1", "212")
    assert (early.status_code, early.json()["code"]) == (409, "not-off")
    power(technician, undrawn)
    assert read(technician, undrawn, "P1", "212").status_code == 201
    assert power(technician, undrawn, "supply").json()["code"] == "locked"
    locks = [block["why"] for block in technician.get(f"/api/v1/jobs/{undrawn.pk}/ohms").json()["blocks"]]
    assert locks == [
        "Nobody has ticked off that every fuse, both sides, was looked at and is good.",
        "Slot 12 V was not read to ground.",
        "Slot 3.3 V was not read to ground.",
    ]
    ticked = {"id": str(uuid4()), "point": "every input and fuse"}
    technician.post(f"/api/v1/jobs/{undrawn.pk}/ticks", ticked)
    assert power(technician, undrawn, "supply").json()["code"] == "locked"
    for point in ("slot 12 V", "slot 3.3 V"):
        assert read(technician, undrawn, point, "1k4").status_code == 201
    assert power(technician, undrawn, "supply").status_code == 201
    assert read(technician, undrawn, "P1", "212").json()["code"] == "not-off"
    volts = read(technician, undrawn, "P1", "1.35", quantity="voltage", mode="")
    assert volts.status_code == 201
    shown = technician.get(f"/api/v1/jobs/{undrawn.pk}").json()["measured"]
    assert shown == {"power": "supply", "readings": 3, "volts": 1, "rework": 0}


def test_a_reading_is_kept_as_typed_and_shown_with_its_unit(technician, undrawn, picture):
    click(technician, undrawn, "P1", picture)
    click(technician, undrawn, "P2", picture, (200, 90))
    power(technician, undrawn)
    kept = read(technician, undrawn, "P1/P2", "12..55", condition=["warm"], note="jumps").json()
    assert (kept["text"], kept["shown"], kept["to"], kept["condition"]) == (
        "12..55", "12 Ω to 55 Ω", "across", ["warm"],
    )  # fmt: skip
    assert read(technician, undrawn, "P1", "OL").json()["low"] is None
    for value, more, code in (
        ("12;5", {}, "no-value"),
        ("55..12", {}, "no-value"),
        ("12", {"mode": "diode"}, "does-not-fit"),
        ("12", {"point": "P9"}, "unknown-point"),
    ):
        refused = read(technician, undrawn, more.pop("point", "P1"), value, **more)
        assert (refused.status_code, refused.json()["code"]) == (422, code)
    assert click(technician, undrawn, "P1", picture).json()["code"] == "name-taken"
    assert click(technician, undrawn, "P1/P2", picture).status_code == 400


def test_points_readings_and_promises_move_over_when_the_board_is_drawn(technician, undrawn, upload, people):
    shot = photograph(TEAL, 5.0)
    picture = upload("pictures", "front.jpg", shot.jpeg).json()["sha256"]
    at = shot.pixel((100.0, 30.0))
    click(technician, undrawn, "P1", picture, at)
    power(technician, undrawn)
    read(technician, undrawn, "P1", "2k2")
    place = {"side": "front", "picture": picture, "x_px": at[0], "y_px": at[1]}
    promised = {"id": str(uuid4()), "kind": "part-off", "words": "Capacitor left off.", **place}
    [owed] = technician.post(f"/api/v1/jobs/{undrawn.pk}/owed", promised).json()
    assert owed["place"]["x_mm"] is None
    before = technician.get(f"/api/v1/jobs/{undrawn.pk}/ohms").json()["points"][0]
    assert (before["x_mm"], before["picture"]) == (None, picture)

    slug = undrawn.card.model.slug
    document = json.loads((BOARDS / "teal-8.board.json").read_text()) | {"id": slug, "name": "Avocet 8"}
    document["photographs"] = [shot.entry(picture)]
    import_board(json.dumps(document).encode(), "avocet", people[Role.LEAD])
    after = technician.get(f"/api/v1/jobs/{undrawn.pk}/ohms").json()
    [point] = [entry for entry in after["points"] if entry["name"] == "P1"]
    expected = photograph_from(document["photographs"][0]).place(at)
    assert (point["x_mm"], point["y_mm"]) == pytest.approx(expected)
    assert (point["x_mm"], point["y_mm"]) == pytest.approx((100.0, 30.0), abs=0.2)
    assert after["readings"][0]["point"] == "P1"
    [owed] = technician.get(f"/api/v1/jobs/{undrawn.pk}/owed").json()
    assert (owed["place"]["x_mm"], owed["place"]["y_mm"]) == pytest.approx((100.0, 30.0), abs=0.2)


@pytest.fixture
def teal_job(people, technician, upload):
    """A job on a model with probe points, and seven good cards in the library."""
    import_board((BOARDS / "teal-8.board.json").read_bytes(), "teal-8", people[Role.LEAD])
    known = (BOARDS.parent / "known/teal-8.known.csv").read_bytes()
    assert upload("known-good", "teal-8.known.csv", known).json()["added"] > 80
    job = open_job(NewJob(uuid4(), "TL8-5", "teal-8", "Ansel Roe", "Dead."), people[Role.FRONT_DESK])[0]
    power(technician, job)
    return job


def last(answer):
    return answer.json()


def test_each_reading_is_judged_against_the_good_cards_with_the_numbers(technician, teal_job):
    within = last(read(technician, teal_job, "L9", "42"))
    assert (within["verdict"], within["reference"]["cards"], within["reference"]["odd"]) == ("within", 8, ["TG-8"])
    assert within["why"].startswith("42 Ω; eight good cards read")
    assert last(read(technician, teal_job, "F3", "OL"))["verdict"] == "open"
    assert last(read(technician, teal_job, "L1/L2", "3"))["verdict"] == "no-reference"


def test_shorted_rails_name_their_suspects_and_a_later_reading_corrects(technician, teal_job):
    read(technician, teal_job, "PL2", "0R6")
    read(technician, teal_job, "L5", "1R1", sure=True)
    found = technician.get(f"/api/v1/jobs/{teal_job.pk}/ohms").json()
    assert found["suspects"][0]["designator"] == "U73"
    assert found["suspects"][0]["x_mm"] == 190
    read(technician, teal_job, "L5", "1k45")
    again = technician.get(f"/api/v1/jobs/{teal_job.pk}/ohms").json()
    assert [reading["standing"] for reading in again["readings"]] == [True, False, True]
    assert all("shorted rails (in12b)" in suspect["why"] for suspect in again["suspects"])


def test_a_slip_of_unit_asks_back_and_is_taken_when_meant(technician, teal_job):
    asked = read(technician, teal_job, "L5", "1.45")
    assert (asked.status_code, asked.json()["code"]) == (409, "unit-slip")
    assert "1,000 times too low" in asked.json()["detail"]
    assert last(read(technician, teal_job, "L5", "1.45", sure=True))["verdict"] == "short"


def test_a_stage_that_reads_joined_locks_power_though_every_input_reads_high(technician, teal_job):
    power(technician, teal_job)
    for point, value in (("PL1", "9k1"), ("PL2", "9k1"), ("C12", "9k1"), ("C41", "640")):
        read(technician, teal_job, point, value)
    for fuse in ("F1", "F2", "F3"):
        technician.post(f"/api/v1/jobs/{teal_job.pk}/ticks", {"id": str(uuid4()), "point": fuse})
    assert technician.get(f"/api/v1/jobs/{teal_job.pk}/ohms").json()["blocks"] == []
    assert read(technician, teal_job, "PL1/L1", "0R3").status_code == 201
    (block,) = technician.get(f"/api/v1/jobs/{teal_job.pk}/ohms").json()["blocks"]
    assert "joined" in block["why"]
    assert power(technician, teal_job, "supply").json()["code"] == "locked"
    case = technician.get(f"/api/v1/jobs/{teal_job.pk}/case").json()
    assert any("joined" in warning for warning in case["warnings"])
    read(technician, teal_job, "PL1/L1", "4k1")
    assert power(technician, teal_job, "supply").status_code == 201


def test_power_stays_locked_until_every_input_reads_high_and_every_fuse_is_ticked(technician, as_role, teal_job):
    def lock():
        return technician.get(f"/api/v1/jobs/{teal_job.pk}/ohms").json()["blocks"]

    assert {entry["point"] for entry in lock()} == {"in12s", "in12a", "in12b", "in3v3", "F1", "F2", "F3"}
    for point in ("C12", "PL1", "PL2"):
        read(technician, teal_job, point, "9k1")
    read(technician, teal_job, "C41", "640")
    for fuse in ("F1", "F2"):
        technician.post(f"/api/v1/jobs/{teal_job.pk}/ticks", {"id": str(uuid4()), "point": fuse})
    skipped = {"id": str(uuid4()), "point": "F3", "skipped": "Under the plate, read from the plug."}
    technician.post(f"/api/v1/jobs/{teal_job.pk}/ticks", skipped)
    assert lock() == []
    read(technician, teal_job, "PL2", "40", sure=True)
    for role in ("technician", "lead"):
        refused = power(as_role(role), teal_job, "computer")
        assert (refused.status_code, refused.json()["blocks"]) == (409, ["in12b"])
    read(technician, teal_job, "PL2", "9k1")
    assert power(technician, teal_job, "supply").status_code == 201


def test_the_library_goes_out_and_in_again_without_loss(technician, upload, teal_job):
    file = technician.get("/api/v1/board-models/teal-8/known-good/file").content
    before = technician.get("/api/v1/board-models/teal-8/known-good").json()
    KnownReading.objects.all().delete()
    assert upload("known-good", "again.csv", file).json()["added"] == len(before)
    after = technician.get("/api/v1/board-models/teal-8/known-good").json()
    names = ("card", "point", "to", "quantity", "mode", "low", "high", "meter", "polarity")
    assert [[entry[name] for name in names] for entry in after] == [[entry[name] for name in names] for entry in before]
    bad = upload("known-good", "bad.csv", b"board,card,point,quantity,value,unit\nteal-8,A,mem,resistance,4x,ohm\n")
    assert (bad.status_code, bad.json()["place"]) == (422, "2")
    assert KnownReading.objects.count() == len(before)


def test_the_lead_takes_a_wrong_entry_out_of_the_library(technician, as_role, teal_job):
    odd = next(
        entry for entry in technician.get("/api/v1/board-models/teal-8/known-good").json() if entry["card"] == "TG-8"
    )
    as_role("lead").delete(f"/api/v1/known-good/{odd['id']}")
    assert last(read(technician, teal_job, "L9", "42"))["reference"]["odd"] == []
    assert KnownReading.objects.get(pk=odd["id"]).out_by


def test_readings_that_stand_no_more_are_shown_as_far_as_a_page_goes_and_the_rest_on_request(technician, teal_job):
    power(technician, teal_job)
    assert read(technician, teal_job, "PL1", "9k1").status_code == 201
    first = teal_job.reading_rows.get()
    many = SHOWN_READINGS + 70
    Reading.objects.bulk_create(
        Reading(
            job=teal_job, by=first.by, point="C12", quantity="resistance", mode="ohms", to=first.to, text=str(number),
            low=9000.0 + number, high=9000.0 + number, at=first.at + timedelta(seconds=number + 1),
        )
        for number in range(many)
    )  # fmt: skip
    shown = technician.get(f"/api/v1/jobs/{teal_job.pk}/ohms").json()
    points = [reading["point"] for reading in shown["readings"]]
    assert points.count("PL1") == 1, "what stands is shown however old it is"
    assert points.count("C12") == SHOWN_READINGS
    assert shown["earlier"] == 70
    address = f"/api/v1/jobs/{teal_job.pk}/readings/earlier"
    pages = [technician.get(address, {"skip": skip}).json() for skip in (0, 50, 70)]
    assert [len(page) for page in pages] == [70, 20, 0]
    assert [entry["id"] for entry in pages[0][50:]] == [entry["id"] for entry in pages[1]]
    assert not {entry["id"] for entry in pages[0]} & {reading["id"] for reading in shown["readings"]}
    assert technician.get(address, {"skip": "-1"}).status_code == 400
