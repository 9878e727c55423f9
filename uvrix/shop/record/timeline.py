"""Everything that happened on a job, from every step, in one line of time.

One function a step; each reads its rows in a fixed number of queries. A thing taken back stays, with who took it back.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import datetime
from typing import Any, cast

from django.db.models import Q

from uvrix.core.arrive.elimination import BY_ID
from uvrix.core.arrive.intake import EVIDENCE, WORDS
from uvrix.core.boards.contacts import contact_words
from uvrix.core.look.findings import KINDS as SEEN
from uvrix.core.memory.finding.reasons import title
from uvrix.core.planning.causes import EFFECTS
from uvrix.core.promises import KINDS as OWED
from uvrix.core.readings.notation import Quantity, shown
from uvrix.core.rework.acts import DOES, Do
from uvrix.core.startup.ladder import WORDS as RUNGS
from uvrix.core.startup.refuted import SAYS as CAME_OF
from uvrix.core.stock.life import MOVES, Move
from uvrix.core.values.codes import code_words
from uvrix.language import gettext, ngettext
from uvrix.shop.accounts.models import User
from uvrix.shop.acts.models import Act
from uvrix.shop.arrive.models import Evidence, EvidenceWord
from uvrix.shop.jobs.boards import boards_of
from uvrix.shop.jobs.models import Job, JobBoard, WhoseMove
from uvrix.shop.jobs.rows import has_rows, knowing, rows_of
from uvrix.shop.jobs.services import CHANGEABLE
from uvrix.shop.offers.models import Offer, OfferAnswer
from uvrix.shop.ohms.models import Reading
from uvrix.shop.ohms.queries import measured, value_of
from uvrix.shop.returning.models import Comeback, Return
from uvrix.shop.returning.queries import CAUSES
from uvrix.shop.stock.models import StockMove


@dataclass(frozen=True, slots=True)
class Event:
    """Something that happened: `id` is its permalink, `corrects` the id of what it takes back or puts right."""

    id: str
    at: datetime
    by: str
    step: str
    kind: str
    words: str
    corrects: str = ""


def timeline(job: Job) -> list[Event]:
    """Every event of a job, newest first."""
    with knowing(job):
        found = [event for source in SOURCES for event in source(job)]
    return sorted(found, key=lambda event: (event.at, event.id), reverse=True)


def _event(row: Any, step: str, kind: str, words: str, corrects: str = "") -> Event:
    return Event(str(row.pk), row.at, _name(row.by), step, kind, words, corrects)


def _taken_back(row: Any, step: str, of: Any, at: datetime) -> Event:
    return Event(f"{of.pk}-back", at, _name(row.by), step, "correction", gettext("Taken back."), str(of.pk))


def _name(user: User | None) -> str:
    return user.shown_name if user else ""


def _opened(job: Job) -> Iterator[Event]:
    yield Event(
        f"job-{job.pk}",
        job.opened_at,
        _name(job.opened_by),
        "arrive",
        "job",
        gettext("Job opened: “{complaint}”", complaint=job.complaint),
    )
    if job.closed_at:
        yield Event(f"job-{job.pk}-closed", job.closed_at, "", "return", "job", gettext("Job closed."))


def _changes(job: Job) -> Iterator[Event]:
    for change in rows_of(job, "jobchange_rows", "by"):
        if said := "; ".join(_change(name, *pair) for name, pair in _in_order(change.changes)):
            yield _event(change, "", "move", f"{said}.")
    for given in rows_of(job, "jobcustomer_rows", "by", "before", "after"):
        reached = given.after.contact or gettext("no contact known")
        words = gettext(
            "Customer is {name} ({reached}), not {name_2} ({contact}).",
            name=given.after.name,
            reached=reached,
            name_2=given.before.name,
            contact=given.before.contact or gettext("none"),
        )
        yield _event(given, "", "customer", words)


def _in_order(changes: dict[str, Any]) -> list[tuple[str, Any]]:
    return [(name, changes[name]) for name in CHANGEABLE if name in changes]


def _change(name: str, before: Any, after: Any) -> str:
    if name == "move":
        return (
            gettext("Back in your hands")
            if after == WhoseMove.HANDS
            else gettext("Waits: {label}", label=WhoseMove(after).label.lower())
        )
    if name == "express":
        return gettext("express") if after else gettext("no longer express")
    words = {"waits_for": gettext("for"), "due": gettext("due"), "place": gettext("shelf place")}[name]
    return f"{words} {after}" if after else gettext("{words} {before} no more", words=words, before=before)


def _notes(job: Job) -> Iterator[Event]:
    for note in rows_of(job, "note_rows", "by"):
        yield _event(note, note.step, "note", note.text, note.corrects)


def _arrived(job: Job) -> Iterator[Event]:
    for intake in rows_of(job, "intakes", "by"):
        missing = gettext("; missing: {missing}", missing=intake.missing) if intake.missing else ""
        yield _event(
            intake,
            "arrive",
            "parcel",
            gettext("Parcel taken in, {serial} checked{missing}.", serial=intake.serial, missing=missing),
        )
    for symptom in rows_of(job, "symptoms", "by"):
        seen = symptom.seen.rstrip(".") or gettext("not described")
        yield _event(
            symptom,
            "arrive",
            "symptom",
            gettext("Symptom: {seen}; shows {often}.", seen=seen, often=code_words(symptom.often)),
        )
    for evidence in rows_of(job, "evidence", "by"):
        said = f": {evidence.text[:200]}" if evidence.text else ""
        yield _event(
            evidence,
            "arrive",
            "evidence",
            gettext(
                "Evidence from {source}, {kind}{said}", source=evidence.source, kind=EVIDENCE[evidence.kind], said=said
            ),
        )
    words = EvidenceWord.objects.filter(evidence__job=job).select_related("by")
    for word in words if has_rows(job, Evidence) else ():
        said = gettext("Evidence: {word}.", word=WORDS[word.word])
        yield Event(f"word-{word.pk}", word.at, _name(word.by), "arrive", "evidence", said, str(word.evidence_id))
    for trial in rows_of(job, "trials", "by", "withdrawal__by"):
        outcome = gettext("shows") if trial.shows else gettext("gone")
        other = ", ".join(sorted(BY_ID[trial.cell].other))
        how = gettext("with another {other}", other=other) if other else gettext("as it came")
        yield _event(
            trial,
            "arrive",
            "test",
            gettext("Tested {how}: {outcome}, tried {tries} times.", how=how, outcome=outcome, tries=trial.tries),
        )
        if hasattr(trial, "withdrawal"):
            yield _taken_back(trial.withdrawal, "arrive", trial, trial.withdrawal.at)
    for called in rows_of(job, "reproductions", "by"):
        yield _event(
            called,
            "arrive",
            "test",
            gettext(
                "Called up: {load}, {minutes} min: {outcome}.",
                load=called.load,
                minutes=f"{called.minutes:g}",
                outcome=called.outcome,
            ),
        )


def _looked(job: Job) -> Iterator[Event]:
    for photograph in rows_of(job, "photographs", "by"):
        before = gettext(" before {before} came off", before=photograph.before) if photograph.before else ""
        yield _event(
            photograph,
            "look",
            "photograph",
            gettext(
                "Photograph of the {side}{before}. {note}",
                side=code_words(photograph.side) or gettext("detail"),
                before=before,
                note=photograph.note,
            ).strip(),
        )
    looks = list(rows_of(job, "region_looks", "by"))
    if looks:
        last = looks[-1]
        many = len({look.region for look in looks if look.clear})
        said = ngettext(
            "{count} region looked at, the last of them now.", "{count} regions looked at, the last of them now.", many
        )
        yield _event(last, "look", "look", said)
    for finding in rows_of(job, "look_findings", "by", "withdrawal__by"):
        part = f": {contact_words(finding.part)}" if finding.part else ""
        yield _event(finding, "look", "finding", f"{SEEN[finding.kind]}{part}. {finding.note}".strip())
        if hasattr(finding, "withdrawal"):
            yield _taken_back(finding.withdrawal, "look", finding, finding.withdrawal.at)
    for step in rows_of(job, "teardowndone_rows", "by"):
        way = gettext("off") if step.way == "off" else gettext("on again")
        yield _event(step, "look", "teardown", f"{step.step_as['what']}: {step.count} {way}.")


def _owed(job: Job) -> Iterator[Event]:
    for promise in rows_of(job, "promise_rows", "by", "kept__by"):
        yield _event(
            promise, "", "promise", gettext("Promised, {kind}: {words}", kind=OWED[promise.kind], words=promise.words)
        )
        if hasattr(promise, "kept"):
            kept = promise.kept
            said = gettext("Done: {words}", words=promise.words)
            yield Event(f"{promise.pk}-kept", kept.at, _name(kept.by), "", "promise", said, str(promise.pk))
    for waiver in rows_of(job, "waivers", "by"):
        said = gettext("Released with this still owed: {reason}", reason=waiver.reason)
        yield Event(f"waiver-{waiver.pk}", waiver.at, _name(waiver.by), "return", "promise", said)


def _thought(job: Job) -> Iterator[Event]:
    words = {"open": gettext("Open"), "ruled-out": gettext("Ruled out"), "confirmed": gettext("Confirmed")}
    for thought in rows_of(job, "hypothesisword_rows", "by"):
        by_what = gettext(", by: {by_what}", by_what=thought.by_what) if thought.by_what else ""
        yield _event(thought, thought.step, "hypothesis", f"{words[thought.state]}: {thought.cause}{by_what}.")


def _act_words(row: Act) -> str:
    """An act in a sentence or two: what was done, for what, what came, what came of it."""
    chip = gettext(", {chip_in} on", chip_in=row.chip_in or row.drawer) if row.chip_in or row.drawer else ""
    rating = f", {row.rating}" if row.rating else ""
    rails = gettext(" for a short on {rails}", rails=", ".join(row.rails)) if row.rails and row.do == "remove" else ""
    node = (
        gettext(" for {node}: {came_of}", node=row.node, came_of=CAME_OF[row.came_of])
        if row.node and row.came_of
        else ""
    )
    done = f"{row.site or row.chip} {DOES[cast('Do', row.do)]}{chip}{rating}{rails}{node}.".strip()
    written = getattr(row, "written", None)
    image = (
        gettext("Image {image_id} written over {old_id}.", image_id=written.image_id[:12], old_id=written.old_id[:12])
        if written
        else ""
    )
    return " ".join(filter(None, (done[:1].upper() + done[1:], image, row.result or row.note)))


def _reworked(job: Job) -> Iterator[Event]:
    for row in rows_of(job, "act_rows", "by", "withdrawal__by", "written"):
        yield _event(row, row.step, "rework", _act_words(row))
        if back := getattr(row, "withdrawal", None):
            yield _taken_back(back, row.step, row, back.at)
    for marks in rows_of(job, "padmarks_rows", "by"):
        yield _event(
            marks,
            "rework",
            "pads",
            gettext("{number} pads of {designator} marked.", number=len(marks.states), designator=marks.designator),
        )
    for curve in rows_of(job, "heatcurve_rows", "by"):
        yield _event(
            curve, "rework", "curve", gettext("Thermocouple curve {name}, {alloy}.", name=curve.name, alloy=curve.alloy)
        )
    for read in rows_of(job, "imageread_rows", "by"):
        yield _event(
            read,
            "rework",
            "image",
            gettext(
                "Storage read at {chip_volts} V: {image_id}.",
                chip_volts=f"{read.chip_volts:g}",
                image_id=read.image_id[:12],
            ),
        )
    for timer in rows_of(job, "timer_rows", "by"):
        yield _event(
            timer, "rework", "timer", gettext("Timer for {kind}: {name}.", kind=code_words(timer.kind), name=timer.name)
        )
    for start in rows_of(job, "startcurve_rows", "by"):
        yield _event(start, "volts", "start", gettext("Start logged: {says}", says=start.says))


def _stocked(job: Job) -> Iterator[Event]:
    """What became of the card's own parts once they were off it, and what the customer was asked."""
    of_card = Q(label__startswith=f"{job.card.serial}/")
    for went in boards_of(job) if has_rows(job, JobBoard) else ():
        boards = gettext("from the board {serial} to {serial_2}", serial=went.before.serial, serial_2=went.after.serial)
        yield _event(
            went, "rework", "board", gettext("Core and memory moved {boards}: the job goes on there.", boards=boards)
        )
        of_card |= Q(label__startswith=f"{went.before.serial}/", at__lte=went.at)
    moves = StockMove.objects.filter(of_card, at__gte=job.opened_at)
    for move in moves.select_related("by") if moves.exists() else ():
        to = f" {move.to}" if move.to else ""
        said = f": {code_words(move.condition)}" if move.do == "condition" else to
        yield _event(move, "rework", "stock", f"{move.label} {MOVES[cast('Move', move.do)]}{said}. {move.note}".strip())
    for offer in rows_of(job, "offer_rows", "by"):
        names = "; ".join(f"{option['name']}, {option['price']:g}" for option in offer.options)
        yield _event(
            offer, "", "offer", gettext("Put to the customer: {title}. {names}.", title=offer.title, names=names)
        )


