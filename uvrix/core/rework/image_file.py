"""What is known of a firmware image: read from the demo's own image format, or from a small JSON beside the image.

The demo's format is made up: `UVXFW1`, a length, and a JSON object of that length (the keys below), then anything. The
JSON beside any other image (`NAME.image.json`) has the same keys: `bus`, `memory`, `vendors` (makers of memory that it
carries settings for), `core_mhz`, `memory_mhz`, `text` (what it says of itself), `volts` (of the storage chip).
"""

from __future__ import annotations

import hashlib
import json
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from uvrix.core.boards.schema import NUMBER, TEXT, Schema, list_of, object_of
from uvrix.core.errors import Refusal
from uvrix.core.values.shape import check_shape
from uvrix.core.values.text import parse_json
from uvrix.language import gettext

MAGIC = b"UVXFW1"
HEAD = len(MAGIC) + 4
LARGEST_HEADER, HEADER_ROOM = 65536, 512
# Texts in an image: this many signs in a row at least, this many of them shown.
LEAST_TEXT, MOST_TEXTS = 8, 40
# This much of them is kept as the text of an image that nobody described.
MOST_TEXT = 2000
PRINTED = re.compile(rb"[\x20-\x7e]{%d,}" % LEAST_TEXT)
LINE = 16

IMAGE_SCHEMA: Schema = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "Uvrix image",
    "description": "What is known of a firmware image; lies beside it as NAME.image.json.",
    **object_of(
        ["format", "version"],
        format={"const": "uvrix-image"},
        version={"const": 1},
        bus=TEXT,
        memory=TEXT,
        vendors=list_of(TEXT),
        core_mhz=NUMBER,
        memory_mhz=NUMBER,
        text=TEXT,
        volts=NUMBER,
    ),
}


@dataclass(frozen=True, slots=True)
class ImageFacts:
    """What an image says of itself; empty and None where nothing does."""

    bus: str = ""
    memory: str = ""
    vendors: tuple[str, ...] = ()
    core_mhz: float | None = None
    memory_mhz: float | None = None
    text: str = ""
    volts: float | None = None


def sha256_of(data: bytes) -> str:
    """By what an image is known."""
    return hashlib.sha256(data).hexdigest()


def facts_of(data: bytes, beside: bytes | None = None) -> ImageFacts:
    """The facts of an image; the JSON beside it goes before what is inside. Raises Refusal where one does not fit."""
    if beside is not None:
        return _facts(parse_json(beside))
    if data.startswith(MAGIC):
        length = int.from_bytes(data[len(MAGIC) : HEAD], "big")
        if length > min(LARGEST_HEADER, len(data) - HEAD):
            raise Refusal(
                "$",
                gettext("a header of {length} bytes in an image of {number}", length=length, number=len(data)),
                gettext("one that fits"),
            )
        return _facts(parse_json(data[HEAD : HEAD + length]))
    # nobody described it: what stands in it is all that there is
    return ImageFacts(text=" ".join(texts_in(data))[:MOST_TEXT])


def _facts(document: Any) -> ImageFacts:
    check_shape(document, IMAGE_SCHEMA)
    number = {
        key: None if document.get(key) is None else float(document[key]) for key in ("core_mhz", "memory_mhz", "volts")
    }
    return ImageFacts(
        document.get("bus", ""),
        document.get("memory", ""),
        tuple(document.get("vendors", ())),
        number["core_mhz"],
        number["memory_mhz"],
        document.get("text", ""),
        number["volts"],
    )


def made_image(facts: Mapping[str, Any], body: bytes) -> bytes:
    """An image of the demo's format; its header takes up HEADER_ROOM bytes, so that editions are of one size."""
    header = json.dumps({"format": "uvrix-image", "version": 1, **facts}).encode().ljust(HEADER_ROOM)
    return MAGIC + len(header).to_bytes(4, "big") + header + body


def texts_in(data: bytes) -> tuple[str, ...]:
    """Readable texts in an image, in their order."""
    found = []
    # its own header is not what the image says inside
    begin = HEAD + int.from_bytes(data[len(MAGIC) : HEAD], "big") if data.startswith(MAGIC) else 0
    for match in PRINTED.finditer(data, min(begin, len(data))):
        found.append(match.group().decode("ascii"))
        if len(found) == MOST_TEXTS:
            break
    return tuple(found)


