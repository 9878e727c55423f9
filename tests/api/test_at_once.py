"""Two at once: the same entry sent twice in the same moment, two people on one job."""

from __future__ import annotations

import json
from concurrent.futures import ThreadPoolExecutor
from uuid import uuid4

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection

from tests.api.conftest import BOARDS, PNG, SAMPLES
from uvrix.core.memory.typed import TypedRow
from uvrix.shop.arrive.models import Intake, Trial
from uvrix.shop.arrive.services import NewIntake, NewTrial, enter_trial, take_in
from uvrix.shop.bench.models import ChipMark, MemoryRun
from uvrix.shop.bench.services import DroppedReport, NewMark, TypedTable, add_run, add_typed_run, set_mark
from uvrix.shop.clock.models import ClockSpan
from uvrix.shop.clock.services import start_clock
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.roles import Role
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.services import NewJob, change_job, open_job
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.services import fill_place, import_board, save_board
from uvrix.shop.library.sheets import save_sheet
from uvrix.shop.look.models import LookFinding
from uvrix.shop.look.services import NewFinding, Spot, enter_finding
from uvrix.shop.offers.models import CustomerLink, Message
from uvrix.shop.offers.services import NewMessage, send
from uvrix.shop.pictures.models import Picture
from uvrix.shop.pictures.services import take_picture
from uvrix.shop.planning.models import Attempt
from uvrix.shop.planning.services import NewAttempt, enter_attempt
from uvrix.shop.promises.services import NewPromise, make_promise
from uvrix.shop.record.services import NewNote, write_note
from uvrix.shop.record.timeline import timeline
from uvrix.shop.teardown.services import NewDone, do_step

pytestmark = pytest.mark.django_db(transaction=True)
TIMES = 4


def at_once(work, *each):
    """The work with each of the arguments at the same time; problems are answers too."""

    def one(argument):
        try:
            return work(argument)
        except Problem as problem:
            return problem.code
        finally:
            connection.close()

    with ThreadPoolExecutor(len(each)) as pool:
        return list(pool.map(one, each))


def dropped(entry, name="teal-8-cold.csv", **more):
    return DroppedReport(entry, SimpleUploadedFile(name, (SAMPLES / name).read_bytes()), **more)


def test_one_entry_sent_many_times_at_once_makes_one_run(job, people):
    entry = uuid4()
    made = at_once(lambda _: add_run(job, dropped(entry), people[Role.TECHNICIAN])[0].pk, *range(TIMES))
    assert set(made) == {entry}
    assert MemoryRun.objects.count() == 1


def test_different_runs_at_once_all_stay_with_numbers_of_their_own(job, people):
    names = ["teal-8-cold.csv", "teal-8-warm.csv"] * 2
    made = at_once(lambda name: add_run(job, dropped(uuid4(), name, another=True), people[Role.LEAD])[0].pk, *names)
    assert len(set(made)) == TIMES
    assert sorted(MemoryRun.objects.values_list("number", flat=True)) == [1, 2, 3, 4]
    job.refresh_from_db()
    assert len(job.located["reports"]) == TIMES


def test_the_same_file_from_two_people_is_asked_about_once(job, people):
    made = at_once(lambda person: add_run(job, dropped(uuid4()), person)[0].number, *people.values())
    assert sorted(map(str, made)) == ["1", "same-file", "same-file"]


def test_one_job_entry_sent_many_times_at_once_opens_one_job(teal, people):
    new = NewJob(uuid4(), "TL8-9", "teal-8", "Una Brack", "Dead.")
    made = at_once(lambda _: open_job(new, people[Role.FRONT_DESK])[0].pk, *range(TIMES))
    assert len(set(made)) == 1
    assert Job.objects.count() == 1


def test_one_mark_sent_many_times_at_once_stands_once(job, people):
    add_run(job, dropped(uuid4()), people[Role.TECHNICIAN])
    job.refresh_from_db()
    entry = uuid4()
    for answer in ("yes", "no"):
        at_once(
            lambda _, a=answer: set_mark(job, NewMark(entry, "U18", "U18", a), people[Role.LEAD])[0].pk, *range(TIMES)
        )
    assert ChipMark.objects.count() == 1


def test_one_attempt_sent_many_times_at_once_counts_once(job, people):
    add_run(job, dropped(uuid4()), people[Role.TECHNICIAN])
    new = NewAttempt(uuid4(), "reball", "no", 40)
    made = at_once(lambda _: enter_attempt(job, new, people[Role.TECHNICIAN])[0].pk, *range(TIMES))
    assert set(made) == {new.id}
    assert Attempt.objects.count() == 1


