"""The published schema of a case: what its file may hold, key by key (docs/formats §17).

case_file.py reads it entry by entry and says more: names that the model does not have, times that go back.
"""

from __future__ import annotations

from typing import Any

from uvrix.core.boards.schema import FLAG, NAME, NUMBER, TEXT, Schema, list_of, object_of, words_of
from uvrix.core.case.entries import ANSWERED, CHANGED, DONE, POWER, SYMPTOMS, VERDICTS
from uvrix.core.look.findings import KINDS as SEEN
from uvrix.core.memory.metadata import RESULTS
from uvrix.core.readings.notation import QUANTITIES
from uvrix.core.startup.ladder import RUNGS

SIDE = words_of("front", "back")
AMOUNT: Schema = {"type": "number", "minimum": 0}
COUNT: Schema = {"type": "integer", "minimum": 0}
PLACE = {"side": SIDE, "x_mm": NUMBER, "y_mm": NUMBER}
OBSERVED: dict[str, Any] = {
    "symptom": list_of(words_of(*SYMPTOMS), 1),
    "trial": object_of(
        ["changed", "shows"], **{"changed": words_of(*CHANGED), "shows": FLAG, "as": words_of("often", "rarely")}
    ),
    "looked": NAME,
    "lot": object_of(["site", "lot"], site=NAME, lot=NAME),
    "answered": object_of(["do"], do=words_of(*ANSWERED), answer={}),
    "seen": object_of(["kind"], kind=words_of(*SEEN), part=NAME, **PLACE),
    "reading": object_of(
        ["point", "quantity", "value", "unit"],
        point=NAME,
        quantity=words_of(*QUANTITIES),
        value={"type": ["string", "number"]},
        unit=words_of("ohm", "V", "A", "Hz", "MHz", "C"),
        mode=TEXT,
        condition=TEXT,
        note=TEXT,
        to=TEXT,
        meter=TEXT,
        polarity=TEXT,
    ),
    "ticked": NAME,
    "injected": object_of(["point", "volts", "amps"], point=NAME, volts=AMOUNT, amps=AMOUNT),
    "glow": {"anyOf": [{"type": "null"}, object_of(["side", "x_mm", "y_mm"], **PLACE)]},
    "power": words_of(*POWER),
    "draw": object_of(["volts", "amps"], volts=AMOUNT, amps=AMOUNT, limit={"type": ["number", "null"], "minimum": 0}),
    "rung": words_of(*RUNGS),
    "run": object_of(
        [],
        report=NAME,
        result=words_of(*RESULTS),
        refusal=TEXT,
        condition=list_of(TEXT),
        errors={"type": "object", "additionalProperties": COUNT},
        dq={
            "type": "object",
            "additionalProperties": {"type": "array", "items": COUNT, "minItems": 32, "maxItems": 32},
        },
    ),
    "pads": object_of(["site", "verdict"], site=NAME, verdict=words_of(*VERDICTS)),
    "checked": object_of(["check", "passed"], check=NAME, passed=FLAG),
}
ENTRY: Schema = {
    **object_of([], **OBSERVED, did=words_of(*DONE), site=NAME, chip=TEXT, at=TEXT, by=TEXT, note=TEXT),
    "oneOf": [{"required": [key]} for key in (*OBSERVED, "did")],
    "additionalProperties": False,
}
CASE_SCHEMA: Schema = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "Uvrix case",
    "description": "Everything that was observed of a card and done to it, in the order of happening; see README.md.",
    **object_of(
        ["format", "version", "board", "entries"],
        format={"const": "uvrix-case"},
        version={"const": 1},
        board={"type": ["string", "null"]},
        entries=list_of(ENTRY),
    ),
}
