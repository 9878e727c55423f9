"""Bytes of a file to text: UTF-8 with or without a byte-order mark, nothing else (docs/formats)."""

from __future__ import annotations

import codecs
import json
import re
from decimal import Decimal
from typing import Any

from uvrix.core.errors import Refusal
from uvrix.language import gettext

WIDE_MARKS = (codecs.BOM_UTF32_LE, codecs.BOM_UTF32_BE, codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)
LARGEST_EXPONENT = 300
LONGEST_NUMBER = 400
# NUL, and surrogates that are not written as a pair.
BAD_ESCAPE = re.compile(
    r"(?<!\\)(?:\\\\)*\\u(?:0000|[dD][89abAB][0-9a-fA-F]{2}(?!\\u[dD][c-fC-F])|(?<!\\u[dD][89abAB]..\\u)[dD][c-fC-F])"
)


def check_start(data: bytes) -> None:
    """Raise Refusal where a file's first bytes are the mark of UTF-16 or UTF-32."""
    if data.startswith(WIDE_MARKS):
        raise Refusal("1", gettext("a file in UTF-16 or UTF-32"), gettext("text in UTF-8"))


def check_encoding(data: bytes, first_line: int = 1) -> None:
    """Raise Refusal where the bytes are not plain UTF-8 text; `first_line` is the number of their first line."""
    nul = data.find(b"\0")
    if nul >= 0:
        line = first_line + data.count(b"\n", 0, nul)
        raise Refusal(str(line), gettext("a NUL byte (binary, or UTF-16 without a mark)"), gettext("text in UTF-8"))
    if data.isascii():
        return
    try:
        data.decode("utf-8")
    except UnicodeDecodeError as error:
        line = first_line + data.count(b"\n", 0, error.start)
        raise Refusal(
            str(line), gettext("the byte 0x{start}", start=f"{data[error.start]:02X}"), gettext("text in UTF-8")
        ) from None


def decode(data: bytes) -> str:
    """The text of a whole file, without its byte-order mark; raises Refusal on anything but UTF-8."""
    check_start(data)
    check_encoding(data)
    return data.decode("utf-8-sig")


def parse_json(data: bytes) -> Any:
    """The JSON value in a file, its fractions as exact `Decimal`s.

    Raises Refusal on other text, on numbers that are not finite and on nesting too deep to be meant.
    """
    text = decode(data)
    if not text.strip():
        raise Refusal("1", gettext("an empty file"), "JSON")
    if BAD_ESCAPE.search(text):
        raise Refusal("$", gettext("an escape that stands for no character (\\u0000 or half a pair)"), "text")
    try:
        return json.loads(text, parse_float=_finite, parse_int=_whole, parse_constant=_no_constant)
    except json.JSONDecodeError as error:
        raise Refusal(
            str(error.lineno), gettext("no JSON ({msg}, column {colno})", msg=error.msg, colno=error.colno), "JSON"
        ) from None
    except RecursionError:
        raise Refusal("$", gettext("brackets nested hundreds deep"), gettext("a file of this format")) from None


def _finite(word: str) -> Decimal:
    value = Decimal(word)
    if len(word) > LONGEST_NUMBER or not value.is_finite() or abs(value.adjusted()) > LARGEST_EXPONENT:
        raise Refusal("$", gettext("the number {word}", word=word), gettext("a finite number of ordinary size"))
    return value


def _whole(word: str) -> int:
    if len(word) > LONGEST_NUMBER:
        raise Refusal("$", gettext("the number {word}", word=word), gettext("a finite number of ordinary size"))
    return int(word)


def _no_constant(word: str) -> Any:
    raise Refusal("$", word, gettext("a finite number"))
