"""Practice: levels hide what fits, the bench answers alike, harm is done and stays, the debrief weighs each step."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from uvrix.core.boards.document import board_from_document, board_unchecked, read_board
from uvrix.core.boards.families import read_family
from uvrix.core.case.belief.weighing import Cause
from uvrix.core.case.case_file import case_document, case_from
from uvrix.core.case.lent import with_lent
from uvrix.core.errors import Refusal
from uvrix.core.practice.bench import PracticeBench, bench_after
from uvrix.core.practice.card_file import PracticeCard, card_from, read_card, see_that_it_fits
from uvrix.core.practice.debrief import advised, bits_told, debrief, is_right
from uvrix.core.practice.levels import LEVELS, fault_of_cause, fault_of_part, hide, level_of, levels_of
from uvrix.core.practice.steps import cost_of, minutes_of, step_of
from uvrix.core.virtual.whole_boards import whole_board

BOARDS = Path(__file__).parents[3] / "data/boards"
SCAUP = read_board((BOARDS / "scaup-24.board.json").read_bytes())
TEAL = read_board((BOARDS / "teal-8.board.json").read_bytes())
PLOVER = read_family((BOARDS.parent / "families/plover.family.json").read_bytes())
BARE = read_board((BOARDS / "garganey-8.board.json").read_bytes())
# its family lends it a start-up map, read at this board's own points
LENT = with_lent(TEAL, PLOVER, "the family")
OFF, SUPPLY = {"power": "off"}, {"power": "supply"}


def card(*faults, seed=1, board=SCAUP, **more):
    return PracticeCard("a card", level_of(faults), board.id, faults, seed, **more)


def reading(point, value="1k"):
    return {"reading": {"point": point, "quantity": "resistance", "value": value, "unit": "ohm", "mode": "ohms"}}


@settings(max_examples=30, deadline=None)
@given(seed=st.integers(0, 2**31 - 1), board_seed=st.integers(0, 200), level=st.sampled_from(LEVELS))
def test_what_a_level_hides_fits_the_board_and_is_of_the_level(seed, board_seed, level):
    board = board_from_document(whole_board(np.random.default_rng(board_seed)))
    if level not in levels_of(board):
        with pytest.raises(Refusal):
            hide(board, level, seed)
        return
    faults = hide(board, level, seed)
    assert faults == hide(board, level, seed)
    assert level_of(faults) == level
    made = PracticeCard("made", level, board.id, faults, seed)
    see_that_it_fits(read_card(json.dumps(made.document()).encode()), board)


def test_a_board_without_rails_has_no_shorts_and_no_start():
    assert levels_of(BARE) == ("counting", "joints", "nothing")
    assert levels_of(SCAUP) == levels_of(TEAL) == LEVELS


@settings(max_examples=20, deadline=None)
@given(seed=st.integers(0, 2**31 - 1), level=st.sampled_from(LEVELS))
def test_the_same_card_answers_the_same_steps_alike(seed, level):
    made = PracticeCard("made", level, SCAUP.id, hide(SCAUP, level, seed), seed)
    steps: list[dict[str, Any]] = [
        {"do": "power", "target": "off"},
        {"do": "read", "target": "PA", "quantity": "resistance"},
        {"do": "read", "target": "PA", "quantity": "resistance"},
        {"do": "look", "target": "front"},
        {"do": "run", "target": "cold", "condition": ["cold"]},
        {"do": "trial", "target": "computer"},
    ]

    def worked():
        entries = []
        for step in steps:
            entries += bench_after(made, SCAUP, entries).ask(step)
        return entries

    first = worked()
    assert first == worked()
    case_from(case_document(SCAUP.id, first), SCAUP)


def test_a_meter_that_is_read_again_does_not_show_the_very_same():
    entries: list[dict[str, Any]] = [OFF]
    for _ in range(6):
        entries += bench_after(card("cells:U12"), SCAUP, entries).ask({"do": "read", "target": "PA"})
    values = {entry["reading"]["value"] for entry in entries if "reading" in entry}
    assert len(values) > 2


def test_to_ask_does_nothing_to_the_card():
    bench = PracticeBench(card("joined:U71"), SCAUP)
    steps: list[dict[str, Any]] = [
        {"do": "swap", "target": "U72"},
        {"do": "power", "target": "supply"},
        {"do": "inject", "target": "PA", "volts": 20.0, "amps_limit": 1.0},
        {"do": "rung", "target": "computer"},
    ]
    for step in steps:
        bench.ask(step)
    assert (bench.power, bench.off, bench.harmed, bench.fed) == ("off", set(), [], None)


def test_power_on_a_short_blows_its_fuse_once_and_for_good():
    bench = bench_after(card("joined:U71"), SCAUP, [OFF, SUPPLY])
    assert [harm.words for harm in bench.harmed] == ["power on a short: F12 is gone"]
    assert [fault.text for fault in bench.faults] == ["joined:U71", "blown:F12"]
    # what is cut off by its fuse takes no more harm
    again = bench_after(card("joined:U71"), SCAUP, [OFF, SUPPLY, OFF, SUPPLY])
    assert len(again.harmed) == 1
    assert not bench_after(card("joined:U71"), SCAUP, [OFF, {"did": "swap", "site": "U71"}, SUPPLY]).harmed[1:]


def test_a_rail_without_a_fuse_takes_what_it_feeds_with_it():
    points = [point for point in SCAUP.document["points"] if point["id"] != "F12"]
    unfused = board_from_document({**SCAUP.document, "points": points})
    bench = bench_after(card("joined:U71"), unfused, [OFF, SUPPLY])
    # U65 makes the memory's volts of the rail that is short
    assert [harm.words for harm in bench.harmed] == ["power on a short: U65 is gone"]
    assert "dead:U65" in [fault.text for fault in bench.faults]


def test_unshielded_neighbours_lift_now_and_then_and_shielded_ones_never():
    def lifted(seed, shields):
        act = {"did": "swap", "site": "U15", "shields": shields}
        return [harm.words for harm in bench_after(card("cells:U15", seed=seed), SCAUP, [act]).harmed]

    bare = [lifted(seed, []) for seed in range(60)]
    assert 0.2 < sum(map(bool, bare)) / len(bare) < 0.8
    assert all("not shielded, and lifted" in words[0] for words in bare if words)
    everything = [*SCAUP.by_designator, SCAUP.core.designator, *(part.designator for part in SCAUP.parts)]
    assert not any(lifted(seed, everything) for seed in range(60))


def test_a_good_part_lifted_and_a_rail_overfed_are_harm():
    lifted = bench_after(card("cells:U12"), SCAUP, [{"did": "swap", "site": "U40"}])
    assert "a good part lifted: U40" in lifted.harmed[0].words
    fed = bench_after(card("cells:U12"), SCAUP, [{"injected": {"point": "L24", "volts": 9.0, "amps": 1.0}}])
    assert fed.harmed[0].words == "L24 fed above its own volts"


def test_what_is_right_to_do_with_a_card():
    swapped = {"did": "swap", "site": "U12", "shields": [*SCAUP.by_designator, "U1", "Y1"]}
    assert is_right("repaired", bench_after(card("cells:U12"), SCAUP, [swapped]))
    assert not is_right("repaired", bench_after(card("cells:U12"), SCAUP, []))
    assert is_right("no-fix", bench_after(card("host"), SCAUP, []))
    assert is_right("no-fix", bench_after(card(), SCAUP, []))
    assert not is_right("repaired", bench_after(card("host"), SCAUP, []))
    assert not is_right("no-fix", bench_after(card("host"), SCAUP, [{"did": "remove", "site": "U12"}]))
    assert not is_right("donor", bench_after(card("cells:U12"), SCAUP, []))


@pytest.mark.parametrize("level", LEVELS)
@pytest.mark.parametrize("board", [SCAUP, TEAL, LENT], ids=["scaup-24", "teal-8", "lent map"])
def test_the_advice_works_every_level_through_to_a_right_end(board, level):
    for seed in (11, 12, 13):
        worked = advised(PracticeCard("made", level, board.id, hide(board, level, seed), seed), board)
        assert worked.right, (hide(board, level, seed), worked)


def test_a_lent_node_is_read_at_the_boards_own_points_and_brings_no_parts():
    nodes = LENT.startup_nodes
    assert {nodes[rail].point for rail in ("5v0", "1v8", "pex")} == {"L5", "L7", "L8"}
    assert nodes["core"].point in {"L1", "L2", "L3", "L4"}
    assert not any(node.parts for node in nodes.values())
    assert not nodes["in12"].point


def test_a_card_whose_map_names_no_points_is_read_rail_by_rail_before_the_core_is_doubted():
    nodes = [
        {key: value for key, value in node.items() if key != "point"} for node in LENT.document["startup"]["nodes"]
    ]
    blind = board_unchecked({**LENT.document, "startup": {"nodes": nodes}})
    for faults in (("short:C129", "cells:U11"), ("short:C103", "cells:U13"), ("short:C102", "cells:U15")):
        worked = advised(card(*faults, board=blind), blind)
        assert (worked.ended, worked.right) == ("repaired", True), faults


def test_a_node_that_is_read_at_a_pin_is_read_once():
    """The advice asked for Q7.3 for ever: its reading was taken for one of a pin."""
    worked = advised(card("dead:U64", "cells:U35", seed=3), SCAUP)
    assert (worked.ended, worked.right) == ("repaired", True)


def test_the_debrief_says_what_it_was_what_each_step_told_and_what_cost_most():
    entries = [
        OFF,
        reading("PA", "0R5"),
        reading("L25", "0R35"),
        reading("L25", "0R35"),
        SUPPLY,
        OFF,
        {"did": "swap", "site": "U40"},
    ]
    found = debrief(card("joined:U71"), SCAUP, entries, "repaired")
    assert found.hidden == ("joined:U71",)
    assert "blown:F12" in found.left
    assert not found.person.right
    assert found.advice.right
    assert [moment.number for moment in found.moments] == list(range(len(entries) + 1))
    short = found.moments[1]
    assert short.bits > 0.3
    assert found.moments[3].bits < 0.02
    assert "power on a short" in found.moments[4].harm
    assert found.moments[6].ruled_out
    kinds = [habit.habit for habit in found.habits]
    assert kinds[0] == "did-harm"
    assert "returned-too-early" in kinds
    assert len(kinds) <= 3
    assert [habit.minutes for habit in found.habits] == sorted((habit.minutes for habit in found.habits), reverse=True)


def test_a_thread_that_follows_the_advice_has_no_habits():
    made = card("cells:U12", entries=({"symptom": ["artefacts"]},))
    from uvrix.core.case.answer import step_json
    from uvrix.core.case.belief.believe import believe
    from uvrix.core.case.plan.order import plan
    from uvrix.core.practice.debrief import facts_of

    entries: list[dict[str, Any]] = []
    every = [*SCAUP.by_designator, SCAUP.core.designator, *(part.designator for part in SCAUP.parts)]
    while True:
        facts = facts_of(made, SCAUP, [*made.entries, *entries])
        step = step_json(plan(facts, believe(facts))[0])
        if step["do"] == "return":
            break
        bench = bench_after(made, SCAUP, entries)
        entries += [{**entry, "shields": every} if "did" in entry else entry for entry in bench.ask(step)]
    found = debrief(made, SCAUP, entries, step["target"])
    assert found.person == replace(found.advice, steps=found.person.steps, cost=found.person.cost)
    assert all(moment.as_advised for moment in found.moments)
    assert found.habits == ()


def test_bits_are_nothing_for_the_same_belief_and_never_less():
    some = (Cause("chip", ("U12",), 0.6), Cause("unknown", (), 0.4))
    other = (Cause("short", ("U71",), 0.9), Cause("unknown", (), 0.1))
    assert bits_told(some, some) == pytest.approx(0)
    assert bits_told(some, other) > 0
    # what was not thought of before comes out of what nothing explained
    first = (Cause("unknown", (), 1.0),)
    assert bits_told(first, (Cause("chip", ("U12",), 0.5), Cause("unknown", (), 0.5))) == pytest.approx(0)


def test_costs_are_one_table_for_all():
    steps = [step_of(entry) for entry in ({"did": "remove", "site": "U71"}, {"did": "place", "site": "U71"})]
    assert cost_of(steps, SCAUP).parts == 0
    assert cost_of([step_of({"did": "swap", "site": "U12"})], SCAUP).parts == 1
    assert cost_of([step_of({"did": "place", "site": "U62"})], SCAUP).parts == 1
    assert minutes_of({"do": "swap", "target": "U12"}, SCAUP) > minutes_of({"do": "swap", "target": "U71"}, SCAUP)
    assert minutes_of({"do": "swap", "target": "U1"}, SCAUP) > minutes_of({"do": "swap", "target": "U12"}, SCAUP)


@pytest.mark.parametrize(
    ("cause", "names", "fault"),
    [
        ("short", ["U71"], "joined:U71"),
        ("short", ["C118"], "short:C118"),
        ("open-fuse", ["F11"], "blown:F11"),
        ("chip", ["U12"], "cells:U12"),
        ("chip-joint", ["U16"], "joint:U16"),
        ("missing", ["U62"], "missing:U62"),
        ("contact", ["B41"], "torn:B41"),
        ("host", [], "host"),
        ("firmware", ["U9"], None),
        ("chip", [], None),
    ],
)
def test_a_proven_cause_as_a_fault(cause, names, fault):
    assert fault_of_cause(SCAUP, cause, names, 3) == fault
    assert (fault_of_cause(SCAUP, "core-joint", ["U1"], 3) or "").startswith("core-joint:")
    assert (fault_of_cause(SCAUP, "board-line", ["U12"], 3) or "").startswith("dq-line:U12:")


def test_a_part_of_a_watchlist_as_a_fault():
    assert fault_of_part(SCAUP, "F11", 1) == "blown:F11"
    assert fault_of_part(SCAUP, "U71", 1) == "joined:U71"
    assert fault_of_part(SCAUP, "U63", 1) == "dead:U63"
    assert fault_of_part(SCAUP, "U12", 1) in {"cells:U12", "joint:U12"}
    assert fault_of_part(SCAUP, "NOBODY", 1) is None


@pytest.mark.parametrize(
    ("change", "place"),
    [
        ({"format": "other"}, "$.format"),
        ({"version": 2}, "$.version"),
        ({"seed": -1}, "$.seed"),
        ({"level": "hard"}, "$.level"),
        ({"case": {"board": None}}, "$.case.board"),
        ({"faults": ["cells:U99"]}, "$.faults[0]"),
        ({"faults": ["dq-line:U12:9"]}, "$.faults[0]"),
        ({"case": {"format": "uvrix-case", "version": 1, "board": "scaup-24", "entries": [{"ticked": 3}]}}, "$.case"),
        ({"case": {"format": "uvrix-case", "version": 1, "board": "teal-8", "entries": []}}, "$.case.board"),
    ],
)
def test_a_file_that_is_no_card_is_refused_by_its_path(change, place):
    document = {**card("cells:U12").document(), **change}
    with pytest.raises(Refusal) as refused:
        see_that_it_fits(card_from(document), SCAUP)
    assert refused.value.place.startswith(place)


def test_a_card_comes_back_from_its_file_as_it_was():
    made = card("cells:U12", complaint="Squares.", good={"PA": (8100.0,)}, entries=({"symptom": ["artefacts"]},))
    assert read_card(json.dumps(made.document()).encode()) == made
