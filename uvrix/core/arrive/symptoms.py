"""Kinds of symptoms, so that jobs with the same one find each other."""

from __future__ import annotations

from collections.abc import Mapping

KINDS: Mapping[str, str] = {
    "dead": "no sign of life",
    "trips": "the computer switches off at once",
    "not-listed": "not listed on the bus",
    "no-picture": "listed, no picture",
    "driver": "picture, driver does not load",
    "artefacts": "artefacts",
    "hangs": "hangs or restarts under load",
    "slow": "clocks stay low",
    "hot": "runs hot, fans loud",
    "output": "one output dead",
    "burnt": "smoke, smell, burn marks",
    "other": "something else",
}
