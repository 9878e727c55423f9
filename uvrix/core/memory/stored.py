"""A report that was read, as JSON and back: what the shop keeps of a run beside the original file."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from uvrix.core.memory.evidence import ChannelEvidence, Evidence
from uvrix.core.memory.metadata import Metadata
from uvrix.core.memory.report import Report, Unread


def report_to_json(report: Report) -> dict[str, Any]:
    """The report as plain JSON values; the order of channels stands by itself, as databases reorder keys."""
    stored = asdict(report)
    stored["evidence"]["order"] = list(report.evidence.channels)
    return stored


def channels_of(stored: dict[str, Any]) -> list[str]:
    """The channels of a stored report, in the order in which the report lists them."""
    evidence = stored["evidence"]
    return list(evidence.get("order", evidence["channels"]))


def report_from_json(stored: dict[str, Any]) -> Report:
    """The report that `report_to_json` wrote."""
    meta, unread, evidence = stored["meta"], stored["unread"], stored["evidence"]
    return Report(
        format=stored["format"],
        meta=Metadata(**{**meta, "condition": tuple(meta["condition"])}),
        rows=stored["rows"],
        unread=Unread(unread["count"], [(line, text) for line, text in unread["quotes"]]),
        evidence=Evidence(
            channels={name: _channel(evidence["channels"][name]) for name in channels_of(stored)},
            tally=evidence["tally"],
            with_lines=evidence["with_lines"],
        ),
        warnings=tuple(stored["warnings"]),
    )


def _channel(stored: dict[str, Any]) -> ChannelEvidence:
    touched = {int(mask): count for mask, count in stored["touched"].items()}
    sample = [(mask, count, expected, actual, address) for mask, count, expected, actual, address in stored["sample"]]
    return ChannelEvidence(**{**stored, "touched": touched, "sample": sample})
