"""Edits of a board model's document: pure functions, each taking the document and giving a new one.

A thing is named by its section and its place in it (`("sites", 3)`; the core is `("core", 0)`). Lengths are
millimetres of the front view. Where places are added or taken away, the walk's order keeps each place's channel and
has null for new ones. A document may be incomplete here; draft.py says what is wrong with it.
"""

from __future__ import annotations

import copy
import math
import re
from collections.abc import Callable, Mapping
from typing import Any

from uvrix.core.boards.document import board_from_parts
from uvrix.core.boards.model import Walk
from uvrix.core.boards.photograph import Scale, contacts_mm, entry_of, photograph_from, scaled_photograph
from uvrix.core.boards.sketch import take_named
from uvrix.core.boards.startup_edits import drop_node, link_nodes, put_node, take_nodes
from uvrix.core.boards.walk import walking_order
from uvrix.core.errors import Refusal, quoted
from uvrix.language import gettext

Document = dict[str, Any]
Target = tuple[str, int]
SECTIONS = ("sites", "points", "parts", "landmarks")
PLACED = (*SECTIONS, "photographs")
NAMED_BY = {"sites": "designator", "parts": "designator", "points": "id"}
PREFIX = {"sites": "U", "parts": "U", "points": "P"}
DIGITS = 4
# What a new model has before anything is drawn: an ordinary board and a core in its middle.
BLANK: Document = {
    "format": "uvrix-board",
    "version": 1,
    "outline_mm": [[0, 0], [240, 0], [240, 110], [0, 110]],
    "core": {"designator": "U1", "x_mm": 110, "y_mm": 55, "size_mm": [30, 30], "mark_corner": "top-left"},
    "sites": [],
}
TRIAL_WIDTH_MM = 240.0
# How large the landmarks are drawn that an edit adds by itself.
BRACKET_MM = 3.0
CONTACTS_HIGH_MM = 8.0


def edited(document: Mapping[str, Any], edit: Mapping[str, Any]) -> Document:
    """The document after one edit, `{"do": NAME, …}`; raises Refusal where the edit does not fit."""
    name = edit.get("do")
    if name not in EDITS:
        raise Refusal("do", quoted(name), gettext("one of {edits}", edits=", ".join(EDITS)))
    after = copy.deepcopy(dict(document))
    try:
        EDITS[name](after, edit)
    except (KeyError, TypeError, ValueError, IndexError, AttributeError) as error:
        raise Refusal(
            str(name),
            gettext("an edit that lacks something ({error})", error=repr(error)),
            gettext("what this edit takes"),
        ) from None
    return after


def _targets(document: Document, edit: Mapping[str, Any]) -> list[dict[str, Any]]:
    return [_thing(document, (section, index)) for section, index in edit["targets"]]


def _thing(document: Document, target: Target) -> dict[str, Any]:
    section, index = target
    if section == "core":
        found = document["core"]
    else:
        entries = document.get(section) if section in SECTIONS else None
        if not isinstance(entries, list) or not isinstance(index, int) or not 0 <= index < len(entries):
            raise Refusal("targets", quoted(list(target)), gettext("something that the model has"))
        found = entries[index]
    if not isinstance(found, dict):
        raise Refusal("targets", quoted(list(target)), gettext("something that can be changed"))
    return found


def _length(value: Any, place: str) -> float:
    number = isinstance(value, (int, float)) and not isinstance(value, bool) and math.isfinite(value)
    if not number or abs(value) > 10000:
        raise Refusal(place, quoted(value), gettext("a length in millimetres"))
    return float(value)


def _tidy(value: float) -> float | int:
    rounded = round(value, DIGITS)
    return int(rounded) if rounded == int(rounded) else rounded


def _shift(entry: dict[str, Any], dx: float, dy: float) -> None:
    if "x_mm" in entry and "y_mm" in entry:
        entry["x_mm"] = _tidy(float(entry["x_mm"]) + dx)
        entry["y_mm"] = _tidy(float(entry["y_mm"]) + dy)


def _move(document: Document, edit: Mapping[str, Any]) -> None:
    dx, dy = _length(edit["dx"], "dx"), _length(edit["dy"], "dy")
    for entry in _targets(document, edit):
        _shift(entry, dx, dy)


