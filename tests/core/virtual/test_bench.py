"""The bench in a box: what it answers, what it calls harm, and cards played by the plan's own advice."""

from __future__ import annotations

import json
import subprocess
import sys

import numpy as np
import pytest

from tests.core.case.cards import BOARD, KNOWN, document
from uvrix.core.boards.document import board_from_document
from uvrix.core.errors import Refusal
from uvrix.core.virtual.bench import KINDS, Bench, hidden_faults
from uvrix.core.virtual.play import play, random_card
from uvrix.core.virtual.whole_boards import whole_board


def bench(faults, seed=1):
    return Bench(BOARD, hidden_faults(BOARD, faults), seed)


def answered(made, do, target="", **more):
    return made.answer({"do": do, "target": target, **more})


@pytest.mark.parametrize(
    "text",
    [
        *("shrt:C1", "short", "short:U99", "short:U62", "joined:C1", "blown:C1", "sick:U71", "missing:C99", "dead:L1"),
        *("torn:C1", "torn:B99", "dq-line:C1", "cells:U71", "joint:U1", "core-joint:Z", "host:U1", "short:C1:gold"),
    ],
)
def test_a_fault_that_does_not_fit_the_board_is_refused(text):
    with pytest.raises(Refusal):
        hidden_faults(BOARD, text)


def test_every_kind_of_fault_can_be_hidden():
    fits = {
        "joined": "joined:U71",
        "short": "short:C1",
        "partial": "partial:C1:in12",
        "layers": "layers:C1",
        "blown": "blown:F1",
        "sick": "sick:F2",
        "missing": "missing:U62",
        "dead": "dead:U50",
        "torn": "torn:B41",
        "dq-line": "dq-line:U13:7",
        "cells": "cells:U12",
        "joint": "joint:U11",
        "core-joint": "core-joint:A",
        "host": "host",
    }
    assert set(fits) == set(KINDS)
    for text in fits.values():
        assert [fault.text for fault in hidden_faults(BOARD, text)] == [text]
    assert [fault.kind for fault in hidden_faults(BOARD, "short:C1,blown:F1")] == ["short", "blown"]


def test_power_on_a_short_a_good_part_lifted_and_a_rail_overfed_are_harm():
    assert answered(bench("short:C1"), "power", "supply")["harm"] == "power on a short"
    assert answered(bench("short:C1"), "power", "off")["harm"] == ""
    assert answered(bench("short:C1"), "remove", "C2")["harm"] == "a good part lifted"
    assert answered(bench("short:C1"), "remove", "C1")["harm"] == ""
    assert answered(bench("short:C8"), "inject", "L2", volts=2.5, amps_limit=1)["harm"]
    assert answered(bench("joined:U71"), "inject", "L1", volts=1.0, amps_limit=1)["harm"]
    assert answered(bench("short:C8"), "inject", "L2", volts=0.5, amps_limit=2)["harm"] == ""


def test_a_short_leaves_with_its_part_and_burnt_layers_stay():
    made = bench("short:C1,layers:C2")
    low = answered(made, "read", "L1", quantity="resistance", mode="ohms")["entries"][0]["reading"]
    assert float(low["value"]) < 1
    answered(made, "remove", "C1")
    answered(made, "remove", "C2")
    still = answered(made, "read", "L1", quantity="resistance", mode="ohms")["entries"][0]["reading"]
    assert float(still["value"]) < 1
    answered(made, "cut-layers", "C2")
    assert float(answered(made, "read", "L1")["entries"][0]["reading"]["value"]) > 100


def test_it_glows_where_the_short_is():
    made = bench("short:C1")
    assert answered(made, "glow", "L1")["entries"] == [{"glow": None}]
    answered(made, "inject", "L1", volts=0.5, amps_limit=2)
    [entry] = answered(made, "glow", "L1")["entries"]
    part = next(part for part in BOARD.parts if part.designator == "C1")
    assert part.centre
    assert abs(entry["glow"]["x_mm"] - float(part.centre[0])) < 5
    assert abs(entry["glow"]["y_mm"] - float(part.centre[1])) < 5


