"""Volts over the API: gates, the map and its lenders, suspects and the next probe, supply, ladder, supervisor."""

from __future__ import annotations

from uuid import uuid4

import pytest

from tests.api.conftest import BOARDS
from tests.api.test_ohms import power, read
from uvrix.shop.config.roles import Role
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.library.services import import_board, import_family


@pytest.fixture
def job(scaup_job):
    return scaup_job


def volts(client, job, point, value, quantity="voltage"):
    return read(client, job, point, value, quantity=quantity, mode="")


def at(client, job):
    return client.get(f"/api/v1/jobs/{job.pk}/volts").json()


def test_no_volts_before_the_card_is_on_and_not_on_before_the_inputs_are_read(technician, job):
    assert volts(technician, job, "L22", "1.8").json()["code"] == "not-on"
    power(technician, job)
    assert volts(technician, job, "L22", "1.8").json()["code"] == "not-on"
    read(technician, job, "PA", "0R4")
    assert power(technician, job, "supply").json()["code"] == "locked"
    found = at(technician, job)
    assert found["limit_amps"] == 0
    assert any("Plug 1" in block["why"] for block in found["blocks"])


def test_the_dead_node_is_found_by_following_the_next_probe(technician, powered):
    dead = {"pg_3v3", "g_1v8", "en_1v8", "1v8", "en_pex", "pex", "mem", "en_core", "core", "xtal", "release", "draw"}
    said = volts(technician, powered, "L22", "0.02").json()
    assert (said["verdict"], "missing" in said["why"]) == ("low", True)
    probed = []
    for _ in range(8):
        found = at(technician, powered)
        if found["suspects"][0]["chance"] > 0.9:
            break
        nodes = {entry["id"]: entry for entry in found["nodes"]}
        probe = next(entry for entry in found["next"] if entry["point"])
        node = nodes[probe["node"]]
        middle = (node["low"] + node["high"]) / 2
        probed.append(node["id"])
        volts(technician, powered, node["id"], "0" if node["id"] in dead else f"{middle:g}")
    assert found["suspects"][0]["node"] == "pg_3v3"
    assert len(probed) <= 5
    ruled_out = {entry["node"]: entry["why"] for entry in found["ruled_out"]}
    assert "pg_3v3" not in ruled_out
    assert {"in12s", "in3v3", "sup_ok"} <= set(ruled_out)
    assert "needs it and is present" in ruled_out["in3v3"]
    assert at(technician, powered)["map_source"] == "own"


def test_a_rail_above_its_band_says_switch_off_and_one_that_pulses_is_missing(technician, powered):
    assert volts(technician, powered, "1v8", "0..1.8").json()["verdict"] == "unsteady"
    assert next(node for node in at(technician, powered)["nodes"] if node["id"] == "1v8")["state"] == "missing"
    said = volts(technician, powered, "mem", "1.7").json()
    assert (said["verdict"], "Switch off" in said["why"]) == ("high", True)
    assert any("switch off" in warning for warning in at(technician, powered)["warnings"])
    assert volts(technician, powered, "Y1", "27M", "frequency").json()["verdict"] == "within"
    assert volts(technician, powered, "draw", "1.4", "current").json()["verdict"] == "within"


def test_a_map_is_lent_by_the_family_and_says_so(technician, people):
    families = BOARDS.parent / "families/plover.family.json"
    import_family(families.read_bytes(), "plover.family.json", people[Role.LEAD])
    import_board((BOARDS / "teal-8.board.json").read_bytes(), "teal-8.board.json", people[Role.LEAD])
    job = open_job(NewJob(uuid4(), "TL8-9", "teal-8", "Ansel Roe", "Dead."), people[Role.FRONT_DESK])[0]
    found = at(technician, job)
    assert (found["map_source"], found["lender"]) == ("lent", "Plover")
    assert "lent by Plover" in found["warnings"][0]
    assert next(node for node in found["nodes"] if node["id"] == "1v8")["point"] == "L7"
    assert next(node for node in found["nodes"] if node["id"] == "in12")["point"] == ""


def test_the_current_says_how_far_it_started(technician, powered):
    def draw(amps):
        body = {"id": str(uuid4()), "volts": 12, "amps": amps, "limit_amps": 6}
        return technician.post(f"/api/v1/jobs/{powered.pk}/draws", body).json()["draws"][-1]

    assert [draw(amps)["tells"] for amps in (0.05, 0.6, 1.4, 5)] == ["nothing", "below", "idle", "more"]
    assert at(technician, powered)["limit_amps"] == pytest.approx(0.5, abs=0.1)
    power(technician, powered)
    body = {"id": str(uuid4()), "volts": 12, "amps": 1}
    assert technician.post(f"/api/v1/jobs/{powered.pk}/draws", body).json()["code"] == "not-on"


def test_rungs_of_the_ladder(technician, powered):
    def rung(**said):
        return technician.post(f"/api/v1/jobs/{powered.pk}/rungs", {"id": str(uuid4()), **said}).json()

    assert rung(rung="picture")["code"] == "whose"
    assert "other adapter" in rung(rung="picture", picture_of="other")["rungs"][-1]["says"]
    said = rung(rung="listed", beep="one long, three short", beep_seconds=4)["rungs"][-1]
    assert (said["words"], said["beep"]) == ("listed on the bus", "one long, three short")
    assert "Memory, firmware" in said["says"]


def test_both_ends_of_each_sense_path(technician, powered):
    volts(technician, powered, "PA", "12.1")
    volts(technician, powered, "U60.2", "3.4")
    volts(technician, powered, "C2", "9.1")
    volts(technician, powered, "PB", "12.1")
    volts(technician, powered, "U60.3", "12.0")
    table = {supervisor["rail"]: supervisor["found"] for supervisor in at(technician, powered)["supervisors"]}
    assert table == {"in12s": "below", "in12a": "path", "in12b": "above", "in3v3": "not read"}


def test_reported_power(technician):
    body = {"shunt_mohm": 5, "rail_v": 12, "high_v": 12.1, "low_v": 12.0}
    said = technician.post("/api/v1/reported-power", body).json()
    assert (said["amps"], said["plausible"]) == (pytest.approx(20), False)


def test_phases_among_their_equals(technician, powered):
    def phase(designator, **read):
        body = {"id": str(uuid4()), "designator": designator, **read}
        return technician.post(f"/api/v1/jobs/{powered.pk}/phases", body)

    for designator, khz, celsius in (("U71", 500, 61), ("U72", 500, 62), ("U73", 500, 62)):
        assert phase(designator, khz=khz, celsius=celsius).status_code == 201
    assert {entry["compares"] for entry in at(technician, powered)["phases"]} == {"alike"}
    found = phase("U73", khz=0).json()["phases"]
    assert [(entry["designator"], entry["compares"], entry["celsius"]) for entry in found][2] == ("U73", "silent", 62)
    load = {"id": str(uuid4()), "rail": "core", "amps": 100}
    [share] = technician.post(f"/api/v1/jobs/{powered.pk}/rail-loads", load).json()["shares"]
    assert (share["each"], share["within"]) == (50, False)
    assert phase("U99", khz=1).json()["code"] == "unknown-phase"
    assert phase("U71").json()["code"] == "nothing-read"
