"""./test: a test cluster, then pytest over checks and tests; ./test --help lists what it can be narrowed to."""

from __future__ import annotations

import argparse
import fcntl
import hashlib
import os
import shutil
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

from uvrix.launch.cluster import CannotStart, Cluster

ROOT = Path(__file__).resolve().parents[2]
PYTHON = str(ROOT / ".venv" / "bin" / "python")
# Two cores are what the bars are stated for; a browser test waits for a third of its time, so a third process fits in.
PROCESSES = 3
QUICK = ["tests/checks", "tests/core", "tests/api", "tests/standins", "-m", "not fuzz and not whole_tree"]
# Handed out one after the other, nearest to the change first (tests/quick.py), so that time is over for the farthest.
QUICK_DIST = ["-n", str(PROCESSES), "--dist", "load", "--maxschedchunk", "2"]
# No test begins after this many seconds: with what is still running and the end, ninety are not exceeded.
QUICK_S = 70
CALIBRATED_CARDS = "2000"


def main() -> int:
    """Run what was asked for; returns 0 where all of it passed. pytest's own summary is printed last."""
    chosen, words = _parser().parse_known_args()
    if chosen.mutants is not None:
        return subprocess.run(
            [PYTHON, "-m", "tests.mutants", *chosen.mutants, *words], cwd=ROOT, check=False
        ).returncode
    try:
        with _cluster() as folder:
            return _pytest(chosen, words, folder)
    except CannotStart as reason:
        print(f"./test: {reason}", file=sys.stderr)
        return 1


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="./test",
        description="Checks and tests everything, of what goes over many of a kind a share with each commit. "
        "Any other argument goes to pytest, which then runs in one process and takes all of that.",
        allow_abbrev=False,
    )
    modes = parser.add_mutually_exclusive_group()
    modes.add_argument("--quick", action="store_true", help="what is nearest to the change, within 90 s")
    modes.add_argument(
        "--thorough", action="store_true", help="no shares, longer fuzzing and calibration, nothing is tried twice"
    )
    modes.add_argument("--speed", action="store_true", help="print how fast things are")
    modes.add_argument("--calibrate", action="store_true", help="print how often findings and plans are right")
    modes.add_argument("--tour", metavar="FOLDER", help="take a picture of every screen in every state into a folder")
    modes.add_argument("--mutants", nargs="*", metavar="PACKAGE", help="how many changed rules the tests notice")
    parser.add_argument("--before", metavar="FOLDER", default="", help="an earlier tour, to be compared with")
    return parser


def _pytest(chosen: argparse.Namespace, words: list[str], folder: Path) -> int:
    environment = {
        **os.environ,
        "DJANGO_SETTINGS_MODULE": "uvrix.shop.config.settings",
        "UVRIX_DATA": str(folder / "files"),
        "UVRIX_TEMPLATES": str(folder),
        "UVRIX_SECRET_KEY": "for-tests-only",
        "UVRIX_HOSTS": "testserver",
        # the browser's own loop runs in the process in which other tests use the database
        "DJANGO_ALLOW_ASYNC_UNSAFE": "1",
    }
    side_by_side = ["-n", str(PROCESSES), "--dist", "worksteal"]
    arguments = [*words, *_files_with(words)]
    if chosen.speed:
        arguments = ["tests/speed", "-s", *words]
    elif chosen.calibrate:
        environment["UVRIX_CALIBRATE"] = CALIBRATED_CARDS
        arguments = ["tests/calibration", "-s", *words]
    elif chosen.tour:
        environment["UVRIX_TOUR"] = str(Path(chosen.tour).absolute())
        environment["UVRIX_TOUR_BEFORE"] = chosen.before and str(Path(chosen.before).absolute())
        arguments = ["tests/tour", "-s", *words]
    elif chosen.quick:
        environment["UVRIX_QUICK_UNTIL"] = str(time.time() + QUICK_S)
        arguments = [*QUICK, *QUICK_DIST, *words]
    elif chosen.thorough:
        environment |= {"UVRIX_THOROUGH": "1", "UVRIX_CALIBRATE": CALIBRATED_CARDS}
        arguments = [*side_by_side, *words]
    elif not words:
        environment["UVRIX_TURN"] = _commits()
        arguments = side_by_side
    whole = chosen.thorough or not (words or chosen.quick)
    maker = threading.Thread(target=_make_templates, args=(environment,)) if whole else None
    if maker:
        maker.start()
    # a folder of its own: pytest closes and tidies the usual one, also below a run that goes on beside this one
    with tempfile.TemporaryDirectory(prefix="uvrix-tests-") as passing:
        Path(passing).chmod(0o755)
        environment["PYTEST_DEBUG_TEMPROOT"] = passing
        done = subprocess.run([PYTHON, "-m", "pytest", *arguments], cwd=ROOT, env=environment, check=False)
    if maker:
        maker.join()
    return done.returncode


