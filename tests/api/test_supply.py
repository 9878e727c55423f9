"""The bench supply over SCPI, volts taken from the meter, parts tried, a converter's page, pinouts by marking."""

from __future__ import annotations

import threading
from uuid import uuid4

import pytest

from tests.api.test_ohms import power, read
from tests.api.test_volts import at, volts
from uvrix.shop.accounts.models import Role
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.ohms.models import Meter, Sweep
from uvrix.shop.volts.models import Supply
from uvrix.shop.volts.services import NewRung, enter_rung
from uvrix.shop.volts.supply_api import NewStartSerializer
from uvrix.standins.lines import InstrumentServer
from uvrix.standins.meter import Meter as StandInMeter
from uvrix.standins.meter import Temper, shipped_cards
from uvrix.standins.supply import Supply as StandInSupply

CARDS = shipped_cards()


@pytest.fixture
def served():
    servers = []

    def serve(instrument):
        server = InstrumentServer(0, instrument)
        threading.Thread(target=server.serve_forever, args=[0.02], daemon=True).start()
        servers.append(server)
        return server

    yield serve
    for server in servers:
        server.shutdown()
        server.server_close()


@pytest.fixture
def supply(served, technician):
    server = served(StandInSupply(CARDS, Temper(seed=3)))
    answer = technician.put("/api/v1/supplies", {"name": "bench supply", "address": server.address})
    assert answer.status_code == 200
    return server, Supply.objects.get()


def start(client, job, supply, limit=3.0):
    body = {"curve": str(uuid4()), "supply": supply.pk, "volts": 12, "limit_amps": limit}
    return body, client.post(f"/api/v1/jobs/{job.pk}/starts", body)


def test_a_start_is_logged_once_and_its_current_is_what_the_card_drew(technician, powered, supply):
    server, kept = supply
    body, answer = start(technician, powered, kept)
    assert answer.status_code == 201
    (curve,) = answer.json()["starts"]
    assert len(curve["samples"]) > 20
    assert curve["left_on"]
    (drew,) = answer.json()["draws"]
    assert drew["tells"] == "idle"
    assert drew["note"] == "logged by bench supply"
    assert server.instrument.answer("OUTP?") == "1"
    assert technician.post(f"/api/v1/jobs/{powered.pk}/starts", body).status_code == 200
    assert len(at(technician, powered)["draws"]) == 1
    assert technician.post(f"/api/v1/supplies/{kept.pk}/off").status_code == 204
    assert server.instrument.answer("OUTP?") == "0"


def test_a_supply_at_its_limit_is_switched_off(technician, powered, supply):
    server, kept = supply
    _, answer = start(technician, powered, kept, limit=0.1)
    (curve,) = answer.json()["starts"]
    assert not curve["left_on"]
    assert "Switched off" in curve["says"]
    # at its limit a current says nothing of the card, and rules nothing out
    assert answer.json()["draws"][0]["tells"] == "limited"
    assert next(one["state"] for one in answer.json()["nodes"] if one["id"] == "draw") == "unknown"
    assert server.instrument.answer("OUTP?") == "0"


def test_no_start_before_the_gates_and_none_that_a_browser_would_send_later(technician, scaup_job, supply):
    _, kept = supply
    _, refused = start(technician, scaup_job, kept)
    assert refused.json()["code"] == "locked"
    # the browser keeps unsent entries by their id or entry: a start, and switching off, must have neither
    assert not {"id", "entry"} & set(NewStartSerializer().fields)
    power(technician, scaup_job)
    assert start(technician, scaup_job, kept)[1].json()["code"] == "locked"


def test_a_supply_that_does_not_answer_is_said_and_nothing_is_entered(technician, powered, supply):
    server, kept = supply
    server.shutdown()
    server.server_close()
    _, answer = start(technician, powered, kept)
    assert (answer.status_code, answer.json()["code"]) == (502, "lost")
    assert "by hand" in answer.json()["detail"]
    assert at(technician, powered)["draws"] == []
    assert technician.put("/api/v1/supplies", {"name": "x", "address": "nowhere"}).status_code == 422


