"""Hunting a short by the plan on virtual cards whose fault is known, and the parts of a hunt one by one."""

from __future__ import annotations

import numpy as np
import pytest

from tests.core.boards.strategies import BOARDS
from tests.core.readings.test_limits import a_board
from tests.core.readings.test_verdicts import known, reading
from uvrix.core.boards.document import read_board
from uvrix.core.readings.hunt import (
    bridges,
    coil_side,
    empty_phases,
    glowed,
    is_joined,
    lowest_reached,
    possibly_killed,
    proofs,
)
from uvrix.core.readings.known import Library
from uvrix.core.readings.notation import Value
from uvrix.core.readings.points import board_places
from uvrix.core.readings.reading_file import read_known
from uvrix.core.readings.shorts import short_suspects
from uvrix.core.readings.verdict import judge
from uvrix.core.virtual.card import healthy_ohms
from uvrix.core.virtual.play import play

TEAL = read_board((BOARDS / "teal-8.board.json").read_bytes())
PLACES = board_places(TEAL)
KNOWN = read_known((BOARDS.parent / "known/teal-8.known.csv").read_bytes(), PLACES)
VALUES = {}
for one in KNOWN:
    VALUES.setdefault(PLACES.key(one.reading.point, one.reading.to)[1], []).append(one.reading.value.middle)
HEALTHY = healthy_ohms(TEAL, VALUES)
LIBRARY = Library(KNOWN, PLACES)
RAILS = {rail["id"]: rail for rail in TEAL.document["rails"]}
INPUTS = [name for name, rail in RAILS.items() if rail.get("input")]
JOINING = [part.designator for part in TEAL.parts if part.kind in {"power-stage", "converter"} and len(part.rails) > 1]
CAPACITORS = [part.designator for part in TEAL.parts if part.kind == "capacitor" and part.rails]
RAILS_OF = {part.designator: part.rails for part in TEAL.parts}
MOST_STEPS = 30


# a capacitor short on the core rail is not told by two leads: there the hunt begins with four wires or heat
FAULTS = [
    *(f"joined:{name}" for name in JOINING),
    *(f"short:{name}" for name in CAPACITORS if "core" not in RAILS_OF[name]),
    *(f"partial:{name}:mem" for name in CAPACITORS if "mem" in RAILS_OF[name]),
]


def off_of(played):
    """The parts that came off, in order, and the places that were cut."""
    acts = [(entry["did"], entry.get("site")) for entry in played.entries if "did" in entry]
    return [site for act, site in acts if act in {"remove", "swap"}], [
        site for act, site in acts if act == "cut-layers"
    ]


def test_what_is_advised_finds_the_part_in_nine_of_ten_hunts(capsys):
    found, needless, hunts = 0, [], 0
    for fault, seed in ((fault, 3) for fault in FAULTS):
        played = play(TEAL, fault, seed, known=KNOWN)
        off = list(dict.fromkeys(off_of(played)[0]))
        hunts += 1
        assert not [harm for harm in played.harm if "good part" not in harm]
        if played.right:
            found += 1
            needless.append(len(off) - 1)
    with capsys.disabled():
        print(f"\nhunts: {found} of {hunts} ended repaired, {np.mean(needless):.2f} others off on the way")
    assert found >= 0.9 * hunts
    assert np.mean(needless) < 0.5


def test_burnt_layers_end_in_cutting_out():
    off, cut = off_of(play(TEAL, "short:C128,layers:C128", 5, known=KNOWN))
    assert cut == ["C128"]
    assert len(set(off)) <= 3, "nothing far from the spot was taken off for it"


def test_stages_that_share_both_rails_are_told_apart_by_the_warm_spot():
    off, _ = off_of(play(TEAL, "joined:U73", 5, known=KNOWN))
    assert set(off) == {"U73"}


# two rails that a stage joins, two inputs, a rail and an input
TWO = ["short:C101,short:C118", "short:C104,short:C106", "short:C115,short:C119", "short:C102,short:C114"]


@pytest.mark.parametrize("faults", TWO)
@pytest.mark.parametrize("seed", [11, 409])
def test_two_separate_shorts_are_hunted_as_two(faults, seed):
    played = play(TEAL, faults, seed, known=KNOWN)
    assert played.right
    assert played.harm == []
    assert set(off_of(played)[0]) == {entry.partition(":")[2] for entry in faults.split(",")}


