"""Rows of archives that an older version wrote, as this version keeps them.

What was done is one table of acts now, and each act names the board that it was done to.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from typing import Any
from uuid import UUID, uuid5

from uvrix.language import gettext

Fields = dict[str, Any]
# A row: the model by its label, its key, its fields.
Row = tuple[str, Any, Fields]
# What rows before it said that others need: photographs their picture, jobs their card, by model and key.
Said = Mapping[tuple[str, str], Any]
SAYS = {"look.jobphotograph": "picture", "jobs.job": "card"}
TRIED = {"replaced": "swap", "renewed": "renew-joint", "removed": "remove"}
ACT: Fields = {
    **dict.fromkeys(("site", "chip", "chip_in", "drawer", "alloy_off", "alloy_on", "balls", "pin1", "moved"), ""),
    **dict.fromkeys(("node", "came_of", "rating", "result", "note", "way"), ""),
    **dict.fromkeys(("preheat_c", "minutes", "cures_minutes", "ball_mm", "ball_count", "picture")),
}


def _act(key: Any, fields: Fields, step: str, do: str, **more: Any) -> Row:
    who = {name: fields[name] for name in ("job", "by", "at")}
    lists: Fields = {"air": [], "shields": [], "rails": []}
    return "acts.act", key, {**ACT, **lists, **who, "step": step, "do": do, **more}


def _rework(key: Any, fields: Fields, said: Said) -> Iterator[Row]:
    more = {name: value for name, value in fields.items() if name not in {"job", "by", "at", "do", "photograph"}}
    picture = said.get(("look.jobphotograph", str(fields.get("photograph"))))
    yield _act(key, fields, "rework", fields["do"], **more, picture=picture)


def _withdrawn(key: Any, fields: Fields, _: Said) -> Iterator[Row]:
    yield "acts.actwithdrawal", key, {**{k: v for k, v in fields.items() if k != "rework"}, "act": fields["rework"]}


def _taken_off(key: Any, fields: Fields, _: Said) -> Iterator[Row]:
    yield _act(key, fields, "ohms", "remove", site=fields["part"], rails=fields["rails"], note=fields["note"])


def _cut_out(key: Any, fields: Fields, _: Said) -> Iterator[Row]:
    for number, place in enumerate(fields["phases"]):
        own = str(uuid5(UUID(str(key)), place)) if number else key
        yield _act(own, fields, "ohms", "cut-layers", site=place, rails=[fields["rail"]], note=fields["note"])


def _fuse_swap(key: Any, fields: Fields, _: Said) -> Iterator[Row]:
    note = gettext("Although its rail was short: {reason}", reason=fields["reason"]) if fields["reason"] else ""
    yield _act(key, fields, "ohms", "swap", site=fields["point"], rating=fields["rating"], note=note)


def _tried(key: Any, fields: Fields, _: Said) -> Iterator[Row]:
    more = {name: fields[name] for name in ("node", "came_of", "note")}
    yield _act(key, fields, "volts", TRIED.get(fields["done"], "swap"), site=fields["part"], **more)


def _written(key: Any, fields: Fields, _: Said) -> Iterator[Row]:
    if "act" in fields or "job" not in fields:
        yield "rework.imagewrite", key, fields
        return
    yield _act(key, fields, "rework", "write", note=fields["note"])
    names = ("image", "old", "chip_volts", "power_off", "result")
    yield "rework.imagewrite", key, {name: fields[name] for name in names}


def _fed(key: Any, fields: Fields, _: Said) -> Iterator[Row]:
    yield "shorts.injection", key, {name: value for name, value in fields.items() if name != "wire"}


def _entry_seen(key: Any, fields: Fields, _: Said) -> Iterator[Row]:
    yield "accounts.entryseen", key, fields


def _job(key: Any, fields: Fields, _: Said) -> Iterator[Row]:
    yield "jobs.job", key, {name.replace("lie_", "orientation_"): value for name, value in fields.items()}


def _of_its_job(key: Any, fields: Fields, said: Said) -> Iterator[Row]:
    yield "acts.act", key, {"card": said.get(("jobs.job", str(fields["job"]))), **fields}


OLDER: Mapping[str, Callable[[Any, Fields, Said], Iterator[Row]]] = {
    "rework.rework": _rework,
    "rework.reworkwithdrawal": _withdrawn,
    "shorts.takenoff": _taken_off,
    "shorts.cutout": _cut_out,
    "shorts.injection": _fed,
    "ohms.fuseswap": _fuse_swap,
    "volts.parttried": _tried,
    "rework.imagewrite": _written,
    "jobs.entryseen": _entry_seen,
    "jobs.job": _job,
}


def translated(label: str, key: Any, fields: Fields, said: Said) -> Iterator[Row]:
    """A row as this version keeps it; one that is of today stays as it is."""
    for now, own, kept in OLDER[label](key, fields, said) if label in OLDER else [(label, key, fields)]:
        yield from _of_its_job(own, kept, said) if now == "acts.act" else [(now, own, kept)]