@dataclass(frozen=True, slots=True)
class Fit:
    """How an image of the store fits: how many of the things asked it has, and in words what fits and what does not."""

    score: int
    fits: tuple[str, ...]
    misfits: tuple[str, ...]


def fit(wanted: ImageFacts, found: ImageFacts) -> Fit:
    """An image against what the card needs; bus and memory kind weigh most, since a wrong one does not start.

    What is not said of an image may stand in its text, which counts half: a version text proves nothing.
    """
    checks: Sequence[tuple[str, Any, Any, int]] = (
        ("bus", wanted.bus, found.bus, 4),
        ("memory", wanted.memory, found.memory, 4),
        (gettext("core clock"), wanted.core_mhz, found.core_mhz, 2),
        (gettext("memory clock"), wanted.memory_mhz, found.memory_mhz, 2),
    )
    score, fits, misfits = 0, [], []
    for name, ask, has, weight in checks:
        if not ask:
            continue
        if has and _same(ask, has):
            score += weight
            fits.append(f"{name} {_shown(has)}")
        elif not has and _stands_in(ask, found.text):
            score += weight // 2
            fits.append(gettext("{name} {ask} stands in its text", name=name, ask=_shown(ask)))
        else:
            score -= weight
            misfits.append(
                gettext(
                    "{name} {has}, wanted {ask}",
                    name=name,
                    has=_shown(has) if has else gettext("not stated"),
                    ask=_shown(ask),
                )
            )
    for vendor in wanted.vendors:
        if not found.vendors and _stands_in(vendor, found.text):
            score += 1
            fits.append(gettext("{vendor} stands in its text", vendor=vendor))
        elif vendor.casefold() in {word.casefold() for word in found.vendors}:
            score += 3
            fits.append(gettext("carries settings for {vendor}", vendor=vendor))
        else:
            score -= 3
            misfits.append(gettext("carries no settings for {vendor}", vendor=vendor))
    if wanted.text:
        inside = wanted.text.casefold() in found.text.casefold()
        score += 1 if inside else 0
        (fits if inside else misfits).append(gettext("text {text}", text=found.text or gettext("not stated")))
    return Fit(score, tuple(fits), tuple(misfits))


def _stands_in(ask: Any, text: str) -> bool:
    """Whether what is asked for stands in a text as a word of its own."""
    word = re.escape(ask if isinstance(ask, str) else f"{ask:g}")
    return bool(text) and re.search(rf"(?<!\w){word}(?!\w)", text, re.IGNORECASE) is not None


def _same(ask: Any, has: Any) -> bool:
    if isinstance(ask, str):
        return ask.casefold() == str(has).casefold()
    return bool(abs(ask - has) < 0.5)


def _shown(value: Any) -> str:
    return value if isinstance(value, str) else gettext("{value} MHz", value=f"{value:g}")


@dataclass(frozen=True, slots=True)
class ByteLine:
    """Sixteen bytes of two images beside each other: offset, both in hex and as text, which of them differ."""

    offset: int
    old_hex: str
    new_hex: str
    old_text: str
    new_text: str
    differs: tuple[int, ...]


def byte_lines(old: bytes, new: bytes, begin: int, many: int) -> tuple[ByteLine, ...]:
    """Lines of sixteen bytes from `begin` (rounded down to a line) on."""
    first = begin // LINE * LINE
    found = []
    for offset in range(first, min(first + many * LINE, max(len(old), len(new))), LINE):
        one, other = old[offset : offset + LINE], new[offset : offset + LINE]
        differs = tuple(at for at in range(LINE) if one[at : at + 1] != other[at : at + 1])
        found.append(ByteLine(offset, one.hex(" "), other.hex(" "), _text(one), _text(other), differs))
    return tuple(found)


def _text(data: bytes) -> str:
    return "".join(chr(byte) if 0x20 <= byte < 0x7F else "." for byte in data)
