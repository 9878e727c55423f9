"""How often findings are right, on boards made at random, from two generators; and what chances mean."""

from __future__ import annotations

import io
import itertools
import json
from collections import defaultdict
from dataclasses import dataclass, field

import numpy as np

from tests.calibration import second
from uvrix.core.boards.document import read_board
from uvrix.core.boards.walk import places
from uvrix.core.memory.locate import locate
from uvrix.core.memory.reading import read_report
from uvrix.core.memory.sites import board_channels
from uvrix.core.virtual.boards import random_board
from uvrix.core.virtual.reports import simulate

BINS = (0.0, 0.5, 0.7, 0.8, 0.9, 0.95, 1.01)


@dataclass
class Tally:
    """Outcomes by kind, and (stated chance, right) of every named finding."""

    kinds: dict[str, list[tuple[bool, bool]]] = field(default_factory=lambda: defaultdict(list))
    stated: list[tuple[float, bool]] = field(default_factory=list)
    wrong: list[tuple[object, ...]] = field(default_factory=list)

    def add(self, truth, finding, detail) -> None:
        kind, designators = truth
        right_site = set(finding.designators) == set(designators)
        right_kind = finding.kind == kind
        self.kinds[kind].append((right_site, right_kind))
        if finding.kind != "unclear":
            self.stated.append((finding.chance, right_site and right_kind))
        if not (right_site and right_kind):
            self.wrong.append((kind, sorted(designators), finding.kind, finding.designators, finding.chance, detail))

    def share(self, kind, which) -> float:
        return float(np.mean([row[which] for row in self.kinds[kind]]))

    @property
    def sites_right(self) -> float:
        return float(np.mean([one[0] for ones in self.kinds.values() for one in ones]))

    @property
    def brier(self) -> float:
        return float(np.mean([(chance - right) ** 2 for chance, right in self.stated]))

    def table(self) -> str:
        lines = ["| kind | reports | right chips | right kind |", "| --- | --- | --- | --- |"]
        for kind in sorted(self.kinds):
            many = len(self.kinds[kind])
            lines.append(f"| {kind} | {many} | {self.share(kind, 0):.3f} | {self.share(kind, 1):.3f} |")
        return "\n".join(lines)

    def reliability(self) -> str:
        lines = ["| stated chance | findings | mean stated | right |", "| --- | --- | --- | --- |"]
        for low, high in itertools.pairwise(BINS):
            inside = [(chance, right) for chance, right in self.stated if low <= chance < high]
            if inside:
                mean, right = np.mean([c for c, _ in inside]), np.mean([r for _, r in inside])
                lines.append(f"| {low:.2f} to {min(high, 1):.2f} | {len(inside)} | {mean:.3f} | {right:.3f} |")
        return "\n".join(lines)


def board_of(seed):
    """A random board and its document."""
    document = random_board(np.random.default_rng(seed))
    return read_board(json.dumps(document).encode()), document


def finding_of(board, *texts):
    channels = board_channels(board)
    reports = [(f"run{n}.csv", read_report(io.BytesIO(text.encode()), channels)) for n, text in enumerate(texts)]
    return locate(board, reports).finding


def joint_runs(failing, clean, rng):
    """Runs of a joint: under force it fails, at rest it does not; `failing` and `clean` make a run of a condition."""
    rest, force = ["cold", "warm", "flexed down"], ["flexed up", "pressed M101", "flexed up"]
    runs = [clean(condition) for condition in rest[: int(rng.integers(1, 4))]]
    runs += [failing(condition) for condition in force[: int(rng.integers(1, 4))]]
    return [runs[int(n)] for n in rng.permutation(len(runs))]


def first_generator(reports, errors, seed, noise=0.1) -> Tally:
    """The virtual card."""
    tally = Tally()
    done = number = 0
    while done < reports:
        number += 1
        board, document = board_of((seed, number))
        chips = chips_with_channels(board, document)
        kinds = [*second.faults_on(chips), "joint"]
        kind = kinds[number % len(kinds)]
        rng = np.random.default_rng((seed, number, 1))
        text = fault_text(kind, chips, rng)
        if kind == "joint":
            tally.add((kind, [text.partition(":")[2]]), first_joint(board, text, errors, noise, rng), (seed, number))
            done += 1
            continue
        made = simulate(board, text, errors, seed * 100_003 + number, noise=noise)
        tally.add((kind, made.fault.designators), finding_of(board, made.report), (seed, number))
        done += 1
    return tally


def first_joint(board, text, errors, noise, rng):
    def failing(condition):
        return simulate(board, text, errors, int(rng.integers(1 << 40)), noise=noise, condition=condition).report

    runs = joint_runs(failing, lambda condition: f"# result: pass\n# condition: {condition}\nchannel\n", rng)
    return finding_of(board, *runs)


def second_joint(board, document, chips, errors, seed):
    """A fault of one chip by the second generator, in runs of which some are clean but for a stray error."""
    rng = np.random.default_rng(seed)
    kind = str(rng.choice(["dq-line", "site", "byte-lane"]))
    chip = chips[int(rng.integers(len(chips)))]
    made = {}

    def failing(condition):
        text, made["names"], _ = second.report(document, chips, kind, errors, seed, only=chip)
        head, _, body = text.partition("# condition: ")
        return f"{head}# condition: {condition}\n{body.partition(chr(10))[2]}"

    def clean(condition):
        stray = f"{chip['channel']},1\n" if rng.random() < 0.2 else ""
        result = "fail" if stray else "pass"
        return f"# result: {result}\n# condition: {condition}\nchannel,bits\n{stray}"

    runs = joint_runs(failing, clean, rng)
    return ("joint", made["names"]), finding_of(board, *runs)


def second_generator(reports, errors, seed) -> Tally:
    """Reports that the findings' authors' simulator did not make."""
    tally = Tally()
    for number in range(reports):
        board, document = board_of((seed, number, 2))
        chips = chips_with_channels(board, document)
        kinds = [*second.faults_on(chips), "joint"]
        kind = kinds[number % len(kinds)]
        if kind == "joint":
            truth, finding = second_joint(board, document, chips, errors, seed * 7919 + number)
            tally.add(truth, finding, (seed, number))
            continue
        text, designators, _ = second.report(document, chips, kind, errors, seed * 7919 + number)
        tally.add((kind, designators), finding_of(board, text), (seed, number))
    return tally


def chips_with_channels(board, document):
    channels = {place.site.designator: place.channel for place in places(board.core, board.walk, board.sites)}
    return second.chips_of(document, channels)


def fault_text(kind, chips, rng) -> str:
    if kind == "controller":
        letters = sorted({c["channel"][0] for c in chips})
        both = [x for x in letters if len({c["channel"] for c in chips if c["channel"][0] == x}) == 2]
        return f"controller:{rng.choice(both)}"
    if kind == "rail-group":
        return f"rail-group:{rng.choice(sorted(g for g in {c['group'] for c in chips} if second.good_group(chips, g)))}"
    if kind == "everywhere":
        return "everywhere"
    fitting = [c for c in chips if kind != "half" or len(second.lines_of(c)) == 32]
    return f"{kind}:{rng.choice([c['designator'] for c in fitting])}"
