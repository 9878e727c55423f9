"""Findings on boards and seeds that nobody looked at, from both generators.

`./test --calibrate` prints the tables with 2,000 reports each.
"""

from __future__ import annotations

import math
import os

import pytest

from tests.calibration.measure import first_generator, second_generator

REPORTS = int(os.environ.get("UVRIX_CALIBRATE", "0"))
# The usual run takes a bounded share: enough to see that something broke, not to print a table.
USUAL = 110
SEED = int(os.environ.get("UVRIX_SEED", "20261125"))


@pytest.mark.in_turn(2)
@pytest.mark.parametrize("generator", [first_generator, second_generator])
@pytest.mark.parametrize(("errors", "kinds_right", "sites_right"), [(50, 0.95, 0.98), (5, 0.80, 0.85)])
def test_findings_are_right_as_often_as_the_bars_say(generator, errors, kinds_right, sites_right):
    tally = generator(REPORTS or USUAL, errors, SEED)
    if REPORTS:
        print(f"\n{generator.__name__}, {errors} errors, 10 % noise, seed {SEED}")
        print(
            tally.table(),
            f"\nright chips {tally.sites_right:.4f}, Brier score {tally.brier:.4f}\n{tally.reliability()}",
        )
    # a share of few reports strays from the bar by chance: three standard errors of it are allowed
    for kind, ones in tally.kinds.items():
        slack = 3 * math.sqrt(kinds_right * (1 - kinds_right) / len(ones))
        assert tally.share(kind, 1) >= kinds_right - slack, kind
    reports = sum(len(ones) for ones in tally.kinds.values())
    assert tally.sites_right >= sites_right - 3 * math.sqrt(sites_right * (1 - sites_right) / reports)
    surest = [right for chance, right in tally.stated if chance >= 0.9]
    assert sum(surest) / len(surest) >= 0.9
