"""What the proof has, and what it lacks (docs/trade §7.1): evidence after the last act of any kind.

No reference is no pass: a check passes only by what can fail.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from uvrix.core.boards.model import Board
from uvrix.core.case.card import Card
from uvrix.core.case.entries import Checked, Climbed, Drawn, Entry, Run, last_act
from uvrix.core.case.rails import Readings, Standing
from uvrix.core.proving.protocol import AGAIN, USUAL
from uvrix.core.readings.notation import COLD
from uvrix.core.startup.chain import chain_of
from uvrix.core.startup.ladder import WORDS, judge_draw
from uvrix.core.values.edges import over, under
from uvrix.language import gettext

State = Literal["passed", "failed", "open"]
# What follows from measurements is not said to have passed; a draw that nobody knows the usual of is judged by hand.
MEASURED = frozenset({"readings", "current", "ladder", "memory-cold", "memory-warm"})
MEMORY = {"memory-cold": "cold", "memory-warm": "warm"}


@dataclass(frozen=True, slots=True)
class ProofCheck:
    """A check of the proof and how it stands."""

    check: str
    state: State
    why: str


@dataclass(frozen=True, slots=True)
class Proof:
    """`since`: the entry after which evidence counts, None where nothing was done."""

    since: int | None
    checks: tuple[ProofCheck, ...]

    @property
    def failed(self) -> tuple[ProofCheck, ...]:
        """The checks that failed."""
        return tuple(check for check in self.checks if check.state == "failed")

    @property
    def open(self) -> tuple[ProofCheck, ...]:
        """The checks that are open."""
        return tuple(check for check in self.checks if check.state == "open")


def proof_of(
    board: Board | None,
    entries: Sequence[Entry],
    card: Card,
    readings: Readings,
    *,
    idle: tuple[float, float] | None = None,
    begun: int | None = None,
) -> Proof:
    """Every check of the usual protocol, by what came after the last act, or after the entry `begun` where later."""
    since = max((number for number in (last_act(entries), begun) if number is not None), default=None)
    after = [entry for entry in entries if since is None or entry.number > since]
    said = {entry.what.check: entry.what.passed for entry in after if isinstance(entry.what, Checked)}
    measured = measured_since(board, entries, card, readings, idle=idle, since=since)
    mild = _mild(readings.since(since), readings)
    return Proof(
        since, tuple(_check(str(entry["id"]), measured, said, str(entry["fails"]), mild=mild) for entry in USUAL)
    )


def measured_since(
    board: Board | None,
    entries: Sequence[Entry],
    card: Card,
    readings: Readings,
    *,
    idle: tuple[float, float] | None,
    since: int | None,
) -> dict[str, tuple[State, str] | None]:
    """What each check comes to that is measured (MEASURED), and why; None where nothing was since an entry."""
    after = [entry for entry in entries if since is None or entry.number > since]
    draws = [entry.what for entry in after if isinstance(entry.what, Drawn)]
    runs = [entry.what for entry in after if isinstance(entry.what, Run)]
    return {
        "readings": _readings(readings.since(since), readings),
        "current": _current(idle or _mapped_idle(board), draws),
        "ladder": _ladder([entry.what for entry in after if isinstance(entry.what, Climbed)], card),
        **{check: _memory(runs, condition) for check, condition in MEMORY.items()},
        AGAIN: _memory(_after_warm(runs), "cold"),
    }


def _check(
    check: str, measured: dict[str, tuple[State, str] | None], said: dict[str, bool], fails: str, *, mild: bool
) -> ProofCheck:
    """One check: that it failed, whoever says so; else what was measured; else what was said by hand."""
    if said.get(check) is False:
        return ProofCheck(check, "failed", gettext("Failed by hand: {fails}.", fails=fails))
    found = measured.get(check)
    if check == "readings" and said.get(check) and found and found[0] == "failed" and mild:
        return ProofCheck(
            check, "passed", gettext("A little outside its band, accepted by hand: {found}", found=found[1])
        )
    if found is not None and (found[0] != "open" or check not in said):
        return ProofCheck(check, *found)
    if check in said and (check not in MEASURED or (check == "current" and found is not None)):
        return ProofCheck(check, "passed", gettext("Ticked by hand."))
    if check in said:
        return ProofCheck(check, "open", gettext("Ticked by hand; nothing was measured that could have failed."))
    return ProofCheck(check, "open", found[1] if found else gettext("Not done since the last act."))


def _readings(since: Sequence[Standing], readings: Readings) -> tuple[State, str] | None:
    cold = [standing for standing in since if standing.reading.quantity in COLD]
    if not cold:
        return None
    bad = [standing for standing in cold if standing.judged.verdict not in {"within", "no-reference"}]
    low = [reading for rail in readings.touches.inputs if (reading := readings.low_at(rail)) and reading in since]
    if bad or low:
        worst = (bad or low)[0]
        return "failed", f"{worst.reading.point}: {worst.judged.why}"
    within = [standing for standing in cold if standing.judged.verdict == "within"]
    without = [standing.reading.point for standing in cold if standing.judged.verdict == "no-reference"]
    if not within:
        return "open", gettext("There is no good card behind any of them: nothing here could have failed.")
    also = gettext("; {names} without a good card to hold against", names=", ".join(without[:4])) if without else ""
    return "passed", gettext("{number} within what good cards read{also}.", number=len(within), also=also)


def _mild(since: Sequence[Standing], readings: Readings) -> bool:
    """Whether what is outside its band is so by little: no short, nothing open, no input under the guard.

    A band holds 99 of 100 good cards, so that one in a hundred readings of good cards lies outside.
    """
    words = {standing.judged.verdict for standing in since if standing.reading.quantity in COLD}
    low = any(readings.low_at(rail) for rail in readings.touches.inputs)
    return not low and words <= {"within", "no-reference", "high", "low"}


def _mapped_idle(board: Board | None) -> tuple[float, float] | None:
    """What the model's own map says it draws at rest."""
    mapped = board is not None and board.startup_nodes
    return chain_of(board).idle if board is not None and mapped else None


