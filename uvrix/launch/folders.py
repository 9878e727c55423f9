"""The picture of the packages in docs/architecture.md, made from the first line of each package's own docstring."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
PAGE = ROOT / "docs" / "architecture.md"
BEGIN, END = "<!-- packages: made by uvrix.launch.publish -->", "<!-- end of packages -->"
# Django's own way of keeping migrations says nothing of the product.
LEFT_OUT = frozenset({"migrations", "commands", "management"})
WIDTH = 30


def page() -> str:
    """The page, its picture as the packages say it now."""
    before, rest = PAGE.read_text("utf-8").split(BEGIN)
    _, after = rest.split(END)
    lines = "\n".join(_lines(ROOT / "uvrix", 0))
    return f"{before}{BEGIN}\n\n{lines}\n\n{END}{after}"


def _lines(folder: Path, depth: int) -> Iterator[str]:
    name = "  " * depth + folder.name + "/"
    yield f"    {name:{WIDTH}}{_says(folder / '__init__.py')}"
    for below in sorted(folder.iterdir()):
        if below.name not in LEFT_OUT and (below / "__init__.py").is_file():
            yield from _lines(below, depth + 1)


def _says(module: Path) -> str:
    said = ast.get_docstring(ast.parse(module.read_text("utf-8"))) or ""
    return said.splitlines()[0] if said else ""