def _turn(document: Document, edit: Mapping[str, Any]) -> None:
    for entry in _targets(document, edit):
        if "mark_corner" not in entry:
            entry["rotation_deg"] = _tidy((float(entry.get("rotation_deg", 0)) + float(edit["deg"])) % 360)


def _axis(edit: Mapping[str, Any]) -> str:
    if edit["along"] not in ("x", "y"):
        raise Refusal("along", quoted(edit["along"]), gettext("x or y"))
    return f"{edit['along']}_mm"


def _align(document: Document, edit: Mapping[str, Any]) -> None:
    """All in line with the first: alike in x or in y."""
    entries, axis = _targets(document, edit), _axis(edit)
    for entry in entries[1:]:
        entry[axis] = entries[0][axis]


def _spread(document: Document, edit: Mapping[str, Any]) -> None:
    """Equal steps from the first to the last along x or y."""
    axis = _axis(edit)
    entries = sorted(_targets(document, edit), key=lambda entry: float(entry[axis]))
    if len(entries) < 3:
        raise Refusal("targets", gettext("{number} things", number=len(entries)), gettext("at least three to spread"))
    first, last = float(entries[0][axis]), float(entries[-1][axis])
    for number, entry in enumerate(entries):
        entry[axis] = _tidy(first + (last - first) * number / (len(entries) - 1))


def _set(document: Document, edit: Mapping[str, Any]) -> None:
    """Set one key of one thing; null removes it."""
    section, index = edit["target"]
    entry = document if section == "board" else _thing(document, (section, index))
    if edit["value"] is None:
        entry.pop(edit["key"], None)
    else:
        entry[str(edit["key"])] = edit["value"]


def _add(document: Document, edit: Mapping[str, Any]) -> None:
    section, entry = edit["section"], dict(edit["entry"])
    if section not in SECTIONS:
        raise Refusal("section", quoted(section), gettext("one of {sections}", sections=", ".join(SECTIONS)))
    for key in ("x_mm", "y_mm"):
        entry[key] = _tidy(_length(entry[key], key))
    entries = document.setdefault(section, [])
    naming = NAMED_BY.get(section)
    if naming and not entry.get(naming):
        entry = {naming: _free_name(document, section), **entry}
    entries.append(entry)


def _free_name(document: Document, section: str) -> str:
    """The next designator after the newest of its section, as a new one is usually the neighbour of the last."""
    taken = {str(entry.get(NAMED_BY[name])) for name in NAMED_BY for entry in document.get(name, ())}
    taken.add(str(document.get("core", {}).get("designator")))
    last = document.get(section, [{}])[-1:] or [{}]
    found = re.fullmatch(r"(.*?)([0-9]+)", str(last[0].get(NAMED_BY[section], "")))
    prefix, number = (found[1], int(found[2])) if found else (PREFIX[section], 10 if section == "sites" else 0)
    while f"{prefix}{number + 1}" in taken:
        number += 1
    return f"{prefix}{number + 1}"


def _remove(document: Document, edit: Mapping[str, Any]) -> None:
    gone = {(section, index) for section, index in edit["targets"]}
    for section in SECTIONS:
        if section in document:
            document[section] = [entry for n, entry in enumerate(document[section]) if (section, n) not in gone]


def _double(document: Document, edit: Mapping[str, Any]) -> None:
    """Copies of some things, beside them, under free names."""
    for section, index in list(edit["targets"]):
        entry = dict(_thing(document, (section, index)))
        if section == "core":
            continue
        naming = NAMED_BY.get(section)
        if naming:
            entry[naming] = _free_name(document, section)
        entry.pop("channel", None)
        _shift(entry, _length(edit["dx"], "dx"), _length(edit["dy"], "dy"))
        document[section].append(entry)


def _core(document: Document, edit: Mapping[str, Any]) -> None:
    """The core from two opposite corners."""
    (x1, y1), (x2, y2) = ((_length(x, "corners"), _length(y, "corners")) for x, y in edit["corners"])
    width, height = abs(x2 - x1), abs(y2 - y1)
    if min(width, height) < 1:
        raise Refusal(
            "corners",
            gettext("a core of {width} by {height} mm", width=f"{width:.1f}", height=f"{height:.1f}"),
            gettext("two opposite corners of the core"),
        )
    before = document.get("core") or BLANK["core"]
    place = {"x_mm": _tidy((x1 + x2) / 2), "y_mm": _tidy((y1 + y2) / 2)}
    document["core"] = {**before, **place, "size_mm": [_tidy(width), _tidy(height)]}


