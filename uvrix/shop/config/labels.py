"""Labels on paper: a name, some lines, and a code that the scan box reads."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import groupby
from typing import Any

import segno
from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString

from uvrix.shop.config.paper import pdf

# A scanner types this before and after what it read: signs that nobody types into a field of ours.
SCANNED = "|"
LABEL_MM = (62.0, 29.0)
MARGIN_MM, QR_MM = 3.0, 21.0
LONGEST_LINE, LONGEST_NAME = 22, 8

Label = tuple[str, Sequence[str]]


def paper_labels(labels: Sequence[Label]) -> bytes:
    """A PDF with a page a label: (what it names, lines below)."""
    width, height = LABEL_MM
    return pdf(
        "labels.html",
        ", ".join(name for name, _ in labels),
        labels=[_label(*label) for label in labels],
        width_mm=width,
        height_mm=height,
        margin_mm=MARGIN_MM,
        inner_height_mm=height - 2 * MARGIN_MM - 0.1,
        code_mm=QR_MM,
        text_mm=width - 2 * MARGIN_MM - QR_MM - 2,
    )


def _label(name: str, lines: Sequence[str]) -> dict[str, Any]:
    return {
        "name": name,
        "long": len(name) > LONGEST_NAME,
        "lines": [_short(line) for line in lines],
        "code": _code(name),
    }


def _code(text: str) -> SafeString:
    """The code of a text between the scanner's signs, one rectangle a run of dark modules."""
    rows = segno.make(f"{SCANNED}{text}{SCANNED}", error="m", micro=False).matrix
    runs = []
    for y, row in enumerate(rows):
        x = 0
        for dark, group in groupby(row):
            many = len(list(group))
            if dark:
                runs.append((x, y, many))
            x += many
    bars = format_html_join("", "<rect x='{}' y='{}' width='{}' height='1'/>", runs)
    return format_html("<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 {0} {0}'>{1}</svg>", len(rows), bars)


def _short(line: str) -> str:
    return line if len(line) <= LONGEST_LINE else f"{line[: LONGEST_LINE - 1]}…"
