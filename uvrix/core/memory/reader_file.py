"""A taught reader's file, `NAME.reader.json` (docs/formats §7): rules for whatever a shop's own tester writes.

Patterns are run by the linear-time engine of the Rust `regex` crate, as polars has it: no look-around, no
back-references, no pattern that can be made to run for ever.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from uvrix.core.errors import Refusal, one_line, quoted
from uvrix.core.memory.metadata import REFUSALS, RESULTS
from uvrix.core.values.shape import check_shape
from uvrix.core.values.text import parse_json
from uvrix.language import gettext

ERROR_GROUPS = frozenset({"channel", "address", "expected", "actual", "bits", "op", "pattern", "pass", "count"})
TALLY_GROUPS = frozenset({"channel", "errors", *(f"dq{line}" for line in range(32))})
META_GROUPS = frozenset({"key", "value"})
USES = ("error", "tally", "meta", "refusal", "skip")
GROUPS = {"error": ERROR_GROUPS, "tally": TALLY_GROUPS, "meta": META_GROUPS}
NEEDED: dict[str, frozenset[str]] = {"tally": frozenset({"channel"})}
LONGEST_PATTERN = 4000
NAMED_GROUP = re.compile(r"\(\?P?<([A-Za-z_][A-Za-z0-9_]*)>")

NAME: dict[str, Any] = {"type": "string", "minLength": 1, "maxLength": 80}
READER_SCHEMA: dict[str, Any] = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "Uvrix taught reader",
    "description": "Rules that read the text of a shop's own memory tester; see README.md.",
    "type": "object",
    "required": ["format", "version", "name", "lines"],
    "properties": {
        "format": {"const": "uvrix-reader"},
        "version": {"const": 1},
        "name": NAME,
        "encoding": {"enum": ["utf-8"]},
        "lines": {
            "type": "array",
            "minItems": 1,
            "maxItems": 100,
            "items": {
                "type": "object",
                "required": ["use", "pattern"],
                "properties": {
                    "use": {"enum": list(USES)},
                    "pattern": {"type": "string", "minLength": 1, "maxLength": LONGEST_PATTERN},
                    "means": {"type": "string"},
                    "key": {"type": "string"},
                },
            },
        },
        "channels": {"type": "object", "additionalProperties": NAME},
        "number_base": {"type": "integer", "minimum": 2, "maximum": 36},
        "word_order": {"enum": ["dq0-right", "dq0-left"]},
    },
}


@dataclass(frozen=True, slots=True)
class Rule:
    """What a line that the pattern fits is used for; `groups` are its named groups.

    `means` says which refusal; of a `meta` line it says the key, and the value too after a colon, that its words stand
    for (`result: fail` of *verdict: dirty*).
    """

    use: str
    pattern: str
    groups: frozenset[str]
    means: str = ""

    @property
    def key(self) -> str:
        """The key that a `meta` line without a group of that name stands for."""
        return self.means.partition(":")[0].strip()

    @property
    def value(self) -> str:
        """The value that a `meta` line without a group of that name stands for."""
        return self.means.partition(":")[2].strip()


@dataclass(frozen=True, slots=True)
class TaughtReader:
    """Rules in order; the first that fits a line wins. `document` is the file as it came."""

    name: str
    rules: tuple[Rule, ...]
    channels: Mapping[str, str] = field(default_factory=dict)
    number_base: int = 16
    dq0_left: bool = False
    document: Mapping[str, Any] = field(default_factory=dict, compare=False, repr=False)


def read_reader(data: bytes) -> TaughtReader:
    """The reader in a file's bytes; raises Refusal naming the JSON path, what was found and what was expected."""
    return reader_from_document(parse_json(data))


def reader_from_document(document: Any) -> TaughtReader:
    """The reader in a parsed document."""
    check_shape(document, READER_SCHEMA)
    rules = tuple(_rule(entry, number) for number, entry in enumerate(document["lines"]))
    return TaughtReader(
        name=document["name"],
        rules=rules,
        channels=document.get("channels", {}),
        number_base=document.get("number_base", 16),
        dq0_left=document.get("word_order") == "dq0-left",
        document=document,
    )


def _rule(entry: Mapping[str, Any], number: int) -> Rule:
    use, pattern, path = entry["use"], entry["pattern"], f"$.lines[{number}]"
    _check_pattern(pattern, f"{path}.pattern")
    groups = frozenset(NAMED_GROUP.findall(pattern))
    if strange := sorted(groups - GROUPS.get(use, groups)):
        raise Refusal(
            f"{path}.pattern",
            gettext("a group named {strange}", strange=strange[0]),
            gettext("groups of {names}", names=", ".join(sorted(GROUPS[use]))),
        )
    if missing := sorted(NEEDED.get(use, frozenset()) - groups):
        raise Refusal(f"{path}.pattern", quoted(pattern), gettext("a group named {missing}", missing=missing[0]))
    if use == "error" and not groups & {"channel", "address"}:
        raise Refusal(f"{path}.pattern", quoted(pattern), gettext("a group named channel or address"))
    means = entry.get("means", "")
    if use == "tally" and not groups & (TALLY_GROUPS - {"channel"}):
        raise Refusal(f"{path}.pattern", quoted(pattern), gettext("a group named errors, or groups of dq0 to dq31"))
    if use == "meta":
        _check_meta(Rule(use, pattern, groups, means), path)
    if use == "refusal" and means not in REFUSALS and not means.startswith("other:"):
        raise Refusal(f"{path}.means", quoted(means), gettext("{refusals} or other: …", refusals=", ".join(REFUSALS)))
    return Rule(use, pattern, groups, means)


def _check_meta(rule: Rule, path: str) -> None:
    """A line of a key: it has the key and its value in groups, or `means` says what is not."""
    if "key" not in rule.groups and not rule.key:
        raise Refusal(f"{path}.pattern", quoted(rule.pattern), gettext("a group named key, or means: the key"))
    if "value" not in rule.groups and not rule.value:
        raise Refusal(
            f"{path}.pattern", quoted(rule.pattern), gettext("a group named value, or means: the key and value")
        )
    if rule.key == "result" and rule.value and rule.value not in RESULTS:
        raise Refusal(f"{path}.means", quoted(rule.means), gettext("result: {results}", results=", ".join(RESULTS)))


def _check_pattern(pattern: str, path: str) -> None:
    import polars as pl

    try:
        pl.Series(["", "A0"]).str.contains(pattern)
        if NAMED_GROUP.search(pattern):
            pl.Series(["", "A0"]).str.extract_groups(pattern)
    except pl.exceptions.PolarsError as error:
        said = [line.strip() for line in str(error).splitlines() if line.strip()]
        reason = said[-1].removeprefix("error: ") if said else gettext("no pattern")
        raise Refusal(
            path, f"{quoted(pattern)} ({one_line(reason)})", gettext("a pattern without look-around")
        ) from None
