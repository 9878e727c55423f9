"""Under which licences what ships stands: a page for reading; the texts themselves are served at /licences.txt."""

from __future__ import annotations

import json
import re
from importlib.metadata import metadata
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[2]
PINNED = re.compile(r"^([A-Za-z0-9_.-]+)(?:\[.*\])?==(\S+)", re.MULTILINE)
LONGEST_NAME = 60
HEAD = """# Licences

Made by `python -m uvrix.launch.publish` from what is pinned; a stale one fails `./test`. What checks the product
(`requirements-test.txt`, the front end's development packages) does not ship and is not listed. The texts of what the
browser is given, fonts included, are served at `/licences.txt`.
"""


def page() -> str:
    """The page: a row a package, fonts marked."""
    rows = [HEAD, "## The server", "", "| package | version | licence |", "| --- | --- | --- |"]
    rows += [f"| {name} | {version} | {licence} |" for name, version, licence in _python()]
    rows += ["", "## The browser", "", "| package | version | licence |", "| --- | --- | --- |"]
    rows += [f"| {name} | {version} | {licence} |" for name, version, licence in _web()]
    return "\n".join(rows) + "\n"


def _python() -> list[tuple[str, str, str]]:
    pinned = PINNED.findall((ROOT / "requirements.txt").read_text("utf-8"))
    return [(name, version, _licence(metadata(name))) for name, version in pinned]


def _licence(known: Any) -> str:
    """What a package calls its licence: its expression, its name where that is short, else its classifiers."""
    said = known.get("License-Expression") or ""
    named = (known.get("License") or "").strip()
    kinds = [line for line in known.get_all("Classifier") or [] if line.startswith("License ::")]
    classified = " or ".join(line.rpartition(" :: ")[2] for line in kinds)
    if said or (named and len(named) < LONGEST_NAME and "\n" not in named):
        return said or named
    return classified or "see the package"


def _web() -> list[tuple[str, str, str]]:
    lock = json.loads((ROOT / "web/package-lock.json").read_text("utf-8"))
    found = []
    for place, package in lock["packages"].items():
        if place and not package.get("dev") and not package.get("devOptional") and not package.get("peer"):
            name = place.rpartition("node_modules/")[2]
            font = " (font)" if name.startswith("@fontsource") else ""
            found.append((name + font, package["version"], package.get("license", "see the package")))
    return sorted(found)