def test_what_a_bridge_may_have_killed_is_all_that_the_lower_rail_feeds():
    part = next(candidate for candidate in TEAL.parts if candidate.designator == "U75")
    (killed,) = possibly_killed(TEAL, [part])
    assert (killed.high, killed.low) == ("in12b", "mem")
    assert {"U11", "U18", "C128"} <= set(killed.designators)
    assert "U75" not in killed.designators
    both = [candidate for candidate in TEAL.parts if candidate.designator in {"U73", "U74"}]
    (together,) = possibly_killed(TEAL, both)
    assert together.says.startswith("U73 or U74 may have put Plug 2, 12 V (12 V) on Core (0.9 V).")
    assert "U1" in together.designators
    assert possibly_killed(TEAL, [candidate for candidate in TEAL.parts if candidate.kind == "capacitor"]) == ()


def test_the_lowest_rail_that_is_reached_is_found_through_any_number_of_stages():
    volts = {name: float(rail["volts"]) for name, rail in RAILS.items()}
    for rail in RAILS:
        reached = {rail}
        for _ in RAILS:
            for part in TEAL.parts:
                if part.kind in {"power-stage", "converter"} and reached & set(part.rails):
                    reached |= set(part.rails) & set(volts)
        others = [volts[entry] for entry in reached - {rail}]
        assert lowest_reached(TEAL, rail) == (min(others) if others else None)


@pytest.mark.parametrize(
    ("converter", "rail", "side"),
    [(0.4, 40, "converter"), (38, 0.4, "rail"), (20, 22, "unclear"), (None, 3, "rail"), (3, None, "converter")],
)
def test_the_lower_pad_of_a_lifted_coil_holds_it(converter, rail, side):
    ends = [Value(entry, entry) for entry in (converter, rail)]
    assert coil_side("L9", *ends).side == side


def test_parts_by_a_spot_count_by_distance_and_by_the_fed_rail():
    at = next(part for part in TEAL.parts if part.designator == "C116").centre
    assert at
    near = glowed(TEAL, "front", (float(at[0]), float(at[1])), {"mem"})
    assert near[0].part.designator == "C116"
    assert sum(candidate.chance for candidate in near) <= 1 + 1e-9
    assert near == tuple(sorted(near, key=lambda candidate: -candidate.chance))
    without_it = glowed(TEAL, "front", (float(at[0]), float(at[1])), {"mem"}, ["C116"])
    assert "C116" not in {candidate.part.designator for candidate in without_it}
    assert glowed(TEAL, "front", (-500.0, 0.0), {"mem"}) == ()


def test_joined_is_under_an_ohm_and_well_under_the_way_by_ground():
    assert is_joined(Value(0.2, 0.2), 1.0)
    assert not is_joined(Value(0.2, 3.0), 1e4)
    assert not is_joined(Value(0.7, 0.7), 0.7), "a short of one rail and a healthy core, by way of ground"
    assert not is_joined(Value(None, None), 1e4)


def test_an_empty_phase_leaves_its_share_to_the_others():
    (empty,) = empty_phases(TEAL, {"U72"})
    assert (empty.left, empty.of) == (3, 4)
    assert "each carries 1.33 of its usual share, 150 A rated together" in empty.says
    assert empty_phases(TEAL, set()) == ()


STAGE = {"x_mm": 50, "y_mm": 50, "rails": ["hi", "lo"]}


def stage_board(points=(), *, high=(), low=(), volts=(12, 1), kind="power-stage"):
    """One stage between two rails that list these points."""
    rails = [("hi", volts[0], *high), ("lo", volts[1], *low)]
    return a_board([("U2", kind, STAGE)], rails, points)


def pair_of(board):
    return [proof.pair for proof in proofs(board, short_suspects(board, {"lo": "short"}))]


NEAR, FAR = {"x_mm": 51, "y_mm": 50}, {"x_mm": 90, "y_mm": 50}