def _commits() -> str:
    """How many commits the clone has; nothing where it is none."""
    counted = subprocess.run(
        ["git", "rev-list", "--count", "HEAD"], cwd=ROOT, text=True, capture_output=True, check=False
    )
    return counted.stdout.strip()


def _files_with(words: list[str]) -> list[str]:
    """The test files in which the one word after -k stands: to collect all of them would take longer than the test."""
    if len(words) != len(["-k", "word"]) or words[0] != "-k" or not words[1].isidentifier():
        return []
    word = words[1].lower()
    return [
        str(path.relative_to(ROOT))
        for path in sorted((ROOT / "tests").rglob("test_*.py"))
        if "speed" not in path.parts and word in f"{path}{path.read_text()}".lower()
    ]


def _make_templates(environment: dict[str, str]) -> None:
    """Begin with what database tests wait for, while others run; a failure is told by the test that needs it."""
    program = "import os, pathlib; from uvrix.launch import templates as t; "
    program += "t.ensure(pathlib.Path(os.environ['UVRIX_TEMPLATES']), t.DEMO)"
    subprocess.run([PYTHON, "-c", program], cwd=ROOT, env=environment, check=False, capture_output=True)


@contextmanager
def _cluster() -> Iterator[Path]:
    """The clone's own test cluster, served; a passing one where another run of this clone has it."""
    kept = _kept_folder()
    kept.mkdir(parents=True, exist_ok=True)
    with (kept / "lock").open("w") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
            folder = kept
        except OSError:
            folder = Path(tempfile.mkdtemp(prefix="uvrix-test-"))
        folder.chmod(0o755)
        cluster = Cluster(folder)
        try:
            cluster.create(durable=False)
            port = cluster.start()
            cluster.ensure_database(port, "uvrix")
            os.environ.update(cluster.environment(port, "uvrix"))
            yield folder
        finally:
            with suppress(CannotStart):
                cluster.stop()
            if folder is not kept:
                shutil.rmtree(folder, ignore_errors=True)


def _kept_folder() -> Path:
    """Where this clone's test cluster is kept: outside it, where the database's user can enter."""
    if named := os.environ.get("UVRIX_TEST_DATA"):
        return Path(named).absolute()
    base = Path("/var/lib") if os.geteuid() == 0 else Path.home() / ".cache"
    _forget_clones_that_are_gone(base / "uvrix-test")
    kept = base / "uvrix-test" / hashlib.sha256(str(ROOT).encode()).hexdigest()[:12]
    kept.mkdir(parents=True, exist_ok=True)
    (kept / "clone").write_text(str(ROOT))
    return kept


def _forget_clones_that_are_gone(base: Path) -> None:
    for named in base.glob("*/clone"):
        if not Path(named.read_text()).exists():
            shutil.rmtree(named.parent, ignore_errors=True)


if __name__ == "__main__":
    sys.exit(main())
