"""The stand-in supply: what it answers, refuses and remembers; the card behind it starts when its output goes on."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.standins.meter import Meter, Temper, shipped_cards
from uvrix.standins.supply import MOST_A, MOST_V, Supply

CARDS = shipped_cards()
DEAD = '{"serial": "SC24-0121", "board": "scaup-24"}'
SOUND = '{"serial": "SC24-ANY", "board": "scaup-24"}'


class Clock:
    def __init__(self):
        self.now = 100.0

    def __call__(self):
        return self.now


@pytest.fixture
def clock():
    return Clock()


@pytest.fixture
def supply(clock):
    return Supply(CARDS, Temper(noise=0.0), clock)


def number(supply, asked):
    return float(supply.answer(asked))


def on(supply, card, volts=12, limit=5):
    for command in (f"SIM:CONNECT {card}", f"VOLT {volts}", f"CURR {limit}", "OUTP ON"):
        assert supply.answer(command) is None


def test_nothing_is_at_its_terminals_before_its_output_is_on(supply, clock):
    supply.answer(f"SIM:CONNECT {SOUND}")
    supply.answer("VOLT 12")
    supply.answer("CURR 2")
    assert (number(supply, "MEAS:VOLT?"), number(supply, "MEAS:CURR?"), supply.answer("OUTP?")) == (0, 0, "0")
    supply.answer("OUTP ON")
    clock.now += 3
    assert number(supply, "MEAS:VOLT?") == pytest.approx(12)
    assert number(supply, "MEAS:CURR?") > 0.5
    supply.answer("OUTP OFF")
    assert number(supply, "MEAS:CURR?") == 0


def test_a_card_that_does_not_start_draws_less_and_its_rails_read_so_on_the_meter(supply, clock):
    on(supply, SOUND)
    clock.now += 3
    whole = number(supply, "MEAS:CURR?")
    supply.answer("OUTP OFF")
    on(supply, DEAD)
    clock.now += 3
    assert number(supply, "MEAS:CURR?") < whole / 3
    meter = Meter(CARDS, Temper(noise=0.0), clock)
    meter.answer("CONF:VOLT")
    read = {}
    for point in ("L21", "L22"):
        hold = f'{{"serial": "SC24-0121", "board": "scaup-24", "point": "{point}", "on": true}}'
        meter.answer(f"SIM:HOLD {hold}")
        clock.now += 1
        read[point] = float(meter.answer("READ?") or "nan")
    assert read["L21"] == pytest.approx(5, abs=0.2)
    assert read["L22"] < 0.2


def test_switching_on_again_does_not_start_the_card_anew(supply, clock):
    on(supply, SOUND)
    clock.now += 3
    settled = number(supply, "MEAS:CURR?")
    supply.answer("OUTP ON")
    assert number(supply, "MEAS:CURR?") == pytest.approx(settled)


@given(st.floats(allow_nan=True, allow_infinity=True))
def test_no_setting_beyond_what_it_can_is_taken(value):
    supply = Supply(CARDS, Temper(noise=0.0))
    supply.answer("VOLT 1")
    supply.answer(f"VOLT {value}")
    supply.answer(f"CURR {value}")
    assert 0 <= number(supply, "VOLT?") <= MOST_V
    assert 0 <= number(supply, "CURR?") <= MOST_A
    fits = 0 <= value <= MOST_V
    assert number(supply, "VOLT?") == pytest.approx(value if fits else 1.0, abs=1e-4)


@pytest.mark.parametrize("command", ["FOO", "VOLT much", "SIM:CONNECT {", 'SIM:CONNECT {"serial": "x"}', "OUTP MAYBE"])
def test_what_it_does_not_know_is_an_error_that_is_asked_for(supply, command):
    assert supply.answer(command) is None
    assert supply.answer("SYST:ERR?").startswith("-")
    assert supply.answer("SYST:ERR?").startswith("0")
