"""Start-up right at its edges: bands, logs, shares, and what is said where there is little."""

from __future__ import annotations

import pytest

from tests.core.case.cards import document
from uvrix.core.boards.document import board_from_document
from uvrix.core.readings.notation import Value
from uvrix.core.readings.points import Places
from uvrix.core.readings.reading_file import Reading
from uvrix.core.startup.chain import Chain, Measured, Node, chain_of, state_of
from uvrix.core.startup.clock import clocks_say
from uvrix.core.startup.converter import converter
from uvrix.core.startup.curve import read_curve
from uvrix.core.startup.isolate import isolate
from uvrix.core.startup.ladder import limit_to_set
from uvrix.core.startup.layout import layout
from uvrix.core.startup.limits import EDGE
from uvrix.core.startup.phases import Phase, PhaseRead, shares

NOWHERE = Places({}, {}, frozenset(), {})


def node(name, *needs, kind="rail", low=0.9, high=1.1, weight=1.0, parts=()):
    return Node(name, name.upper(), kind, needs, low, high, f"P{name}", 1.0, parts, weight)


def volts(name, *ends):
    return Reading(name, "voltage", Value(min(ends), max(ends)), "", "ground")


def test_what_a_card_idles_at_is_the_last_draw_of_its_map():
    draws = (node("first", kind="draw", low=0.2, high=0.3), node("last", kind="draw", low=0.5, high=0.7))
    assert Chain((node("a"), *draws, node("b")), borrowed=False).idle == (0.5, 0.7)
    assert Chain(draws[:1], borrowed=False).idle == (0.2, 0.3)
    assert Chain((node("a"),), borrowed=False).idle is None


def test_a_rail_without_volts_has_no_band_to_speak_of():
    drawn = document()
    del drawn["startup"]
    del drawn["rails"][2]["volts"]
    rail = chain_of(board_from_document(drawn)).nodes[2]
    assert (rail.id, rail.low, rail.high) == ("1v8", 0.0, 0.0)


def test_a_band_holds_to_its_end_and_a_hair_beyond():
    rail = node("a", low=0.95, high=1.1)
    hair = EDGE * rail.high
    assert state_of(rail, volts("a", rail.low - hair)).state == "present"
    assert state_of(rail, volts("a", rail.high + hair)).state == "present"
    assert state_of(rail, volts("a", rail.low - 1.25 * hair)).state == "missing"
    above = state_of(rail, volts("a", rail.high + 1.25 * hair))
    assert (above.state, above.over) == ("missing", True)
    # a span that begins at the end of what the band holds straddles it: missing, and not above
    straddling = state_of(rail, volts("a", rail.high + hair, 2.0))
    assert (straddling.state, straddling.over) == ("missing", False)


def test_the_end_of_a_log_is_its_last_half_second_both_ends_counted():
    assert read_curve([(0.5, 12.0, 1.0), (1.0, 12.0, 3.0)], 5.0).settled_amps == 2.0
    assert read_curve([(0.25, 12.0, 1.0), (1.0, 12.0, 3.0)], 5.0).settled_amps == 3.0


def test_a_step_rises_by_more_than_its_share_and_lasts():
    share = 0.06
    assert read_curve([(0.0, 12, share), (0.01, 12, share), (1.0, 12, 1.0), (1.01, 12, 1.0)], 5.0).steps == 1
    more = share + 0.01
    assert read_curve([(0.0, 12, more), (0.01, 12, more), (1.0, 12, 1.0), (1.01, 12, 1.0)], 5.0).steps == 2
    # two samples just so far apart that the first level lasted
    assert read_curve([(0.0, 12, 0.5), (0.08, 12, 0.5), (2.0, 12, 1.0)], 5.0).steps == 2
    assert read_curve([(0.0, 12, 0.5), (0.09, 12, 0.5), (2.0, 12, 1.0)], 5.0).steps == 1


