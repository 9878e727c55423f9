"""Labels on paper: a name, some lines, and a code that the scan box reads."""

from __future__ import annotations

from collections.abc import Sequence
from html import escape
from itertools import groupby

import segno

from uvrix.shop.config.paper import FAMILY, pdf

# A scanner types this before and after what it read: signs that nobody types into a field of ours.
SCANNED = "|"
LABEL_MM = (62.0, 29.0)
QR_MM = 21.0
LONGEST_LINE, LONGEST_NAME = 22, 8

Label = tuple[str, Sequence[str]]


def paper_labels(labels: Sequence[Label]) -> bytes:
    """A PDF with a page a label: (what it names, lines below)."""
    width, height = LABEL_MM
    style = f"""@page {{ size: {width}mm {height}mm; margin: 3mm }}
body {{ margin: 0; font: 7pt {FAMILY} }}
h1 {{ font: bold 19pt {FAMILY}; margin: 0 }} h1.long {{ font-size: 10pt }} p {{ margin: 0.8mm 0 0 }}
section {{ position: relative; break-after: page; height: {height - 6 - 0.1}mm }}
section:last-child {{ break-after: auto }}
svg {{ position: absolute; right: 0; top: 1mm; width: {QR_MM}mm; height: {QR_MM}mm }}
main {{ width: {width - 6 - QR_MM - 2}mm }}"""
    return pdf(", ".join(name for name, _ in labels), style, "".join(_label(*label) for label in labels))


def _label(name: str, lines: Sequence[str]) -> str:
    texts = "".join(f"<p>{escape(_short(line))}</p>" for line in lines)
    long = " class='long'" if len(name) > LONGEST_NAME else ""
    return f"<section><main><h1{long}>{escape(name)}</h1>{texts}</main>{_code(name)}</section>"


def _code(text: str) -> str:
    """The code of a text between the scanner's signs, one rectangle a run of dark modules."""
    rows = segno.make(f"{SCANNED}{text}{SCANNED}", error="m", micro=False).matrix
    runs = []
    for y, row in enumerate(rows):
        x = 0
        for dark, group in groupby(row):
            many = len(list(group))
            if dark:
                runs.append(f"<rect x='{x}' y='{y}' width='{many}' height='1'/>")
            x += many
    return f"<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 {len(rows)} {len(rows)}'>{''.join(runs)}</svg>"


def _short(line: str) -> str:
    return line if len(line) <= LONGEST_LINE else f"{line[: LONGEST_LINE - 1]}…"
