"""Runs tests once, noting which lines each of them runs and how long it takes: `traced DATA PYTEST-ARGUMENTS…`."""

from __future__ import annotations

import os
import sys
from pathlib import Path

import coverage
import pytest


class Noting:
    """Names the running test to coverage, and keeps its time."""

    def __init__(self, tracer: coverage.Coverage) -> None:
        self.tracer = tracer
        self.times: dict[str, float] = {}

    @pytest.hookimpl(wrapper=True)
    def pytest_runtest_protocol(self, item):
        self.tracer.switch_context(item.nodeid)
        answer = yield
        self.tracer.switch_context("")
        return answer

    def pytest_runtest_logreport(self, report):
        self.times[report.nodeid] = self.times.get(report.nodeid, 0.0) + report.duration


def main() -> int:
    """Run them; the data file is coverage's own, with the times beside it."""
    os.environ["UVRIX_MUTANT"] = "1"
    data = Path(sys.argv[1])
    tracer = coverage.Coverage(data_file=str(data), include=["uvrix/core/*"])
    tracer.start()
    noting = Noting(tracer)
    code = int(pytest.main(sys.argv[2:], plugins=[noting]))
    tracer.stop()
    tracer.save()
    data.with_suffix(".times").write_text("".join(f"{test}\t{took}\n" for test, took in noting.times.items()))
    return code


if __name__ == "__main__":
    sys.exit(main())
