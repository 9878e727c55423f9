"""Packs: two shops that exchange them both gain, and neither loses an entry."""

from __future__ import annotations

import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.errors import Refusal
from uvrix.core.packs.pack import (
    KINDS,
    USUAL,
    OwnEntry,
    PackEntry,
    choices_of,
    pack_document,
    print_of,
    read_pack,
    state_of,
    taken,
)

CONTENTS = st.sampled_from([{"a": 1}, {"a": 2}, {"b": [1, 2]}, "x,y\n1,2\n", "x,y\n1,3\n"])
KEYS = st.tuples(st.sampled_from(sorted(KINDS)), st.sampled_from(["teal-8", "smew-6", "plover"]))
LIBRARIES = st.dictionaries(KEYS, st.lists(CONTENTS, min_size=1, max_size=3))


def held(contents):
    return OwnEntry(tuple(print_of(entry) for entry in contents))


def pack_of(library):
    """What a shop sends: the edition in use of each."""
    return [PackEntry(kind, name, contents[-1]) for (kind, name), contents in library.items()]


def read(library, entries, choice=None):
    """The library's prints after it read a pack, by the usual choices or by one for all."""
    now = {key: held(contents) for key, contents in library.items()}
    for entry in entries:
        state = state_of(entry, now.get(entry.key))
        now[entry.key] = taken(now.get(entry.key), entry, choice or USUAL[state])
    return now


@given(LIBRARIES, LIBRARIES)
def test_two_shops_that_exchange_packs_both_gain_and_neither_loses(mine, theirs):
    here, there = read(mine, pack_of(theirs)), read(theirs, pack_of(mine))
    for own, other, after in ((mine, theirs, here), (theirs, mine, there)):
        for key, contents in own.items():
            assert set(held(contents).prints) <= set(after[key].prints), "nothing that was there is gone"
            assert after[key].prints[-1] == print_of(contents[-1]), "what is in use here stays in use"
        for key, contents in other.items():
            assert print_of(contents[-1]) in after[key].prints, "everything that came is kept"


@given(LIBRARIES, LIBRARIES, st.sampled_from(["keep", "both", "take"]))
def test_whatever_is_chosen_nothing_is_lost_and_reading_twice_changes_nothing(mine, theirs, choice):
    once = read(mine, pack_of(theirs), choice)
    for key, contents in mine.items():
        assert set(held(contents).prints) <= set(once[key].prints)
    if choice == "take":
        return
    again = dict(once)
    for entry in pack_of(theirs):
        again[entry.key] = taken(again.get(entry.key), entry, choice)
    assert {key: value for key, value in again.items() if value.prints} == {
        key: value for key, value in once.items() if value.prints
    }


@given(LIBRARIES)
def test_a_pack_is_read_as_it_was_written_in_the_order_of_taking_in(library):
    entries = pack_of(library)
    text = json.dumps(pack_document(entries, "Lapwing Bench")).encode()
    found = read_pack(text)
    assert {entry.key: print_of(entry.content) for entry in found} == {
        entry.key: print_of(entry.content) for entry in entries
    }
    assert {entry.origin for entry in found} <= {"Lapwing Bench"}
    order = [list(KINDS).index(entry.kind) for entry in found]
    assert order == sorted(order)


def test_spacing_and_order_of_keys_make_no_other_entry():
    assert print_of('{"b": 1,\n "a": 2}') == print_of({"a": 2, "b": 1})
    assert print_of("x,y\r\n1,2\r\n") == print_of("x,y\n1,2")
    assert print_of("{no json") != print_of("{no  jsons")
    entry = PackEntry("plan", "usual", {"a": 1})
    assert state_of(entry, None) == "new"
    assert state_of(entry, held([{"a": 1}])) == "same"
    assert state_of(entry, held([{"a": 1}, {"a": 2}])) == "known"
    assert state_of(entry, held([{"a": 2}])) == "differs"


@pytest.mark.parametrize(
    ("document", "place"),
    [
        ([], "$.format"),
        ({"format": "uvrix-case"}, "$.format"),
        ({"format": "uvrix-pack", "version": 2, "entries": []}, "$.version"),
        ({"format": "uvrix-pack", "version": 1, "entries": [{"kind": "job", "id": "a", "content": ""}]},
         "$.entries[0].kind"),
        ({"format": "uvrix-pack", "version": 1, "entries": [{"kind": "plan", "id": "a", "content": ""}] * 2},
         "$.entries[1]"),
    ],
)  # fmt: skip
def test_what_is_no_pack_is_refused_by_its_path(document, place):
    with pytest.raises(Refusal) as refusal:
        read_pack(json.dumps(document).encode())
    assert refusal.value.place == place


def test_a_choice_is_of_an_entry_of_the_pack():
    states: dict[tuple[str, str], Any] = {("plan", "usual"): "differs"}
    assert choices_of(states, {}, states) == {("plan", "usual"): "both"}
    assert choices_of(states, {("plan", "usual"): "take"}, states) == {("plan", "usual"): "take"}
    with pytest.raises(Refusal, match="an entry of this pack"):
        choices_of(states, {("plan", "other"): "take"}, states)
