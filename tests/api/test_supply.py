"""The bench supply over SCPI, volts taken from the meter, parts tried, a converter's page, pinouts by marking."""

from __future__ import annotations

import random
import threading
from datetime import timedelta
from unittest.mock import Mock
from uuid import uuid4

import pytest
from django.db import OperationalError
from django.utils import timezone

from tests.api.conftest import by_lead
from tests.api.test_ohms import power, read
from tests.api.test_volts import at, volts
from tests.conftest import THOROUGH
from uvrix.shop.config.roles import Role
from uvrix.shop.jobs.rows import keep_row
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.ohms.models import Meter, Sweep
from uvrix.shop.volts.models import FirstDraw, StartCurve, Supply, SupplyOutput
from uvrix.shop.volts.services import NewRung, enter_rung
from uvrix.shop.volts.supply import FORGOTTEN, NewStart, switch_off_forgotten
from uvrix.standins.lines import InstrumentServer
from uvrix.standins.meter import Meter as StandInMeter
from uvrix.standins.meter import Temper, shipped_cards
from uvrix.standins.supply import Supply as StandInSupply

CARDS = shipped_cards()


@pytest.fixture(autouse=True)
def _patient(monkeypatch):
    """A busy machine answers late: only an instrument that says nothing at all is to count as lost here."""
    monkeypatch.setattr("uvrix.shop.ohms.link.ANSWER_MS", 3000)


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
    answer = by_lead("/api/v1/supplies", {"name": "bench supply", "address": server.address})
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
    assert next(node["state"] for node in answer.json()["nodes"] if node["id"] == "draw") == "unknown"
    assert server.instrument.answer("OUTP?") == "0"


def test_no_start_before_the_gates_and_none_that_a_browser_would_send_later(technician, scaup_job, supply):
    _, kept = supply
    _, refused = start(technician, scaup_job, kept)
    assert refused.json()["code"] == "locked"
    # the browser keeps unsent entries by their id or entry: a start, and switching off, must have neither
    assert not {"id", "entry"} & set(NewStart.__slots__)
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
    assert by_lead("/api/v1/supplies", {"name": "x", "address": "nowhere"}).status_code == 422


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
    before = {suspect["node"]: suspect["chance"] for suspect in at(technician, powered)["suspects"]}
    address = f"/api/v1/jobs/{powered.pk}/tried"
    tried = {"node": "pg_3v3", "part": "Q7", "done": "replaced"}
    entry = {"id": str(uuid4()), **tried, "came_of": "no-change"}
    after = technician.post(address, entry).json()
    chance = {suspect["node"]: suspect["chance"] for suspect in after["suspects"]}
    assert chance["pg_3v3"] < before["pg_3v3"] / 4
    words = technician.get(f"/api/v1/jobs/{powered.pk}/hypotheses").json()
    assert any(word["state"] == "ruled-out" and "Q7" in word["cause"] for word in words)
    assert technician.post(address, entry).status_code == 200
    cured = {"id": str(uuid4()), "node": "en_1v8", "part": "R212", "done": "replaced", "came_of": "another"}
    found = technician.post(address, cured).json()
    assert set(found["stale"]) == {"1v8", "en_1v8"}
    nodes = {node["id"]: node["state"] for node in found["nodes"]}
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
    assert {step["part_in"] for step in page["steps"]} == {"output", "supply", "enable", "makes"}
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
    pins = {chip["name"]: len(chip["pinout"]["pins"]) for chip in page["chips"]}
    assert pins["U63"] == 8
    assert pins["U62"] == 5


class StuckSupply(StandInSupply):
    """Its output relay does not open."""

    def answer(self, command):
        return None if command.strip() == "OUTP OFF" and self._since is not None else super().answer(command)


def test_an_output_that_stays_on_is_said_and_not_taken_as_off(technician, powered, served):
    server = served(StuckSupply(CARDS, Temper(seed=3)))
    assert by_lead("/api/v1/supplies", {"name": "stuck", "address": server.address}).status_code == 200
    kept = Supply.objects.get(name="stuck")
    assert start(technician, powered, kept)[1].status_code == 201
    refused = technician.post(f"/api/v1/supplies/{kept.pk}/off")
    assert (refused.status_code, refused.json()["code"]) == (502, "lost")
    assert "its output is 1" in refused.json()["detail"]
    assert "by hand" in refused.json()["detail"]


def test_a_start_on_a_supply_ends_what_was_on_before(technician, powered, supply):
    server, kept = supply
    start(technician, powered, kept)
    SupplyOutput.objects.update(watched_at=timezone.now() - 2 * FORGOTTEN)
    start(technician, powered, kept)
    assert sorted(SupplyOutput.objects.values_list("state", flat=True)) == ["off", "on"]
    assert len(technician.post("/api/v1/supplies/watched", {}).json()) == 1
    # the first one, which nobody shows, does not switch off the second
    assert switch_off_forgotten() == []
    assert server.instrument.answer("OUTP?") == "1"


