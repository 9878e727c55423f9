"""Runs the tests that own a module against a change of it, in a process that has imported everything else."""

from __future__ import annotations

import ast
import contextlib
import importlib.abc
import importlib.util
import io
import os
import signal
import sys
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path
from types import ModuleType

import pytest

ROOT = Path(__file__).parents[2]
OPTIONS = ["-x", "-q", "--no-header", "-p", "no:cacheprovider", "--import-mode=importlib", "--strict-markers"]
OPTIONS += ["-c", str(ROOT / "tests/mutants/pytest.ini"), "--rootdir", str(ROOT), "--confcutdir", str(ROOT)]
UNUSED = ("django", "xdist", "schemathesis", "anyio", "looponfail", "rerunfailures")
OPTIONS += [word for plugin in UNUSED for word in ("-p", f"no:{plugin}")]
# A change that makes a loop endless is noticed by its test's never ending.
LEAST_SECONDS, TIMES_AS_LONG = 10.0, 20.0
NOTICED, PASSED, NO_TESTS = 1, 0, 5
Told = Callable[[int, bool], None]


class Changed(importlib.abc.MetaPathFinder, importlib.abc.Loader):
    """Imports one module from a changed tree in place of its file."""

    def __init__(self, name: str, path: Path, tree: ast.Module) -> None:
        self.name, self.path, self.tree = name, path, tree

    def find_spec(self, fullname, path, target=None):
        if fullname != self.name:
            return None
        return importlib.util.spec_from_loader(fullname, self, origin=str(self.path))

    def create_module(self, spec):
        return None

    def exec_module(self, module: ModuleType) -> None:
        exec(compile(self.tree, str(self.path), "exec"), module.__dict__)  # noqa: S102 - that is what it is for


@dataclass(frozen=True, slots=True)
class Trial:
    """A change to be tried: the module's name and file, the changed tree, its tests and how long they usually take."""

    name: str
    path: Path
    tree: ast.Module
    tests: Sequence[str]
    usual_s: float


def begun(trial: Trial) -> int:
    """Fork a process that runs the tests on the changed module; gives its id."""
    child = os.fork()
    if child:
        return child
    os.setpgid(0, 0)
    os.environ["UVRIX_MUTANT"] = "1"
    sys.meta_path.insert(0, Changed(trial.name, trial.path, ast.fix_missing_locations(trial.tree)))
    code = NOTICED
    silent = os.open(os.devnull, os.O_WRONLY)
    os.dup2(silent, 1)
    os.dup2(silent, 2)
    with contextlib.suppress(BaseException), contextlib.redirect_stdout(io.StringIO()):
        code = int(pytest.main([*OPTIONS, *trial.tests]))
    os._exit(NOTICED if code not in {PASSED, NO_TESTS} else code)


def noticed_all(trials: Sequence[Trial], at_once: int, *, told: Told | None = None) -> list[bool]:
    """Whether the tests notice each change; `at_once` run side by side, `told` is called as each has ended."""
    said: list[bool] = [False] * len(trials)
    waiting = list(enumerate(trials))[::-1]
    running: dict[int, tuple[int, float]] = {}
    while waiting or running:
        while waiting and len(running) < at_once:
            number, trial = waiting.pop()
            limit = max(LEAST_SECONDS, TIMES_AS_LONG * trial.usual_s)
            running[begun(trial)] = (number, time.monotonic() + limit)
        child, status = os.waitpid(-1, os.WNOHANG)
        if child:
            number, _ = running.pop(child)
            said[number] = os.waitstatus_to_exitcode(status) != PASSED
            if told:
                told(number, said[number])
            continue
        for child, (_, end) in running.items():
            if time.monotonic() > end:
                os.killpg(child, signal.SIGKILL)
        time.sleep(0.01)
    return said