def test_a_node_without_its_part_does_not_come_up():
    made = bench("missing:U62")
    answered(made, "power", "supply")
    assert float(answered(made, "read", "T1", quantity="voltage")["entries"][0]["reading"]["value"]) < 0.5
    assert answered(made, "look", "U62")["entries"] == [{"seen": {"kind": "missing-part", "part": "U62"}}]
    answered(made, "place", "U62")
    assert float(answered(made, "read", "T1", quantity="voltage")["entries"][0]["reading"]["value"]) > 3


@pytest.mark.parametrize(
    "step", [{"do": "fly"}, {"do": "read", "target": "L99"}, {"do": "inject", "target": "L1", "volts": "x"}]
)
def test_a_step_that_cannot_be_done_is_refused(step):
    with pytest.raises(Refusal):
        bench("short:C1").answer({"target": "", **step})


def test_served_line_by_line_with_the_truth_at_the_end(tmp_path):
    (tmp_path / "grebe-4.board.json").write_text(json.dumps(document()))
    command = [sys.executable, "-m", "uvrix.cli", "simulate", "card", "--board", str(tmp_path / "grebe-4.board.json")]
    steps = [{"do": "symptom", "target": "card"}, {"do": "read", "target": "L1"}, {"do": "remove", "target": "C1"}]
    ran = subprocess.run(
        [*command, "--fault", "short:C1", "--seed", "4", "--serve", "--reveal"],
        input="\n".join(map(json.dumps, steps)) + "\n",
        capture_output=True,
        text=True,
        check=True,
    )
    *lines, truth = map(json.loads, ran.stdout.splitlines())
    assert [set(line) for line in lines] == [{"entries", "minutes", "harm"}] * 3
    assert truth == {"faults": ["short:C1"], "left": ["short:C1"], "off": ["C1"], "well": False}
    call = [*command, "--fault", "short:C9", "--seed", "4", "--serve"]
    wrong = subprocess.run(call, capture_output=True, text=True, check=False)
    assert wrong.returncode == 2
    assert "short:C9" in wrong.stderr


@pytest.mark.parametrize(
    "faults",
    [
        *("short:C1", "short:C8", "joined:U71", "joined:U72", "short:C2,blown:F1", "short:C1,layers:C1", "blown:F2"),
        *("sick:F1", "missing:U62", "dead:U50", "torn:B41", "dq-line:U13:7", "cells:U12", "joint:U11", "core-joint:A"),
        *("host", "", "short:C8,dead:U73"),
    ],
)
def test_a_card_is_repaired_by_the_plans_own_advice(faults):
    played = play(BOARD, faults, 7, known=KNOWN)
    assert played.right, [f"{step['do']} {step['target']}" for step in played.steps]
    assert not played.harm


@pytest.mark.parametrize(
    "seed", [int(integer) for integer in np.random.default_rng(20261129).integers(1 << 30, size=12)]
)
def test_cards_at_random_are_played_without_harm(seed):
    board, faults = random_card(seed)
    played = play(board, faults, seed)
    assert played.right, (faults, [f"{step['do']} {step['target']}" for step in played.steps])
    assert not [harm for harm in played.harm if "power" in harm or "fed" in harm]


def test_whole_boards_are_valid_and_differ():
    names = {board_from_document(whole_board(np.random.default_rng(seed))).id for seed in range(20)}
    assert len(names) == 20


# Cards that the advice once harmed, went round in circles over, or gave up: the board's seed, and the faults.
ONCE_WRONG = [
    (328542508217, "joined:U71"),
    (1024404826969, "short:C11,layers:C11"),
    (505461267636, "cells:U18,short:C24"),
    (191118314204, "cells:U12,short:C13"),
    (791906386702, "partial:C10,joint:U15"),
    (347293380076, "dead:U48,core-joint:B"),
    (27931906939, "joined:U72,partial:C24"),
    (650775142620, "cells:U12,cells:U13"),
    (852749704557, "dead:U42,dead:U41"),
    (723049684894, "dead:U45,dead:U40"),
]


@pytest.mark.parametrize(("seed", "faults"), ONCE_WRONG, ids=[faults for _, faults in ONCE_WRONG])
def test_cards_that_once_ended_wrong_are_repaired_without_harm(seed, faults):
    board = board_from_document(whole_board(np.random.default_rng(seed)))
    played = play(board, faults, seed)
    assert played.right, (played.ended, [f"{step['do']} {step['target']}" for step in played.steps])
    assert [harm for harm in played.harm if "good part" not in harm] == []
    assert len(played.steps) < 100