def test_plugs_and_pads_come_before_power(technician, scaup_job):
    power(technician, scaup_job)
    for point, value in {"C2": "8k1", "C8": "640", "PA": "9k", "PB": "9k2"}.items():
        read(technician, scaup_job, point, value)
    for fuse in ("F11", "F12", "F13"):
        technician.post(f"/api/v1/jobs/{scaup_job.pk}/ticks", {"id": str(uuid4()), "point": fuse})
    address = f"/api/v1/jobs/{scaup_job.pk}/power"
    refused = technician.post(address, {"id": str(uuid4()), "state": "supply"})
    assert (refused.status_code, refused.json()["code"]) == (409, "plugs-in")
    assert "all 2 plugs" in refused.json()["detail"]
    bare = {"id": str(uuid4()), "state": "supply", "plugs_in": True, "bare": True}
    assert technician.post(address, bare).json()["power"]["bare"]


@pytest.mark.parametrize(("node", "quantity", "near"), [("5v0", "voltage", 5.0), ("xtal", "frequency", 27e6)])
def test_volts_and_clocks_are_taken_from_the_meter(served, technician, people, node, quantity, near):
    server = served(StandInMeter(CARDS, Temper(noise=0.0005, seed=2)))
    meter = Meter.objects.create(name="live", address=server.address, added_by=people["technician"])
    point = {"5v0": "L21", "xtal": "Y1"}[node]
    hold = {"serial": "SC-1", "board": "scaup-24", "point": point, "to": "ground", "off": [], "lifted": [], "on": True}
    samples = []
    for _ in range(8):
        body = {"quantity": quantity, "samples": samples, "hold": hold}
        taken = technician.post(f"/api/v1/meters/{meter.pk}/samples", body).json()
        samples = taken["samples"]
        if taken["state"] == "settled":
            break
    assert taken["state"] == "settled"
    assert taken["low"] == pytest.approx(near, rel=0.05)


def test_a_part_without_effect_is_refuted_and_a_cure_begins_anew(technician, powered):
    for point, value in (("L21", "5.02"), ("L22", "0.03"), ("R212", "0.1")):
        volts(technician, powered, point, value)
    before = {one["node"]: one["chance"] for one in at(technician, powered)["suspects"]}
    address = f"/api/v1/jobs/{powered.pk}/tried"
    tried = {"node": "pg_3v3", "part": "Q7", "done": "replaced"}
    entry = {"id": str(uuid4()), **tried, "came_of": "no-change"}
    after = technician.post(address, entry).json()
    chance = {one["node"]: one["chance"] for one in after["suspects"]}
    assert chance["pg_3v3"] < before["pg_3v3"] / 4
    words = technician.get(f"/api/v1/jobs/{powered.pk}/hypotheses").json()
    assert any(one["state"] == "ruled-out" and "Q7" in one["cause"] for one in words)
    assert technician.post(address, entry).status_code == 200
    cured = {"id": str(uuid4()), "node": "en_1v8", "part": "R212", "done": "replaced", "came_of": "another"}
    found = technician.post(address, cured).json()
    assert set(found["stale"]) == {"1v8", "en_1v8"}
    nodes = {one["id"]: one["state"] for one in found["nodes"]}
    assert (nodes["1v8"], nodes["5v0"]) == ("unknown", "present")
    assert Sweep.objects.get(job=powered).name == "After R212 was replaced"
    wrong = {**entry, "id": str(uuid4()), "node": "nothing"}
    assert technician.post(address, wrong).json()["code"] == "unknown-node"


