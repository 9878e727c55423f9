"""What the bench answers, written down by the same services as if a person had entered it on the step's screen."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import timedelta
from typing import Any
from uuid import UUID, uuid5

from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone

from uvrix.core.boards.contacts import lanes_of
from uvrix.core.boards.model import Board
from uvrix.core.case.names import contact
from uvrix.core.errors import quoted
from uvrix.core.look.regions import regions
from uvrix.core.memory.typed import TypedRow, tally_file
from uvrix.core.proving.log import read_log
from uvrix.core.proving.protocol import BY_HAND, Check
from uvrix.core.virtual.test_computer import COLUMNS, identity, run_log
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.arrive.services import NewSymptom, NewTrial, enter_trial, say_symptom
from uvrix.shop.bench.services import DroppedReport, add_run
from uvrix.shop.case.acting import NewAct, enter_act
from uvrix.shop.config.problems import Problem
from uvrix.shop.jobs.models import Job, of_the_shop
from uvrix.shop.jobs.rows import keep_row
from uvrix.shop.look.services import NewFinding, Spot, enter_finding, look_at
from uvrix.shop.ohms.models import PowerState
from uvrix.shop.ohms.services import NewPower, NewReading, enter_reading, set_power_state, tick
from uvrix.shop.proving.models import CardIdentity, CheckSaid, ProofFigure
from uvrix.shop.proving.queries import checks_of
from uvrix.shop.proving.services import NewLog, NewSaid, keep_figure, keep_read, say_check
from uvrix.shop.rework.services import note_lot
from uvrix.shop.shorts.services import NewInjection, enter_glow, enter_injection
from uvrix.shop.volts.services import NewDraw, NewRung, enter_draw, enter_rung

# What the virtual test computer's core settles at under load, degrees Celsius; its score where no other card has one.
LOADED_C, SCORE = 72.0, 10_000.0
# What stands beside an entry's own key.
BESIDE = frozenset({"at", "by", "note", "site", "chip"})
LOGGED = frozenset({"stress", "clocks", "sensors"})
# A run takes this many minutes longer than its check asks for.
LONGER_MINUTES = 5.0


@dataclass(frozen=True, slots=True)
class Written:
    """Whose job an answer is written on, under which id, on which board; `despite` what a guard says."""

    job: Job
    id: UUID
    board: Board
    by: User
    despite: bool = False


def write(entry: Mapping[str, Any], of: Written) -> None:
    """One entry of a case (docs/formats §17) as the row of its step. Raises Problem as its service does."""
    if "did" in entry:
        new = NewAct(of.id, entry["did"], "rework", entry.get("site", ""), chip_in=str(entry.get("chip", "")))
        enter_act(of.job, new, of.by)
        return
    key = next((key for key in _WRITES if key in entry), None)
    if key is None:
        found = quoted(next((key for key in entry if key not in BESIDE), ""))
        detail = gettext("found {found}, expected what a virtual card can begin with: {known}, did", found=found,
                         known=", ".join(_WRITES))  # fmt: skip
        raise Problem(422, "does-not-fit", detail)
    _WRITES[key](entry[key], of)


def _symptom(value: Any, of: Written) -> None:
    say_symptom(of.job, NewSymptom(of.id, "always", kinds=tuple(value)), of.by)


def _trial(value: Any, of: Written) -> None:
    enter_trial(of.job, NewTrial(of.id, value["changed"], value["shows"]), of.by)


def _seen(value: Any, of: Written) -> None:
    part = value.get("part", "")
    if contact(part):
        spot = Spot("front" if part.startswith("B") else "back")
        enter_finding(of.job, NewFinding(of.id, value["kind"], spot, contact=part), of.by)
        return
    enter_finding(of.job, NewFinding(of.id, value["kind"], Spot("front"), part=part), of.by)


def _reading(value: Any, of: Written) -> None:
    new = NewReading(of.id, value["point"], value["quantity"], str(value["value"]), value.get("mode", ""), sure=True)
    enter_reading(of.job, new, of.by)


def _ticked(value: Any, of: Written) -> None:
    tick(of.job, of.id, value, "", of.by)


def _injected(value: Any, of: Written) -> None:
    rails = {point.id: point.net for point in of.board.points}
    point = value["point"]
    rail = rails.get(point) or point
    new = NewInjection(of.id, rail, value["volts"], value["amps"], point if point in rails else "",
                       on_purpose=of.despite)  # fmt: skip
    enter_injection(of.job, new, of.by)


def _glow(value: Any, of: Written) -> None:
    fed = of.job.injection_rows.last()
    if fed is None:
        raise Problem(409, "not-fed", gettext("Feed a rail first: the camera shows what warms from it."))
    spot = value or {"side": "", "x_mm": 0.0, "y_mm": 0.0}
    enter_glow(fed, of.id, spot["side"], (spot["x_mm"], spot["y_mm"]), of.by)


def _power(value: Any, of: Written) -> None:
    if of.despite:
        keep_row(PowerState, of.job, of.id, of.by, state=value, plugs_in=value != "off")
    else:
        set_power_state(of.job, NewPower(of.id, value, plugs_in=True), of.by)


def _draw(value: Any, of: Written) -> None:
    enter_draw(of.job, NewDraw(of.id, value["volts"], value["amps"], value.get("limit")), of.by)


def _rung(value: Any, of: Written) -> None:
    enter_rung(of.job, NewRung(of.id, value, "card" if value == "picture" else ""), of.by)


def _run(value: Any, of: Written) -> None:
    condition = tuple(value.get("condition", ()))
    keys = {"result": value.get("result", "fail"), "condition": ", ".join(condition), "board": of.board.id}
    if value.get("refusal"):
        keys["refusal"] = value["refusal"]
    lines = value.get("dq", {})
    errors = value.get("errors", {})
    if errors:
        rows = [TypedRow(channel, many, tuple(lines.get(channel, ()))) for channel, many in sorted(errors.items())]
        data = tally_file(rows, keys)
    else:
        data = "".join([*(f"# {name}: {word}\n" for name, word in keys.items()), "channel\n"]).encode()
    file = SimpleUploadedFile(f"practice-{of.job.runs.count() + 1}.csv", data)
    add_run(of.job, DroppedReport(of.id, file, condition, another=True, board_confirmed=True), of.by)


def _looked(value: Any, of: Written) -> None:
    places = [region.id for region in regions(of.board) if value in {"all", region.side}] or [value]
    for place in places:
        look_at(of.job, uuid5(of.id, place), place, clear=True, by=of.by)


def _lot(value: Any, of: Written) -> None:
    note_lot(of.job, of.id, f"{of.job.card.serial}/{value['site']}", value["lot"], of.by)


def _checked(value: Any, of: Written) -> None:
    """A check of the proof: what the test computer would bring, or a person's word."""
    check = next((candidate for candidate in checks_of(of.job) if candidate.id == value["check"]), None)
    if check is None:
        raise Problem(422, "no-check", gettext("found {check}, expected a check of this model's protocol",
                                               check=repr(value["check"])))  # fmt: skip
    if not value["passed"]:
        _say(check, of, passed=False, note=gettext("The fault shows."))
    elif check.kind in BY_HAND:
        _say(check, of, passed=True)
    elif check.kind in LOGGED:
        minutes = (check.minutes or 10.0) + LONGER_MINUTES
        log = read_log(run_log(f"practice {of.job.pk} {of.id}", LOADED_C, minutes).encode(), COLUMNS)
        keep_read(of.job, NewLog(of.id, f"{check.id}.csv", b"", check.kind), log, of.by)
    elif check.kind in {"identity", "link"}:
        model = of.job.card.model
        document = identity(model.name, of.board.memory_mib, lanes_of(of.board))
        keep_row(CardIdentity, of.job, of.id, of.by, document=document, phase="after")
    elif check.kind == "score":
        of_model = ProofFigure.objects.filter(what="score", phase="after", job__card__model=of.job.card.model_id)
        scores = sorted(of_the_shop(of_model).values_list("value", flat=True))
        keep_figure(of.job, of.id, ("score", "after", scores[len(scores) // 2] if scores else SCORE), "", of.by)
    else:
        follows = gettext("{name} follows from what is measured: read it.", name=check.name)
        raise Problem(409, "follows", follows)


def _say(check: Check, of: Written, *, passed: bool, note: str = "") -> None:
    """What a person says of a check, of each of its parts by itself."""
    off = timezone.now() - timedelta(hours=check.hours or 8) if check.kind == "cold-start" else None
    for part in check.parts or ("",):
        new = NewSaid(uuid5(of.id, part) if part else of.id, check.id, passed, check.minutes, off, part, note)
        if passed or check.kind in BY_HAND:
            say_check(of.job, new, of.by)
        else:
            keep_row(CheckSaid, of.job, new.id, of.by, check_id=check.id, passed=False, note=note)


_WRITES: Mapping[str, Callable[[Any, Written], None]] = {
    "symptom": _symptom,
    "trial": _trial,
    "seen": _seen,
    "reading": _reading,
    "ticked": _ticked,
    "injected": _injected,
    "glow": _glow,
    "power": _power,
    "draw": _draw,
    "rung": _rung,
    "run": _run,
    "looked": _looked,
    "lot": _lot,
    "checked": _checked,
}