def _mark(document: Document, edit: Mapping[str, Any]) -> None:
    """The core's marked corner: the one nearest to a point."""
    x, y = (_length(value, "point") for value in edit["point"])
    core = document["core"]
    upper, left = y >= float(core["y_mm"]), x < float(core["x_mm"])
    core["mark_corner"] = f"{'top' if upper else 'bottom'}-{'left' if left else 'right'}"


def _outline(document: Document, edit: Mapping[str, Any]) -> None:
    """The outline's corners; everything is shifted so that its lower left is the origin."""
    corners = [[_tidy(_length(x, "points")), _tidy(_length(y, "points"))] for x, y in edit["points"]]
    if len(corners) == 2:
        (x1, y1), (x2, y2) = corners
        corners = [[x1, y1], [x2, y1], [x2, y2], [x1, y2]]
    if len(corners) < 3 or len({x for x, _ in corners}) < 2 or len({y for _, y in corners}) < 2:
        raise Refusal(
            "points",
            gettext("{number} corners without an area", number=len(corners)),
            gettext("two opposite corners, or three and more"),
        )
    document["outline_mm"] = corners
    left, bottom = min(x for x, _ in corners), min(y for _, y in corners)
    document["outline_mm"] = [[_tidy(x - left), _tidy(y - bottom)] for x, y in corners]
    for entry in _placed(document):
        _shift(entry, -left, -bottom)
    high = max(y for _, y in document["outline_mm"])
    _landmark(document, "bracket", (-BRACKET_MM / 2, high / 2), (BRACKET_MM, high))


def _landmark(document: Document, kind: str, at: tuple[float, float], size: tuple[float, float]) -> None:
    """A landmark that follows from the drawing, where the model has none of its kind: orientations need it."""
    entries = document.setdefault("landmarks", [])
    if not any(entry["kind"] == kind for entry in entries):
        place = {"x_mm": _tidy(at[0]), "y_mm": _tidy(at[1])}
        entries.append({"kind": kind, **place, "size_mm": [_tidy(size[0]), _tidy(size[1])]})


def _placed(document: Document) -> list[dict[str, Any]]:
    entries = [entry for section in PLACED for entry in document.get(section, ()) if isinstance(entry, dict)]
    return [*entries, document["core"]] if isinstance(document.get("core"), dict) else entries


def _photograph(document: Document, edit: Mapping[str, Any]) -> None:
    """A picture of one side, laid as wide as an ordinary board until its scale is set."""
    side, width, height = edit["side"], int(edit["width_px"]), int(edit["height_px"])
    trial = scaled_photograph(side, (width, height), Scale((0, 0), (width, 0), TRIAL_WIDTH_MM))
    others = [photograph for photograph in document.get("photographs", ()) if photograph["side"] != side]
    document["photographs"] = [*others, entry_of(trial, str(edit["sha256"]))]


def _scale(document: Document, edit: Mapping[str, Any]) -> None:
    """The picture's scale from two points on it, as it lies now: so many millimetres, or so many contacts, apart."""
    entry = next(photograph for photograph in document["photographs"] if photograph["side"] == edit["side"])
    now = photograph_from(entry)
    left, right = (now.pixel((_length(x, "point"), _length(y, "point"))) for x, y in (edit["left"], edit["right"]))
    contacts = edit.get("contacts")
    mm = contacts_mm(int(contacts)) if contacts else _length(edit["mm"], "mm")
    scale = Scale(left, right, mm, "x" if contacts or edit.get("along") == "x" else "any")
    new = scaled_photograph(now.side, (now.width_px, now.height_px), scale)
    document["photographs"] = [
        entry_of(new, photograph["sha256"]) if photograph is entry else photograph
        for photograph in document["photographs"]
    ]
    if contacts:
        (x1, y1), (x2, y2) = new.place(left), new.place(right)
        _landmark(document, "edge-contacts", ((x1 + x2) / 2, (y1 + y2) / 2), (abs(x2 - x1) + 1, CONTACTS_HIGH_MM))


