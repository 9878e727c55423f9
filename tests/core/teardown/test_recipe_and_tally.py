"""Recipes that do not fit are refused by place; out and in are counted against each other over any sequence."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.errors import Refusal
from uvrix.core.teardown.recipe import Step, read_teardown
from uvrix.core.teardown.tally import Done, states

SCREWS = {"id": "core-screws", "kind": "screws", "what": "Core screws", "count": 4}
SQUARE = [[0, 0], [40, 0], [40, 40], [0, 40]]


def test_a_recipe_is_read():
    steps = read_teardown({"steps": [{**SCREWS, "places_mm": SQUARE, "crosswise": True, "hidden": True}]})
    assert steps[0].count == 4
    assert steps[0].order == (2, 0, 1, 3) or sorted(steps[0].order) == [0, 1, 2, 3]
    assert read_teardown({"steps": [{"id": "a", "kind": "screws", "what": "b", "places_mm": SQUARE}]})[0].count == 4


@pytest.mark.parametrize(
    ("steps", "place"),
    [
        ([SCREWS, SCREWS], "$.steps[1].id"),
        ([{**SCREWS, "places_mm": SQUARE[:3]}], "$.steps[0].places_mm"),
        ([{**SCREWS, "count": 2, "places_mm": SQUARE[:2], "crosswise": True}], "$.steps[0].places_mm"),
        ([{**SCREWS, "kind": "rivets"}], "$.steps[0].kind"),
        ([{**SCREWS, "count": 0}], "$.steps[0].count"),
        ([{**SCREWS, "what": ""}], "$.steps[0].what"),
    ],
)
def test_a_recipe_that_does_not_fit_is_refused_by_its_place(steps, place):
    with pytest.raises(Refusal) as refused:
        read_teardown({"steps": steps})
    assert refused.value.place == place


STEPS = (Step("a", "screws", "A", 4), Step("b", "lead", "B"), Step("c", "screws", "C", 2))
EVENT = st.tuples(st.sampled_from("abc"), st.sampled_from(["off", "on"]), st.integers(0, 6))


@given(st.lists(EVENT, max_size=30))
def test_a_step_is_owed_exactly_while_out_and_in_do_not_agree(events):
    out: dict[str, int] = {}
    back: dict[str, int | None] = {}
    for step, way, count in events:  # told plainly, one event after the other
        if way == "off":
            out[step], back[step] = count, None
        elif step in out:
            back[step] = count
    for state in states(STEPS, [Done(step, way, count, None) for step, way, count in events]):
        name = state.step.id
        owed = name in out and back[name] != out[name]
        assert state.owed == owed
        assert (state.state == "off") == (name in out and back[name] is None)
        assert bool(state.says) or not owed


def test_what_is_owed_is_said_with_its_numbers():
    [apart, *_] = states(STEPS, [Done("a", "off", 3, None)])
    assert apart.says == "A: 3 out, none back. The recipe has 4."
    [differs, *_] = states(STEPS, [Done("a", "off", 4, None), Done("a", "on", 3, None)])
    assert (differs.state, differs.says) == ("differs", "A: 4 came out, 3 went in.")
    [fewer, *_] = states(STEPS, [Done("a", "off", 3, None), Done("a", "on", 3, None)])
    assert (fewer.owed, fewer.says) == (False, "A: the recipe has 4, this card 3.")
