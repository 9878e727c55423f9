"""The morning check over the API, and a meter that prints lines over a pseudo-terminal."""

from __future__ import annotations

from uuid import uuid4

import pytest

from tests.api.conftest import by_lead
from tests.api.test_meter_link import ask, hold
from uvrix.shop.ohms.models import Meter
from uvrix.standins.meter import LEAD_OHMS, PrintingMeter, Temper, shipped_cards
from uvrix.standins.meter import Meter as StandIn


@pytest.fixture
def meter(technician):
    technician.put("/api/v1/meters", {"name": "one", "lead_ohms": 0.1})
    return Meter.objects.get(name="one")


def check(client, meter, kind, value):
    return client.post(f"/api/v1/meters/{meter.pk}/checks", {"id": str(uuid4()), "kind": kind, "value": value})


def morning(client, meter):
    return next(entry for entry in client.get("/api/v1/meters").json() if entry["id"] == meter.pk)["morning"]


def test_leads_resistor_and_good_card_make_a_morning(technician, as_role, meter, teal):
    lead = as_role("lead")
    assert morning(technician, meter) == "open"
    assert check(technician, meter, "resistor", "100").json()["code"] == "no-standard"
    assert check(technician, meter, "card", "100").json()["code"] == "no-standard"
    assert check(technician, meter, "leads", "0R12").json()["passed"] is True
    meter.refresh_from_db()
    assert meter.lead_ohms == pytest.approx(0.12)
    # with no resistor and no card kept, the leads are all there is to check
    assert morning(technician, meter) == "passed"
    good = {"id": str(uuid4()), "card": "TG-1", "note": ""}
    technician.post("/api/v1/board-models/teal-8/reference-cards", good)
    taken = {"id": str(uuid4()), "point": "L9", "quantity": "resistance", "value": "212", "mode": "ohms"}
    technician.post(f"/api/v1/reference-cards/{good['id']}", taken)
    kept = {"resistor_ohms": 100, "tolerance": 0.01, "reference": good["id"], "point": "L9"}
    assert lead.put("/api/v1/morning-standard", {**kept, "point": "L7"}).json()["code"] == "not-captured"
    said = lead.put("/api/v1/morning-standard", kept).json()
    assert (said["kinds"], said["card"]) == (["leads", "resistor", "card"], "TG-1")
    assert morning(technician, meter) == "open"
    assert check(technician, meter, "resistor", "100R4").json()["says"].startswith("100.3 Ω across the reference")
    assert check(technician, meter, "card", "180").json()["passed"] is False
    assert morning(technician, meter) == "failed"
    assert check(technician, meter, "card", "213").json()["passed"] is True
    assert morning(technician, meter) == "passed"
    listed = technician.get(f"/api/v1/meters/{meter.pk}/checks").json()
    assert [row["kind"] for row in listed] == ["card", "card", "resistor", "leads"]


def test_a_bad_lead_fails_and_is_not_taken_off(technician, meter):
    for _ in range(3):
        check(technician, meter, "leads", "0R1")
    said = check(technician, meter, "leads", "0R6").json()
    assert (said["passed"], "going bad" in said["says"]) == (False, True)
    meter.refresh_from_db()
    assert meter.lead_ohms == pytest.approx(0.1)
    assert check(technician, meter, "leads", "x").json()["code"] == "no-value"
    entry = {"id": str(uuid4()), "kind": "leads", "value": "0R1"}
    twice = [technician.post(f"/api/v1/meters/{meter.pk}/checks", entry).status_code for _ in range(2)]
    assert twice == [201, 200]


@pytest.fixture
def printing(technician, tmp_path):
    standin = PrintingMeter(tmp_path / "stand-in-meter", StandIn(shipped_cards(), Temper(noise=0.0005, seed=3)))
    standin.start()
    by_lead("/api/v1/meters", {"name": "prints", "lead_ohms": LEAD_OHMS, "address": standin.address})
    yield Meter.objects.get(name="prints")
    standin.stop()


def test_a_meter_that_prints_lines_is_taught_and_read(technician, printing):
    untaught = ask(technician, printing, hold("L9")).json()
    assert "not taught yet" in untaught["lost"]
    heard = technician.post(f"/api/v1/meters/{printing.pk}/heard").json()
    assert heard["lost"] == ""
    open_line = next(text for text in heard["lines"] if "O.L" in text)
    # the leads held together, or any reading, shows what a value looks like
    value_line = "P1 +212.4100 Ohm AUTO"
    sample = f"{value_line}\n{open_line}\n"
    marks = [
        {"line": 0, "start": 3, "end": 12, "column": "value"},
        {"line": 0, "start": 13, "end": 16, "column": "unit"},
        {"line": 1, "start": open_line.index("O.L"), "end": open_line.index("O.L") + 3, "column": "over"},
    ]
    taught = technician.post("/api/v1/meters/taught", {"sample": sample, "marks": marks}).json()
    assert [line["says"] for line in taught["lines"]] == ["212.4 Ω", "OL"]
    said = {"name": "prints", "lead_ohms": LEAD_OHMS, "address": printing.address, "reader": taught["reader"]}
    assert by_lead("/api/v1/meters", said).status_code == 200
    found, samples = {"state": "moving"}, []
    for _ in range(12):
        found = ask(technician, printing, hold("L9"), samples).json()
        samples = found["samples"]
        if found["state"] == "settled":
            break
    truth = shipped_cards().card("TG-1", "teal-8").between("L9", "ground").ohms or 0
    assert found["state"] == "settled"
    assert found["low"] == pytest.approx(truth + LEAD_OHMS, rel=0.02)
    diode = ask(technician, printing, hold("L9"), quantity="diode").json()
    assert diode["lost"] == ""


def test_marks_that_do_not_fit_say_why(technician):
    body = {"sample": "12.4 kOhm\n", "marks": [{"line": 0, "start": 0, "end": 4, "column": "value"}]}
    refused = technician.post("/api/v1/meters/taught", body)
    assert refused.status_code in {400, 422}
    assert "no unit" in refused.content.decode()


def test_addresses_of_serial_ports(technician, meter):
    for address, status in (
        ("serial:/dev/ttyUSB0@9600", 200),
        ("serial:/dev/serial/by-id/usb-0@115200", 200),
        ("serial:/etc/passwd@9600", 422),
        ("serial:/dev/ttyUSB0", 422),
    ):
        assert by_lead("/api/v1/meters", {"name": "s", "address": address}).status_code == status
    away = Meter.objects.get(name="s")
    assert "Nothing was heard" in technician.post(f"/api/v1/meters/{away.pk}/heard").json()["lost"]
    assert technician.post(f"/api/v1/meters/{meter.pk}/heard").json()["code"] == "no-lines"