def _walk(document: Document, edit: Mapping[str, Any]) -> None:
    """Start, direction and order of the walk; what is left out stays."""
    before = document.get("walk", {"start": "mark", "direction": "clockwise"})
    keys = {key: edit[key] for key in ("start", "direction", "order") if key in edit}
    document["walk"] = {**before, **keys}
    document["walk"].setdefault("order", [None] * len(_front(document)))


def _channel(document: Document, edit: Mapping[str, Any]) -> None:
    """The channel of one place of the walk, counted from 1; null leaves it open."""
    order = list(document["walk"]["order"])
    order[int(edit["position"]) - 1] = edit["channel"] or None
    document["walk"]["order"] = order


def _number(document: Document, edit: Mapping[str, Any]) -> None:
    """Designators in the order of the walk, or in the order in which the sites were clicked."""
    prefix, first = str(edit.get("prefix", "U")), int(edit.get("first", 11))
    chosen = [index for section, index in edit.get("targets", ()) if section == "sites"]
    sites = document["sites"]
    order = [sites[index] for index in chosen] or walked(document)
    others = {str(entry.get("designator")) for entry in sites if not any(entry is site for site in order)}
    number = first
    for site in order:
        while f"{prefix}{number}" in others:
            number += 1
        site["designator"] = f"{prefix}{number}"
        number += 1


def _twins(document: Document, edit: Mapping[str, Any]) -> None:
    """A back site behind every front site that has none: two chips share each channel, half its lines each."""
    back = [(entry["x_mm"], entry["y_mm"]) for entry in document["sites"] if entry.get("side") == "back"]
    for site in list(_front(document)):
        if (site["x_mm"], site["y_mm"]) in back:
            continue
        twin = {key: value for key, value in site.items() if key not in ("dq", "dq_swap")}
        twin |= {"designator": _free_name(document, "sites"), "side": "back", "dq": [16, 31]}
        site["dq"] = [0, 15]
        document["sites"].append(twin)


def _front(document: Mapping[str, Any]) -> list[dict[str, Any]]:
    return [site for site in document.get("sites", ()) if site.get("side", "front") == "front"]


def walked(document: Mapping[str, Any]) -> list[dict[str, Any]]:
    """The front sites' entries in walking order (in the file's where there is no walk)."""
    front = _front(document)
    walk = document.get("walk")
    if not walk or not front:
        return front
    core, sites = board_from_parts(document["core"], front)
    entries = {id(site): entry for site, entry in zip(sites, front, strict=True)}
    met = walking_order(core, Walk(walk["start"], walk["direction"], ()), sites)
    return [entries[id(site)] for site in met]


def _order_kept(before: Mapping[str, Any], after: Document) -> None:
    """Give each place that is still there its channel, and null to new ones."""
    order = before.get("walk", {}).get("order")
    if order is None or "walk" not in after:
        return
    met = walked(before)
    if len(met) != len(order):
        return
    channels = {site.get("designator"): channel for site, channel in zip(met, order, strict=True)}
    after["walk"]["order"] = [channels.get(site.get("designator")) for site in walked(after)]


def _keeping_order(change: Callable[[Document, Mapping[str, Any]], None]) -> Callable[..., None]:
    def both(document: Document, edit: Mapping[str, Any]) -> None:
        before = copy.deepcopy(document)
        change(document, edit)
        _order_kept(before, document)

    return both


EDITS: dict[str, Callable[[Document, Mapping[str, Any]], None]] = {
    "move": _move,
    "turn": _turn,
    "align": _align,
    "spread": _spread,
    "set": _set,
    "add": _keeping_order(_add),
    "remove": _keeping_order(_remove),
    "double": _keeping_order(_double),
    "core": _core,
    "mark": _mark,
    "outline": _outline,
    "photograph": _photograph,
    "scale": _scale,
    "walk": _walk,
    "channel": _channel,
    "number": _number,
    "twins": _keeping_order(_twins),
    "node": put_node,
    "drop-node": drop_node,
    "link": link_nodes,
    "take-map": take_nodes,
    "named": take_named,
}