def _proven(job: Job) -> Iterator[Event]:
    for log in rows_of(job, "prooflog_rows", "by"):
        load = gettext(" under {load}", load=log.load) if log.load else ""
        yield _event(
            log,
            "prove",
            "log",
            gettext(
                "Log {name}{load}, {phase} the repair, {seconds} min.",
                name=log.name,
                load=load,
                phase=log.phase,
                seconds=f"{log.seconds[-1] / 60:.0f}",
            ),
        )
    for identity in rows_of(job, "cardidentity_rows", "by"):
        seen = identity.document.get("memory_mib")
        yield _event(
            identity,
            "prove",
            "identity",
            gettext(
                "The test computer sees {value}, {seen} MiB.", value=identity.document.get("device", "it"), seen=seen
            ),
        )
    for check in rows_of(job, "checksaid_rows", "by"):
        word = gettext("passed") if check.passed else gettext("failed")
        took = gettext(", {minutes} min", minutes=f"{check.minutes:g}") if check.minutes else ""
        name = check.check_id.replace("-", " ").capitalize()
        yield _event(check, "prove", "check", f"{name} {word}{took}. {check.note}".strip())
    for figure in rows_of(job, "prooffigure_rows", "by"):
        yield _event(
            figure,
            "prove",
            "figure",
            gettext(
                "{what} {phase} the repair: {value}. {note}",
                what=figure.what,
                phase=figure.phase,
                value=f"{figure.value:g}",
                note=figure.note,
            ).strip(),
        )
    for fault in rows_of(job, "latefault_rows", "by"):
        after = gettext(" after {minutes} min", minutes=f"{fault.minutes:g}") if fault.minutes else ""
        names = ", ".join(suspect["designator"] for suspect in fault.suspects)
        near = gettext(" Near the last rework: {names}.", names=names) if names else ""
        said_of = gettext(
            "Failed{after} at {check_id}: {words}. Back to {back_to}.{near}",
            after=after,
            check_id=fault.check_id,
            words=fault.words.rstrip("."),
            back_to=fault.back_to.capitalize(),
            near=near,
        )
        yield _event(fault, "prove", "fault", said_of)