def test_a_failed_start_that_is_sent_again_is_known_of_again(technician, powered, supply, monkeypatch):
    server, kept = supply
    gone = OperationalError("server closed the connection unexpectedly")
    with monkeypatch.context() as patch:
        patch.setattr("uvrix.shop.volts.supply._stored", Mock(side_effect=gone))
        body, answer = start(technician, powered, kept)
    assert answer.status_code == 503
    assert SupplyOutput.objects.get().state == "off"
    seen = []
    with monkeypatch.context() as patch:

        def noted(*_):
            seen.append(SupplyOutput.objects.get().state)
            raise gone

        patch.setattr("uvrix.shop.volts.supply._log", noted)
        technician.post(f"/api/v1/jobs/{powered.pk}/starts", body)
    assert seen == ["asked"]
    assert technician.post(f"/api/v1/jobs/{powered.pk}/starts", body).status_code == 201
    assert server.instrument.answer("OUTP?") == "1"
    assert SupplyOutput.objects.get().state == "on"


class OddSupply(StandInSupply):
    """Answers one question with words of its own; the line may drop at it instead."""

    def __init__(self, question, words, *, ask=1):
        super().__init__(CARDS, Temper(seed=3))
        self.question, self.words, self.left = question, words, ask
        self.drops = False

    def answer(self, command):
        said = super().answer(command)
        if command.strip().upper() == self.question:
            self.left -= 1
            if self.left == 0:
                self.drops = self.words is None
                return self.words or ""
        return said

    def misbehaves(self):
        dropped, self.drops = self.drops, False
        return False, dropped


@pytest.mark.parametrize("words", ["NAN", "OL", "+1.0E3,OHM", "9.91E37", "inf", "", "-"])
@pytest.mark.parametrize("question", ["MEAS:VOLT?", "MEAS:CURR?"])
@pytest.mark.parametrize("ask", [1, 7])
def test_what_is_no_number_counts_as_at_the_limit_and_switches_off(served, technician, powered, question, words, ask):
    instrument = OddSupply(question, words or " ", ask=ask)
    server = served(instrument)
    by_lead("/api/v1/supplies", {"name": "odd supply", "address": server.address})
    _, answer = start(technician, powered, Supply.objects.get(name="odd supply"))
    assert answer.status_code == 201
    assert instrument.answer("OUTP?") == "0"
    (curve,) = answer.json()["starts"]
    assert not curve["left_on"]
    assert "no number" in curve["says"]
    assert "Switched off" in curve["says"]
    assert answer.json()["draws"] == [], "nobody knows what it drew"
    assert SupplyOutput.objects.get().state == "off"


@pytest.mark.parametrize("ask", [1, 5])
def test_a_line_that_drops_in_mid_start_leaves_a_trace_that_the_watchdog_follows(served, technician, powered, ask):
    instrument = OddSupply("MEAS:CURR?", None, ask=ask)
    server = served(instrument)
    by_lead("/api/v1/supplies", {"name": "odd supply", "address": server.address})
    _, answer = start(technician, powered, Supply.objects.get(name="odd supply"))
    assert (answer.status_code, answer.json()["code"]) == (502, "lost")
    assert "by hand" in answer.json()["detail"]
    output = SupplyOutput.objects.get()
    assert output.state == "unknown"
    assert at(technician, powered)["draws"] == []
    assert instrument.answer("OUTP?") == "1"
    assert switch_off_forgotten(timezone.now() + FORGOTTEN + timedelta(seconds=1)) == [output]
    assert instrument.answer("OUTP?") == "0"
    output.refresh_from_db()
    assert (output.state, output.why) == ("off", "switched off: no page showed it any more")


@pytest.mark.parametrize("kept", [StartCurve, FirstDraw])
def test_a_database_that_goes_away_before_the_start_is_stored_switches_off(
    technician, powered, supply, monkeypatch, kept
):
    server, with_name = supply

    def gone(row, *arguments, **fields):
        if row is kept:
            raise OperationalError("server closed the connection unexpectedly")
        return keep_row(row, *arguments, **fields)

    monkeypatch.setattr("uvrix.shop.volts.supply.keep_row", gone)
    _, answer = start(technician, powered, with_name)
    assert (answer.status_code, answer.json()["code"]) == (503, "away")
    assert "Nothing was stored. The output was switched off." in answer.json()["detail"]
    assert server.instrument.answer("OUTP?") == "0"
    assert (StartCurve.objects.count(), FirstDraw.objects.count()) == (0, 0)
    assert SupplyOutput.objects.get().state == "off"


