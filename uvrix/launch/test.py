"""./test: a database of its own, every check, then pytest with the arguments given."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from pathlib import Path

from uvrix.launch.cluster import CannotStart, Cluster

ROOT = Path(__file__).resolve().parents[2]
WEB = ROOT / "web"
BIN = ROOT / ".venv" / "bin"
PYTHON = str(BIN / "python")

CHECKS: dict[str, tuple[Path, list[str]]] = {
    "types": (ROOT, [str(BIN / "mypy")]),
    "format": (ROOT, [str(BIN / "ruff"), "format", "--check", "--quiet"]),
    "lint": (ROOT, [str(BIN / "ruff"), "check", "--quiet"]),
    "imports": (ROOT, [str(BIN / "lint-imports"), "--no-logo"]),
    "unused code": (ROOT, [str(BIN / "vulture")]),
    "migrations": (ROOT, [PYTHON, "-m", "django", "makemigrations", "--check", "--dry-run"]),
    "published files": (ROOT, [PYTHON, "-m", "uvrix.launch.publish", "--check"]),
    "web format and lint": (WEB, ["npx", "--no-install", "biome", "ci", "."]),
    "web types": (WEB, ["npx", "--no-install", "tsc", "--noEmit"]),
    "web unused code": (WEB, ["npx", "--no-install", "knip"]),
}


# Options that print figures instead of running the tests.
FIGURES = {"--speed": ["tests/speed", "-s"], "--calibrate": ["tests/calibration", "-s"]}


def main() -> int:
    """Run everything; returns 0 where all of it passed. pytest's own summary is printed last."""
    arguments = sys.argv[1:]
    folder = Path(tempfile.mkdtemp(prefix="uvrix-test-"))
    folder.chmod(0o755)
    cluster = Cluster(folder)
    try:
        cluster.create(durable=False)
        port = cluster.start()
        environment = {
            **os.environ,
            **cluster.environment(port, "uvrix"),
            "DJANGO_SETTINGS_MODULE": "uvrix.shop.config.settings",
            "UVRIX_DATA": str(folder),
            "UVRIX_SECRET_KEY": "for-tests-only",
            "UVRIX_HOSTS": "testserver",
        }
        cluster.ensure_database(port, "uvrix")
        checked = _check(environment)
        target = [word for option, words in FIGURES.items() if option in arguments for word in words]
        chosen = [one for one in arguments if one not in FIGURES]
        environment |= {"UVRIX_CALIBRATE": "2000"} if "--calibrate" in arguments else {}
        tested = subprocess.run([PYTHON, "-m", "pytest", *target, *chosen], cwd=ROOT, env=environment, check=False)
    except CannotStart as reason:
        print(f"./test: {reason}", file=sys.stderr)
        return 1
    else:
        return tested.returncode or (0 if checked else 1)
    finally:
        with suppress(CannotStart):
            cluster.stop()
        shutil.rmtree(folder, ignore_errors=True)


def _check(environment: dict[str, str]) -> bool:
    """Run the checks side by side; says which failed and why."""

    def run(name: str) -> bool:
        where, command = CHECKS[name]
        begun = time.monotonic()
        done = subprocess.run(
            command, cwd=where, env=environment, text=True, capture_output=True, stdin=subprocess.DEVNULL, check=False
        )
        good = done.returncode == 0
        print(f"{'passed' if good else 'FAILED'}  {name}  ({time.monotonic() - begun:.0f} s)", flush=True)
        if not good:
            print(done.stdout, done.stderr, flush=True)
        return good

    with ThreadPoolExecutor(2) as pool:
        return all(list(pool.map(run, CHECKS)))


if __name__ == "__main__":
    sys.exit(main())