def _told(job: Job) -> Iterator[Event]:
    for message in rows_of(job, "message_rows", "by"):
        yield _event(
            message, "return", "message", gettext("Written to {to}: {subject}", to=message.to, subject=message.subject)
        )
    answers = OfferAnswer.objects.filter(offer__job=job).select_related("offer", "by")
    for answer in answers if has_rows(job, Offer) else ():
        chose = gettext("declined") if answer.option is None else answer.offer.options[answer.option]["name"]
        who = (
            gettext("{name}, on their page", name=answer.name)
            if answer.how == "page"
            else gettext("{name}, told to {name_2}", name=answer.name, name_2=_name(answer.by))
        )
        said = gettext("The customer said: {chose}. {words}", chose=chose, words=answer.words).strip()
        yield Event(f"answer-{answer.pk}", answer.at, who, "return", "answer", said, str(answer.offer_id))
    for returned in Return.objects.filter(job=job).select_related("by") if has_rows(job, Return) else ():
        ways = {
            "parcel": gettext("Left by parcel"),
            "collected": gettext("Collected"),
            "donor": gettext("Stays here as a donor"),
        }
        no_fix = gettext(" Not repaired: {no_fix}", no_fix=returned.no_fix) if returned.no_fix else ""
        yield _event(returned, "return", "return", f"{ways[returned.way]} {returned.tracking}".strip() + f".{no_fix}")
    for back in Comeback.objects.filter(job=job).select_related("of", "by") if has_rows(job, Comeback) else ():
        cause = CAUSES.get(back.cause, gettext("cause not known yet"))
        yield _event(
            back,
            "return",
            "comeback",
            gettext(
                "Follow-up of {label}: {cause}. {words}", label=back.of.label, cause=cause, words=back.words
            ).strip(),
        )


