"""The link to a bench meter over a real socket: settled values, spans, over-limit, late answers, dropouts, silence."""

from __future__ import annotations

import threading
import time
from contextlib import contextmanager

import pytest
from django.db import connection

from tests.api.conftest import by_lead
from uvrix.shop.ohms.link import ADDRESS, BUSY
from uvrix.shop.ohms.models import Meter as MeterRow
from uvrix.standins.lines import InstrumentServer
from uvrix.standins.meter import LEAD_OHMS, Meter, Temper, shipped_cards

CARDS = shipped_cards()
PATIENT_S = 12


@contextmanager
def bench_meter(technician, **temper):
    """A stand-in that serves, and its row."""
    with InstrumentServer(0, Meter(CARDS, Temper(**temper))) as server:
        threading.Thread(target=server.serve_forever, args=[0.02], daemon=True).start()
        said = {"name": "bench meter", "lead_ohms": LEAD_OHMS, "address": server.address}
        assert by_lead("/api/v1/meters", said).status_code == 200
        yield MeterRow.objects.get(name="bench meter")
        server.shutdown()


def hold(point, serial="TG-1", to="ground", **more):
    return {"serial": serial, "board": "teal-8", "point": point, "to": to, "off": [], "lifted": [], **more}


def ask(client, meter, where, samples=(), held=None, quantity="resistance"):
    body = {"quantity": quantity, "samples": list(samples), "held": held, "hold": where}
    return client.post(f"/api/v1/meters/{meter.pk}/samples", body)


def settled(client, meter, where, held=None, quantity="resistance"):
    """Ask until it is no longer on its way; gives the answer and whether the line was ever lost."""
    samples, lost, end = [], False, time.monotonic() + PATIENT_S
    while time.monotonic() < end:
        answer = ask(client, meter, where, samples, held, quantity)
        assert answer.status_code == 200, answer.content
        found = answer.json()
        samples, lost = found["samples"], lost or bool(found["lost"])
        if found["state"] not in {"moving", "creeping", "held"} and not found["lost"]:
            return found, lost
    pytest.fail(f"{where} did not settle: {found['state']}")


def truth(point, serial="TG-1", to="ground"):
    return CARDS.card(serial, "teal-8").between(point, to).ohms


def test_what_settles_is_what_is_there_and_its_leads(technician, teal):
    with bench_meter(technician, noise=0.001) as meter:
        for point, to in (("PL1", "ground"), ("L9", "ground"), ("L1", "ground"), ("F1", "across")):
            found, _ = settled(technician, meter, hold(point, to=to))
            assert found["state"] == "settled", point
            assert found["low"] == pytest.approx(truth(point, to=to) + LEAD_OHMS, rel=0.03)
            assert found["text"]
        found, _ = settled(technician, meter, hold("F3", "TL8-56002", "across"))
        assert (found["state"], found["text"]) == ("overload", "OL")
        found, _ = settled(technician, meter, hold("L9", "TL8-56377"))
        assert found["state"] == "unsteady"
        assert ".." in found["text"]
        found, _ = settled(technician, meter, hold("L7"), quantity="diode")
        assert 0.1 < found["low"] < 1


def test_the_same_contact_is_not_a_second_reading(technician, teal):
    with bench_meter(technician) as meter:
        found, _ = settled(technician, meter, hold("L9"))
        again = ask(technician, meter, hold("L9"), (), found["low"]).json()
        assert again["state"] == "held"
        other, _ = settled(technician, meter, hold("L10"), found["low"])
        assert other["state"] == "settled"


def test_late_answers_and_dropped_lines_never_lend_a_value_to_another_question(technician, teal):
    """A late answer that went to the next question would show the former point's value at the next point."""
    with bench_meter(technician, late=0.02, drop=0.04, seed=5, noise=0.001) as meter:
        for point in ("L9", "PL1", "L1"):
            found, _ = settled(technician, meter, hold(point))
            assert found["low"] == pytest.approx(truth(point) + LEAD_OHMS, rel=0.03), point


def test_a_meter_that_is_away_says_so_and_nothing_is_lost(technician, teal):
    with bench_meter(technician) as meter:
        before = ask(technician, meter, hold("L9")).json()["samples"]
        assert before
    found = ask(technician, meter, hold("L9"), before).json()
    assert found["lost"].startswith("No answer from bench meter")
    assert found["samples"] == before


def test_two_do_not_ask_one_meter_at_once(technician, teal):
    with bench_meter(technician) as meter:
        taken = connection.copy()
        with taken.cursor() as cursor:
            cursor.execute("select pg_advisory_lock(7, %s)", [meter.pk])
            assert ask(technician, meter, hold("L9")).json()["lost"] == BUSY
        taken.close()
        assert ask(technician, meter, hold("L9")).json()["lost"] == ""


@pytest.mark.parametrize("address", ["http://host", "TCPIP0::host::SOCKET", "ASRL1::INSTR", "TCPIP0::a b::5::SOCKET"])
def test_an_address_that_is_no_socket_is_refused(technician, address):
    answer = by_lead("/api/v1/meters", {"name": "other", "address": address})
    assert (answer.status_code, answer.json()["code"]) == (422, "no-address")
    assert not ADDRESS.fullmatch(address)
    assert not MeterRow.objects.exists()


def test_a_meter_without_an_address_is_typed(technician):
    technician.put("/api/v1/meters", {"name": "meter one", "lead_ohms": 0.2})
    found = MeterRow.objects.get()
    answer = ask(technician, found, hold("L9"))
    assert (answer.status_code, answer.json()["code"]) == (409, "no-address")
    technician.put("/api/v1/meters", {"name": "meter one", "lead_ohms": 0.3})
    assert [entry["lead_ohms"] for entry in technician.get("/api/v1/meters").json()] == [0.3]
