"""Recipes: how to run this shop's tester on one host, with one build, for some board models.

A recipe's commands have blanks, `{bus}` or `{amount_mib}`, that are filled from the job; a blank that nothing fills is
named and leaves its command unready. Values are plain words, since they go into a command line.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from uvrix.core.boards.model import Board
from uvrix.core.boards.schema import NAME, TEXT, Schema, list_of, object_of
from uvrix.core.boards.walk import places
from uvrix.core.errors import Refusal, quoted
from uvrix.core.memory.metadata import REFUSALS
from uvrix.core.values.shape import check_shape
from uvrix.core.values.text import parse_json
from uvrix.language import gettext

BLANK = re.compile(r"\{([a-z][a-z0-9_]*)\}")
VALUE = re.compile(r"[A-Za-z0-9][A-Za-z0-9._:/+-]{0,63}")
# Filled from the job without asking, where the board says them.
FROM_JOB = {
    "job": gettext("number of the job"),
    "serial": gettext("serial of the card"),
    "board": gettext("the board model's id"),
    "chips": gettext("fitted memory chips"),
    "channels": gettext("channels with a fitted chip"),
    "amount_mib": gettext("memory of the card in MiB, from the board model's chips"),
}

RECIPE_SCHEMA: Schema = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "Uvrix recipe",
    "description": "How to run a shop's own memory tester: commands with blanks that are filled from the job.",
    **object_of(
        ["format", "version", "name", "host", "build", "steps"],
        format={"const": "uvrix-recipe"},
        version={"const": 1},
        name=NAME,
        host=NAME,
        build=NAME,
        note={"type": "string", "maxLength": 2000},
        boards=list_of(NAME),
        family=TEXT,
        steps=list_of(
            object_of([], command={"type": "string", "maxLength": 1000}, note={"type": "string", "maxLength": 1000}),
            1,
        ),
        blanks=list_of(object_of(["name", "label"], name=NAME, label=NAME, usual={"type": "string", "maxLength": 64})),
        refusals={"type": "object", "additionalProperties": {"type": "string", "maxLength": 1000}},
    ),
}


@dataclass(frozen=True, slots=True)
class Blank:
    """A blank that is asked for: its name in the commands, its label, and what it usually is."""

    name: str
    label: str
    usual: str = ""


@dataclass(frozen=True, slots=True)
class Step:
    """One step: a command with blanks, a note, or both."""

    command: str
    note: str


@dataclass(frozen=True)
class Recipe:
    """One way to run a tester; without boards and family it fits every board."""

    name: str
    host: str
    build: str
    steps: tuple[Step, ...]
    blanks: tuple[Blank, ...]
    boards: tuple[str, ...]
    family: str
    refusals: Mapping[str, str]
    note: str


@dataclass(frozen=True, slots=True)
class Filled:
    """A step with its blanks filled; `missing` names those that nothing fills, and leaves the command unready."""

    command: str
    note: str
    missing: tuple[str, ...]


def read_recipe(data: bytes) -> Recipe:
    """The recipe in a file's bytes; raises Refusal naming the JSON path."""
    return recipe_from_document(parse_json(data))


def recipe_from_document(document: Any) -> Recipe:
    """The recipe in a parsed document; raises Refusal on a blank that is neither asked for nor known from the job."""
    check_shape(document, RECIPE_SCHEMA)
    blanks = tuple(Blank(entry["name"], entry["label"], entry.get("usual", "")) for entry in document.get("blanks", ()))
    for number, blank in enumerate(blanks):
        if not BLANK.fullmatch(f"{{{blank.name}}}") or blank.name in FROM_JOB:
            expected = gettext("a small word of its own, not one of {from_job}", from_job=", ".join(FROM_JOB))
            raise Refusal(f"$.blanks[{number}].name", quoted(blank.name), expected)
        if blank.usual and not VALUE.fullmatch(blank.usual):
            raise Refusal(
                f"$.blanks[{number}].usual", quoted(blank.usual), gettext("a plain word without spaces or quotes")
            )
    names = {*FROM_JOB, *(blank.name for blank in blanks)}
    steps = tuple(Step(entry.get("command", ""), entry.get("note", "")) for entry in document["steps"])
    for number, step in enumerate(steps):
        if not step.command.strip() and not step.note.strip():
            raise Refusal(f"$.steps[{number}]", gettext("neither command nor note"), gettext("at least one of them"))
        for name in BLANK.findall(step.command):
            if name not in names:
                expected = gettext("one of {names}", names=", ".join(sorted(names)))
                raise Refusal(f"$.steps[{number}].command", gettext("the blank {{{name}}}", name=name), expected)
    for name in document.get("refusals", {}):
        if name not in (*REFUSALS, "other"):
            raise Refusal(
                f"$.refusals.{name}", quoted(name), gettext("one of {refusals}, other", refusals=", ".join(REFUSALS))
            )
    return Recipe(
        name=document["name"],
        host=document["host"],
        build=document["build"],
        steps=steps,
        blanks=blanks,
        boards=tuple(document.get("boards", ())),
        family=document.get("family", ""),
        refusals=document.get("refusals", {}),
        note=document.get("note", ""),
    )