def _measured(job: Job) -> Iterator[Event]:
    states = {
        "off": gettext("Unplugged and discharged."),
        "supply": gettext("On the supply."),
        "computer": gettext("In the computer."),
    }
    for power in rows_of(job, "powerstate_rows", "by"):
        yield _event(power, "ohms" if power.state == "off" else "volts", "power", states[power.state])
    for sweep in rows_of(job, "sweep_rows", "by"):
        yield _event(sweep, "ohms", "sweep", gettext("A new pass over all rails: {name}.", name=sweep.name))
    corrects = measured(job).corrects if has_rows(job, Reading) else {}
    for reading in rows_of(job, "reading_rows", "by"):
        across = gettext(" across") if reading.to == "across" else ""
        condition = f", {', '.join(reading.condition)}" if reading.condition else ""
        value = shown(value_of(reading), cast("Quantity", reading.quantity))
        step = "ohms" if reading.quantity in {"resistance", "diode"} else "volts"
        said = f"{reading.point}{across}: {value}{condition}. {reading.note}".strip()
        yield _event(reading, step, "reading", said, str(corrects.get(reading.pk, "")))


def _powered(job: Job) -> Iterator[Event]:
    for draw in rows_of(job, "firstdraw_rows", "by"):
        yield _event(
            draw,
            "volts",
            "draw",
            gettext(
                "Drew {amps} A at {volts} V on the supply. {note}",
                amps=f"{draw.amps:g}",
                volts=f"{draw.volts:g}",
                note=draw.note,
            ).strip(),
        )
    for phase in rows_of(job, "phaseseen_rows", "by"):
        figures = [gettext("{khz} kHz", khz=f"{phase.khz:g}")] if phase.khz is not None else []
        figures += [f"{phase.celsius:g} °C"] if phase.celsius is not None else []
        yield _event(
            phase,
            "volts",
            "phase",
            gettext("Phase {designator}: {figures}.", designator=phase.designator, figures=", ".join(figures)),
        )
    for load in rows_of(job, "railload_rows", "by"):
        yield _event(load, "volts", "phase", gettext("{rail} draws {amps} A.", rail=load.rail, amps=f"{load.amps:g}"))
    for rung in rows_of(job, "rung_rows", "by"):
        whose = gettext(", the other adapter's") if rung.picture_of == "other" else ""
        beep = f", {rung.beep}" if rung.beep else ""
        said = gettext(
            "In a computer: {rungs}{whose}{beep}. {note}",
            rungs=RUNGS[cast("Any", rung.rung)],
            whose=whose,
            beep=beep,
            note=rung.note,
        ).strip()
        yield _event(rung, "volts", "rung", said)


