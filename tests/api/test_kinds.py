"""Kinds: what screens offer to choose from, and what it is called, comes from here."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from uvrix.core.planning.habits import USUAL_COSTS
from uvrix.core.values.codes import WORDS

SCREENS = Path(__file__).parents[2] / "web/src"


@pytest.fixture
def kinds(technician):
    return technician.get("/api/v1/kinds").json()


def test_every_list_has_something_to_choose_and_nothing_twice(kinds):
    for name, entries in kinds.items():
        keys = [entry if isinstance(entry, str) else next(iter(entry.values())) for entry in entries]
        assert keys, name
        assert len(set(keys)) == len(keys), name


def test_each_has_words_that_are_no_code(kinds):
    for name in ("promises", "comebacks", "value_sources", "moves", "roles", "rungs", "stock", "actions"):
        for entry in kinds[name]:
            assert entry["words"], (name, entry)
            assert not re.fullmatch(r"\w+(-\w+)+", entry["words"]) or entry["words"] in WORDS.values(), (name, entry)


def test_every_action_that_costs_something_has_its_words(kinds):
    assert {entry["name"] for entry in kinds["actions"]} == set(USUAL_COSTS)


def test_nothing_of_it_is_copied_in_a_screen(kinds):
    """A list that screens take from here does not stand in one of them too."""
    lists = {name: entries for name, entries in kinds.items() if name not in {"codes", "refusals"}}
    for path in [*SCREENS.rglob("*.tsx"), *SCREENS.rglob("*.ts")]:
        text = path.read_text()
        for name, entries in lists.items():
            words = [entry.get("words") for entry in entries if isinstance(entry, dict)]
            said = [word for word in words if word and f"t`{word}`" in text]
            assert len(words) < 3 or len(said) < len(words), (path.name, name)


def test_the_signed_out_get_none(client):
    assert client.get("/api/v1/kinds").status_code == 401
