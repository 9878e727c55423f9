"""What changed from one edition of a board model to the next, in sentences."""

from __future__ import annotations

import json
from collections.abc import Mapping
from decimal import Decimal
from typing import Any

from uvrix.language import gettext

NAMED = {"sites": "designator", "points": "id", "parts": "designator", "rails": "id"}
WORDS = {"sites": "site", "points": "point", "parts": "part", "rails": "rail"}
PLACE = ("x_mm", "y_mm")
MOST = 40


def changes(before: Mapping[str, Any], after: Mapping[str, Any]) -> list[str]:
    """One sentence a change, things in the order of the file; at most 40, then how many more."""
    said = _core(before.get("core", {}), after.get("core", {}))
    for section, key in NAMED.items():
        said += _section(section, key, before, after)
    said += _walk(before.get("walk"), after.get("walk"))
    known = {*NAMED, "core", "walk"}
    for key in dict.fromkeys([*before, *after]):
        if key not in known and _plain(before.get(key)) != _plain(after.get(key)):
            said.append(_key(key, before, after))
    return said if len(said) <= MOST else [*said[:MOST], gettext("and {number} changes more", number=len(said) - MOST)]


def _plain(value: Any) -> str:
    """A value as JSON in which 3 and 3.0 are alike."""
    return json.dumps(_numbers(value), sort_keys=True, ensure_ascii=False)


def _numbers(value: Any) -> Any:
    if isinstance(value, dict):
        return {key: _numbers(entry) for key, entry in value.items()}
    if isinstance(value, (list, tuple)):
        return [_numbers(entry) for entry in value]
    return float(value) if isinstance(value, (int, Decimal)) and not isinstance(value, bool) else value


def _core(before: Mapping[str, Any], after: Mapping[str, Any]) -> list[str]:
    said = []
    if before.get("mark_corner") != after.get("mark_corner"):
        said.append(
            gettext(
                "core: marked corner {value} (was {value_2})",
                value=after.get("mark_corner"),
                value_2=before.get("mark_corner"),
            )
        )
    if any(_plain(before.get(key)) != _plain(after.get(key)) for key in ("x_mm", "y_mm", "size_mm")):
        said.append(gettext("core: moved or resized"))
    return said


def _section(section: str, key: str, before: Mapping[str, Any], after: Mapping[str, Any]) -> list[str]:
    old = {entry[key]: entry for entry in before.get(section, ())}
    new = {entry[key]: entry for entry in after.get(section, ())}
    word = WORDS[section]
    said = [gettext("{word} {name} added", word=word, name=name) for name in new if name not in old]
    said += [gettext("{word} {name} taken out", word=word, name=name) for name in old if name not in new]
    for name, entry in new.items():
        if name not in old or _plain(entry) == _plain(old[name]):
            continue
        keys = [k for k in dict.fromkeys([*old[name], *entry]) if _plain(old[name].get(k)) != _plain(entry.get(k))]
        moved = [k for k in keys if k in PLACE]
        others = [k for k in keys if k not in PLACE]
        if moved:
            by = [float(entry.get(k, 0)) - float(old[name].get(k, 0)) for k in PLACE]
            said.append(
                gettext(
                    "{word} {name} moved by {by}, {by_2} mm",
                    word=word,
                    name=name,
                    by=f"{by[0]:+.2f}",
                    by_2=f"{by[1]:+.2f}",
                )
            )
        said += [
            gettext(
                "{word} {name}: {k} {short} (was {short_2})",
                word=word,
                name=name,
                k=k,
                short=_short(entry.get(k)),
                short_2=_short(old[name].get(k)),
            )
            for k in others
        ]
    return said


def _short(value: Any) -> str:
    text = "nothing" if value is None else value if isinstance(value, str) else _plain(value)
    return text if len(text) <= 40 else f"{text[:39]}…"


def _walk(before: Mapping[str, Any] | None, after: Mapping[str, Any] | None) -> list[str]:
    if before is None or after is None:
        return [] if before is after else [gettext("walk set") if after else gettext("walk taken out")]
    said = [
        gettext("walk: {key} {key_2} (was {key_3})", key=key, key_2=after[key], key_3=before[key])
        for key in ("start", "direction")
        if before[key] != after[key]
    ]
    old, new = before["order"], after["order"]
    if len(old) != len(new):
        return [*said, gettext("walk: {number} places (was {number_2})", number=len(new), number_2=len(old))]
    places = [n for n, (one, other) in enumerate(zip(old, new, strict=True)) if one != other]
    return said + [
        gettext(
            "place {n} of the walk: channel {n_2} (was {n_3})",
            n=n + 1,
            n_2=new[n] or gettext("open"),
            n_3=old[n] or gettext("open"),
        )
        for n in places
    ]


def _key(key: str, before: Mapping[str, Any], after: Mapping[str, Any]) -> str:
    if key not in before:
        return gettext("{key} added", key=key)
    if key not in after:
        return gettext("{key} taken out", key=key)
    if isinstance(after[key], (str, int, float)):
        return gettext("{key}: {short} (was {short_2})", key=key, short=_short(after[key]), short_2=_short(before[key]))
    return gettext("{key} changed", key=key)