def _hunted(job: Job) -> Iterator[Event]:
    for fed in rows_of(job, "injection_rows", "by", also=("glows__by", "thermals__by")):
        wire = gettext(", a lead soldered on") if fed.lead_id else ""
        above = (
            gettext(", above the {advised_v} V advised", advised_v=f"{fed.advised_v:g}")
            if fed.advised_v is not None
            else ""
        )
        yield _event(
            fed,
            "ohms",
            "injection",
            gettext(
                "Fed {volts} V, {amps} A into {rail}{wire}{above}. {note}",
                volts=f"{fed.volts:g}",
                amps=f"{fed.amps:g}",
                rail=fed.rail,
                wire=wire,
                above=above,
                note=fed.note,
            ).strip(),
        )
        for thermal in fed.thermals.all():
            yield _event(
                thermal, "ohms", "injection", gettext("Thermal picture of the {side}.", side=code_words(thermal.side))
            )
        for glow in fed.glows.all():
            said = gettext(
                "It glowed on the {side} at {x_mm}, {y_mm} mm.",
                side=code_words(glow.side),
                x_mm=f"{glow.x_mm:.0f}",
                y_mm=f"{glow.y_mm:.0f}",
            )
            said = said if glow.side else gettext("Nothing warmed that could be seen.")
            yield _event(glow, "ohms", "injection", said)


