"""Paste and pads: what is said of them, and what speaks against what is fitted."""

from __future__ import annotations

import pytest

from uvrix.core.teardown.materials import Layer, doubts, usual_thickness


def pad(mm, cooled="memory", **more):
    return Layer(cooled, "pad", "Rill 6", mm, **more)


def test_a_layer_in_words():
    assert Layer("core", "paste", "Fen 4").words == "core: paste Fen 4"
    assert pad(1.5, reused=True).words == "memory: pad Rill 6, 1.5 mm, used again"
    assert Layer("memory", "pad", state="dried").words == "memory: pad, dried or pumped out"
    assert Layer("memory", "pad", state="good").words == "memory: pad"


def test_the_usual_thickness_is_what_most_other_cards_have_there():
    others = [pad(1.0), pad(1.0), pad(1.5), pad(2.0, "coils"), Layer("memory", "paste")]
    assert usual_thickness(others, "memory") == (1.0, 2, 3)
    assert usual_thickness(others, "backplate") is None


@pytest.mark.parametrize(
    ("layer", "others", "said"),
    [
        (pad(1.0), [], ""),
        (pad(1.04), [pad(1.0)], ""),
        (pad(1.5), [pad(1.0)], "another card has 1 mm"),
        (pad(1.5), [pad(1.0), pad(1.0), pad(1.5)], "2 of 3 other cards"),
        (pad(1.5), [pad(1.0, "coils")], ""),
        (Layer("core", "paste", reused=True), [], "not used again"),
    ],
)
def test_what_speaks_against_a_layer(layer, others, said):
    assert said in doubts(layer, others)
    assert bool(said) == bool(doubts(layer, others))
