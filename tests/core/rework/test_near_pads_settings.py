"""Neighbours by millimetres against sampled outlines, alloys, the pad survey's rule, settings refused by name."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.boards.strategies import BOARDS
from uvrix.core.boards.document import read_board
from uvrix.core.boards.packages import read_package
from uvrix.core.errors import Refusal
from uvrix.core.rework.near import Limits, alloy_warnings, apart, footprint, hot_places, neighbours
from uvrix.core.rework.pads import PadRule, survey
from uvrix.core.rework.settings import Settings, as_document, read_settings

TEAL = read_board((BOARDS / "teal-8.board.json").read_bytes())
SCAUP = read_board((BOARDS / "scaup-24.board.json").read_bytes())
CORE = read_package((BOARDS.parent / "packages/cg24.csv").read_bytes(), "cg24")
RECTANGLES = st.tuples(
    st.floats(-20, 20), st.floats(-20, 20), st.floats(0.5, 15), st.floats(0.5, 15), st.floats(0, math.pi)
)


def rectangle(x, y, wide, high, angle):
    corners = [(-wide / 2, -high / 2), (wide / 2, -high / 2), (wide / 2, high / 2), (-wide / 2, high / 2)]
    turn = math.cos(angle), math.sin(angle)
    return tuple((x + a * turn[0] - b * turn[1], y + a * turn[1] + b * turn[0]) for a, b in corners)


def sampled(polygon, many=40):
    """Points along the outline."""
    points = []
    for (ax, ay), (bx, by) in zip(polygon, (*polygon[1:], polygon[0]), strict=True):
        points += [(ax + (bx - ax) * at / many, ay + (by - ay) * at / many) for at in range(many)]
    return points


def inside(point, polygon):
    """Whether a point lies within a polygon that goes counterclockwise."""
    edges = zip(polygon, (*polygon[1:], polygon[0]), strict=True)
    return all((bx - ax) * (point[1] - ay) - (by - ay) * (point[0] - ax) >= 0 for (ax, ay), (bx, by) in edges)


@given(RECTANGLES, RECTANGLES)
def test_edge_to_edge_is_what_sampling_the_outlines_says(one, other):
    a, b = rectangle(*one), rectangle(*other)
    exact = apart(a, b)
    assert exact == pytest.approx(apart(b, a))
    rough = min(math.dist(p, q) for p in sampled(a) for q in sampled(b))
    if any(inside(point, b) for point in sampled(a)) or any(inside(point, a) for point in sampled(b)):
        assert exact == pytest.approx(0, abs=1e-9)
    else:
        # a sampled outline is never nearer than the exact one, and hardly farther
        assert exact <= rough + 1e-9
        assert rough - exact <= 0.4


def test_neighbours_come_nearest_first_with_this_side_before_the_other():
    found = neighbours(SCAUP, "U15", Limits(near_mm=25), {}, {})
    this = [neighbour for neighbour in found if not neighbour.behind]
    assert found == (*this, *(neighbour for neighbour in found if neighbour.behind))
    assert [neighbour.away_mm for neighbour in this] == sorted(neighbour.away_mm for neighbour in this)
    assert "U35" in {neighbour.designator for neighbour in found if neighbour.behind}
    assert all(not neighbour.shield for neighbour in found if neighbour.behind)
    near = {neighbour.designator for neighbour in neighbours(SCAUP, "U15", Limits(near_mm=10, shield_mm=4), {}, {})}
    assert near <= {neighbour.designator for neighbour in found}
    assert neighbours(SCAUP, "nothing", Limits(), {}, {}) == ()


@given(st.sampled_from([site.designator for site in TEAL.sites]), st.sampled_from([s.designator for s in TEAL.sites]))
def test_being_near_is_mutual(one, other):
    if one == other:
        return
    limits = Limits(near_mm=40, shield_mm=4)
    seen = {a.designator: a.away_mm for a in neighbours(TEAL, one, limits, {}, {})}
    back = {a.designator: a.away_mm for a in neighbours(TEAL, other, limits, {}, {})}
    assert (other in seen) == (one in back)
    if other in seen:
        assert seen[other] == pytest.approx(back[one])


def test_a_worn_neighbour_is_shielded_although_it_is_farther():
    limits = Limits(near_mm=40, shield_mm=0.5, site_cycles=5)
    fresh = {neighbour.designator: neighbour.shield for neighbour in neighbours(TEAL, "U15", limits, {}, {})}
    worn = {
        neighbour.designator: neighbour.shield for neighbour in neighbours(TEAL, "U15", limits, {"U14": 3}, {"U14": 1})
    }
    assert (fresh["U14"], worn["U14"]) == (False, True)


def test_alloys_that_mix_or_do_not_belong_are_said():
    assert alloy_warnings("lead-free", "lead-free", hot=True, low_melt=False) == ()
    (mixed,) = alloy_warnings("lead-free", "leaded", hot=False, low_melt=False)
    assert "183" in mixed
    assert any("lead-free belongs" in warning for warning in alloy_warnings("", "leaded", hot=True, low_melt=False))
    assert any("Flush" in warning for warning in alloy_warnings("", "leaded", hot=False, low_melt=True))


def box(plug):
    x, y, wide, high = (float(entry) for entry in (*plug.centre, *plug.size))
    return rectangle(x, y, wide, high, 0.0)


def test_what_runs_hot_is_what_stands_by_a_plug_and_nothing_else():
    plugs = [mark for mark in TEAL.landmarks if mark.kind == "power-plug"]
    hot = hot_places(TEAL, within_mm=15)
    assert hot
    for name in {part.designator for part in TEAL.parts} | {site.designator for site in TEAL.sites}:
        at = footprint(TEAL, name)
        if at is None:
            continue
        boxes = [box(plug) for plug in plugs]
        assert (name in hot) == any(apart(at[1], entry) <= 15 for entry in boxes)


@given(
    st.dictionaries(
        st.sampled_from(sorted(CORE.classes)), st.sampled_from(["torn", "grey", "repaired", "good", "unused"])
    )
)
def test_counts_add_up_and_more_torn_pads_never_make_a_better_verdict(states):
    rule = PadRule()
    found = survey(CORE, states, rule)
    assert sum(count.total for count in found.counts) == len(CORE.classes)
    assert sum(count.torn for count in found.counts) == sum(state == "torn" for state in states.values())
    torn = [ball for ball, state in states.items() if state == "torn" and CORE.classes[ball] == "signal"]
    assert len(found.broken) == len(torn)
    order = ("not-surveyed", "good", "fixable", "marginal", "donor")
    worse = dict.fromkeys(states, "torn")
    assert order.index(survey(CORE, worse, rule).verdict) >= order.index(found.verdict)


def test_a_torn_signal_names_what_it_breaks_and_unused_pads_count_for_nothing():
    by_name = {name: ball for ball, name in CORE.signals.items()}
    torn = {by_name["A0.DQ3"]: "torn", by_name["REFCLKP"]: "torn", by_name["PEX_TX4P"]: "torn"}
    said = " ".join(survey(CORE, torn, PadRule()).broken)
    assert "data line" in said
    assert "clock" in said
    assert "lane of the slot" in said
    assert survey(CORE, torn, PadRule()).verdict == "marginal"
    assert survey(CORE, torn, PadRule(signals_fixable=3)).verdict == "fixable"
    assert survey(CORE, torn, PadRule(signals_fixable=0, signals_marginal=1)).verdict == "donor"
    chip = read_package((BOARDS.parent / "packages/fb180.csv").read_bytes(), "fb180")
    line = survey(chip, {chip.lines[9]: "torn"}, PadRule())
    assert "data line 9, byte lane 1" in line.broken[0]
    unused = [ball for ball, pad in chip.classes.items() if pad == "unused"]
    assert survey(chip, dict.fromkeys(unused, "torn"), PadRule(0, 0, 0, 0)).verdict == "good"


def test_a_pad_marked_as_unused_leaves_its_class():
    before = {count.pad_class: count.total for count in survey(CORE, {}, PadRule()).counts}
    signal = next(ball for ball, pad in CORE.classes.items() if pad == "signal")
    after = survey(CORE, {signal: "unused"}, PadRule())
    counts = {count.pad_class: count.total for count in after.counts}
    assert counts["signal"] == before["signal"] - 1
    assert counts["unused"] == before.get("unused", 0) + 1
    assert (after.verdict, after.broken) == ("good", ())


@pytest.mark.parametrize(
    ("document", "path"),
    [
        ({"near_mm": 4, "shield_mm": 9}, "$.shield_mm"),
        ({"near_mm": "far"}, "$.near_mm"),
        ({"soak_c": [180, 120]}, "$.soak_c"),
        ({"pads": {"signals_fixable": 9, "signals_marginal": 3}}, "$.pads"),
        ({"templates": [{"name": "x", "do": "reflow", "steps": ["a"]}]}, "$.templates[0].do"),
        ({"alloys": {"ours": {"reference_c": 140}}}, "$.alloys.ours"),
    ],
)
def test_settings_that_do_not_fit_are_refused_by_their_path(document, path):
    with pytest.raises(Refusal) as refused:
        read_settings(document)
    assert path in refused.value.place


def test_what_a_shop_leaves_out_is_as_usual():
    ours = {"reference_c": 138, "min_peak_c": 150, "max_peak_c": 170, "min_above_s": 20, "max_above_s": 60,
            "max_ramp_c_per_s": 2}  # fmt: skip
    found = read_settings({"site_cycles": 3, "alloys": {"bench low": ours}})
    assert (found.limits.site_cycles, found.limits.chip_cycles) == (3, Settings().limits.chip_cycles)
    assert found.alloys["bench low"].reference_c == 138
    assert "sac305" in found.alloys


def test_settings_in_full_read_back_as_themselves():
    found = read_settings({"site_cycles": 3, "pads": {"signals_fixable": 1}, "ours": "kept"})
    again = read_settings(as_document(found))
    assert (again.limits, again.pads, dict(again.alloys)) == (found.limits, found.pads, dict(found.alloys))
    assert again.document["ours"] == "kept"


def test_the_power_plug_is_a_part_of_the_board():
    """It has a place, neighbours and a side; what its pins are read at is the plug; it runs hot itself."""
    side, box = footprint(TEAL, "plug 1") or ("", ())
    assert (side, len(box)) == ("front", 4)
    assert footprint(TEAL, "PL1") == ("front", box)
    assert footprint(TEAL, "plug 9") is None
    hot = hot_places(TEAL)
    assert {"plug 1", "plug 2", "PL1", "PL2"} <= hot
    near = neighbours(TEAL, "plug 1", Limits(near_mm=30.0), {"plug 2": 2}, {})
    other = next(neighbour for neighbour in near if neighbour.designator == "plug 2")
    assert (other.kind, other.cycles) == ("connector", 2)
    assert other.away_mm == pytest.approx(4.0)
    assert "plug 1" in {neighbour.designator for neighbour in neighbours(TEAL, "plug 2", Limits(near_mm=30.0), {}, {})}
    # a fuse or a coil that the model has as a point alone stands somewhere too
    assert footprint(TEAL, "F1") is not None
