"""The virtual card obeys Kirchhoff: what is between its nodes, what a part taken off changes, where it warms."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.boards.strategies import BOARDS
from uvrix.core.boards.document import read_board
from uvrix.core.errors import Refusal
from uvrix.core.virtual.card import FUSE_OHMS, SHORT_OHMS, Fault, VirtualCard, healthy_ohms, parse_fault, without

TEAL = read_board((BOARDS / "teal-8.board.json").read_bytes())
HEALTHY = healthy_ohms(TEAL, {"core": [0.35], "mem": [42.0]})
STAGES = [part.designator for part in TEAL.parts if part.kind == "power-stage"]
CAPACITORS = [part.designator for part in TEAL.parts if part.kind == "capacitor" and part.rails]
POINTS = [point.id for point in TEAL.points if point.kind not in {"fuse", "shunt"}]


def card(*faults, seed=1):
    return VirtualCard(TEAL, HEALTHY, tuple(parse_fault(text) for text in faults), seed)


def ohms(one, point, to="ground"):
    found = one.between(point, to).ohms
    assert found is not None
    return found


def parallel(*ohms):
    return 1 / sum(1 / entry for entry in ohms)


@given(st.integers(0, 10_000), st.sampled_from(POINTS))
def test_a_healthy_card_reads_its_rails_and_no_two_of_them_are_joined(seed, point):
    healthy = card(seed=seed)
    net = next(probe_point.net for probe_point in TEAL.points if probe_point.id == point)
    assert healthy.between(point, "ground").ohms == pytest.approx(healthy.own_ohms(net), rel=0.02)
    other = next(name for name in POINTS if healthy.node(name) != net)
    apart = healthy.own_ohms(net) + healthy.own_ohms(healthy.node(other))
    assert healthy.between(f"{point}/{other}", "across").ohms == pytest.approx(apart, rel=0.02)


@given(st.sampled_from(CAPACITORS), st.integers(0, 99))
def test_a_shorted_capacitor_takes_its_rail_down_and_leaves_with_it(name, seed):
    broken = card(f"short:{name}", seed=seed)
    rail = broken.parts[name].rails[0]
    point = next(word for word in POINTS if broken.node(word) == rail)
    assert broken.between(point, "ground").ohms == pytest.approx(parallel(broken.own_ohms(rail), SHORT_OHMS), rel=0.02)
    off = without(broken, [name], [])
    assert off.between(point, "ground").ohms == pytest.approx(off.own_ohms(rail), rel=0.02)


def test_burnt_layers_stay_when_the_part_is_off():
    broken = card("layers:C128")
    assert ohms(without(broken, ["C128"], []), "L9", "ground") < 1


@given(st.sampled_from(STAGES), st.integers(0, 99))
def test_a_joined_stage_ties_its_input_to_its_output_and_a_lifted_coil_tells_the_side(name, seed):
    broken = card(f"joined:{name}", seed=seed)
    part = broken.parts[name]
    rails = sorted((rail for rail in part.rails if rail in broken.rails), key=lambda rail: -broken.rails[rail])
    high, low = (next(point for point in POINTS if broken.node(point) == rail) for rail in (rails[0], rails[-1]))
    assert ohms(broken, f"{high}/{low}", "across") < 0.2
    assert ohms(broken, high, "ground") < broken.own_ohms(rails[-1]) + 0.2
    coil = broken._output(part).removesuffix(" converter")
    lifted = without(broken, [], [coil])
    ends = [lifted.between(f"{coil} {pad}", "ground").ohms for pad in ("converter", "rail")]
    # the joined stage sits on the converter's side: the rail is free of the input again
    assert ohms(lifted, f"{high}/{low}", "across") > 10
    assert ends[1] == pytest.approx(lifted.own_ohms(rails[-1]) / (1 - 0.1 / len(lifted.coils[rails[-1]])), rel=0.1)


@given(st.sampled_from(CAPACITORS), st.floats(0.1, 1.0), st.floats(0.1, 5.0))
def test_what_warms_is_no_more_than_what_is_fed_and_the_limit_holds(name, volts, limit):
    broken = card(f"short:{name}")
    point = next(word for word in POINTS if broken.node(word) == broken.parts[name].rails[0])
    at_board, amps, spots = broken.fed(point, volts, limit)
    assert amps <= limit + 1e-9
    assert at_board <= volts + 1e-9
    assert sum(spot.watts for spot in spots) <= at_board * amps * (1 + 1e-6)
    where = broken.parts[name].centre
    assert (spots[0].x_mm, spots[0].y_mm) == (float(where[0]), float(where[1]))


def test_fuses_read_across_and_a_partial_short_jumps():
    broken = card("blown:F1", "sick:F2", "partial:C116:mem")
    assert broken.between("F1", "across").ohms is None
    assert broken.between("F2", "across").ohms == pytest.approx(1.4)
    assert broken.between("F3", "across").ohms == FUSE_OHMS
    shorted = broken.between("L9", "ground")
    assert shorted.behaviour == "jumping"
    assert shorted.ohms == pytest.approx(broken.own_ohms("mem") * 0.2, rel=0.05)
    assert broken.between("PL1", "ground").behaviour == "charging"
    assert broken.between("L9", "ground").diode_v == pytest.approx(shorted.ohms / 1000)


@pytest.mark.parametrize("text", ["", "joined", "melted:U73", "joined:"])
def test_a_fault_that_is_none_is_refused(text):
    with pytest.raises(Refusal, match="expected KIND:DESIGNATOR"):
        parse_fault(text)
    assert parse_fault("short:C1:mem") == Fault("short", "C1", "mem")


def test_a_place_that_is_none_is_refused():
    for name, to in (("X9", "ground"), ("X9", "across"), ("L9/X9", "across")):
        with pytest.raises(Refusal, match='"X9"'):
            card().between(name, to)