def test_what_past_cards_drew_stands_before_the_maps_figure(technician, people, powered):
    for number, amps in enumerate((1.4, 1.45, 1.42)):
        entry = NewJob(uuid4(), f"SC-1{number}", "scaup-24", "Ansel Roe", "Dead.")
        other, _ = open_job(entry, people[Role.FRONT_DESK])
        other.firstdraw_rows.create(volts=12, amps=amps, by=people["technician"], at=powered.opened_at)
        enter_rung(other, NewRung(uuid4(), "3d"), people["technician"])
    body = {"id": str(uuid4()), "volts": 12, "amps": 1.43}
    says = technician.post(f"/api/v1/jobs/{powered.pk}/draws", body).json()["draws"][0]["says"]
    assert "3 cards that work here" in says


def test_a_converter_page_offers_the_pinout_of_the_marking_on_any_board(technician, powered):
    document = {
        "format": "uvrix-pinout",
        "version": 1,
        "marking": "gw 7k",
        "sides": [4, 0, 4, 0],
        "pins": [{"pin": 1, "name": "EN", "use": "enable"}],
        "ours": "kept",
    }
    saved = technician.put("/api/v1/pinouts", {"document": document, "base": 0, "job": "J-0001"})
    assert saved.status_code == 200
    (pinout,) = saved.json()
    assert pinout["document"]["ours"] == "kept"
    assert "Scaup 24 clamshell U63" in pinout["seen"]
    page = technician.get(f"/api/v1/jobs/{powered.pk}/converters/1v8").json()
    assert page["chips"][0]["pinout"]["pins"][0]["use"] == "enable"
    assert {one["part_in"] for one in page["steps"]} == {"output", "supply", "enable", "makes"}
    stale = technician.put("/api/v1/pinouts", {"document": document, "base": 0})
    assert stale.json()["code"] == "saved-meanwhile"
    assert technician.get(f"/api/v1/jobs/{powered.pk}/converters/none").status_code == 404


def test_a_clock_that_is_noise_leads_to_its_parts_and_then_to_the_core(technician, powered):
    rails = {"L21": "5.02", "L22": "1.8", "L23": "0.9", "L24": "1.35", "L25": "0.8"}
    for point, value in rails.items():
        volts(technician, powered, point, value)
    volts(technician, powered, "Y1", "3M..9M", quantity="frequency")
    (said,) = at(technician, powered)["clocks"]
    assert (said["lift_core"], "Y1" in said["says"]) == (False, True)
    tried = {"id": str(uuid4()), "node": "xtal", "part": "Y1", "done": "replaced", "came_of": "no-change"}
    (said,) = technician.post(f"/api/v1/jobs/{powered.pk}/tried", tried).json()["clocks"]
    assert said["lift_core"]
    assert "survey its pads" in said["says"]


def test_a_converter_page_shows_the_pins_of_what_makes_its_enable(technician, powered):
    for marking, sides in (("GW7K", [4, 0, 4, 0]), ("T2C", [3, 0, 2, 0])):
        document = {"format": "uvrix-pinout", "version": 1, "marking": marking, "sides": sides}
        technician.put("/api/v1/pinouts", {"document": document, "base": 0})
    page = technician.get(f"/api/v1/jobs/{powered.pk}/converters/1v8").json()
    pins = {one["name"]: len(one["pinout"]["pins"]) for one in page["chips"]}
    assert pins["U63"] == 8
    assert pins["U62"] == 5


class StuckSupply(StandInSupply):
    """Its output relay does not open."""

    def answer(self, command):
        return None if command.strip() == "OUTP OFF" and self._since is not None else super().answer(command)


def test_an_output_that_stays_on_is_said_and_not_taken_as_off(technician, powered, served):
    server = served(StuckSupply(CARDS, Temper(seed=3)))
    assert technician.put("/api/v1/supplies", {"name": "stuck", "address": server.address}).status_code == 200
    kept = Supply.objects.get(name="stuck")
    assert start(technician, powered, kept)[1].status_code == 201
    refused = technician.post(f"/api/v1/supplies/{kept.pk}/off")
    assert (refused.status_code, refused.json()["code"]) == (502, "lost")
    assert "its output is 1" in refused.json()["detail"]
    assert "by hand" in refused.json()["detail"]