def test_no_output_goes_on_that_was_not_stored_first(technician, powered, supply, monkeypatch):
    server, with_name = supply

    def gone(*arguments, **fields):
        raise OperationalError("the database system is shutting down")

    monkeypatch.setattr("uvrix.shop.volts.supply.keep_row", gone)
    _, answer = start(technician, powered, with_name)
    assert answer.status_code == 503
    assert server.instrument.answer("OUTP?") == "0"


def test_an_output_stays_on_while_a_page_shows_it_and_goes_off_when_none_does(
    technician, as_role, people, powered, supply
):
    server, kept = supply
    start(technician, powered, kept)
    (shown,) = technician.post("/api/v1/supplies/watched", {"job": None}).json()
    assert (shown["name"], shown["job"], shown["state"], shown["volts"]) == ("bench supply", powered.pk, "on", 12)
    long_ago = timezone.now() - 2 * FORGOTTEN
    SupplyOutput.objects.update(watched_at=long_ago)
    # another person's page shows it everywhere, and looks after it at its job only
    lead = as_role("lead")
    assert len(lead.post("/api/v1/supplies/watched", {}).json()) == 1
    assert SupplyOutput.objects.get().watched_at == long_ago
    lead.post("/api/v1/supplies/watched", {"job": powered.pk})
    assert SupplyOutput.objects.get().watched_at > long_ago
    assert switch_off_forgotten() == []
    assert server.instrument.answer("OUTP?") == "1"
    SupplyOutput.objects.update(watched_at=long_ago)
    assert len(switch_off_forgotten()) == 1
    assert server.instrument.answer("OUTP?") == "0"
    assert technician.post("/api/v1/supplies/watched", {}).json() == []


QUESTIONS = ("*IDN?", "MEAS:VOLT?", "MEAS:CURR?", "OUTP?")
FAILURES = 200 if THOROUGH else 24


@pytest.mark.parametrize("seed", range(FAILURES))
def test_whatever_fails_no_output_stays_on_unless_that_is_known(served, technician, powered, monkeypatch, seed):
    """A drop, an odd answer, or a database that goes, at a moment drawn at random; then the watchdog's round."""
    dice = random.Random(f"outputs {seed}")
    monkeypatch.setattr("uvrix.shop.volts.supply.LOGGED_S", 0.3)
    words = dice.choice([None, "NAN", "OL", "?", "1,5"])
    instrument = OddSupply(dice.choice(QUESTIONS), words, ask=dice.randint(1, 3))
    lost_row, kept = dice.choice([None, SupplyOutput, StartCurve, FirstDraw]), keep_row

    def sometimes_gone(row, *arguments, **fields):
        if row is lost_row:
            raise OperationalError("terminating connection due to administrator command")
        return kept(row, *arguments, **fields)

    monkeypatch.setattr("uvrix.shop.volts.supply.keep_row", sometimes_gone)
    server = served(instrument)
    by_lead("/api/v1/supplies", {"name": "odd supply", "address": server.address})
    _, answer = start(technician, powered, Supply.objects.get(name="odd supply"))
    assert answer.status_code in (201, 502, 503), answer.content
    on = StandInSupply.answer(instrument, "OUTP?") == "1"
    known = SupplyOutput.objects.exclude(state="off")
    assert known.count() == 1 if on else True, "an output is on that nobody knows of"
    assert on or answer.status_code != 201 or not answer.json()["starts"][0]["left_on"]
    if on and answer.status_code != 201:
        assert "by hand" in answer.json()["detail"]
    for _ in range(2):  # the first round's own answer may be the odd one
        switch_off_forgotten(timezone.now() + 2 * FORGOTTEN)
    assert StandInSupply.answer(instrument, "OUTP?") == "0"
    assert not known.exists()


def test_what_the_server_opens_is_set_by_the_lead_alone(technician):
    supply = technician.put("/api/v1/supplies", {"name": "x", "address": "TCPIP0::127.0.0.1::5432::SOCKET"})
    assert (supply.status_code, supply.json()["code"]) == (403, "lead-sets-addresses")
    meter = technician.put("/api/v1/meters", {"name": "m", "address": "serial:/dev/mem@9600"})
    assert meter.status_code == 403
    assert by_lead("/api/v1/meters", {"name": "m", "address": "serial:/dev/ttyUSB0@9600"}).status_code == 200
    same = {"name": "m", "address": "serial:/dev/ttyUSB0@9600", "lead_ohms": 0.2}
    assert technician.put("/api/v1/meters", same).status_code == 200, "what its leads read is anybody's at the bench"
