"""The keys of a report (docs/formats §5): what was run, how, and how the tester ended."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field

from uvrix.core.errors import Refusal, one_line, quoted
from uvrix.language import gettext

RESULTS = ("pass", "fail", "refused")
LONGEST_KEY, LONGEST_VALUE = 60, 400
REFUSALS = ("not-found", "wrong-build", "wrong-index", "not-initialised")


@dataclass(frozen=True, slots=True)
class Metadata:
    """What a report says of itself; `keys` holds every key as written, known or not."""

    condition: tuple[str, ...] = ()
    result: str | None = None
    refusal: str | None = None
    board: str | None = None
    keys: Mapping[str, str] = field(default_factory=dict)


def metadata(keys: Mapping[str, str], places: Mapping[str, str]) -> Metadata:
    """The metadata in `keys`; `places` says where each key stands. Raises Refusal on a word that is not known."""
    keys = {one_line(name, LONGEST_KEY): one_line(value, LONGEST_VALUE) for name, value in keys.items()}
    result = keys.get("result", "").strip().lower() or None
    if result is not None and result not in RESULTS:
        raise Refusal(
            places["result"],
            gettext("the result {quoted}", quoted=quoted(keys["result"])),
            gettext("pass, fail or refused"),
        )
    refusal = keys.get("refusal", "").strip() or None
    if refusal and refusal not in REFUSALS and not refusal.startswith("other:"):
        raise Refusal(
            places["refusal"],
            gettext("the refusal {refusal}", refusal=quoted(refusal)),
            gettext("{refusals} or other: …", refusals=", ".join(REFUSALS)),
        )
    _check_amount(keys.get("tested_mib", ""), places.get("tested_mib", ""))
    condition = tuple(word for part in keys.get("condition", "").split(",") if (word := part.strip()))
    return Metadata(condition, result, refusal, keys.get("board", "").strip() or None, keys)


def _check_amount(word: str, place: str) -> None:
    if not word.strip():
        return
    try:
        amount = float(word)
    except ValueError:
        amount = math.nan
    if not math.isfinite(amount) or amount < 0:
        raise Refusal(place, gettext("tested_mib {word}", word=quoted(word)), gettext("an amount of memory in MiB"))