def _current(idle: tuple[float, float] | None, draws: Sequence[Drawn]) -> tuple[State, str] | None:
    if not draws:
        return None
    found = judge_draw(draws[-1].amps, idle, limit_amps=draws[-1].limit)
    if idle is None or found.word in {"unknown", "limited"}:
        return "open", found.says
    inside = not under(draws[-1].amps, idle[0]) and not over(draws[-1].amps, idle[1])
    return ("passed" if inside else "failed"), found.says


def _ladder(rungs: Sequence[Climbed], card: Card) -> tuple[State, str] | None:
    if not rungs:
        return None
    rung = rungs[-1].rung
    if rung == "3d":
        return "passed", gettext("It comes to 3D.")
    said = gettext("It comes to “{rung}”", rung=WORDS[rung])  # type: ignore[index]
    if card.cooler_off is not None:
        return "open", gettext("{said}; with the cooler off it is not tried further.", said=said)
    return "failed", gettext("{said}, not to 3D.", said=said)


def _after_warm(runs: Sequence[Run]) -> Sequence[Run]:
    """The runs after the last warm one that told something; none where there was no warm one."""
    warm = [at for at, run in enumerate(runs) if "warm" in run.report.meta.condition and not run.refused]
    return runs[warm[-1] + 1 :] if warm else ()


def _memory(runs: Sequence[Run], condition: str) -> tuple[State, str] | None:
    under = [run for run in runs if condition in run.report.meta.condition]
    told = [run for run in under if not run.refused]
    if not under:
        return None
    if not told:
        return "open", gettext("The tester refused.")
    last = told[-1]
    if last.failed:
        return "failed", gettext("{errors} errors.", errors=last.report.errors) if last.report.errors else gettext(
            "The tester reports a failure."
        )
    if last.clean:
        return "passed", gettext("No error.")
    return "open", gettext("It has neither errors nor a result.")