def _ticked(job: Job) -> Iterator[Event]:
    for tick in rows_of(job, "tick_rows", "by"):
        said = (
            gettext("{point} skipped: {skipped}", point=tick.point, skipped=tick.skipped)
            if tick.skipped
            else gettext("{point} ticked by hand.", point=tick.point)
        )
        yield _event(tick, "ohms", "tick", said)


def _tested(job: Job) -> Iterator[Event]:
    for run in rows_of(job, "runs", "added_by", "withdrawal__by"):
        found = run.located["finding"]
        names = f" {', '.join(found['designators'][:4])}" if found["designators"] else ""
        condition = f", {', '.join(run.condition)}" if run.condition else ""
        said = gettext(
            "Memory run {number}{condition}: {title}{names}.",
            number=run.number,
            condition=condition,
            title=title(found["kind"]).lower(),
            names=names,
        )
        yield Event(str(run.pk), run.added_at, _name(run.added_by), "memory", "run", said)
        if hasattr(run, "withdrawal"):
            yield _taken_back(run.withdrawal, "memory", run, run.withdrawal.at)
    for mark in rows_of(job, "marks", "by", "withdrawal__by"):
        yield _event(mark, "memory", "mark", gettext("{designator} marked.", designator=mark.designator))
        if hasattr(mark, "withdrawal"):
            yield _taken_back(mark.withdrawal, "memory", mark, mark.withdrawal.at)
    for attempt in rows_of(job, "attempts", "by", "withdrawal__by"):
        effect = EFFECTS[attempt.do].yes if attempt.outcome == "yes" else EFFECTS[attempt.do].no
        on = f" {attempt.chips.replace(',', ', ')}" if attempt.chips else ""
        yield _event(
            attempt, "memory", "attempt", f"{attempt.do.replace('-', ' ').capitalize()}{on}: {effect.lower()}."
        )
        if hasattr(attempt, "withdrawal"):
            yield _taken_back(attempt.withdrawal, "memory", attempt, attempt.withdrawal.at)


def _timed(job: Job) -> Iterator[Event]:
    for span in rows_of(job, "clockspan_rows", "by", also=("corrections__by",)):
        for said in span.corrections.all():
            words = gettext("It was really {minutes} min.", minutes=f"{said.minutes:.0f}")
            yield Event(f"clock-{said.pk}", said.at, _name(said.by), span.step, "correction", words, str(span.pk))
        ended = "" if span.ended_at is None else gettext(", {minutes} min", minutes=f"{span.minutes:.0f}")
        yield _event(
            span,
            span.step,
            "clock",
            gettext("Worked at {step}{ended}.", step=span.step.capitalize(), ended=ended),
        )
    for worth in rows_of(job, "jobworth_rows", "by"):
        yield _event(
            worth,
            "",
            "worth",
            gettext("Worth {value} repaired. {note}", value=f"{worth.value:g}", note=worth.note).strip(),
        )
    for task in rows_of(job, "task_rows", "by", "taken_by", "done_by"):
        yield _event(task, "", "task", gettext("Task: {words}", words=task.words))
        if task.done_at:
            yield Event(
                f"{task.pk}-done",
                task.done_at,
                _name(task.done_by),
                "",
                "task",
                gettext("Done: {words}", words=task.words),
                str(task.pk),
            )


SOURCES: tuple[Callable[[Job], Iterator[Event]], ...] = (
    *(
        _opened,
        _changes,
        _notes,
        _arrived,
        _looked,
        _owed,
        _thought,
        _measured,
        _hunted,
        _powered,
        _reworked,
        _stocked,
        _proven,
        _told,
        _ticked,
        _tested,
        _timed,
    ),
)
