"""The rules of the bench stand in the repository: what code cites exists, and every threshold belongs to a rule."""

from __future__ import annotations

import ast
import re
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
CORE, TRADE, FORMATS = ROOT / "uvrix" / "core", ROOT / "docs" / "trade", ROOT / "docs" / "formats" / "README.md"
RULE = re.compile(r"^\*\*(\d+\.\d+)\*\*", re.MULTILINE)
CITED = re.compile(r"docs/(trade|formats) §([\d.]*\d)")
MODULE = re.compile(r"`([a-z_/]+\.py)`((?:\s+[A-Z][A-Z_]+,?)*)")
# Documents that lie outside the repository, or did once.
ELSEWHERE = re.compile(r"\b(domain|formats|case|design|engineering)\.md\b")


def _sources() -> list[Path]:
    return [path for folder in ("uvrix", "tests") for path in sorted((ROOT / folder).rglob("*.py"))]


def _rules() -> dict[str, str]:
    """The rules by their numbers, each with its text."""
    found: dict[str, str] = {}
    for page in sorted(TRADE.glob("[0-9]*.md")):
        _, *parts = RULE.split(page.read_text())
        for number, text in zip(parts[::2], parts[1::2], strict=True):
            assert number not in found, f"{number} stands twice"
            found[number] = text
    return found


def _constants(module: Path) -> set[str]:
    """The names in capitals that a module assigns."""
    targets = [
        target
        for node in ast.parse(module.read_text()).body
        if isinstance(node, ast.Assign | ast.AnnAssign)
        for target in (node.targets if isinstance(node, ast.Assign) else [node.target])
    ]
    names = [name for target in targets for name in (target.elts if isinstance(target, ast.Tuple) else [target])]
    return {name.id for name in names if isinstance(name, ast.Name) and name.id.isupper()}


def test_every_document_and_rule_that_code_cites_exists():
    rules = _rules()
    sections = set(re.findall(r"^## (\d+) ", FORMATS.read_text(), re.MULTILINE))
    wrong = []
    for path in _sources():
        text = path.read_text()
        for where, number in CITED.findall(text):
            if number not in (rules if where == "trade" else sections):
                wrong.append(f"{path.relative_to(ROOT)}: docs/{where} §{number}")
        if path != Path(__file__):
            wrong += [f"{path.relative_to(ROOT)}: {found.group()}" for found in ELSEWHERE.finditer(text)]
    assert wrong == []


@pytest.mark.parametrize("page", sorted(TRADE.glob("[0-9]*.md")), ids=lambda page: page.stem)
def test_every_module_and_threshold_that_a_rule_names_exists(page):
    for number, text in _rules().items():
        if number.split(".", maxsplit=1)[0] != page.stem.split("-", maxsplit=1)[0]:
            continue
        named = MODULE.findall(text)
        assert named, f"{number} names no module"
        for module, constants in named:
            assert (CORE / module).is_file(), f"{number}: {module}"
            missing = set(re.findall(r"[A-Z][A-Z_]+", constants)) - _constants(CORE / module)
            assert missing == set(), f"{number}: {module}"


@pytest.mark.parametrize("limits", sorted(CORE.rglob("limits.py")), ids=lambda path: path.parent.name)
def test_every_threshold_belongs_to_a_rule(limits):
    area = str(limits.relative_to(CORE))
    named = {
        name
        for text in _rules().values()
        for module, constants in MODULE.findall(text)
        if module == area
        for name in re.findall(r"[A-Z][A-Z_]+", constants)
    }
    assert _constants(limits) - named == set()


def test_the_picture_of_the_front_end_names_every_folder_and_no_other():
    page = (ROOT / "docs" / "architecture.md").read_text()
    picture = page.split("    web/src/", maxsplit=1)[1].split("    data/", maxsplit=1)[0]
    folders = {path.name for path in (ROOT / "web" / "src").iterdir() if path.is_dir()}
    assert set(re.findall(r"\b([a-z]+)/", picture)) == folders