def from_job(board: Board | None, job: str, serial: str) -> dict[str, str]:
    """What a job fills in by itself; what the board model does not say is left out."""
    values = {"job": job, "serial": serial}
    if board is None:
        return values
    fitted = [site for site in board.sites if site.fitted]
    values |= {"board": board.id, "chips": str(len(fitted))}
    channels = {
        place.channel for place in places(board.core, board.walk, board.sites) if place.site.fitted and place.channel
    }
    if channels:
        values["channels"] = str(len(channels))
    if amount := board.memory_mib:
        values["amount_mib"] = str(amount)
    return values


# Keys of a report that say how the tester was run.
HOW_IT_RAN: Mapping[str, str] = {
    "host": gettext("host"),
    "tester": gettext("tester"),
    "build": gettext("build"),
    "device": gettext("device"),
    "tested_mib": gettext("memory tested, MiB"),
}


@dataclass(frozen=True, slots=True)
class Differing:
    """Something that is set here otherwise than where the tester ran; empty where it was not said."""

    what: str
    here: str
    worked: str


def differing(
    here: Mapping[str, str], worked: Mapping[str, str], labels: Mapping[str, str] = HOW_IT_RAN
) -> list[Differing]:
    """What differs between how the tester refused here and how it ran elsewhere, by `labels` of what is compared.

    Something that only one of the two says is told where the one that worked says it: it was set there.
    """
    told = [
        Differing(label, here.get(name, "").strip(), worked.get(name, "").strip()) for name, label in labels.items()
    ]
    return [
        difference
        for difference in told
        if difference.worked and difference.worked.casefold() != difference.here.casefold()
    ]


def filled(recipe: Recipe, values: Mapping[str, str]) -> list[Filled]:
    """The steps with their blanks filled from `values`, then from what each usually is.

    Raises Refusal on a value that is not a plain word: it would go into a command line.
    """
    known = {blank.name: blank.usual for blank in recipe.blanks if blank.usual}
    known |= {name: value for name, value in values.items() if value}
    for name, value in known.items():
        if name in {blank.name for blank in recipe.blanks} and not VALUE.fullmatch(value):
            raise Refusal(name, quoted(value), gettext("a plain word without spaces or quotes, as 03:00.0"))
    return [_filled(step, known) for step in recipe.steps]


def _filled(step: Step, values: Mapping[str, str]) -> Filled:
    usable = {name: value for name, value in values.items() if VALUE.fullmatch(value)}
    missing = tuple(dict.fromkeys(name for name in BLANK.findall(step.command) if name not in usable))
    text = BLANK.sub(lambda found: usable.get(found[1], found[0]), step.command)
    return Filled(text, step.note, missing)


def fitting(recipes: Sequence[Recipe], board: str, family: str) -> list[Recipe]:
    """The recipes for a board: those that name it, then its family's, then those for any board."""
    ranked = [(_rank(recipe, board, family), number) for number, recipe in enumerate(recipes)]
    return [recipes[number] for rank, number in sorted(ranked) if rank < 3]


def _rank(recipe: Recipe, board: str, family: str) -> int:
    if board in recipe.boards:
        return 0
    if recipe.family and recipe.family == family:
        return 1
    return 3 if recipe.boards or recipe.family else 2
