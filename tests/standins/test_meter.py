"""The stand-in meter speaks SCPI: who it is, what it reads of a virtual card, what it does not understand."""

from __future__ import annotations

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.standins.meter import LEAD_OHMS, OVERLOAD, TOUCH_S, Meter, Temper, shipped_cards

CARDS = shipped_cards()
HEALTHY = {"serial": "TG-1", "board": "teal-8", "point": "L9", "to": "ground"}


class Clock:
    def __init__(self):
        self.now = 100.0

    def __call__(self):
        return self.now


def meter(seed=0, **temper):
    clock = Clock()
    return Meter(CARDS, Temper(seed=seed, **temper), clock), clock


def hold(device, **where):
    assert device.answer(f"SIM:HOLD {json.dumps({**HEALTHY, **where})}") is None


def ohms(point):
    found = CARDS.card("TG-1", "teal-8").between(point, "ground").ohms
    assert found is not None
    return found


def read(device):
    return float(device.answer("READ?"))


def test_it_says_who_it_is_and_what_it_did_not_understand():
    device, _ = meter(7)
    assert device.answer("*IDN?") == "Uvrix,stand-in meter,7,1"
    assert device.answer("BEEP LOUDLY") is None
    assert device.answer("SYST:ERR?") == '-113,"Undefined header"'
    assert device.answer("SYST:ERR?") == '0,"No error"'
    for where in ("no json", json.dumps({**HEALTHY, "point": "X1"}), json.dumps({**HEALTHY, "board": "none"})):
        device.answer(f"SIM:HOLD {where}")
        assert device.answer("SYST:ERR?").startswith("-220")
        assert read(device) == OVERLOAD


def test_probes_are_on_their_way_before_they_touch_and_the_same_place_lets_them_be():
    device, clock = meter()
    assert read(device) == OVERLOAD
    hold(device)
    assert read(device) == OVERLOAD
    clock.now += TOUCH_S
    truth = ohms("L9")
    assert read(device) == pytest.approx(truth + LEAD_OHMS, rel=0.02)
    hold(device)
    assert read(device) < OVERLOAD
    device.answer("SIM:LIFT")
    assert read(device) == OVERLOAD


@given(st.integers(0, 999), st.floats(0.0, 0.3))
def test_a_capacitor_charges_upwards_to_its_end(seed, since):
    device, clock = meter(seed, noise=0.0)
    hold(device, point="PL1")
    truth = ohms("PL1")
    clock.now += TOUCH_S + since
    early = read(device)
    assert early < truth * 0.8
    clock.now += 3.0
    assert read(device) == pytest.approx(truth, rel=0.01)


def test_faults_show_as_they_do_on_a_bench():
    device, clock = meter()
    for point, to in (("F3", "across"), ("L9", "ground")):
        hold(device, serial="TL8-56002", point=point, to=to)
        clock.now += 1
        assert (read(device) == OVERLOAD) == (point == "F3")
    hold(device, serial="TL8-56377", point="L9")
    clock.now += 1
    values = [read(device) for _ in range(60)]
    assert max(values) > 1.5 * min(values), "a partial short jumps about"
    hold(device, serial="TL8-56377", point="L9", off=["C116"])
    clock.now += 1
    values = [read(device) for _ in range(60)]
    assert max(values) < 1.05 * min(values), "and is gone with its part"


def test_diode_mode_shows_volts():
    device, clock = meter()
    device.answer("CONF:DIOD")
    hold(device, point="L7")
    clock.now += 1
    assert read(device) == pytest.approx(CARDS.card("TG-1", "teal-8").between("L7", "ground").diode_v, rel=0.02)


def test_lateness_and_drops_come_as_often_as_said():
    device, _ = meter(3, late=0.25, drop=0.1)
    said = [device.misbehaves() for _ in range(2000)]
    assert 0.2 < sum(late for late, _ in said) / 2000 < 0.3
    assert 0.07 < sum(drop for _, drop in said) / 2000 < 0.13