@pytest.mark.parametrize(
    ("points", "high", "low", "pair"),
    [
        # the nearest that each rail lists
        ([{"id": "A", **FAR}, {"id": "B", **NEAR}, {"id": "C", **NEAR}], ("A", "B"), ("C",), ["B/C"]),
        # a fuse may be what is broken: it is the last to be read at
        ([{"id": "A", **FAR}, {"id": "B", "kind": "fuse", **NEAR}, {"id": "C"}], ("A", "B"), ("C",), ["A/C"]),
        ([{"id": "A"}, {"id": "B", "kind": "fuse"}, {"id": "C"}], ("B", "A"), ("C",), ["A/C"]),
        ([{"id": "B", "kind": "fuse", **NEAR}, {"id": "C"}], ("B",), ("C",), ["B/C"]),
        # a place that is not known is beyond every other
        ([{"id": "A"}, {"id": "B", **FAR}, {"id": "C"}], ("A", "B"), ("C",), ["B/C"]),
        # what lies on the net, where the rail lists none
        ([{"id": "A", "net": "hi"}, {"id": "B", "net": "lo"}, {"id": "C", "net": "ic"}], (), (), ["A/B"]),
        # a rail without any point cannot be read
        ([{"id": "A"}], ("A",), (), []),
        ([{"id": "A"}], (), ("A",), []),
    ],
)
def test_a_stage_is_proved_at_the_nearest_points_of_its_rails(points, high, low, pair):
    assert pair_of(stage_board(points, high=high, low=low)) == pair


def test_only_what_joins_two_rails_is_proved():
    points = [{"id": "A"}, {"id": "B"}]
    assert pair_of(stage_board(points, high=("A",), low=("B",), kind="converter")) == ["A/B"]
    assert pair_of(stage_board(points, high=("A",), low=("B",), kind="capacitor")) == []


@pytest.mark.parametrize(("volts", "lowest"), [((12, 1), 1.0), ((12, 0), None)])
def test_a_rail_whose_volts_are_not_known_limits_nothing(volts, lowest):
    assert lowest_reached(stage_board(volts=volts), "hi") == lowest


def test_parts_as_near_as_each_other_stand_in_the_order_of_their_names():
    parts = [("C2", "capacitor", {"x_mm": 101, "y_mm": 50}), ("C1", "capacitor", {"x_mm": 99, "y_mm": 50})]
    near = glowed(a_board(parts), "front", (100.0, 50.0), [])
    assert [candidate.part.designator for candidate in near] == ["C1", "C2"]
    assert [candidate.chance for candidate in near] == [0.5, 0.5]


def test_a_part_on_one_known_rail_kills_nothing():
    board = a_board([("U2", "power-stage", {"rails": ["hi", "unknown"]})], [("hi", 12)])
    assert possibly_killed(board, board.parts) == ()


def test_only_ohms_to_ground_say_that_two_rails_read_alike():
    board = stage_board()
    places = board_places(board)
    library = Library([*known("hi", *["10k"] * 3), *known("lo", *["10k"] * 3)], places)

    def found(*readings):
        return [bridge.high for bridge in bridges(board, [judge(one, library, ["teal-8"]) for one in readings], places)]

    low, high = reading("lo", "0.4"), reading("hi", "0.4")
    assert found(low, high) == ["hi"]
    for other in (
        reading("hi", "0.4", quantity="diode", mode="diode"),
        reading("hi/lo", "0.4", to="across"),
        reading("pad", "0.4"),
        reading("hi", "OL"),
    ):
        assert found(low, other) == []
        assert found(low, high, other) == ["hi"], "the ohms that were read before stand"


def test_phases_whose_rating_is_not_noted_have_none():
    phases = [{"designator": name, "rail": "lo", **({"amps": amps} if amps else {})} for name, amps in RATED]
    [empty] = empty_phases(a_board([], [("lo", 1)], phases=phases), {"P1"})
    assert (empty.left, empty.of) == (3, 4)
    assert "each carries 1.33 of its usual share, 50 A rated together" in empty.says
    [all_out] = empty_phases(a_board([], [("lo", 1)], phases=phases), {name for name, _ in RATED})
    assert all_out.says == "lo: 0 of 4 phases are left, nothing carries it. Within rating?"


RATED = (("P1", 50), ("P2", 50), ("P3", None), ("P4", None))