def test_what_explains_everything_keeps_half_however_unlikely_it_is_and_however_readings_are_doubted():
    nodes = (node("tiny", weight=1e-4), *(node(f"n{at}", weight=100.0) for at in range(8)))
    found = isolate(Chain(nodes, borrowed=False), [volts("tiny", 0.0)], NOWHERE, doubt=0.2)
    assert found.suspects[0].node.id == "tiny"
    assert found.suspects[0].chance == pytest.approx(0.5)


def test_two_dead_nodes_are_said_where_one_explains_nothing():
    nodes = (node("a"), node("b"), node("c"))
    found = isolate(Chain(nodes, borrowed=False), [volts("a", 0.0), volts("b", 0.0), volts("c", 1.0)], NOWHERE)
    assert found.pairs
    assert any("No single dead node" in warning for warning in found.warnings)
    assert sum(suspect.chance for suspect in found.suspects) == pytest.approx(1, abs=1e-3)
    assert {suspect.node.id for suspect in found.suspects[:2]} == {"a", "b"}


def test_readings_that_are_never_wrong_leave_no_doubt():
    nodes = (node("a"), node("b", "a"), node("c", "b"))
    found = isolate(Chain(nodes, borrowed=False), [volts("c", 0.0), volts("a", 1.0)], NOWHERE, doubt=0.0)
    assert {suspect.node.id: suspect.chance for suspect in found.suspects} == pytest.approx({"b": 0.5, "c": 0.5})
    (probe,) = found.probes
    assert probe.node.id == "b"
    assert probe.gain_bits == pytest.approx(1.0)


def test_a_probe_says_how_it_splits_the_suspects_and_what_either_result_means():
    found = isolate(Chain((node("a"), node("b", "a")), borrowed=False), [volts("b", 0.0)], NOWHERE)
    (told,) = (probe.why for probe in found.probes)
    assert told == "Splits the suspects 1 and 1. Missing: most likely A. Present: most likely B."


def test_that_a_map_is_lent_by_the_rails_is_said_before_all_else():
    drawn = document()
    del drawn["startup"]
    chain = chain_of(board_from_document(drawn))
    found = isolate(chain, [volts("1v8", 3.0)], NOWHERE)
    assert found.warnings[0].startswith("The model has no start-up map")
    assert any("above its band" in warning for warning in found.warnings[1:])


@pytest.mark.parametrize(("idle", "amps"), [(1.25, 0.6), (0.84, 0.4), (0.5, 0.3), (3.0, 1.5)])
def test_the_first_limit_is_half_of_the_idle_draw_to_a_tenth(idle, amps):
    assert limit_to_set((idle, 2 * idle), inputs_low=False)[0] == pytest.approx(amps)


def test_phases_loaded_right_at_their_rating_are_within_it():
    phases = [Phase(f"U{at}", "core", f"L{at}", 50.0, PhaseRead(), "alike", "") for at in (1, 2)]
    assert shares(phases, {"core": 100.0})[0].within
    assert not shares(phases, {"core": 100.1})[0].within


def test_no_more_than_four_rails_are_named_before_a_clock_is_blamed():
    rails = [node(f"r{at}") for at in range(6)]
    clock = node("xtal", *(rail.id for rail in rails), kind="clock", parts=("Y1",))
    measured = {rail.id: Measured("unknown") for rail in rails} | {"xtal": Measured("missing")}
    (said,) = clocks_say(Chain((*rails, clock), borrowed=False), measured, frozenset())
    assert "Read R0, R1, R2, R3 before it is blamed" in said.says


def test_a_node_can_be_probed_wherever_its_net_or_its_rail_has_a_point():
    drawn = document()
    drawn["points"].append(
        {"id": "T9", "side": "front", "x_mm": 150, "y_mm": 60, "kind": "pad", "net": "1v8", "minutes": 3}
    )
    board = board_from_document(drawn)
    page = converter(chain_of(board), board, "1v8")
    assert page is not None
    points = {point.id for step in page.steps for point in step.points}
    assert {"L2", "T9"} <= points


def test_nothing_is_laid_out_where_there_is_nothing():
    assert (layout(Chain((), borrowed=False)).columns, layout(Chain((), borrowed=False)).rows) == (0, 0.0)