def test_one_typed_table_sent_many_times_at_once_makes_one_run(job, people):
    table = TypedTable(uuid4(), (TypedRow("A0", 0), TypedRow("A1", 41)), ("cold",), 41)
    made = at_once(lambda _: add_typed_run(job, table, people[Role.LEAD])[0].pk, *range(TIMES))
    assert set(made) == {table.id}
    assert MemoryRun.objects.count() == 1


def test_entries_of_look_and_arrive_sent_many_times_at_once_are_kept_once(job, people):
    finding = NewFinding(uuid4(), "burn", Spot("front", 20.0, 30.0))
    trial = NewTrial(uuid4(), "card", shows=True)
    intake = NewIntake(uuid4(), "TL8-1")
    at_once(lambda _: enter_finding(job, finding, people[Role.LEAD])[0].pk, *range(TIMES))
    at_once(lambda _: enter_trial(job, trial, people[Role.LEAD])[0].pk, *range(TIMES))
    at_once(lambda _: take_in(job, intake, people[Role.LEAD])[0].pk, *range(TIMES))
    assert [kind.objects.count() for kind in (LookFinding, Trial, Intake)] == [1, 1, 1]


def test_of_two_who_save_a_model_at_once_one_is_told(teal, people):
    document = json.loads(teal.text)
    made = at_once(
        lambda who: save_board({**document, "revision": who}, 1, "", people[Role.LEAD]).number, *("one", "two", "three")
    )
    assert sorted(map(str, made)) == ["2", "edited-meanwhile", "edited-meanwhile"]
    assert BoardModel.objects.get(slug="teal-8").editions.count() == 2


def test_one_open_place_is_filled_once_by_whoever_proves_it_first(people):
    document = json.loads((BOARDS / "teal-8.board.json").read_text())
    document["walk"]["order"] = [None if entry in ("A1", "C0") else entry for entry in document["walk"]["order"]]
    model = import_board(json.dumps(document).encode(), "teal-8", people[Role.LEAD])[0].model
    made = at_once(
        lambda channel: fill_place(model, "U18", channel, "J-0001", people[Role.LEAD]).number, *("A1", "C0", "A1")
    )
    assert sorted(map(str, made)) == ["2", "place-known", "place-known"]


def test_the_same_picture_from_many_at_once_is_stored_once(people):
    made = at_once(lambda _: take_picture(PNG, "a.png", people[Role.LEAD]).pk, *range(TIMES))
    assert len(set(made)) == 1
    assert Picture.objects.count() == 1


def test_two_people_on_one_job_lose_nothing(job, people):
    """Notes, promises, moves and screws by two people in the same moment: all are there, each once."""
    technician, lead = people[Role.TECHNICIAN], people[Role.LEAD]
    save_sheet(job.card.model, "teardown", {"steps": [{"id": "a", "kind": "screws", "what": "A", "count": 4}]}, 0, lead)
    both = [(technician, "1"), (lead, "2")] * 2
    at_once(lambda one: write_note(job, NewNote(uuid4(), f"note {one[1]}"), one[0]), *both)
    at_once(lambda one: make_promise(job, NewPromise(uuid4(), "other", f"promise {one[1]}"), one[0]), *both)
    at_once(lambda one: change_job(job, uuid4(), {"place": f"B{one[1]}"}, one[0]), *both)
    at_once(lambda one: do_step(job, NewDone(uuid4(), "a", "off", 4), one[0]), *both)
    entry = uuid4()
    at_once(lambda one: do_step(job, NewDone(entry, "a", "on", 4), one[0]), *both)
    at_once(lambda one: start_clock(job, uuid4(), "look", one[0]), *both)
    words = [event.words for event in timeline(job)]
    for said, times in (("note 1", 2), ("note 2", 2), ("Promised, something else: promise 1", 2), ("A: 4 off.", 4)):
        assert words.count(said) == times
    assert words.count("A: 4 on again.") == 1
    assert ClockSpan.objects.filter(ended_at=None).count() == 2
    moves = [row.changes["place"] for row in job.jobchange_rows.all() if "place" in row.changes]
    assert [after for _, after in moves][:-1] == [before for before, _ in moves][1:]  # each saw the one before


def test_one_message_sent_many_times_at_once_is_one_letter_with_one_link(job, people, mailoutbox, settings):
    settings.EMAIL_HOST = ""
    new = NewMessage(uuid4(), "ansel@example.test", "Your card", "Look: {link}", "http://testserver")
    made = at_once(lambda _: send(job, new, people[Role.FRONT_DESK])[0].pk, *range(6))
    assert set(made) == {new.id}
    assert [letter.subject for letter in mailoutbox] == ["Your card"]
    assert CustomerLink.objects.count() == 1
    assert Message.objects.get().text == "Look: {link}", "whoever reads it later gets in nowhere by it"
