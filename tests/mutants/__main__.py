"""Prints, by package, how many changes the owning tests notice, and those they do not."""

from __future__ import annotations

import argparse
import ast
import random
import re
import subprocess
import sys
import tempfile
import time
from collections import defaultdict
from dataclasses import replace
from pathlib import Path

from tests.mutants.changes import Change, changes_of
from tests.mutants.run import OPTIONS, ROOT, Trial, noticed_all

CORE = ROOT / "uvrix" / "core"
# The rules' packages and the tests that own them.
OWNED = {
    "readings": ["tests/core/readings"],
    "startup": ["tests/core/startup"],
    "rework": ["tests/core/rework"],
    "proving": ["tests/core/proving"],
    "memory/finding": ["tests/core/memory"],
}
EQUIVALENT = Path(__file__).with_name("equivalent.txt")
# imported once, before a process is forked for each change
PRELOADED = ("numpy", "scipy.stats", "scipy.optimize", "polars", "jsonschema", "hypothesis")
# Tests of whole answers and of limits first: most changes show there. Of the others, the quickest.
OF_LIMITS = re.compile(r"test_(limits|approved)")
MOST_TESTS = 900


def main() -> int:
    """Try every change of the packages; 1 where one falls short of the bar."""
    parser = argparse.ArgumentParser(prog="./test --mutants", description=__doc__)
    parser.add_argument("package", nargs="*", help=f"of {', '.join(OWNED)}")
    parser.add_argument("--share", type=float, default=1.0, help="try so many of the changes, chosen at random")
    parser.add_argument("--at-least", type=float, default=0.9, help="the share that must be noticed (0.9)")
    parser.add_argument("--module", default="", help="only modules whose name holds this")
    parser.add_argument("--again", type=Path, help="only what the run whose output this is did not notice")
    chosen = parser.parse_args()
    if unknown := [package for package in chosen.package if package not in OWNED]:
        parser.error(f"found {', '.join(unknown)}, expected {', '.join(OWNED)}")
    for module in PRELOADED:
        __import__(module)
    short = False
    for package in chosen.package or OWNED:
        short |= _package(package, chosen) < chosen.at_least
    return 1 if short else 0


def _package(package: str, chosen: argparse.Namespace) -> float:
    begun = time.monotonic()
    paths = [
        path
        for path in sorted((CORE / package).glob("*.py"))
        if path.name != "__init__.py" and chosen.module in path.name
    ]
    covering, seconds = _covered(OWNED[package], paths)
    equal, former = _equivalent(), _not_noticed(chosen.again)
    changes: list[tuple[Path, Change]] = []
    for path in paths:
        lines = path.read_text().splitlines()
        for change in changes_of(path.read_text()):
            key = (str(path.relative_to(CORE)), lines[change.line - 1].strip(), f"{change.before} -> {change.after}")
            told = (key[0], change.before, change.after)
            if key not in equal and (former is None or told in former):
                changes.append((path, change))
    if chosen.share < 1:
        changes = random.Random(int(chosen.share * 1000)).sample(changes, int(len(changes) * chosen.share))
    trials = []
    for path, change in changes:
        # what a module does as it is imported shows in any test, first in those that run code of it
        runs, own = covering[str(path), 0], covering[str(path), change.line] or set(seconds)
        tests = sorted(own, key=lambda test: (test not in runs, not OF_LIMITS.search(test), seconds.get(test, 0.0)))
        tests = tests[:MOST_TESTS]
        name = ".".join(path.relative_to(ROOT).with_suffix("").parts)
        trials.append(Trial(name, path, change.tree, tests, sum(seconds.get(test, 0.0) for test in tests)))
    _see_that_no_change_is_no_change(trials)
    owned = [number for number, trial in enumerate(trials) if trial.tests]

    def tell(number: int) -> None:
        path, change = changes[number]
        where = f"{path.relative_to(CORE)}:{change.line}"
        print(f"  not noticed  {where}  {change.before}  ->  {change.after}", flush=True)

    # as soon as it is known: a run of an hour that is ended early has told what it found
    for number in sorted(set(range(len(trials))) - set(owned)):
        tell(number)
    tried = [trials[number] for number in owned]
    noticed = noticed_all(tried, at_once=2, told=lambda number, seen: None if seen else tell(owned[number]))
    noticed += [False] * (len(trials) - len(owned))
    caught = sum(noticed) / max(len(noticed), 1)
    took = time.monotonic() - begun
    print(f"{package}: {sum(noticed)} of {len(noticed)} changes noticed ({caught:.1%}), {took:.0f} s", flush=True)
    return caught


def _see_that_no_change_is_no_change(trials: list[Trial]) -> None:
    """The tests pass on each module as it is, imported as changed ones are: else every change would be noticed."""
    as_they_are = {}
    for trial in trials:
        if trial.tests:
            tree = ast.parse(trial.path.read_text())
            as_they_are[trial.path] = replace(trial, tree=tree, usual_s=max(trial.usual_s, 10.0))
    for trial, failed in zip(as_they_are.values(), noticed_all(list(as_they_are.values()), at_once=2), strict=True):
        if failed:
            raise SystemExit(f"found tests that fail on {trial.path.name} as it is, expected them to pass")


def _covered(tests: list[str], paths: list[Path]) -> tuple[dict[tuple[str, int], set[str]], dict[str, float]]:
    """The tests that run each line, and every one for a module's own lines (line 0); how long each test takes."""
    import coverage

    with tempfile.TemporaryDirectory() as folder:
        data = Path(folder) / "coverage"
        command = [sys.executable, "-m", "tests.mutants.traced", str(data), *OPTIONS[1:], *tests]
        done = subprocess.run(command, cwd=ROOT, check=False, capture_output=True, text=True)
        if done.returncode:
            raise SystemExit(f"the tests fail as they are:\n{done.stdout[-3000:]}{done.stderr[-2000:]}")
        read = coverage.CoverageData(basename=str(data))
        read.read()
        durations = dict(line.split("\t") for line in (data.with_suffix(".times")).read_text().splitlines())
        covering: dict[tuple[str, int], set[str]] = defaultdict(set)
        for path in paths:
            for line, contexts in read.contexts_by_lineno(str(path)).items():
                named = {context for context in contexts if context}
                covering[str(path), line] |= named
                covering[str(path), 0] |= named
    return covering, {test: float(took) for test, took in durations.items()}


def _not_noticed(former: Path | None) -> set[tuple[str, str, str]] | None:
    """The changes that a former run told of, by module: lines may have moved since. None where there was no run."""
    if former is None:
        return None
    told = re.compile(r"  not noticed  (\S+):\d+  (.+)  ->  (.+)")
    found = (told.fullmatch(line) for line in former.read_text().splitlines())
    return {(match[1], match[2], match[3]) for match in found if match}


def _equivalent() -> set[tuple[str, str, str]]:
    """Changes that change nothing: module, line and change, each with the reason in the file."""
    known = set()
    for line in EQUIVALENT.read_text().splitlines():
        if line.strip() and not line.startswith("#"):
            module, text, change, _reason = (part.strip() for part in line.split(" | "))
            known.add((module, text, change))
    return known


if __name__ == "__main__":
    sys.exit(main())
