"""A library in one open file: entries by kind and name with where each came from, and what reading them changes.

Nothing is overwritten: what differs is kept beside what is there, as an earlier or a later edition of it.
"""

from __future__ import annotations

import json
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from uvrix.core.boards.schema import NAME, Schema, list_of, object_of, words_of
from uvrix.core.errors import Refusal, quoted
from uvrix.core.values.shape import check_shape
from uvrix.core.values.text import decode, parse_json
from uvrix.language import gettext

# In the order in which they are taken in: what others name comes first.
KINDS: Mapping[str, str] = {
    "family": gettext("core family"),
    "package": gettext("ball map"),
    "reader": gettext("taught reader"),
    "recipe": gettext("tester recipe"),
    "plan": gettext("bench plan"),
    "board": gettext("board model"),
    "sheet": gettext("sheet of a model"),
    "pinout": gettext("notes on a chip"),
    "known": gettext("good card's reading"),
    "practice": gettext("practice card"),
}
FORMAT, VERSION, MOST_ENTRIES, LONGEST_ID = "uvrix-pack", 1, 200_000, 200
ID: Schema = {"type": "string", "minLength": 1, "maxLength": LONGEST_ID}
PACK_SCHEMA: Schema = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "Uvrix library pack",
    "description": "A shop's library: models, plans, families, readers, recipes, sheets, good cards' readings.",
    **object_of(
        ["format", "version", "entries"],
        format={"const": FORMAT},
        version={"const": VERSION},
        shop=NAME,
        entries={
            **list_of(
                object_of(
                    ["kind", "id", "content"],
                    **{"kind": words_of(*KINDS), "id": ID, "from": NAME, "content": {"type": ["string", "object"]}},
                )
            ),
            "maxItems": MOST_ENTRIES,
        },
    ),
}
Key = tuple[str, str]
State = Literal["new", "same", "known", "differs"]
Choice = Literal["keep", "both", "take"]
# What is done with an entry where nobody chooses: what differs is kept beside, and stays the one in use here.
USUAL: Mapping[State, Choice] = {"new": "take", "same": "keep", "known": "keep", "differs": "both"}


@dataclass(frozen=True, slots=True)
class PackEntry:
    """An entry of a pack: its kind and name, which shop it came from, its content as a document or a text."""

    kind: str
    id: str
    content: Any
    origin: str = ""

    @property
    def key(self) -> Key:
        """What makes two entries one."""
        return self.kind, self.id


@dataclass(frozen=True, slots=True)
class OwnEntry:
    """What a library has under a name: its editions by their print, the last being the one in use."""

    prints: tuple[str, ...]


def print_of(content: Any) -> str:
    """What makes two contents alike: a document however it is spaced, a text whatever ends its lines."""
    if isinstance(content, str):
        try:
            return print_of(json.loads(content)) if content.lstrip()[:1] == "{" else "\n".join(content.split())
        except ValueError:
            return "\n".join(content.split())
    return json.dumps(content, sort_keys=True, ensure_ascii=False)


def read_pack(data: bytes) -> tuple[PackEntry, ...]:
    """The entries of a pack in the order in which they are taken in. Raises Refusal naming the path."""
    parse_json(data)  # refuses what no file may hold
    document = json.loads(decode(data))
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        found = document.get("format") if isinstance(document, dict) else document
        raise Refusal("$.format", quoted(found), quoted(FORMAT))
    check_shape(document, PACK_SCHEMA)
    seen: set[Key] = set()
    entries = []
    for number, item in enumerate(document["entries"]):
        entry = PackEntry(item["kind"], item["id"], item["content"], item.get("from", document.get("shop", "")))
        if entry.key in seen:
            raise Refusal(
                f"$.entries[{number}]",
                gettext("{kind} {id} twice", kind=entry.kind, id=quoted(entry.id)),
                gettext("each entry once"),
            )
        seen.add(entry.key)
        entries.append(entry)
    order = list(KINDS)
    return tuple(sorted(entries, key=lambda entry: order.index(entry.kind)))


def pack_document(entries: Sequence[PackEntry], shop: str) -> dict[str, Any]:
    """A pack as it is written."""
    shown = [
        {"kind": entry.kind, "id": entry.id, **({"from": entry.origin or shop} if entry.origin or shop else {}),
         "content": entry.content}
        for entry in entries
    ]  # fmt: skip
    return {"format": FORMAT, "version": VERSION, **({"shop": shop} if shop else {}), "entries": shown}


def state_of(entry: PackEntry, held: OwnEntry | None) -> State:
    """What an entry is to a library: new, the same, known as an earlier edition, or another one of that name."""
    if held is None or not held.prints:
        return "new"
    mark = print_of(entry.content)
    if held.prints[-1] == mark:
        return "same"
    return "known" if mark in held.prints else "differs"


def taken(held: OwnEntry | None, entry: PackEntry, choice: Choice) -> OwnEntry:
    """The editions after an entry is taken in: nothing that was there is gone, whatever is chosen."""
    now = held or OwnEntry(())
    state = state_of(entry, held)
    mark = print_of(entry.content)
    if choice == "keep" or state in {"same", "known"}:
        return now
    if choice == "take" or not now.prints:
        return OwnEntry((*now.prints, mark))
    return OwnEntry((*now.prints, mark, now.prints[-1]))


def choices_of(states: Mapping[Key, State], chosen: Mapping[Key, Choice], known: Collection[Key]) -> dict[Key, Choice]:
    """What is done with each entry; raises Refusal for a choice of something that the pack does not have."""
    for key in chosen:
        if key not in known:
            raise Refusal("choices", f"{key[0]} {quoted(key[1])}", gettext("an entry of this pack"))
    return {key: chosen.get(key, USUAL[state]) for key, state in states.items()}
