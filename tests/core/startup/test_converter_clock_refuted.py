"""A converter's page, a clock that is noise, parts replaced without effect, the current of a start."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.boards.strategies import BOARDS
from uvrix.core.boards.document import read_board
from uvrix.core.readings.notation import Value
from uvrix.core.readings.points import Places, board_places
from uvrix.core.readings.reading_file import Reading
from uvrix.core.startup.chain import chain_of
from uvrix.core.startup.clock import clocks_say
from uvrix.core.startup.converter import converter, converters
from uvrix.core.startup.curve import read_curve
from uvrix.core.startup.isolate import isolate
from uvrix.core.startup.limits import REFUTED_SHARE
from uvrix.core.startup.refuted import behind, without_refuted
from uvrix.core.virtual.powered import PoweredCard
from uvrix.core.virtual.startups import random_map, reading

SCAUP = read_board((BOARDS / "scaup-24.board.json").read_bytes())
CHAIN = chain_of(SCAUP)


def test_a_converter_page_follows_the_enable_to_the_part_that_makes_it():
    page = converter(CHAIN, SCAUP, "1v8")
    assert page is not None
    roles = {step.node.id: (step.role, step.through) for step in page.steps}
    assert roles["1v8"] == ("output", "")
    assert (roles["5v0"], roles["en_1v8"]) == (("supply", "1v8"), ("enable", "1v8"))
    assert (roles["g_1v8"], roles["pg_3v3"]) == (("makes", "en_1v8"), ("makes", "g_1v8"))
    assert [coil.id for coil in page.coils] == ["L22"]
    assert [chip.designator for chip in page.chips] == ["U63"]
    gate = next(step for step in page.steps if step.node.id == "g_1v8")
    assert {part.side for part in gate.parts} == {"back"}
    assert converter(CHAIN, SCAUP, "nothing") is None


def test_every_converter_has_what_it_needs_on_its_page():
    for node in converters(CHAIN):
        page = converter(CHAIN, SCAUP, node.id)
        assert page is not None
        shown = [step.node.id for step in page.steps]
        assert set(node.needs) <= set(shown)
        assert len(shown) == len(set(shown))


def measured(dead=(), read=None):
    card = PoweredCard(SCAUP, frozenset(dead))
    names = [node.id for node in CHAIN.nodes] if read is None else read
    found = []
    for node in CHAIN.nodes:
        if node.id in names and node.kind == "clock":
            hertz = card.reads(node.id, "frequency")
            found.append(Reading(node.id, "frequency", Value(hertz, hertz), "", "ground"))
        elif node.id in names and node.kind != "draw":
            volts = card.reads(node.id, "voltage")
            found.append(Reading(node.id, "voltage", Value(volts, volts), "", "ground"))
    return isolate(CHAIN, found, board_places(SCAUP)).measured


def test_a_dead_clock_leads_to_its_parts_first_and_then_to_the_core():
    (rails_first,) = clocks_say(CHAIN, measured(["core"]), frozenset())
    assert "the rail first" in rails_first.says
    rails = [node.id for node in CHAIN.nodes if node.kind == "rail"]
    (unread,) = clocks_say(CHAIN, measured(["xtal"], ["xtal", *rails[:-1]]), frozenset())
    assert "Read " in unread.says
    (crystal,) = clocks_say(CHAIN, measured(["xtal"]), frozenset())
    assert "Y1" in crystal.says
    assert not crystal.lift_core
    (joints,) = clocks_say(CHAIN, measured(["xtal"]), frozenset({"Y1"}))
    assert joints.lift_core
    assert clocks_say(CHAIN, measured(), frozenset()) == ()


@given(st.integers(0, 10_000))
def test_a_part_replaced_without_effect_loses_its_blame_and_nobody_elses_order_changes(seed):
    rng = np.random.default_rng(seed)
    chain = random_map(rng, 12)
    chain = replace(chain, nodes=tuple(replace(node, parts=(f"U{at}",)) for at, node in enumerate(chain.nodes)))
    last = chain.nodes[-1].id
    readings = [reading(last, present=False)]
    places = Places({}, {}, frozenset(), {node.id: "" for node in chain.nodes})
    before = isolate(chain, readings, places)
    first = before.suspects[0].node
    after = isolate(without_refuted(chain, {first.parts[0]}), readings, places)
    chance = {suspect.node.id: suspect.chance for suspect in after.suspects}
    assert chance.get(first.id, 0) <= before.suspects[0].chance + 1e-12
    weights = {node.id: node.weight for node in without_refuted(chain, {first.parts[0]}).nodes}
    assert weights[first.id] == pytest.approx(REFUTED_SHARE * first.weight)
    explains = [suspect.node.id for suspect in before.suspects if chain.absent[_at(chain, suspect.node.id), -1]]
    others = [name for name in explains if name != first.id]
    assert [suspect.node.id for suspect in after.suspects if suspect.node.id in others] == others


def _at(chain, name):
    return [node.id for node in chain.nodes].index(name)


def test_what_is_behind_a_node_is_what_is_absent_without_it():
    found = behind(CHAIN, "1v8")
    assert {"1v8", "pex", "mem", "core", "release"} <= found
    assert not found & {"5v0", "en_1v8", "in12s"}
    assert behind(CHAIN, "nothing") == frozenset()


@given(st.sampled_from([node.id for node in CHAIN.nodes if node.kind != "draw"]), st.integers(0, 99))
def test_what_a_card_draws_grows_with_how_far_it_starts(dead, seed):
    card, whole = PoweredCard(SCAUP, frozenset({dead}), seed), PoweredCard(SCAUP, seed=seed)
    late = 3.0
    assert card.wanted(late) <= whole.wanted(late) + 1e-9
    assert whole.wanted(late) == pytest.approx(whole.idle_amps, rel=0.02)
    assert card.present == {node.id for node in CHAIN.nodes} - behind(CHAIN, dead)


@given(st.floats(1, 13), st.floats(0.05, 5), st.floats(0, 3), st.sampled_from([0.4, 30.0, float("inf")]))
def test_a_supply_never_gives_more_than_its_limit_or_its_volts(volts, limit, since, ohms):
    shown_v, amps = PoweredCard(SCAUP, input_ohms=ohms).fed(volts, limit, since)
    assert 0 <= amps <= limit * (1 + 1e-9)
    assert 0 <= shown_v <= volts * (1 + 1e-9)


def logged(card, limit):
    times = [at * 0.04 for at in range(51)]
    return [(at, *card.fed(12.0, limit, at)) for at in times]


def test_the_curve_of_a_start_says_how_it_went():
    whole = read_curve(logged(PoweredCard(SCAUP), 5.0), 5.0)
    dead = read_curve(logged(PoweredCard(SCAUP, frozenset({"sup_ok"})), 5.0), 5.0)
    short = read_curve(logged(PoweredCard(SCAUP, input_ohms=0.4), 0.5), 0.5)
    assert whole.steps > dead.steps
    assert whole.peak_amps > whole.settled_amps > dead.settled_amps
    assert "no steps" in dead.says
    assert short.at_limit
    assert "0.2 V" in short.says
    with pytest.raises(ValueError, match="no samples"):
        read_curve([], 1.0)
