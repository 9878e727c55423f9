"""Format, lint, types, contracts and published files: each check is a test, so that they run beside the others."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
WEB = ROOT / "web"
BIN = ROOT / ".venv" / "bin"
NPX = ["npx", "--no-install"]

# What --quick runs too: what answers within seconds once its cache is warm.
QUICK = {
    "types": (ROOT, [str(BIN / "mypy")]),
    "format": (ROOT, [str(BIN / "ruff"), "format", "--check", "--quiet"]),
    "lint": (ROOT, [str(BIN / "ruff"), "check", "--quiet"]),
    "web types": (WEB, [*NPX, "tsc", "--noEmit", "--incremental", "--tsBuildInfoFile", "node_modules/.types"]),
    "web units": (WEB, [*NPX, "vitest", "run"]),
}
WHOLE_TREE = {
    "imports": (ROOT, [str(BIN / "lint-imports"), "--no-logo"]),
    "unused code": (ROOT, [str(BIN / "vulture")]),
    "migrations": (ROOT, [sys.executable, "-m", "django", "makemigrations", "--check", "--dry-run"]),
    "published files": (ROOT, [sys.executable, "-m", "uvrix.launch.publish", "--check"]),
    "web format and lint": (WEB, [*NPX, "biome", "ci", "."]),
    "web unused code": (WEB, [*NPX, "knip"]),
}


def passes(where: Path, command: list[str]) -> None:
    done = subprocess.run(
        command, cwd=where, text=True, capture_output=True, stdin=subprocess.DEVNULL, check=False, timeout=900
    )
    assert done.returncode == 0, f"{' '.join(command[:4])}\n{done.stdout}{done.stderr}"


@pytest.mark.parametrize("name", QUICK)
def test_check(name):
    passes(*QUICK[name])


@pytest.mark.whole_tree
@pytest.mark.parametrize("name", WHOLE_TREE)
def test_check_of_the_whole_tree(name):
    passes(*WHOLE_TREE[name])
